// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/reply.hpp"

#include <algorithm>

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
        if (model_.kind == ReplyKind::poll) return scaled(model_.period, random_.uniform());
        const Time entry =
            model_.latency_min + scaled(model_.latency_max - model_.latency_min, random_.uniform());
        return entry + hold_left(trigger);
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

    const ReplyModel& model_;
    Random& random_;
    Time last_;
    Time phase_;
    bool started_ = false;
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
        outcomes[i].reply = start + model.work;
        pending = {true, i, start, trigger < busy_until};
    }
}

}  // namespace

Result<ReplySummary> simulate_replies(const std::vector<ReplyTask>& tasks, const ReplyModel& model,
                                      unsigned long seed, Progress& progress) {
    ReplySummary s;
    s.outcomes.resize(tasks.size());
    s.replies = static_cast<long>(tasks.size());
    Random random(seed);
    if (model.kind == ReplyKind::logic) {
        const double low = static_cast<double>(model.latency_min.count());
        const double mode = static_cast<double>(model.latency_typ.count());
        const double high = static_cast<double>(model.latency_max.count());
        for (std::size_t i = 0; i < tasks.size(); ++i)
            s.outcomes[i].reply =
                tasks[i].trigger + Time::ps(std::llround(random.triangular(low, mode, high)));
    } else {
        serve(tasks, model, random, progress, s.outcomes);
    }
    if (progress.cancelled()) return fail_cancelled();

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
        const Time judged = model.kind == ReplyKind::logic ? task.trigger + model.latency_max : *reply;
        if (const Time margin = task.deadline - judged; !s.worst_margin || margin < *s.worst_margin) {
            s.worst_margin = margin;
            s.worst = i;
        }
    }
    s.latency = summarise(std::move(latencies));
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
        for (const Time t : starts)
            tasks.push_back({t, t + *look.after - guard});
        return tasks;
    }
    const auto to = capture.find_digital(look.next.signal);
    if (!to) return fail(to.error());
    const auto looks = (*to)->edge_times(look.next.direction);
    std::size_t n = 0;
    for (const Time t : starts) {
        while (n < looks.size() && looks[n] <= t)
            ++n;
        if (n == looks.size()) break;
        if (!within || looks[n] - t <= *within) tasks.push_back({t, looks[n] - guard});
    }
    return tasks;
}

}  // namespace grayrelic
