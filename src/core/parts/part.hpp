// SPDX-License-Identifier: GPL-3.0-or-later
// Parts as data: what each pin of a standard part does, and where the pins of its package lie. One JSON file
// each in data/parts, the person's own override by id; format: docs/formats/parts.md.
#pragma once

#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/board_side.hpp"
#include "core/base/file_system.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

enum class PinKind {
    unknown,
    input,
    output,          ///< drives both levels always
    three_state,     ///< drives when enabled
    both,            ///< input and three-state output
    open_collector,  ///< pulls low only; several may share a net
    supply,
    ground,
    passive,    ///< of a resistor, capacitor, diode
    connector,  ///< a contact to the outside
    unconnected,
    source,  ///< gives a supply: the output of a regulator
};
[[nodiscard]] std::string_view word(PinKind k);
[[nodiscard]] std::optional<PinKind> pin_kind(std::string_view word);
[[nodiscard]] bool drives(PinKind k);  ///< output, three_state or both

struct PartPin {
    std::string number;
    std::string name;  ///< "A3", "/OE"
    PinKind kind = PinKind::unknown;
    std::string supply{};  ///< the name of the supply pin it stands on, where a part has several
    std::string family{};  ///< its own, where the part's pins differ: a line receiver's inputs
    bool operator==(const PartPin&) const = default;
};

/// What a part does to voltages and currents, as far as its kind has it; missing is not known.
struct PartElectrical {
    std::string family{};                              ///< of its pins, where the part has only one
    std::optional<double> drop_min_v{}, drop_max_v{};  ///< of a diode or lamp, at its usual current
    std::optional<double> volts_max{};                 ///< between its ends, or at its inputs
    std::optional<double> current_max_a{};
    std::optional<double> ohm{};  ///< while it conducts: a switch, a fuse, a ferrite
    std::optional<double> gate_min_v{},
        gate_full_v{};                 ///< a transistor: begins to conduct; conducts with `ohm`
    std::optional<double> supply_a{};  ///< its own current, most, without load
    std::optional<double> dropout_v{}, output_v{}, theta_k_per_w{};  ///< of a regulator
    std::optional<double> farad{};                                   ///< of a pin, where it matters
    std::optional<double> efficiency{};                              ///< of a switching converter, 0 to 1
    bool operator==(const PartElectrical&) const = default;
};

struct PartType {
    std::string id;        ///< "74x245"
    std::string name;      ///< "octal bus transceiver"
    std::string function;  ///< "logic", "memory", "resistor", "capacitor", "diode", "transistor", "other"
    std::string source;
    std::string package;  ///< usual one
    std::vector<PartPin> pins;
    /// Pins that may be exchanged without changing what the part does: the ends of a resistor.
    std::vector<std::vector<std::string>> alike;
    std::string
        logic;  ///< the file's "logic" member as JSON text, read by logic/part_logic.hpp; empty for none
    std::vector<std::string> packages{};  ///< all it comes in, the usual one first
    std::vector<std::string> instead{};   ///< parts that do the same and are easier: a module
    PartElectrical electrical{};
    /// What a module's pins can do beside plain input and output: a use ("interrupt", "serial",
    /// "programmable", "analogue") to the names of the pins. A use that is missing is not known.
    std::map<std::string, std::vector<std::string>> uses{};
    [[nodiscard]] const PartPin* find_pin(std::string_view number) const;
    /// The first pin of that name.
    [[nodiscard]] const PartPin* find_name(std::string_view name) const;
    /// Is it a part with two pins that joins nothing by itself?
    [[nodiscard]] bool is_passive() const;
};

/// A bit of a bus by its name: "A12" is bit 12 of "A"; nothing for "CLK" or "1Y".
struct BusBit {
    std::string bus;
    int bit = 0;
};
[[nodiscard]] std::optional<BusBit> bus_bit(std::string_view pin_name);

[[nodiscard]] Result<PartType> part_from_json(std::string_view text, const std::string& file);

struct PartLibrary {
    std::vector<PartType> parts;
    std::vector<Error> problems;  ///< files that were skipped
    [[nodiscard]] static PartLibrary load(FileSystem& files,
                                          const std::vector<std::filesystem::path>& folders);
    [[nodiscard]] const PartType* find(std::string_view id) const;
};

/// Where the pins of a package lie, from pin 1, before turning: "dip-20" (rows 7.62 mm apart),
/// "dip-28-15.24", "axial-10.16", "radial-5.08", "sip-9", "soic-14", "edge-30-2.54" (fingers in one row on
/// the front), "edge2-30-3.96" (the first half on the front, the other behind them), "edgel-30-2.54" (the
/// same with letters behind). Nothing when the name is none of these.
struct PackagePin {
    std::string number;
    double x_mm = 0, y_mm = 0;
    std::optional<BoardSide> side{};  ///< nothing: a hole, on both
};
[[nodiscard]] std::optional<std::vector<PackagePin>> package_pins(std::string_view package);

}  // namespace grayrelic
