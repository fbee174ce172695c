// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/contract.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <utility>

#include "core/base/quantity.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_breaches = 100'000;

/// The first `to` after each `from` and before the next `from`, both in order. As measure_delay() does for
/// edges.
DelayMeasurement answers(const std::vector<Time>& from, const std::vector<Time>& to,
                         std::optional<Time> within) {
    DelayMeasurement m;
    std::size_t t = 0;
    for (std::size_t i = 0; i < from.size(); ++i) {
        while (t < to.size() && to[t] <= from[i]) ++t;
        const bool there = t < to.size() && (i + 1 == from.size() || to[t] < from[i + 1]) &&
                           (!within || to[t] - from[i] <= *within);
        if (there)
            m.answered.push_back({from[i], to[t]});
        else
            m.unanswered.push_back(from[i]);
    }
    return m;
}

DelayMeasurement periods(const std::vector<Time>& times, std::optional<Time> within) {
    DelayMeasurement m;
    for (std::size_t i = 0; i + 1 < times.size(); ++i) {
        if (within && times[i + 1] - times[i] > *within)
            m.unanswered.push_back(times[i]);
        else
            m.answered.push_back({times[i], times[i + 1]});
    }
    return m;
}

}  // namespace

Result<std::vector<Time>> event_times(const EventName& event, const Capture& capture,
                                      const Decoding* decoding) {
    if (event.moment == EventName::Moment::edge) {
        const auto waveform = capture.find_digital(event.edge.signal);
        if (!waveform) return fail(waveform.error());
        return (*waveform)->edge_times(event.edge.direction);
    }
    if (decoding == nullptr)
        return fail_usage(show_event(event) + " without frames", "a capture that is decoded");
    std::vector<Time> out;
    for (const auto& f : decoding->frames) {
        switch (event.moment) {
            case EventName::Moment::start: out.push_back(f.start); break;
            case EventName::Moment::end: out.push_back(f.end); break;
            case EventName::Moment::error:
                if (!f.errors.empty()) out.push_back(f.start);
                break;
            case EventName::Moment::bit:
                if (f.bit_times.size() >= static_cast<std::size_t>(event.bit))
                    out.push_back(f.bit_times[static_cast<std::size_t>(event.bit) - 1]);
                break;
            case EventName::Moment::edge: break;
        }
    }
    std::sort(out.begin(), out.end());
    return out;
}

Result<DelayMeasurement> measure_interval(const ContractInterval& interval, const Capture& capture,
                                          const Decoding* decoding) {
    const auto from = parse_event(interval.from), to = parse_event(interval.to);
    if (!from) return fail(from.error());
    if (!to) return fail(to.error());
    if (*from != *to && from->moment == EventName::Moment::edge && to->moment == EventName::Moment::edge) {
        const auto a = capture.find_digital(from->edge.signal), b = capture.find_digital(to->edge.signal);
        if (!a) return fail(a.error());
        if (!b) return fail(b.error());
        return measure_delay(**a, from->edge.direction, **b, to->edge.direction, interval.within);
    }
    const auto a = event_times(*from, capture, decoding);
    if (!a) return fail(a.error());
    if (*from == *to) return periods(*a, interval.within);
    const auto b = event_times(*to, capture, decoding);
    if (!b) return fail(b.error());
    return answers(*a, *b, interval.within);
}

Status visit_interval(const ContractInterval& interval, const Capture& capture, const Decoding* decoding,
                      const std::function<void(const Interval&)>& visit) {
    const auto from = parse_event(interval.from), to = parse_event(interval.to);
    using enum EventName::Moment;
    if (!from || !to || from->moment != edge || to->moment != edge) {
        const auto measured = measure_interval(interval, capture, decoding);
        if (!measured) return fail(measured.error());
        for (const auto& i : measured->answered) visit(i);
        return {};
    }
    const auto a = capture.find_digital(from->edge.signal), b = capture.find_digital(to->edge.signal);
    if (!a) return fail(a.error());
    if (!b) return fail(b.error());
    if (*from != *to) {
        each_delay(**a, from->edge.direction, **b, to->edge.direction, interval.within, visit, [](Time) {});
        return {};
    }
    std::optional<Time> last;
    const auto edges = (*a)->edges();
    for (std::size_t i = 0; i < edges.size(); ++i) {
        if (!(*a)->matches(i, from->edge.direction)) continue;
        if (last && (!interval.within || edges[i] - *last <= *interval.within)) visit({*last, edges[i]});
        last = edges[i];
    }
    return {};
}

