// SPDX-License-Identifier: GPL-3.0-or-later
// The answer line as an option would have driven it: the same bits as the original's, each at the simulated
// time.
#pragma once

#include "core/timing/reply.hpp"

namespace grayrelic {

/// For the tasks that touch the window: after each simulated reply the line has the level that the original
/// showed at that task's deadline. What the original did outside of all tasks (a first bit shown by the load)
/// is kept. Only near the worst reply, where the summary of very many holds the replies themselves.
[[nodiscard]] DigitalWaveform replay_line(const DigitalWaveform& original,
                                          const std::vector<ReplyTask>& tasks, const ReplySummary& summary,
                                          Span window);

/// Where sides talk in turn: the original's answers in the window, each begun when the simulated one begins
/// and otherwise as it was. What stands before a trigger, and polls without a reply, stay.
[[nodiscard]] DigitalWaveform replay_turns(const DigitalWaveform& original,
                                           const std::vector<ReplyTask>& tasks, const ReplySummary& summary,
                                           Span window);

}  // namespace grayrelic
