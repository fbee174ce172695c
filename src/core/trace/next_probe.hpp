// SPDX-License-Identifier: GPL-3.0-or-later
// Which pair to probe next: the one expected to tell most.
//
// What a probe tells is counted in pairs of points that it settles: of a beep, the two nets' points and what
// each net is already separated from; of an open, the product of the two nets' sizes. The odds of a beep come
// from likelihood.hpp. First the joins that are likely are looked for (rails, then buses, then named pins),
// then what is left is separated, the largest nets first.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/trace/likelihood.hpp"

namespace grayrelic {

enum class ProbeStrategy { everything, rails, buses, connectors };
[[nodiscard]] std::string_view word(ProbeStrategy s);

struct Probe {
    int a = 0, b = 0;
    double chance = 0;  ///< that it beeps, 0 to 1
    double tells = 0;   ///< pairs of points that it is expected to settle
    std::string why;
};

struct ProbePlan {
    std::vector<Probe> next;       ///< best first; empty when everything is settled
    std::uint64_t remaining = 0;   ///< probes still needed, estimated: likely joins are taken as joins
    std::uint64_t every_pair = 0;  ///< what probing all pairs would cost
};

struct PlanOptions {
    ProbeStrategy strategy = ProbeStrategy::everything;
    std::size_t how_many = 5;
    std::vector<int> skip;  ///< points that can't be reached
};

[[nodiscard]] ProbePlan plan_probes(const Likelihood& prior, const NetState& state,
                                    const PlanOptions& options = {});

}  // namespace grayrelic
