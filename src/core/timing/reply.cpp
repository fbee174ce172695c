// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/reply.hpp"

#include <algorithm>
#include <cmath>
#include <deque>
#include <functional>

#include "core/base/random.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

Time scaled(Time t, double share) {
    return Time::ps(std::llround(static_cast<double>(t.count()) * share));
}

/// Draws how long a model takes from a trigger to noticing it, were it idle.
class Noticing {
  public:
    Noticing(const ReplyModel& model, Random& random) : model_(model), random_(random) {}

    Time wait(Time trigger) {
        Time entry;
        if (model_.kind == OptionKind::poll)
            entry = poll_left(trigger);
        else if (!model_.measured.empty())
            entry = model_.measured[random_.below(model_.measured.size())];
        else
            entry = model_.latency_min + scaled(model_.latency_max - model_.latency_min, random_.uniform());
        return entry + hold_left(trigger) + stall_left(trigger);
    }

  private:
    /// Until the loop looks the next time. It looks at even distances; after a longer pause than one round
    /// its phase is drawn anew.
    Time poll_left(Time trigger) {
        if (model_.period <= Time{}) return {};
        if (!looked_ || trigger - last_trigger_ > model_.period)
            look_ = trigger + scaled(model_.period, random_.uniform());
        else
            while (look_ < trigger) look_ += model_.period;
        looked_ = true;
        last_trigger_ = trigger;
        return look_ - trigger;
    }
    /// What is left of the hold in which the trigger falls, 0 outside of one.
    Time hold_left(Time trigger) {
        if (model_.held_every <= Time{} || model_.held <= Time{}) return {};
        const Time gap = trigger - last_;
        if (!started_ || gap > model_.held_every)
            phase_ = scaled(model_.held_every, random_.uniform());
        else
            phase_ = Time::ps((phase_ + gap).count() % model_.held_every.count());
        started_ = true;
        last_ = trigger;
        return phase_ < model_.held ? model_.held - phase_ : Time{};
    }
    Time spacing() { return scaled(model_.stall_every, -std::log(1.0 - random_.uniform())); }
    /// The same for stalls: starts are a process without memory, so that the last one before any moment lies
    /// an exponential time back.
    Time stall_left(Time trigger) {
        if (model_.stall_every <= Time{} || model_.stall <= Time{}) return {};
        if (!stalls_ || trigger - next_stall_ > model_.stall_every * 20) {
            last_stall_ = trigger - spacing();
            next_stall_ = trigger + spacing();
            stalls_ = true;
        }
        while (next_stall_ <= trigger) {
            last_stall_ = next_stall_;
            next_stall_ += std::max(Time::ps(1), spacing());
        }
        return trigger - last_stall_ < model_.stall ? model_.stall - (trigger - last_stall_) : Time{};
    }

    const ReplyModel& model_;
    Random& random_;
    Time last_, phase_, last_stall_, next_stall_;
    Time look_, last_trigger_;
    bool started_ = false, stalls_ = false, looked_ = false;
};

using Sink = std::function<void(std::optional<Time>)>;  // takes the reply to each task, in their order

/// Firmware with one thing at a time and one flag for what waits: while a trigger waits, for the end of the
/// work before it, of a hold, or for the next look, a second one finds the flag set. Then one of the two is
/// served, when the first would have been: the second where triggers may come late, the first where the
/// second is lost.
void serve(std::span<const ReplyTask> tasks, const ReplyModel& model, Random& random, Progress& progress,
           const Sink& sink) {
    Noticing noticing(model, random);
    bool waiting = false;
    Time start;  // when the one that waits will begin
    Time busy_until = Time::min();
    std::optional<Time> reply;  // of the task before, which a later one may still push from its place
    for (std::size_t i = 0; i < tasks.size(); ++i) {
        if ((i & 0xFFFFU) == 0) {
            progress.report(static_cast<double>(i) / static_cast<double>(tasks.size()));
            if (progress.cancelled()) return;
        }
        const Time trigger = tasks[i].trigger;
        const Time noticed = trigger + noticing.wait(trigger);
        if (waiting && start <= trigger) {  // it has begun
            busy_until = start + model.work;
            waiting = false;
        }
        if (model.busy == WhenBusy::lost && (waiting || trigger < busy_until)) {
            // The one before keeps its place, and its reply.
            if (i > 0) sink(reply);
            reply.reset();
            continue;
        }
        if (waiting) reply.reset();  // its place is taken
        if (i > 0) sink(reply);
        if (!waiting) start = std::max(noticed, busy_until);
        waiting = true;
        reply = start + model.work + model.write;
    }
    if (!tasks.empty()) sink(reply);
}

