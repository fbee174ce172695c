// SPDX-License-Identifier: GPL-3.0-or-later
// Replies simulated, and a failure said.
#pragma once

#include "core/timing/reply.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic::test {

inline ReplySummary run(const std::vector<ReplyTask>& tasks, const ReplyModel& model,
                        unsigned long seed = 1) {
    Progress progress;
    auto s = simulate_replies(tasks, model, seed, progress);
    EXPECT_TRUE(s) << message(s);
    return std::move(*s);
}

}  // namespace grayrelic::test
