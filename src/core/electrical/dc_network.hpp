// SPDX-License-Identifier: GPL-3.0-or-later
// Steady volts and amperes of a network of sources, resistances, diodes, loads and regulators: rails, what
// feeds back where, a device that its lines keep alive, two ports that meet the wrong way.
//
// Each thing is linear in each of its states (a diode conducts or not, a regulator holds its output, is at
// its dropout, at its limit, or idle). A state is assumed for each, Kirchhoff's laws are solved for all, and
// states that the result contradicts are changed, until none is: all at once first, then only the first one,
// which ends for networks without gain. The number of rounds is bounded; `settled` says whether they were
// enough.
#pragma once

#include <cstddef>
#include <limits>
#include <optional>
#include <vector>

namespace grayrelic {

struct DcNetwork {
    static constexpr int ground = 0;
    static constexpr double no_limit = std::numeric_limits<double>::infinity();

    /// Holds a node at its volts behind a resistance: a supply, a driver, a pull.
    struct Feed {
        int node = 0;
        double volts = 0;
        double ohm = 0;            ///< taken as at least 1 nΩ
        double most_a = no_limit;  ///< gives no more than this; its volts fall then
        bool takes_back = true;    ///< current may flow into it
    };
    struct Resistance {
        int a = 0, b = 0;
        double ohm = 0;  ///< taken as at least 1 nΩ
    };
    /// A diode, a clamp: conducts one way, at a constant drop and a resistance.
    struct Drop {
        int from = 0, to = 0;
        double volts = 0;
        double ohm = 0;  ///< taken as at least 1 nΩ
    };
    /// A load of constant current; below `full_v` it falls in proportion.
    struct Draw {
        int from = 0, to = ground;
        double amps = 0;
        double full_v = 0.1;
    };
    /// Holds its output, as long as its input is high enough by the dropout; gives current only.
    struct Regulator {
        int in = 0, out = 0;
        double volts = 0;
        double dropout = 0;
        double own_a = 0;  ///< of itself, from its input to ground
        double most_a = no_limit;
        double efficiency =
            0;  ///< of a switching one, above 0 to 1; 0: linear, its input current is its output's
    };

    int nodes = 1;  ///< with ground, which is node 0
    std::vector<Feed> feeds;
    std::vector<Resistance> resistances;
    std::vector<Drop> drops;
    std::vector<Draw> draws;
    std::vector<Regulator> regulators;

    int add_node() { return nodes++; }
};

struct DcSolution {
    bool settled =
        false;  ///< false: no set of states was found that fits; the figures are the last ones tried
    int rounds = 0;
    std::vector<double> volts;         ///< of each node; a node that nothing holds is at 0 V
    std::vector<double> feed_a;        ///< out of each feed
    std::vector<double> resistance_a;  ///< from a to b
    std::vector<double> drop_a;        ///< never below 0
    std::vector<double> draw_a;
    std::vector<double> regulator_a;     ///< out of its output
    std::vector<double> regulator_in_a;  ///< into its input, its own included
};

[[nodiscard]] DcSolution solve(const DcNetwork& network);

}  // namespace grayrelic
