// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <deque>

#include "core/base/random.hpp"
#include "core/timing/budget_parts.hpp"

namespace grayrelic {
namespace {

constexpr double most_events = 2e6;

/// Arrivals one after the other into a queue that a single server empties; depth counts the one being served.
struct Queue {
    std::vector<double> depth_seen;  ///< at each arrival, itself included
    double longest_wait = 0;
    std::size_t deepest = 0;
};

template <class Service>
Queue run_queue(const std::vector<double>& arrivals, Service service) {
    Queue q;
    std::deque<double> ends;
    double free_from = -1e300;
    for (const double t : arrivals) {
        while (!ends.empty() && ends.front() <= t) ends.pop_front();
        const double start = std::max(t, free_from);
        free_from = start + service();
        ends.push_back(free_from);
        q.deepest = std::max(q.deepest, ends.size());
        q.depth_seen.push_back(static_cast<double>(ends.size()));
        q.longest_wait = std::max(q.longest_wait, free_from - t);
    }
    return q;
}

}  // namespace

Result<BudgetResult> queue_budget(const BudgetValues& v, const std::vector<Time>& recorded,
                                  Progress& progress) {
    std::vector<double> arrivals;
    const double slow = v["drain"] + v["drain-more"];
    double mean_gap = 0;
    if (!recorded.empty()) {
        for (const Time t : recorded) arrivals.push_back(t.seconds());
        if (arrivals.size() > 1)
            mean_gap = (arrivals.back() - arrivals.front()) / static_cast<double>(arrivals.size() - 1);
    } else {
        const double burst = std::floor(v["burst"]);
        if (burst < 1 || burst > most_events)
            return fail_usage(fmt::format("a burst of {}", v["burst"]), "1 to 2000000 events");
        if (v["every"] < (burst - 1) * v["gap"])
            return fail_usage("a burst that is longer than the time to the next one",
                              "a longer time from burst to burst");
        // As many bursts as it takes until what is left over shows.
        const auto bursts = static_cast<int>(std::clamp(most_events / burst, 1.0, 20.0));
        for (int b = 0; b < bursts; ++b)
            for (double i = 0; i < burst; ++i) arrivals.push_back(b * v["every"] + i * v["gap"]);
        mean_gap = v["every"] / burst;
    }
    Random random(1);
    const auto worst = run_queue(arrivals, [&] { return slow; });
    const auto usual =
        run_queue(arrivals, [&] { return random.uniform(v["drain"], std::max(slow, v["drain"] + 1e-15)); });
    if (progress.cancelled()) return fail_cancelled();
    BudgetResult r;
    r.unit = Unit::none;
    r.used = static_cast<double>(worst.deepest);
    r.available = v["depth"];
    const bool grows = mean_gap > 0 && slow > mean_gap;
    r.verdict = grows || r.used > r.available ? Verdict::stop : judge_budget(r.used, r.available);
    r.figures = {{"Deepest", r.used, Unit::none, "with every event taking longest"},
                 {"Deepest, drawn at random", static_cast<double>(usual.deepest), Unit::none,
                  "seeded, each between usual and longest"},
                 {"Longest wait", worst.longest_wait, Unit::second, "from arriving to being taken away"},
                 {"Load", mean_gap > 0 ? slow / mean_gap : 0, Unit::none,
                  "time needed over time there is; above 1 it grows for ever"}};
    r.bars = usual.depth_seen;
    r.bar_unit = Unit::none;
    r.bars_about = "places in use when an event arrives";
    if (grows) {
        r.says = "events come faster than they are taken away: no queue is deep enough";
        r.todo = fmt::format("Take one away in under {}, or drop what is out of date.",
                             print_number(mean_gap, Unit::second));
    } else if (r.used > r.available) {
        r.says = fmt::format("needs {} places, there are {}", worst.deepest,
                             print_count(static_cast<long long>(r.available)));
        r.todo = fmt::format("Make the queue {} deep.", worst.deepest + 1);
    } else {
        r.says = fmt::format("{} of {} places used at most", worst.deepest,
                             print_count(static_cast<long long>(r.available)));
        if (r.verdict == Verdict::doubt)
            r.todo = "Leave a place or two more: the numbers are limits, not certainties.";
    }
    return r;
}

Result<BudgetResult> text_budget(const BudgetValues& v, const std::vector<Time>&, Progress& progress) {
    const double count = std::floor(v["text"]), line = std::floor(v["line"]);
    if (count < 1 || count > most_events)
        return fail_usage(fmt::format("{} characters", v["text"]), "1 to 2000000");
    if (line < 1) return fail_usage("a line of no characters", "at least 1");
    if (v["char-rate"] <= 0) return fail_usage("no characters a second", "a rate above 0");
    if (v["char-time"] <= 0) return fail_usage("no time to print a character", "a time above 0");
    const double between = 1.0 / v["char-rate"], buffer = v["buffer"], stop_at = v["stop-at"],
                 go_at = v["go-at"];
    const bool flow = stop_at > 0;
    if (flow && go_at >= stop_at)
        return fail_usage(fmt::format("go at {} not below stop at {}", go_at, stop_at), "go below stop");
    // Character by character: the sender, the buffer, the mechanism. A character leaves the buffer when its
    // work begins.
    double now = 0, free_from = 0, sent_at = 0;
    double used = 0, peak = 0, lost = 0, done_at = 0, stopped_for = 0;
    bool stopped = false;
    double overrun_left = 0, stopped_since = 0;
    std::deque<double> waiting;  // columns of those in the buffer
    double sent = 0, column = 0;
    while (sent < count || !waiting.empty()) {
        const bool may_send = sent < count && (!stopped || overrun_left >= 1);
        const double next_send = may_send ? sent_at : 1e300,
                     next_print = waiting.empty() ? 1e300 : std::max(free_from, now);
        if (next_send <= next_print) {
            now = std::max(now, next_send);
            const bool ends = std::fmod(sent + 1, line + 1) == 0;
            column = ends ? -column : column + 1;
            ++sent;
            sent_at = now + between;
            if (stopped) --overrun_left;
            if (used + 1 > buffer)
                ++lost;
            else {
                ++used;
                waiting.push_back(column);
            }
            if (ends) column = 0;
            peak = std::max(peak, used);
            if (flow && !stopped && used >= stop_at) {
                stopped = true;
                stopped_since = now;
                overrun_left = v["overrun"];
            }
        } else {
            now = std::max(now, next_print);
            const double c = waiting.front();
            waiting.pop_front();
            --used;
            free_from = now + (c <= 0 ? v["return-time"] - c * v["column-time"] : v["char-time"]);
            done_at = free_from;
            if (stopped && used <= go_at) {
                stopped = false;
                stopped_for += now - stopped_since;
                sent_at = std::max(sent_at, now);
            }
        }
        if (progress.cancelled()) return fail_cancelled();
    }
    BudgetResult r;
    r.unit = Unit::none;
    // With flow control the proof does not depend on this text: stop plus what still comes must fit.
    r.used = flow ? stop_at + v["overrun"] : peak + lost;
    r.available = buffer;
    r.verdict = lost > 0 || r.used > buffer ? Verdict::stop : judge_budget(r.used, buffer);
    const double per_line = line * v["char-time"] + v["return-time"] + line * v["column-time"];
    r.figures = {
        {"Whole text", done_at, Unit::second, "until the last character is printed"},
        {"Printed", per_line > 0 ? (line + 1) / per_line : 0, Unit::hertz, "characters a second over a line"},
        {"Buffer, most used", peak, Unit::none, "places, in this text"},
        {"Stop plus what still comes", stop_at + v["overrun"], Unit::none,
         flow ? "must not be above the buffer" : "no flow control"},
        {"Lost", lost, Unit::none, "characters of this text"},
        {"Sender held", stopped_for, Unit::second, "in all, by flow control"}};
    if (lost > 0)
        r.says = fmt::format("{} of {} characters are lost", print_count(static_cast<long long>(lost)),
                             print_count(static_cast<long long>(count)));
    else if (r.used > buffer)
        r.says = fmt::format("{} characters can come, the buffer holds {}",
                             print_count(static_cast<long long>(r.used)),
                             print_count(static_cast<long long>(buffer)));
    else
        r.says =
            flow ? fmt::format("lossless: at most {} of {} places",
                               print_count(static_cast<long long>(r.used)),
                               print_count(static_cast<long long>(buffer)))
                 : fmt::format("this text needs {} of {} places", print_count(static_cast<long long>(r.used)),
                               print_count(static_cast<long long>(buffer)));
    if (r.verdict == Verdict::stop)
        r.todo = flow ? fmt::format("Say stop at {} places at the latest.",
                                    print_count(static_cast<long long>(std::max(0.0, buffer - v["overrun"]))))
                      : fmt::format("Use flow control, or send at most {} characters a second.",
                                    print_number((line + 1) / per_line, Unit::none));
    else if (r.verdict == Verdict::doubt)
        r.todo = "Say stop a little earlier.";
    return r;
}

}  // namespace grayrelic
