// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/reply.hpp"

#include <algorithm>
#include <cmath>
#include <deque>

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
        if (model_.kind == ReplyKind::poll)
            entry = scaled(model_.period, random_.uniform());
        else if (!model_.measured.empty())
            entry = model_.measured[random_.below(model_.measured.size())];
        else
            entry = model_.latency_min + scaled(model_.latency_max - model_.latency_min, random_.uniform());
        return entry + hold_left(trigger) + stall_left(trigger);
    }

  private:
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
    bool started_ = false, stalls_ = false;
};

/// Firmware with one thing at a time and room for one waiting trigger.
void serve(const std::vector<ReplyTask>& tasks, const ReplyModel& model, Random& random, Progress& progress,
           std::vector<ReplyOutcome>& outcomes) {
    Noticing noticing(model, random);
    struct Pending {
        bool any = false;
        std::size_t task = 0;
        Time start;          // when serving begins
        bool waits = false;  // came while busy, and so stands in the one place for waiting
    };
    Pending pending;
    Time busy_until = Time::min();
    for (std::size_t i = 0; i < tasks.size(); ++i) {
        if ((i & 0xFFFFU) == 0) progress.report(static_cast<double>(i) / static_cast<double>(tasks.size()));
        const Time trigger = tasks[i].trigger;
        if (pending.any && pending.start <= trigger)
            busy_until = pending.start + model.work;  // it was served
        else if (pending.any && pending.waits)
            outcomes[pending.task].reply.reset();  // its place is taken
        pending.any = false;
        const Time noticed = trigger + noticing.wait(trigger);
        if (trigger < busy_until && model.busy == WhenBusy::lost) continue;
        const Time start = std::max(noticed, busy_until);
        outcomes[i].reply = start + model.work + model.write;
        pending = {true, i, start, trigger < busy_until};
    }
}

/// Firmware that serves a queue in order, each trigger with its own work.
void serve_queue(const std::vector<ReplyTask>& tasks, const ReplyModel& model, Random& random,
                 Progress& progress, std::vector<ReplyOutcome>& outcomes) {
    Noticing noticing(model, random);
    std::deque<Time> starts;  // of those that may still wait
    Time free_from = Time::min();
    for (std::size_t i = 0; i < tasks.size(); ++i) {
        if ((i & 0xFFFFU) == 0) progress.report(static_cast<double>(i) / static_cast<double>(tasks.size()));
        const Time trigger = tasks[i].trigger;
        while (!starts.empty() && starts.front() <= trigger) starts.pop_front();
        const Time noticed = trigger + noticing.wait(trigger);
        if (static_cast<int>(starts.size()) >= model.depth) continue;
        const Time start = std::max(noticed, free_from);
        free_from = start + model.work;
        outcomes[i].reply = free_from + model.write;
        starts.push_back(start);
    }
}

Time path_delay(Random& random, Time low, Time mode, Time high) {
    return Time::ps(
        std::llround(random.triangular(static_cast<double>(low.count()), static_cast<double>(mode.count()),
                                       static_cast<double>(high.count()))));
}

/// Firmware prepares in the pause before each burst. A pause is a gap more than four times the usual one.
void serve_mixed(const std::vector<ReplyTask>& tasks, const ReplyModel& model, Random& random,
                 std::vector<ReplyOutcome>& outcomes) {
    const Time pause = burst_pause(tasks);
    Noticing noticing(model, random);
    bool ready = true;
    for (std::size_t i = 0; i < tasks.size(); ++i) {
        if (i > 0 && tasks[i].trigger - tasks[i - 1].trigger > pause) {
            const Time last = tasks[i - 1].trigger;
            ready = last + noticing.wait(last) + model.work <= tasks[i].trigger;
        }
        if (ready)
            outcomes[i].reply =
                tasks[i].trigger + path_delay(random, model.path_min, model.path_typ, model.path_max);
    }
}

}  // namespace

