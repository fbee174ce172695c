// SPDX-License-Identifier: GPL-3.0-or-later
// Node voltages against a solution of the incidence equations, and laws that every network of resistances
// keeps.
#include "core/electrical/nodal.hpp"

#include <gtest/gtest.h>

#include <Eigen/Dense>

#include "core/base/random.hpp"

namespace grayrelic {
namespace {

NodalNetwork random_network(Random& random) {
    NodalNetwork n;
    n.nodes = 2 + random.below(12);
    n.held.resize(n.nodes);
    n.into.assign(n.nodes, 0.0);
    for (std::size_t i = 0; i < n.nodes; ++i) {
        if (random.below(4) == 0) n.held[i] = static_cast<double>(random.below(1000)) / 100 - 2;
        if (random.below(3) == 0) n.into[i] = (static_cast<double>(random.below(2001)) - 1000) * 1e-6;
    }
    const auto edges = random.below(3 * n.nodes) + 1;
    for (std::size_t i = 0; i < edges; ++i)
        n.resistances.push_back({random.below(n.nodes), random.below(n.nodes),
                                 std::pow(10.0, static_cast<double>(random.below(60)) / 10)});
    return n;
}

/// All node voltages and all branch currents as unknowns of one system: v_a − v_b = R·i, Σ i + I = 0, held
/// nodes as they are. Least squares of least norm takes floating parts in its stride.
Eigen::VectorXd by_incidence(const NodalNetwork& n) {
    const auto nodes = static_cast<Eigen::Index>(n.nodes),
               branches = static_cast<Eigen::Index>(n.resistances.size());
    Eigen::MatrixXd m = Eigen::MatrixXd::Zero(nodes + branches, nodes + branches);
    Eigen::VectorXd b = Eigen::VectorXd::Zero(nodes + branches);
    for (Eigen::Index k = 0; k < branches; ++k) {
        const auto& r = n.resistances[static_cast<std::size_t>(k)];
        m(k, static_cast<Eigen::Index>(r.a)) += 1;
        m(k, static_cast<Eigen::Index>(r.b)) -= 1;
        m(k, nodes + k) = -r.ohm;
        if (!n.held[r.a]) m(branches + static_cast<Eigen::Index>(r.a), nodes + k) -= 1000;
        if (!n.held[r.b]) m(branches + static_cast<Eigen::Index>(r.b), nodes + k) += 1000;
    }
    for (Eigen::Index i = 0; i < nodes; ++i) {
        const auto at = static_cast<std::size_t>(i);
        if (n.held[at]) {
            m(branches + i, i) = 1;
            b(branches + i) = *n.held[at];
        } else {
            b(branches + i) = -1000 * n.into[at];  // scaled as its row
        }
    }
    return m.completeOrthogonalDecomposition().solve(b);
}

TEST(Nodal, AgreesWithTheIncidenceEquations) {
    Random random(25);
    int compared = 0;
    for (int round = 0; round < 400; ++round) {
        auto n = random_network(random);
        const auto v = solve(n);
        // Currents into parts that nothing holds have no answer: the program gives none, and the system none
        // either.
        for (std::size_t i = 0; i < n.nodes; ++i)
            if (!v[i]) n.into[i] = 0;
        const auto x = by_incidence(n);
        for (std::size_t i = 0; i < n.nodes; ++i) {
            if (!v[i]) continue;
            ++compared;
            EXPECT_NEAR(*v[i], x(static_cast<Eigen::Index>(i)), 1e-5 * (1 + std::abs(*v[i])))
                << "round " << round;
        }
    }
    EXPECT_GT(compared, 1000);
}

TEST(Nodal, CurrentsAddUpAndASecondWayNeverRaisesAResistance) {
    Random random(26);
    for (int round = 0; round < 200; ++round) {
        auto n = random_network(random);
        const auto v = solve(n);
        for (std::size_t i = 0; i < n.nodes; ++i)
            if (v[i] && !n.held[i]) {
                EXPECT_NEAR(current_from(n, v, i), n.into[i], 1e-9 + 1e-6 * std::abs(n.into[i]))
                    << "Kirchhoff";
            }
        const auto node = random.below(n.nodes);
        const auto before = resistance_from(n, node);
        n.resistances.push_back({node, random.below(n.nodes), 1000.0});
        const auto after = resistance_from(n, node);
        if (before && after) {
            EXPECT_LE(*after, *before * (1 + 1e-9)) << "Rayleigh";
        }
    }
    // Two kilohms in parallel with three: 1.2 kΩ.
    NodalNetwork two{2, {{0, 1, 2000}, {0, 1, 3000}}, {std::nullopt, 0.0}, {0, 0}};
    EXPECT_NEAR(*resistance_from(two, 0), 1200, 1e-9);
    two.held[1].reset();
    EXPECT_FALSE(resistance_from(two, 0));
}

}  // namespace
}  // namespace grayrelic
