// SPDX-License-Identifier: GPL-3.0-or-later
// A tree of rails judged: volts at the sources' corners, currents against limits, headroom, loss and
// junction, what flows backwards for every combination of plugs, inrush, the order of coming up, batteries,
// and loads that are switched. Relations: domain.md "Rails and values"; limits by which is judged:
// docs/formats/rails.md.
#pragma once

#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/electrical/rails.hpp"

namespace grayrelic {

struct RailFigures {
    std::string name;
    double volts = 0, least = 0, most = 0;
    double load_a = 0;  ///< the whole current out of it, at nominal volts
    std::optional<double> limit_a;
    Verdict verdict = Verdict::holds;
    std::string why;
};

struct RailPartFigures {
    std::string ref;
    RailPartKind kind = RailPartKind::drop;
    double amps = 0, in_a = 0;  ///< out of it, into it, at nominal volts
    double loss_w = 0;
    std::optional<double> junction_c, headroom_v;
    Verdict verdict = Verdict::holds;
    std::string why;
};

struct RailLoadFigures {
    std::string name, rail;
    double amps = 0;
    double least = 0, most = 0;
    Verdict verdict = Verdict::holds;
    std::string why;
};

/// The tree in one mode.
struct RailModeFigures {
    std::string mode;             ///< empty: with all loads' own figures
    std::set<std::string> off{};  ///< sources that are out, switches that are open
    bool settled = true;
    std::vector<RailFigures> rails;
    std::vector<RailPartFigures> parts;
    std::vector<RailLoadFigures> loads;
    [[nodiscard]] Verdict verdict() const;
    [[nodiscard]] const RailFigures* find_rail(std::string_view name) const;
};
[[nodiscard]] RailModeFigures rail_figures(const RailTree& tree, const std::string& mode, double ambient_c);

/// The same with one source alone, of those on which something then stands; `mode` is "USB alone". What two
/// plugs share may be too much for one.
[[nodiscard]] std::vector<RailModeFigures> figures_alone(const RailTree& tree, double ambient_c);

/// A current that would run backwards.
struct BackFeed {
    std::string when;      ///< "USB in, BRICK out"
    std::string from, to;  ///< rails
    std::string through;   ///< part
    std::optional<double>
        most_a;  ///< what the source that feeds it may give; nothing: not limited by anything said
    Verdict verdict =
        Verdict::stop;  ///< doubt: it ends at a part's input, and nothing behind it takes current
    std::string why, todo;
};
/// For every combination of sources that are in; beyond 6 sources (3 in a large tree) each alone, each two,
/// and all. Once a combination and way.
[[nodiscard]] std::vector<BackFeed> back_feed(const RailTree& tree);

struct Inrush {
    std::string rail;    ///< at which it is charged
    std::string source;  ///< a source, or a switch that closes onto it
    double farad = 0;
    std::optional<double> peak_a;  ///< nothing: no resistance on the way is said
    std::optional<double> limit_a;
    double over_s = 0;               ///< how long more than the limit would flow
    std::optional<double> charge_s;  ///< until 90 %, where the source keeps to its limit
    std::optional<double> dip_v;     ///< by which a switch that closes pulls the rail before it
    Verdict verdict = Verdict::holds;
    std::string why;
};
[[nodiscard]] std::vector<Inrush> inrush(const RailTree& tree);

struct ComingUp {
    std::string rail;
    double seconds = 0;    ///< after all plugs go in, to 90 %
    bool guessed = false;  ///< a time on the way is not said
};
struct RailOrderVerdict {
    std::string first, then;
    Verdict verdict = Verdict::holds;
    std::string why;
};
/// In the order in which they are up.
[[nodiscard]] std::vector<ComingUp> coming_up(const RailTree& tree);
[[nodiscard]] std::vector<RailOrderVerdict> judge_orders(const RailTree& tree,
                                                         const std::vector<ComingUp>& up);

struct BatteryRun {
    std::string source;
    struct Mode {
        std::string mode;
        double amps = 0;
        std::optional<double> hours;  ///< nothing: it gives nothing in this mode
    };
    std::vector<Mode> modes;
    std::optional<double> charge_least_h, charge_most_h;  ///< capacity / current × 1.2 and × 1.4
    std::optional<double> lowest_v;                       ///< at which all that it feeds still works
    std::string lowest_because;
    std::optional<double> threshold_v;  ///< at which an orderly shutdown must begin
    Verdict verdict = Verdict::holds;
    std::string why;
};
[[nodiscard]] std::vector<BatteryRun> battery_runs(const RailTree& tree);

/// What signal lines give together into a rail.
struct Harvest {
    std::string rail;
    double volts = 0, amps = 0;  ///< at the volts it then has
    std::optional<double> needed_v;
    std::vector<std::string> lines;
    Verdict verdict = Verdict::holds;
    std::string why;
};
[[nodiscard]] std::vector<Harvest> harvests(const RailTree& tree);

/// A load that is switched, by its switch.
struct SwitchedLoad {
    std::string ref, rail;
    std::optional<double> gate_on_v,
        gate_off_v;  ///< gate to source, in the direction that conducts, at worst
    Verdict conducts = Verdict::unknown, opens = Verdict::unknown;
    std::string conducts_why, opens_why;
    std::optional<double> lift_v;  ///< of the load's ground
    Verdict lift = Verdict::holds;
    std::string lift_why;
    double off_v = 0;                 ///< of the rail while it is off
    std::vector<std::string> fed_by;  ///< lines that keep it there
    double fed_a = 0;
    std::optional<double> reset_s;  ///< until it has surely reset
    Verdict resets = Verdict::holds;
    std::string resets_why;
    [[nodiscard]] Verdict verdict() const;
};
/// Switches with a gate, those that a mode opens, and sources that a mode takes out.
[[nodiscard]] std::vector<SwitchedLoad> switched_loads(const RailTree& tree);

struct RailStudy {
    RailTree tree;
    std::vector<RailFault> faults;       ///< what could not be taken; then only this is said
    std::vector<RailModeFigures> modes;  ///< the loads' own figures first
    std::vector<RailModeFigures> alone;
    std::vector<BackFeed> back_feed;
    std::vector<Inrush> inrush;
    std::vector<ComingUp> coming_up;
    std::vector<RailOrderVerdict> orders;
    std::vector<BatteryRun> batteries;
    std::vector<Harvest> harvests;
    std::vector<SwitchedLoad> switched;
    [[nodiscard]] Verdict verdict() const;
    [[nodiscard]] const RailModeFigures* find_mode(std::string_view mode) const;
};
inline constexpr double usual_ambient_c = 25;
[[nodiscard]] RailStudy study_rails(RailTree tree, double ambient_c = usual_ambient_c);

}  // namespace grayrelic
