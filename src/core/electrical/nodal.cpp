// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrical/nodal.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

double conductance(const NodalNetwork::Resistance& r) {
    return 1 / std::max(r.ohm, 1e-3);
}

/// Nodes that a way of resistances joins to a held one.
std::vector<bool> settled_nodes(const NodalNetwork& n) {
    std::vector<bool> out(n.nodes, false);
    for (std::size_t i = 0; i < n.nodes; ++i) out[i] = n.held[i].has_value();
    for (bool more = true; more;) {
        more = false;
        for (const auto& r : n.resistances)
            if (out[r.a] != out[r.b]) out[r.a] = out[r.b] = more = true;
    }
    return out;
}

}  // namespace

std::vector<std::optional<double>> solve(const NodalNetwork& n) {
    const auto settled = settled_nodes(n);
    std::vector<std::size_t> unknown, row(n.nodes, 0);
    for (std::size_t i = 0; i < n.nodes; ++i)
        if (settled[i] && !n.held[i]) {
            row[i] = unknown.size();
            unknown.push_back(i);
        }
    // Few nodes, symmetric and positive definite: elimination without pivoting is stable.
    const auto size = unknown.size();
    std::vector<std::vector<double>> m(size, std::vector<double>(size + 1, 0.0));
    for (std::size_t i = 0; i < size; ++i) m[i][size] = n.into.empty() ? 0.0 : n.into[unknown[i]];
    for (const auto& r : n.resistances) {
        if (!settled[r.a] || r.a == r.b) continue;
        const double g = conductance(r);
        for (const auto& [here, there] : {std::pair(r.a, r.b), std::pair(r.b, r.a)}) {
            if (n.held[here]) continue;
            m[row[here]][row[here]] += g;
            if (n.held[there])
                m[row[here]][size] += g * *n.held[there];
            else
                m[row[here]][row[there]] -= g;
        }
    }
    for (std::size_t k = 0; k < size; ++k)
        for (std::size_t i = k + 1; i < size; ++i) {
            const double f = m[i][k] / m[k][k];
            if (f == 0) continue;
            for (std::size_t j = k; j <= size; ++j) m[i][j] -= f * m[k][j];
        }
    std::vector<double> x(size, 0.0);
    for (std::size_t k = size; k-- > 0;) {
        double v = m[k][size];
        for (std::size_t j = k + 1; j < size; ++j) v -= m[k][j] * x[j];
        x[k] = v / m[k][k];
    }
    std::vector<std::optional<double>> out(n.nodes);
    for (std::size_t i = 0; i < n.nodes; ++i)
        if (n.held[i])
            out[i] = n.held[i];
        else if (settled[i])
            out[i] = x[row[i]];
    return out;
}

double current_from(const NodalNetwork& n, const std::vector<std::optional<double>>& volts,
                    std::size_t node) {
    double out = 0;
    for (const auto& r : n.resistances) {
        if ((r.a != node && r.b != node) || r.a == r.b) continue;
        const auto other = r.a == node ? r.b : r.a;
        if (volts[node] && volts[other]) out += (*volts[node] - *volts[other]) * conductance(r);
    }
    return out;
}

std::optional<double> resistance_from(NodalNetwork n, std::size_t node) {
    if (n.held[node]) return 0.0;
    for (auto& h : n.held)
        if (h) h = 0.0;
    n.into.assign(n.nodes, 0.0);
    n.into[node] = 1.0;
    return solve(n)[node];
}

}  // namespace grayrelic
