// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/contract.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"

namespace grayrelic {
namespace {

DelayMeasurement measure_interval(const DigitalTrace& from, const EdgeName& a, const DigitalTrace& to,
                                  const EdgeName& b, std::optional<Time> within) {
    if (a != b) return measure_delay(from, a.direction, to, b.direction, within);
    DelayMeasurement m;
    const auto times = from.edge_times(a.direction);
    for (std::size_t i = 0; i + 1 < times.size(); ++i) {
        if (within && times[i + 1] - times[i] > *within)
            m.unanswered.push_back(times[i]);
        else
            m.answered.push_back({times[i], times[i + 1]});
    }
    return m;
}

/// A role's first signal; empty when the role is missing.
std::string signal_of(const RoleMap& roles, const char* role) {
    const auto it = roles.find(role);
    return it == roles.end() || it->second.empty() ? std::string() : it->second.front();
}

/// Four clock periods: a burst's own intervals are below it, the pause between two polls is far above.
Time burst_limit(const Decoding& decoding) {
    for (const auto& f : decoding.frames)
        if (f.bit_times.size() >= 2)
            return (f.bit_times.back() - f.bit_times.front()) /
                   static_cast<std::int64_t>(f.bit_times.size() - 1) * 4;
    return Time::us(100);
}

bool sampled_on_rise(const Decoding& decoding) {
    const auto it = decoding.settings.find("edge");
    const auto* text = it == decoding.settings.end() ? nullptr : std::get_if<std::string>(&it->second);
    return text != nullptr && *text == "rise";
}

}  // namespace

ContractFigure figure_of(const ContractInterval& interval, const Capture* capture,
                         std::optional<Time> sample_period, const std::string& capture_title) {
    ContractFigure figure;
    figure.interval = interval;
    figure.evidence = interval.evidence;
    if (interval.capture.empty()) {
        figure.min = interval.min;
        figure.typ = interval.typ;
        figure.max = interval.max;
        if (!figure.min && !figure.typ && !figure.max)
            figure.problem = "no number and no capture to measure it from";
        return figure;
    }
    if (capture == nullptr) {
        figure.problem = "its capture can't be read";
        return figure;
    }
    const auto from = parse_edge(interval.from);
    const auto to = parse_edge(interval.to);
    if (!from || !to) {
        figure.problem = "found " + (from ? to.error() : from.error()).found + " as an edge";
        return figure;
    }
    const auto a = capture->find_digital(from->signal);
    const auto b = capture->find_digital(to->signal);
    if (!a || !b) {
        figure.problem = "found no " + (a ? b.error() : a.error()).found + " in the capture";
        return figure;
    }
    figure.measured = measure_interval(**a, *from, **b, *to, interval.within);
    const auto s = figure.measured->statistics();
    figure.n = s.n;
    figure.sampling = sample_period.value_or(capture->resolution);
    if (s.n == 0) {
        figure.problem = "it never happens in the capture";
        return figure;
    }
    figure.min = Time::from_seconds(s.min);
    figure.typ = Time::from_seconds(s.median);
    figure.max = Time::from_seconds(s.max);
    figure.evidence.source =
        fmt::format("{} times in {}, ± {}", print_count(s.n), capture_title, print(figure.sampling));
    return figure;
}

std::vector<ContractInterval> propose_contract(const std::string& capture, const RoleMap& roles,
                                               const Decoding& decoding) {
    const auto clock = signal_of(roles, "clock");
    const auto latch = signal_of(roles, "latch");
    const auto data = signal_of(roles, "data");
    if (clock.empty() || latch.empty() || data.empty()) return {};
    const bool on_rise = sampled_on_rise(decoding);
    const std::string sample = clock + (on_rise ? ":rise" : ":fall");
    const std::string shift = clock + (on_rise ? ":fall" : ":rise");
    const auto it = decoding.settings.find("latch");
    const auto* level = it == decoding.settings.end() ? nullptr : std::get_if<std::string>(&it->second);
    const bool high = level == nullptr || *level == "high";
    const std::string load = latch + (high ? ":rise" : ":fall");
    const std::string release = latch + (high ? ":fall" : ":rise");

    const Time burst = burst_limit(decoding);
    const Evidence measured{EvidenceKind::measured, "", "", ""};
    const Evidence assumed{EvidenceKind::assumed, "", "", ""};
    const auto interval = [&](const char* id, std::string name, const std::string& from,
                              const std::string& to, const char* kind, std::optional<Time> within,
                              const Evidence& evidence) {
        ContractInterval i;
        i.id = id;
        i.name = std::move(name);
        i.from = from;
        i.to = to;
        i.kind = kind;
        i.capture = capture;
        i.within = within;
        i.evidence = evidence;
        return i;
    };
    return {
        interval("reply", "Original's reply", shift, data + ":any", "response", burst / 8, measured),
        interval("look", "Host's look", shift, sample, "look", burst, assumed),
        interval("first-bit", "First bit after load", load, data + ":any", "response", burst / 8, measured),
        interval("load-width", latch + " pulse", load, release, "width", std::nullopt, measured),
        interval("load-to-clock", latch + " to first " + clock, release, sample, "setup", std::nullopt,
                 measured),
        interval("clock-high", clock + " high", clock + ":rise", clock + ":fall", "width", burst, measured),
        interval("clock-low", clock + " low", clock + ":fall", clock + ":rise", "width", burst, measured),
        interval("clock-period", clock + " period", sample, sample, "period", burst, measured),
        interval("poll-period", "Poll period", load, load, "period", std::nullopt, measured),
    };
}

ReplyQuestion propose_question(const std::string& capture, const RoleMap& roles, const Decoding& decoding) {
    ReplyQuestion q;
    const auto clock = signal_of(roles, "clock");
    if (clock.empty()) return q;
    const bool on_rise = sampled_on_rise(decoding);
    q.capture = capture;
    q.trigger = clock + (on_rise ? ":fall" : ":rise");
    q.look.value = "next:" + clock + (on_rise ? ":rise" : ":fall");
    q.look.evidence = {
        EvidenceKind::assumed,
        "a capture can't show when the host looks; the next opposite clock edge is the usual place", "", ""};
    q.within = burst_limit(decoding);
    q.guard.evidence = {EvidenceKind::assumed, "no guard set", "", ""};
    return q;
}

std::vector<ContractBreach> contract_breaches(const Capture& capture, const std::vector<std::shared_ptr<const ContractFigure>>& figures, Time sampling) {
    constexpr std::size_t most = 100'000;
    std::vector<ContractBreach> out;
    for (const auto& f : figures) {
        const auto from = parse_edge(f->interval.from), to = parse_edge(f->interval.to);
        if (!from || !to) continue;
        const auto a = capture.find_digital(from->signal), b = capture.find_digital(to->signal);
        if (!a || !b) continue;
        const auto& kind = f->interval.kind;
        const bool least = kind != "response" && f->min, greatest = kind != "setup" && kind != "hold" && kind != "gap" && f->max;
        if (!least && !greatest) continue;
        const auto slack = sampling + f->sampling;
        const auto measured = measure_interval(**a, *from, **b, *to, f->interval.within);
        const auto name = (*capture.find(to->signal))->name;
        for (const auto& i : measured.answered) {
            if (out.size() >= most) break;
            if ((least && i.length() < *f->min - slack) || (greatest && i.length() > *f->max + slack)) out.push_back({f->interval.id, name, i});
        }
    }
    std::stable_sort(out.begin(), out.end(), [](const ContractBreach& x, const ContractBreach& y) { return x.where.from < y.where.from; });
    return out;
}

}  // namespace grayrelic