/// Firmware that serves a queue in order, each trigger with its own work.
void serve_queue(std::span<const ReplyTask> tasks, const ReplyModel& model, Random& random,
                 Progress& progress, const Sink& sink) {
    Noticing noticing(model, random);
    std::deque<Time> starts;  // of those that may still wait
    Time free_from = Time::min();
    for (std::size_t i = 0; i < tasks.size(); ++i) {
        if ((i & 0xFFFFU) == 0) {
            progress.report(static_cast<double>(i) / static_cast<double>(tasks.size()));
            if (progress.cancelled()) return;
        }
        const Time trigger = tasks[i].trigger;
        while (!starts.empty() && starts.front() <= trigger) starts.pop_front();
        const Time noticed = trigger + noticing.wait(trigger);
        if (static_cast<int>(starts.size()) >= model.depth) {
            sink(std::nullopt);
            continue;
        }
        const Time start = std::max(noticed, free_from);
        free_from = start + model.work;
        sink(free_from + model.write);
        starts.push_back(start);
    }
}

Time path_delay(Random& random, Time low, Time mode, Time high) {
    return Time::ps(
        std::llround(random.triangular(static_cast<double>(low.count()), static_cast<double>(mode.count()),
                                       static_cast<double>(high.count()))));
}

/// Firmware prepares in the pause before each burst. A pause is a gap more than four times the usual one.
void serve_mixed(std::span<const ReplyTask> tasks, const ReplyModel& model, Random& random,
                 const Sink& sink) {
    const Time pause = burst_pause(tasks);
    Noticing noticing(model, random);
    bool ready = true;
    for (std::size_t i = 0; i < tasks.size(); ++i) {
        if (i > 0 && tasks[i].trigger - tasks[i - 1].trigger > pause) {
            const Time last = tasks[i - 1].trigger;
            ready = last + noticing.wait(last) + model.work <= tasks[i].trigger;
        }
        sink(ready ? std::optional(tasks[i].trigger +
                                   path_delay(random, model.path_min, model.path_typ, model.path_max))
                   : std::nullopt);
    }
}

/// One round through all tasks; the same seed gives the same one.
void run_round(std::span<const ReplyTask> tasks, const ReplyModel& model, unsigned long seed,
               Progress& progress, const Sink& sink) {
    Random random(seed);
    switch (model.kind) {
        case OptionKind::logic:
            for (const auto& task : tasks)
                sink(task.trigger +
                     path_delay(random, model.latency_min, model.latency_typ, model.latency_max));
            break;
        case OptionKind::pio:
        case OptionKind::fpga:
            for (const auto& task : tasks)
                sink(task.trigger + model.latency_min +
                     scaled(model.latency_max - model.latency_min, random.uniform()) + model.write);
            break;
        case OptionKind::mixed: serve_mixed(tasks, model, random, sink); break;
        case OptionKind::poll:
        case OptionKind::irq:
        case OptionKind::core:
            if (model.busy == WhenBusy::queue)
                serve_queue(tasks, model, random, progress, sink);
            else
                serve(tasks, model, random, progress, sink);
            break;
        case OptionKind::network: break;  // is simulated itself: network_reply.hpp
    }
}

/// By which latency the margin is judged where it is above the simulated one.
std::optional<Time> slow_corner(const ReplyModel& model) {
    if (model.kind == OptionKind::logic) return model.latency_max;
    if (model.kind == OptionKind::pio || model.kind == OptionKind::fpga)
        return model.latency_max + model.write;
    if (model.kind == OptionKind::mixed) return model.path_max;
    return std::nullopt;
}

}  // namespace

