// SPDX-License-Identifier: GPL-3.0-or-later
// Voltages of a network of resistances with some nodes held: Kirchhoff's current law at every other node.
#pragma once

#include <optional>
#include <vector>

namespace grayrelic {

struct NodalNetwork {
    struct Resistance {
        std::size_t a = 0, b = 0;
        double ohm = 0;  ///< taken as at least 1 mΩ
    };
    std::size_t nodes = 0;
    std::vector<Resistance> resistances;
    std::vector<std::optional<double>> held;  ///< volts of each node that is held
    std::vector<double> into;                 ///< amperes that flow into each node from outside
};

/// One voltage a node; nothing for a node that no resistance joins to a held one.
[[nodiscard]] std::vector<std::optional<double>> solve(const NodalNetwork& network);
/// What flows out of a held node into the resistances, by the voltages that solve() gave.
[[nodiscard]] double current_from(const NodalNetwork& network,
                                  const std::vector<std::optional<double>>& volts, std::size_t node);
/// The resistance seen from a node to all that is held; nothing where there is no way.
[[nodiscard]] std::optional<double> resistance_from(NodalNetwork network, std::size_t node);

}  // namespace grayrelic
