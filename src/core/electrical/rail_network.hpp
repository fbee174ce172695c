// SPDX-License-Identifier: GPL-3.0-or-later
// A tree of rails as a network of the one solver: used by rails_*.cpp only.
#pragma once

#include <map>
#include <set>
#include <string>

#include "core/base/quantity.hpp"
#include "core/electrical/dc_network.hpp"
#include "core/electrical/rails.hpp"

namespace grayrelic {

enum class Corner { least, typical, most };

/// In which state the tree is taken.
struct RailCase {
    std::string mode;                           ///< of the loads; empty: their own figures
    std::set<std::string> off;                  ///< sources that are out, switches that are open
    Corner corner = Corner::typical;            ///< of all sources and regulators
    std::map<std::string, Corner> of_source{};  ///< where one differs from it
    std::map<std::string, double> volts{};      ///< of sources that stand at another value
    bool limits = false;                        ///< sources and regulators give no more than their limit
    /// Current flows both ways where nothing blocks it: what flows back. Without: from sources to loads only.
    bool sinks = false;  ///< a source that is out takes current; rails leak a little
    bool lines = false;  ///< signal lines feed through clamps
};

/// What a solved case says, by the tree's own order.
struct RailSolution {
    bool settled = false;
    std::map<std::string, double> volts;  ///< by rail
    std::vector<double> source_a;         ///< out of each source; below 0: into it
    std::vector<double> part_a;           ///< from `from` to `to`, out of a regulator; below 0: backwards
    std::vector<double> part_in_a;        ///< into a part, its own included
    std::vector<double> load_a;
    std::vector<double> line_a;
};

/// The currents of loads in a mode, watts taken at the nominal volts of their rails; resistances stay what
/// they are (0 here). `settled` false: a load of constant power takes more than the way to it can give.
struct LoadCurrents {
    std::vector<double> amps;
    bool settled = true;
};
[[nodiscard]] LoadCurrents load_currents(const RailTree& tree, const std::string& mode,
                                         const std::set<std::string>& without = {});
[[nodiscard]] RailSolution solve_rails(const RailTree& tree, const RailCase& at, const LoadCurrents& loads);
/// The amount of a load in a mode.
[[nodiscard]] const RailAmount& amount_in(const RailLoad& load, const std::string& mode);
/// What a mode switches off.
[[nodiscard]] std::set<std::string> off_in(const RailTree& tree, const std::string& mode);
/// A source's volts at a corner.
[[nodiscard]] double volts_at(const RailSource& source, Corner corner);

[[nodiscard]] inline std::string volts_text(double v) {
    return print_number(v, Unit::volt);
}
[[nodiscard]] inline std::string amperes_text(double a) {
    return print_number(a, Unit::ampere);
}
/// With `sinks`: of each rail to ground, so that one which is lifted from behind is seen.
inline constexpr double rail_leak_ohm = 1e5;
/// Below this nothing is counted as flowing backwards.
inline constexpr double least_back_a = 1e-6;

}  // namespace grayrelic
