// SPDX-License-Identifier: GPL-3.0-or-later
// A board as it lies on the bench to be measured: its parts by what they do, what comes in at its contacts,
// and which of its leads a person can watch.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/analysis/analysis.hpp"
#include "core/build/build_parts.hpp"
#include "core/logic/part_logic.hpp"

namespace grayrelic {

struct Circuit;

enum class ThingKind {
    resistor,
    link,  ///< conducts like a wire: a fuse, a ferrite, a closed jumper
    capacitor,
    diode,  ///< pins "A" and "K"; an LED too
    logic,
    module,  ///< its pins do what a test program says: drive what they lead to, or tell what they see
    ladder,
    regulator,  ///< pins "IN", "GND", "OUT"
    contacts,   ///< a connector
    other       ///< nothing is known of what it does
};

struct BenchPin {
    std::string number, name;
    int net = -1;  ///< index into BenchBoard::nets
};
struct BenchThing {
    std::string ref;
    ThingKind kind = ThingKind::other;
    double value = 0;  ///< ohms, farads, volts of a diode's drop
    double tolerance = 0.05;
    bool light = false;   ///< an LED
    bool polar = false;   ///< an electrolytic: "+" and "-"
    bool jumper = false;  ///< a link that a person sets
    std::string family;
    double low_max_v = 0.8, high_min_v = 2.0;  ///< of its inputs
    std::vector<BenchPin> pins;
    const PartLogic* logic = nullptr;  ///< lives as long as BenchBoard::keeps
    /// What a connector's contact meets when it is mirrored, pin by pin: indices into `pins`, −1: nothing.
    std::vector<int> mirrored{};
    [[nodiscard]] const BenchPin* find_pin(std::string_view number) const;
    [[nodiscard]] const BenchPin* find_name(std::string_view name) const;
};

/// A supply or ground that comes in at a contact.
struct BenchSupply {
    std::string lead;
    double volts = 0;
};
/// A line that is driven from outside or by the module's test program.
struct BenchDriven {
    std::string name;  ///< of its net
    std::string lead;  ///< "J2.3", "M1.8"
    double high = 5;   ///< volts
    bool idle = false;
    bool control = false;  ///< it clocks or loads a part with storage
    bool loads = false;    ///< of a control: while it holds, not at its edge
};
/// A lead that is watched: at a contact, by the module, or a lamp.
struct BenchWatched {
    std::string name;
    std::string lead;
    bool lamp = false;
    bool stored = false;  ///< what it shows has passed a part with storage
};

struct BenchNet {
    std::string name;
    std::vector<std::string> leads;
    std::optional<double> volts;  ///< a supply as it is drawn, ground 0
};
struct BenchBoard {
    std::string id, title;
    std::vector<BenchNet> nets;  ///< a pin that is on none is alone on one
    std::vector<BenchThing> things;
    std::vector<BenchSupply> supplies;
    std::vector<BenchDriven> driven;
    std::vector<BenchWatched> watched;
    std::vector<PadNeighbours> neighbours;  ///< of different nets
    int storage_bits = 0;
    std::string problem;  ///< why nothing can be measured with power on; empty: it can
    std::shared_ptr<const void> keeps;
    [[nodiscard]] const BenchThing* find(std::string_view ref) const;
    [[nodiscard]] std::optional<int> net_of(std::string_view lead) const;
};

/// Nothing where the board has no circuit. At most `most_bench_nets` nets: a larger one has a problem said
/// and no parts.
inline constexpr std::size_t most_bench_nets = 600;
[[nodiscard]] std::optional<BenchBoard> bench_board(const Analysis& a, const std::string& board,
                                                    const std::string& variant = {});

}  // namespace grayrelic
