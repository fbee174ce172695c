// SPDX-License-Identifier: GPL-3.0-or-later
// Do two networks do the same? Inputs and outputs are matched by their nets' names.
//
// Without storage: every input setting, up to 28 inputs. With storage: both are walked side by side from
// power-up with all bits unknown, changing one input at a time, over all states that can be reached, up to
// 2^20; where the first network's output is unknown, the second may do what it likes. What goes beyond is
// "not proven", never "equal".
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "core/logic/simulate.hpp"

namespace grayrelic {

struct EquivalenceLimits {
    std::size_t inputs = 28;  ///< exhaustive up to here
    std::size_t states = 1U << 20U;
    unsigned threads = 2;    ///< the answer does not depend on it
    std::uint64_t seed = 1;  ///< of the samples taken beyond the limit
};

struct Equivalence {
    enum class Answer { equal, differ, not_proven } answer = Answer::not_proven;
    /// Settings of the inputs in order: one of them for gates; for storage each is one change after the one
    /// before.
    std::vector<std::vector<std::pair<std::string, bool>>> steps;
    std::string output;  ///< the first one that differs, when they do
    Level first = Level::unknown, second = Level::unknown;
    unsigned long long looked_at = 0;  ///< input settings, or states
    unsigned long depth = 0;           ///< with storage: how many changes deep everything was seen
    std::string note;                  ///< why it is not proven
};
[[nodiscard]] std::string_view word(Equivalence::Answer a);  ///< "equal", "differ", "not proven"

/// Refused: networks that are not computable, inputs or outputs that only one of them has, cancelled.
[[nodiscard]] Result<Equivalence> compare_networks(const Network& first, const Network& second,
                                                   const EquivalenceLimits& limits, Progress& progress);

}  // namespace grayrelic
