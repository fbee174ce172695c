// SPDX-License-Identifier: GPL-3.0-or-later
// Rails as text, one thing a line: sources, what stands between, converters, loads by mode, and what is known
// of their switching. The words are fixed by docs/formats/rails.md; a dossier keeps the same words.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"

namespace grayrelic {

/// Where a thing stands in the text, or what it was found in.
struct RailPlace {
    long line = 0;          ///< of the text, from 1; 0: found elsewhere
    std::string because{};  ///< "the circuit: D1", empty for a line of the text
    bool operator==(const RailPlace&) const = default;
};

/// What a source has besides where it is a battery.
struct RailBattery {
    double coulomb = 0;  ///< usable capacity
    std::optional<double> empty_v, full_v;
    std::optional<double> charge_a;
    double shutdown_coulomb = 0;  ///< that an orderly shutdown takes
};

/// A supply, a rail of the same name.
struct RailSource {
    std::string name;
    double volts = 0;
    double tolerance = 0;  ///< a share
    std::optional<double> limit_a;
    double ohm = 0;                ///< of itself and its lead
    std::optional<double> rise_s;  ///< until it is up
    bool relic = false;            ///< the old side gives it
    bool harvested = false;        ///< a signal line that rests high, and is drawn on
    std::optional<RailBattery> battery;
    RailPlace place;
};

enum class RailPartKind { drop, switched, linear, switcher };

/// A transistor as a switch: what its gate gets.
struct RailGate {
    double on_v = 0;  ///< at the gate, to ground, while it shall conduct
    std::optional<double>
        off_v;  ///< while it shall not; missing: ground of a low-side one, else its own rail
    std::optional<double> rated_v;  ///< gate-source volts at which `ohm` holds
    std::optional<double> threshold_least, threshold_most;
    bool low_side = false;  ///< stands between the load and ground
};

struct RailPart {
    std::string ref;
    RailPartKind kind = RailPartKind::drop;
    std::string from, to;
    double volts = 0;      ///< the drop's; what a regulator gives
    double tolerance = 0;  ///< of a regulator's output
    double ohm = 0;        ///< of a switch
    std::optional<double> dropout_v;
    double own_a = 0;
    std::optional<double> theta;  ///< K/W
    std::optional<double> most_a;
    double efficiency = 0;  ///< of a switcher
    std::optional<double> start_s;
    bool assumed = false;          ///< that it conducts like this is a guess
    std::optional<RailGate> gate;  ///< of a switch that is a transistor
    RailPlace place;
};

/// A current, a power or a resistance.
struct RailAmount {
    enum class Kind { amperes, watts, ohms };
    Kind kind = Kind::amperes;
    double value = 0;
};

struct RailLoad {
    std::string name, rail;
    RailAmount amount;
    std::map<std::string, RailAmount> in_mode;
    std::optional<double> works_v;  ///< least volts that it works at
    std::optional<double> dies_v;   ///< most volts that it endures
    std::optional<double> reset_v;  ///< below this it has surely reset
    RailPlace place;
};

struct RailCapacitor {
    std::string ref, rail;
    double farad = 0, ohm = 0;  ///< its series resistance
    RailPlace place;
};

/// A signal line between something that stands on one rail and something on another: through the clamp of a
/// chip that is off it feeds that chip's rail.
struct RailLine {
    std::string name, from, to;
    double ohm = 0;  ///< of the driver, the pull and series resistors together
    double clamp_v = 0.6;
    std::optional<double> low_most_v, needs_low_v;  ///< the driver's low, and what the reader takes as low
    RailPlace place;
};

/// What is off in a mode, beside the loads' own figures: sources that are unplugged, switches that are open.
struct RailMode {
    std::string name;
    std::vector<std::string> off;
    RailPlace place;
};

/// One rail must be up before another.
struct RailOrder {
    std::string first, then;
    RailPlace place;
};

struct RailTree {
    std::vector<RailSource> sources;
    std::vector<RailPart> parts;
    std::vector<RailLoad> loads;
    std::vector<RailCapacitor> capacitors;
    std::vector<RailLine> lines;
    std::vector<RailMode> modes;
    std::vector<RailOrder> orders;
    [[nodiscard]] bool empty() const { return sources.empty() && parts.empty() && loads.empty(); }
    /// Sources first, then what parts feed, in the order of the text.
    [[nodiscard]] std::vector<std::string> rails() const;
    /// Of `mode` lines and of loads, in the order of the text.
    [[nodiscard]] std::vector<std::string> mode_names() const;
    [[nodiscard]] const RailSource* find_source(std::string_view name) const;
    [[nodiscard]] const RailPart* find_part(std::string_view ref) const;
};

struct RailFault {
    long line = 0;
    std::string found, expected;
};

/// A tree, and what could not be taken: a line with a fault is left out. Bounds: 64 KiB, 400 lines.
struct RailText {
    RailTree tree;
    std::vector<RailFault> faults;
};
[[nodiscard]] RailText read_rails(std::string_view text);
/// What is wrong with a tree as a whole: a rail that nothing feeds, a loop, two stiff sources with nothing
/// between, a source twice.
[[nodiscard]] std::vector<RailFault> faults_of(const RailTree& tree);
/// Both, as one error: the first fault by its line.
[[nodiscard]] Result<RailTree> rails_from_text(std::string_view text, const std::string& file);
/// "320mA", "5W", "82Ω".
[[nodiscard]] std::string print_amount(const RailAmount& amount);
/// "source", "drop", "switch", "linear", "switcher".
[[nodiscard]] std::string_view word(RailPartKind kind);

}  // namespace grayrelic
