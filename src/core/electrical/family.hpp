// SPDX-License-Identifier: GPL-3.0-or-later
// Logic families as data: what an output gives, what an input needs, and what an input endures. One JSON file
// each in data/families, the person's own override by id; the format is docs/formats/families.md.
//
// All voltages are against the part's own ground. Guaranteed limits, not typical values.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

/// What an output still gives at a load.
struct OutputLoad {
    double a = 0;               ///< that flows
    double v = 0;               ///< of a low, or of a high whatever the supply
    bool below_supply = false;  ///< a high: `v` is how far below its supply it stands
    double from_v = 0;          ///< specified for supplies from here
    bool operator==(const OutputLoad&) const = default;
};

/// What an input needs at one supply; between two of them, a straight line.
struct InputLevels {
    double supply_v = 0, high_min_v = 0, low_max_v = 0;
    bool operator==(const InputLevels&) const = default;
};

struct Family {
    std::string id;  ///< "hct"
    std::string name;
    std::string source;  ///< where the limits come from and under which conditions they hold
    double supply_min_v = 0, supply_typ_v = 0, supply_max_v = 0;
    std::optional<double> output_high_min_v;  ///< nothing: pulled up only
    double output_low_max_v = 0;
    double output_high_max_v = 0;
    double output_low_min_v = 0;  ///< below 0 for lines that swing below ground
    double output_high_a = 0, output_low_a = 0;
    bool open_collector = false;
    double short_high_a = 0.1;  ///< the most that flows when a high is held at ground, plausible at the worst
    double short_low_a = 0.1;   ///< likewise when a low is held at the supply
    double endures_a = 0.01;    ///< that an output may carry for ever without harm
    double endures_high_a =
        0;  ///< that a high may give, where the sheets rate its short; never below endures_a
    double input_high_min_v = 0, input_low_max_v = 0;
    std::optional<double> limit_high_v;          ///< absolute, whatever the supply
    std::optional<double> limit_above_supply_v;  ///< or this much above the part's supply
    double limit_low_v = 0;
    bool clamps = false;  ///< diodes from input to supply: an unpowered part is fed through its input
    bool static_sensitive = false;
    double works_min_v = 0, works_max_v = 0;        ///< supplies over which the limits hold
    std::vector<OutputLoad> high_loads, low_loads;  ///< rising currents; never empty, but for open collectors
    std::vector<InputLevels> levels;                ///< rising supplies; empty: whatever the supply
    double input_high_a = 0, input_low_a = 0;       ///< that an input takes at most, at a high and a low
    double input_farad = 0;                         ///< of an input, typical
    std::optional<double> differential_out_v;       ///< least between the two wires of a pair
    std::optional<double> differential_in_v;        ///< most that a receiver of a pair needs between them

    /// The least high at this supply and load; nothing where no load that is specified covers it.
    [[nodiscard]] std::optional<double> high_at(double supply_v, double load_a) const;
    /// The highest low, likewise.
    [[nodiscard]] std::optional<double> low_at(double supply_v, double load_a) const;
    /// The most current it is specified for at this supply; 0 when for none.
    [[nodiscard]] double most_high_a(double supply_v) const;
    [[nodiscard]] double most_low_a(double supply_v) const;
    /// What an input needs at this supply.
    [[nodiscard]] InputLevels needs_at(double supply_v) const;
    /// Does it swing around ground, as lines between machines do?
    [[nodiscard]] bool swings_below_ground() const { return output_low_min_v < -0.5; }
    /// Has a receiver of it two inputs, and is it fed by a pair?
    [[nodiscard]] bool is_pair() const { return differential_in_v.has_value(); }

    /// The highest voltage an input endures with the part at this supply (0 for unpowered).
    [[nodiscard]] double input_limit_v(double supply_v) const;
};

[[nodiscard]] Result<Family> family_from_json(std::string_view text, const std::string& file);

struct FamilyLibrary {
    std::vector<Family> families;
    std::vector<Error> problems;  ///< files that were skipped
    [[nodiscard]] static FamilyLibrary load(FileSystem& files,
                                            const std::vector<std::filesystem::path>& folders);
    [[nodiscard]] const Family* find(std::string_view id) const;
};

}  // namespace grayrelic