Time burst_pause(const std::vector<ReplyTask>& tasks) {
    std::vector<Time> gaps;
    for (std::size_t i = 1; i < std::min<std::size_t>(tasks.size(), 100'000); ++i)
        gaps.push_back(tasks[i].trigger - tasks[i - 1].trigger);
    if (gaps.empty()) return Time::max();
    std::nth_element(gaps.begin(), gaps.begin() + static_cast<std::ptrdiff_t>(gaps.size() / 2), gaps.end());
    return gaps[gaps.size() / 2] * 4;
}

ReplySummary summarise_replies(const std::vector<ReplyTask>& tasks, std::vector<ReplyOutcome> outcomes,
                               std::optional<Time> slowest) {
    ReplySummary s;
    s.outcomes = std::move(outcomes);
    s.replies = static_cast<long>(tasks.size());
    std::vector<double> latencies;
    latencies.reserve(tasks.size());
    for (std::size_t i = 0; i < tasks.size(); ++i) {
        const auto& task = tasks[i];
        const Time allowed = task.deadline - task.trigger;
        s.enough_latency = s.enough_latency ? std::min(*s.enough_latency, allowed) : allowed;
        const auto& reply = s.outcomes[i].reply;
        if (!reply) {
            ++s.lost;
            ++s.missed;
            continue;
        }
        latencies.push_back((*reply - task.trigger).seconds());
        (*reply <= task.deadline ? s.met : s.missed) += 1;
        const Time judged = slowest ? std::max(*reply, task.trigger + *slowest) : *reply;
        if (const Time margin = task.deadline - judged; !s.worst_margin || margin < *s.worst_margin) {
            s.worst_margin = margin;
            s.worst = i;
        }
    }
    s.latency = summarise(std::move(latencies));
    return s;
}

Result<ReplySummary> simulate_replies(const std::vector<ReplyTask>& tasks, const ReplyModel& model,
                                      unsigned long seed, Progress& progress) {
    std::vector<ReplyOutcome> outcomes(tasks.size());
    Random random(seed);
    std::optional<Time> slowest;
    switch (model.kind) {
        case ReplyKind::logic:
            for (std::size_t i = 0; i < tasks.size(); ++i)
                outcomes[i].reply = tasks[i].trigger + path_delay(random, model.latency_min,
                                                                  model.latency_typ, model.latency_max);
            slowest = model.latency_max;
            break;
        case ReplyKind::pio:
            for (std::size_t i = 0; i < tasks.size(); ++i)
                outcomes[i].reply = tasks[i].trigger + model.latency_min +
                                    scaled(model.latency_max - model.latency_min, random.uniform()) +
                                    model.write;
            slowest = model.latency_max + model.write;
            break;
        case ReplyKind::mixed:
            serve_mixed(tasks, model, random, outcomes);
            slowest = model.path_max;
            break;
        case ReplyKind::poll:
        case ReplyKind::irq:
        case ReplyKind::core:
            if (model.busy == WhenBusy::queue)
                serve_queue(tasks, model, random, progress, outcomes);
            else
                serve(tasks, model, random, progress, outcomes);
            break;
    }
    if (progress.cancelled()) return fail_cancelled();
    auto s = summarise_replies(tasks, std::move(outcomes), slowest);
    progress.report(1.0);
    return s;
}

Result<LookRule> parse_look(std::string_view text) {
    LookRule rule;
    if (text.starts_with("next:")) {
        auto edge = parse_edge(text.substr(5));
        if (!edge) return fail(edge.error());
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

Result<std::vector<ReplyTask>> find_tasks(const Capture& capture, const EdgeName& trigger,
                                          const LookRule& look, Time guard, std::optional<Time> within) {
    const auto from = capture.find_digital(trigger.signal);
    if (!from) return fail(from.error());
    std::vector<ReplyTask> tasks;
    const auto starts = (*from)->edge_times(trigger.direction);
    if (look.after) {
        for (const Time t : starts) tasks.push_back({t, t + *look.after - guard});
        return tasks;
    }
    const auto to = capture.find_digital(look.next.signal);
    if (!to) return fail(to.error());
    const auto looks = (*to)->edge_times(look.next.direction);
    std::size_t n = 0;
    for (const Time t : starts) {
        while (n < looks.size() && looks[n] <= t) ++n;
        if (n == looks.size()) break;
        if (!within || looks[n] - t <= *within) tasks.push_back({t, looks[n] - guard});
    }
    return tasks;
}

}  // namespace grayrelic