ContractFigure figure_of(const ContractInterval& interval, const std::vector<IntervalSource>& sources) {
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
    std::vector<double> all;
    bool first = true;
    Statistics alone;  // of the one capture, when there is one
    for (const auto& source : sources) {
        if (source.capture == nullptr) {
            if (figure.problem.empty()) figure.problem = "its capture can't be read";
            continue;
        }
        std::vector<double> lengths;
        const auto measured =
            visit_interval(interval, *source.capture, source.decoding,
                           [&](const Interval& i) { lengths.push_back(i.length().seconds()); });
        if (!measured) {
            if (figure.problem.empty()) figure.problem = "found " + measured.error().found;
            continue;
        }
        figure.sampling =
            std::max(figure.sampling, source.sample_period.value_or(source.capture->resolution));
        if (std::exchange(first, false)) figure.lengths = spread_of(lengths);
        if (lengths.empty()) continue;
        if (sources.size() > 1) all.insert(all.end(), lengths.begin(), lengths.end());
        alone = summarise(std::move(lengths));
        figure.specimens.push_back({source.id, source.title, alone.n, Time::from_seconds(alone.min),
                                    Time::from_seconds(alone.median), Time::from_seconds(alone.max)});
    }
    if (sources.empty()) figure.problem = "its capture can't be read";
    if (figure.specimens.empty()) {
        if (figure.problem.empty()) figure.problem = "it never happens in the capture";
        return figure;
    }
    figure.problem.clear();
    figure.statistics = sources.size() > 1 ? summarise(std::move(all)) : alone;
    figure.n = figure.statistics.n;
    figure.min = Time::from_seconds(figure.statistics.min);
    figure.typ = Time::from_seconds(figure.statistics.median);
    figure.max = Time::from_seconds(figure.statistics.max);
    figure.unmeasured = static_cast<int>(sources.size() - figure.specimens.size());
    say_source(figure);
    return figure;
}

void say_source(ContractFigure& figure) {
    if (figure.specimens.empty()) return;
    const auto where = figure.specimens.size() == 1 ? figure.specimens.front().title
                                                    : fmt::format("{} captures", figure.specimens.size());
    figure.evidence.source =
        fmt::format("{} times in {}, ± {}", print_count(figure.n), where, print(figure.sampling));
    if (figure.unmeasured > 0)
        figure.evidence.source +=
            fmt::format("; {} of its captures could not be measured", figure.unmeasured);
}

ContractLimits limits_of(const ContractFigure& f) {
    using enum IntervalKind;
    const auto kind = f.interval.kind;
    const Time guard = f.interval.guard.value_or(Time{});
    ContractLimits l;
    if (kind != response && kind != look && f.min) l.least = *f.min + guard;
    if (kind != setup && kind != hold && kind != gap && kind != recovery && f.max) l.most = *f.max - guard;
    return l;
}

std::vector<ContractBreach> contract_breaches(
    const Capture& capture, const std::vector<std::shared_ptr<const ContractFigure>>& figures, Time sampling,
    const Decoding* decoding, std::string_view id) {
    std::vector<ContractBreach> out;
    for (const auto& f : figures) {
        const auto limits = limits_of(*f);
        if (!limits.least && !limits.most) continue;
        const bool measured_here =
            std::any_of(f->specimens.begin(), f->specimens.end(),
                        [&](const SpecimenFigure& s) { return !id.empty() && s.id == id; });
        if (measured_here && f->interval.guard.value_or(Time{}) <= Time{}) continue;  // it spans them all
        const auto to = parse_event(f->interval.to);
        if (!to) continue;
        const auto slack = sampling + f->sampling;
        const auto signal = to->moment == EventName::Moment::edge ? to->edge.signal : std::string();
        const auto whole = capture.find(signal);
        (void)visit_interval(f->interval, capture, decoding, [&](const Interval& i) {
            if (out.size() >= most_breaches) return;
            if ((limits.least && i.length() < *limits.least - slack) ||
                (limits.most && i.length() > *limits.most + slack))
                out.push_back({f->interval.id, whole ? (*whole)->name : signal, i});
        });
    }
    std::stable_sort(out.begin(), out.end(), [](const ContractBreach& x, const ContractBreach& y) {
        return x.where.from < y.where.from;
    });
    return out;
}

}  // namespace grayrelic
