// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/build/conductors.hpp"

#include <algorithm>
#include <cmath>
#include <map>

namespace grayrelic {
namespace {

constexpr std::size_t most_nets_solved = 400;

}  // namespace

double ohms_between(const std::vector<Conductor>& conductors, int a, int b, const Conductor* without) {
    std::map<int, std::size_t> at;
    std::vector<int> queue{a};
    at[a] = 0;
    for (std::size_t i = 0; i < queue.size(); ++i)
        for (const auto& c : conductors) {
            if (&c == without || (c.a != queue[i] && c.b != queue[i])) continue;
            const int next = c.a == queue[i] ? c.b : c.a;
            if (at.emplace(next, queue.size()).second) queue.push_back(next);
        }
    if (at.count(b) == 0) return HUGE_VAL;
    const std::size_t n = queue.size();
    if (n > most_nets_solved) return 0;  // too many to be told: as bad as plausible
    // One ampere in at a, out at b, which is ground; by rows with the currents behind them (Gauss).
    const std::size_t wide = n + 1;
    std::vector<double> m(n * wide, 0);
    const auto cell = [&](std::size_t r, std::size_t c) -> double& { return m[r * wide + c]; };
    for (const auto& c : conductors) {
        if (&c == without || at.count(c.a) == 0) continue;
        const double g = 1 / std::max(c.ohm, 1e-3);
        const auto i = at.at(c.a), k = at.at(c.b);
        cell(i, i) += g;
        cell(k, k) += g;
        cell(i, k) -= g;
        cell(k, i) -= g;
    }
    cell(at.at(a), n) = 1;
    const auto ground = at.at(b);
    for (std::size_t c = 0; c < wide; ++c) cell(ground, c) = 0;
    cell(ground, ground) = 1;
    for (std::size_t c = 0; c < n; ++c) {
        std::size_t pivot = c;
        for (std::size_t r = c; r < n; ++r)
            if (std::abs(cell(r, c)) > std::abs(cell(pivot, c))) pivot = r;
        for (std::size_t k = 0; k < wide; ++k) std::swap(cell(c, k), cell(pivot, k));
        if (std::abs(cell(c, c)) < 1e-15) return 0;
        for (std::size_t r = 0; r < n; ++r) {
            if (r == c || cell(r, c) == 0) continue;
            const double f = cell(r, c) / cell(c, c);
            for (std::size_t k = c; k < wide; ++k) cell(r, k) -= f * cell(c, k);
        }
    }
    return cell(at.at(a), n) / cell(at.at(a), at.at(a));
}

}  // namespace grayrelic
