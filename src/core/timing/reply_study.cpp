// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/reply_study.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

Time entry_max(const ReplyModel& m) {
    return m.kind == OptionKind::poll ? m.period : m.latency_max;
}
Time held_max(const ReplyModel& m) {
    return (m.held_every > Time{} ? m.held : Time{}) + (m.stall_every > Time{} ? m.stall : Time{});
}
bool answers_by_itself(const ReplyModel& m) {
    return m.kind == OptionKind::logic || m.kind == OptionKind::pio || m.kind == OptionKind::fpga;
}

Time shortest_pause(const std::vector<ReplyTask>& tasks) {
    const Time pause = burst_pause(tasks);
    Time shortest = Time::max();
    for (std::size_t i = 1; i < tasks.size(); ++i)
        if (const Time gap = tasks[i].trigger - tasks[i - 1].trigger; gap > pause)
            shortest = std::min(shortest, gap);
    return shortest;
}

/// The largest p for which the chance of at most k successes in n is still alpha: bisection on the binomial
/// sum.
double upper_share(long n, long k, double alpha) {
    if (n == 0 || k >= n) return 1.0;
    if (k == 0) return 1.0 - std::pow(alpha, 1.0 / static_cast<double>(n));
    const auto at_most_k = [&](double p) {
        double sum = 0.0;
        const double lp = std::log(p), lq = std::log1p(-p), n_real = static_cast<double>(n);
        for (long i = k; i >= 0 && i > k - 5000; --i) {
            const double x = static_cast<double>(i);
            const double term = std::exp(std::lgamma(n_real + 1) - std::lgamma(x + 1) -
                                         std::lgamma(n_real - x + 1) + x * lp + (n_real - x) * lq);
            sum += term;
            if (term < sum * 1e-12) break;
        }
        return sum;
    };
    double low = static_cast<double>(k) / static_cast<double>(n), high = 1.0 - 1e-15;
    for (int i = 0; i < 60; ++i) {
        const double middle = 0.5 * (low + high);
        (at_most_k(middle) > alpha ? low : high) = middle;
    }
    return high;
}

}  // namespace

Time slowest_reply(const ReplyModel& m) {
    if (m.kind == OptionKind::mixed) return m.path_max;
    if (answers_by_itself(m)) return m.latency_max + m.write;
    return entry_max(m) + held_max(m) + m.work + m.write;
}

Time fastest_reply(const ReplyModel& m) {
    if (m.kind == OptionKind::mixed) return m.path_min;
    if (answers_by_itself(m)) return m.latency_min + m.write;
    return (m.kind == OptionKind::poll ? Time{} : m.latency_min) + m.work + m.write;
}

std::vector<Sensitivity> sensitivities(const ReplyModel& m, Time enough,
                                       const std::vector<ReplyTask>& tasks) {
    std::vector<Sensitivity> out;
    const auto add = [&](const char* key, Time now, Time slack) {
        Sensitivity s{key, now, std::nullopt, false};
        if (now + slack >= Time{}) s.at_most = now + slack;
        s.holds = slack >= Time{};
        out.push_back(std::move(s));
    };
    const Time slack = enough - slowest_reply(m);
    if (m.kind == OptionKind::logic) {
        add("max", m.latency_max, slack);
        return out;
    }
    if (answers_by_itself(m)) {
        add("cycles", m.latency_max, slack);
        if (m.write > Time{}) add(m.kind == OptionKind::fpga ? "pads" : "write", m.write, slack);
        return out;
    }
    Time firmware = slack;
    if (m.kind == OptionKind::mixed) {
        add("path-max", m.path_max, slack);
        const Time pause = shortest_pause(tasks);
        if (pause == Time::max()) return out;
        firmware = pause - (entry_max(m) + held_max(m) + m.work);
    }
    add(m.kind == OptionKind::poll ? "period" : "latency-max", entry_max(m), firmware);
    if (m.held_every > Time{}) add("held", m.held, firmware);
    if (m.stall_every > Time{}) add("stall", m.stall, firmware);
    add("work", m.work, firmware);
    if (m.write > Time{} && m.kind != OptionKind::mixed) add("write", m.write, firmware);
    return out;
}

std::vector<ReplyCorner> reply_corners(const ReplyModel& m, const ReplySummary& s) {
    if (!s.enough_latency) return {};
    std::vector<ReplyCorner> out;
    const auto add = [&](const char* name, Time latency) {
        out.push_back({name, latency, *s.enough_latency - latency});
    };
    add("fast", fastest_reply(m));
    add("typical", m.kind == OptionKind::logic   ? m.latency_typ
                   : m.kind == OptionKind::mixed ? m.path_typ
                                                 : Time::from_seconds(s.latency.median));
    add("slow", slowest_reply(m));
    return out;
}

Confidence confidence_of(const ReplySummary& s, const BuildOption& option) {
    Confidence c;
    c.replies = s.replies;
    if (s.replies > 0) c.missed_share = static_cast<double>(s.missed) / static_cast<double>(s.replies);
    c.at_most_share = upper_share(s.replies, s.missed, 0.05);
    for (const auto& spec : parameters_of(option.kind)) {
        for (const auto& p : option.parameters)
            if (p.key == spec.key && p.value.evidence.kind == EvidenceKind::assumed)
                c.assumed.push_back(spec.label);
        for (const auto& p : option.numbers)
            if (p.key == spec.key && p.value.evidence.kind == EvidenceKind::assumed)
                c.assumed.push_back(spec.label);
    }
    return c;
}

}  // namespace grayrelic