Time burst_pause(std::span<const ReplyTask> tasks) {
    std::vector<Time> gaps;
    for (std::size_t i = 1; i < std::min<std::size_t>(tasks.size(), 100'000); ++i)
        gaps.push_back(tasks[i].trigger - tasks[i - 1].trigger);
    if (gaps.empty()) return Time::max();
    std::nth_element(gaps.begin(), gaps.begin() + static_cast<std::ptrdiff_t>(gaps.size() / 2), gaps.end());
    return gaps[gaps.size() / 2] * 4;
}

std::optional<Time> ReplySummary::reply_to(std::size_t task) const {
    if (task < first_outcome || task - first_outcome >= outcomes.size()) return std::nullopt;
    return outcomes[task - first_outcome].reply;
}

ReplyTally::ReplyTally(std::span<const ReplyTask> tasks, std::optional<Time> slowest)
    : tasks_(tasks), slowest_(slowest) {
    s_.replies = static_cast<long>(tasks.size());
    latencies_.reserve(tasks.size());
    came_.reserve(tasks.size());
    latest_.resize(std::min(tasks.size(), most_outcomes));
}

void ReplyTally::add(std::optional<Time> reply) {
    const auto i = next_++;
    const auto& task = tasks_[i];
    const Time allowed = task.deadline - task.trigger;
    s_.enough_latency = s_.enough_latency ? std::min(*s_.enough_latency, allowed) : allowed;
    latest_[i % latest_.size()] = {reply};
    came_.push_back(reply.has_value());
    if (keep_soon_ && i == *s_.worst + most_outcomes / 2) keep_around_worst();
    if (!reply) {
        ++s_.lost;
        ++s_.missed;
        return;
    }
    latencies_.push_back((*reply - task.trigger).seconds());
    (*reply <= task.deadline ? s_.met : s_.missed) += 1;
    const Time judged = slowest_ ? std::max(*reply, task.trigger + *slowest_) : *reply;
    if (const Time margin = task.deadline - judged; !s_.worst_margin || margin < *s_.worst_margin) {
        s_.worst_margin = margin;
        s_.worst = i;
        keep_soon_ = true;
    }
}

/// The latest ones, in their order.
void ReplyTally::keep_around_worst() {
    keep_soon_ = false;
    s_.first_outcome = next_ - std::min(next_, latest_.size());
    s_.outcomes.clear();
    s_.outcomes.reserve(latest_.size());
    for (auto i = s_.first_outcome; i < next_; ++i) s_.outcomes.push_back(latest_[i % latest_.size()]);
}

ReplySummary ReplyTally::summary() && {
    if (keep_soon_ || s_.outcomes.empty()) keep_around_worst();
    s_.latencies = spread_of(latencies_);
    s_.latency = summarise(std::span<const double>(latencies_));
    std::size_t k = 0;
    for (std::size_t i = 0; i < came_.size(); ++i)  // in their place: a second list would be as large again
        if (came_[i]) latencies_[k++] -= (tasks_[i].deadline - tasks_[i].trigger).seconds();
    s_.after_look = spread_of(latencies_);
    latencies_ = {};
    return std::move(s_);
}

Result<ReplySummary> simulate_replies(const std::vector<ReplyTask>& tasks, const ReplyModel& model,
                                      unsigned long seed, Progress& progress) {
    ReplyTally tally(tasks, slow_corner(model));
    run_round(tasks, model, seed, progress, [&](std::optional<Time> r) { tally.add(r); });
    if (progress.cancelled()) return fail_cancelled();
    progress.report(1.0);
    return std::move(tally).summary();
}

Result<LookRule> parse_look(std::string_view text) {
    LookRule rule;
    if (text.starts_with("next:")) {
        auto edge = parse_edge(text.substr(5));
        if (!edge) return fail(edge.error());
        rule.next = std::move(*edge);
        return rule;
    }
    if (auto edge = parse_edge(text)) {
        rule.next = std::move(*edge);
        return rule;
    }
    const auto time = parse_time(text);
    if (!time || *time <= Time{})
        return fail_usage("look " + in_quotes(text), "a time above 0 like 3.1us, or next:STEP:fall");
    rule.after = *time;
    return rule;
}

std::string show_look(const LookRule& rule) {
    return rule.after ? print(*rule.after) + " later" : "at the next " + show_edge(rule.next);
}

namespace {

/// `each` calls what it is given with every trigger in order: a capture may hold millions, which are not
/// copied.
template <class Each>
Result<std::vector<ReplyTask>> tasks_of(const Capture& capture, Each each, const LookRule& look, Time guard,
                                        std::optional<Time> within) {
    std::vector<ReplyTask> tasks;
    if (look.after) {
        each([&](Time t) { tasks.push_back({t, t + *look.after - guard}); });
        return tasks;
    }
    const auto to = capture.find_digital(look.next.signal);
    if (!to) return fail(to.error());
    const auto looks = (*to)->edges();
    std::size_t n = 0;
    each([&](Time t) {
        while (n < looks.size() && (looks[n] <= t || !(*to)->matches(n, look.next.direction))) ++n;
        if (n < looks.size() && (!within || looks[n] - t <= *within)) tasks.push_back({t, looks[n] - guard});
    });
    tasks.shrink_to_fit();
    return tasks;
}

}  // namespace

Result<std::vector<ReplyTask>> find_tasks(const Capture& capture, const EdgeName& trigger,
                                          const LookRule& look, Time guard, std::optional<Time> within) {
    const auto from = capture.find_digital(trigger.signal);
    if (!from) return fail(from.error());
    const auto each = [&](auto take) {
        const auto edges = (*from)->edges();
        for (std::size_t i = 0; i < edges.size(); ++i)
            if ((*from)->matches(i, trigger.direction)) take(edges[i]);
    };
    return tasks_of(capture, each, look, guard, within);
}

Result<std::vector<ReplyTask>> find_tasks(const Capture& capture, const std::vector<Time>& triggers,
                                          const LookRule& look, Time guard, std::optional<Time> within) {
    const auto each = [&](auto take) {
        for (const Time t : triggers) take(t);
    };
    return tasks_of(capture, each, look, guard, within);
}

}  // namespace grayrelic
