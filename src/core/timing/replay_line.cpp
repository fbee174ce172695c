// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/replay_line.hpp"

#include "core/base/long_work.hpp"

#include <algorithm>

namespace grayrelic {

DigitalWaveform replay_line(const DigitalWaveform& original, const std::vector<ReplyTask>& tasks,
                            const ReplySummary& summary, Span window) {
    long_work("replay_line");
    // A late reply of a task before the window may fall into it.
    constexpr std::size_t context = 64;
    const auto first_inside = std::lower_bound(tasks.begin(), tasks.end(), window.from,
                                               [](const ReplyTask& t, Time v) { return t.trigger < v; });
    const auto first = static_cast<std::size_t>(
        std::max<std::ptrdiff_t>(0, first_inside - tasks.begin() - static_cast<std::ptrdiff_t>(context)));
    const Time start = first < tasks.size() ? std::min(window.from, tasks[first].trigger) : window.from;

    struct Change {
        Time at;
        bool level;
    };
    std::vector<Change> changes;
    std::size_t t = first;
    for (; t < tasks.size() && tasks[t].trigger < window.to; ++t)
        if (const auto reply = summary.reply_to(t))
            changes.push_back({*reply, original.level_before(tasks[t].deadline)});
    const auto edges = original.edges();
    for (auto e = original.edges_before(start); e < edges.size() && edges[e] < window.to; ++e) {
        const auto next = std::upper_bound(tasks.begin(), tasks.end(), edges[e],
                                           [](Time v, const ReplyTask& task) { return v < task.trigger; });
        const bool inside = next != tasks.begin() && edges[e] < std::prev(next)->deadline;
        if (!inside) changes.push_back({edges[e], original.is_rise(e)});
    }
    std::stable_sort(changes.begin(), changes.end(),
                     [](const Change& a, const Change& b) { return a.at < b.at; });
    const bool level_at_start = original.level_before(start);
    bool level = level_at_start;
    std::vector<Time> out;
    for (const auto& c : changes) {
        if (c.level == level) continue;
        level = c.level;
        if (!out.empty() && out.back() == c.at)
            out.pop_back();
        else
            out.push_back(c.at);
    }
    return {level_at_start, out};
}

DigitalWaveform replay_turns(const DigitalWaveform& original, const std::vector<ReplyTask>& tasks,
                             const ReplySummary& summary, Span window) {
    long_work("replay_turns");
    const auto edges = original.edges();
    auto e = original.edges_before(window.from);
    const bool level = original.level_before(window.from);
    std::vector<Time> out;
    auto task =
        static_cast<std::size_t>(std::upper_bound(tasks.begin(), tasks.end(), window.from,
                                                  [](Time v, const ReplyTask& t) { return v < t.trigger; }) -
                                 tasks.begin());
    if (task > 0) --task;  // its answer may lie in the window
    Time moved;
    for (; e < edges.size(); ++e) {
        while (task < tasks.size() && tasks[task].trigger < edges[e]) {
            const auto reply = summary.reply_to(task);
            moved = reply ? *reply - edges[e] : Time{};
            ++task;
        }
        const Time at = edges[e] + moved;
        if (at >= window.to) break;
        // An answer that is moved into the poll before it, or past its end, is cut there.
        out.push_back(out.empty() || at > out.back() ? at : out.back() + Time::ps(1));
    }
    return {level, out};
}

}  // namespace grayrelic
