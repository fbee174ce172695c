// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/contract.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <utility>

#include "core/base/quantity.hpp"
#include "core/decode/turns.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_breaches = 100'000;

/// What ends the wait for an answer: the events of `until`, in order.
Result<std::vector<Time>> endings(const ContractInterval& interval, const Capture& capture,
                                  const Decoding* decoding) {
    std::vector<Time> out;
    for (const auto& text : interval.until) {
        const auto event = parse_event(text);
        if (!event) return fail(event.error());
        const auto times = event_times(*event, capture, decoding);
        if (!times) return fail(times.error());
        out.insert(out.end(), times->begin(), times->end());
    }
    std::sort(out.begin(), out.end());
    return out;
}

/// The first `to` after each `from`, before the next `from` and before the next ending, all in order. As
/// measure_delay() does for edges.
DelayMeasurement answers(const std::vector<Time>& from, const std::vector<Time>& to,
                         const std::vector<Time>& endings, const ContractInterval& rules) {
    DelayMeasurement m;
    std::size_t t = 0, e = 0;
    for (std::size_t i = 0; i < from.size(); ++i) {
        while (t < to.size() && (rules.at_once ? to[t] < from[i] : to[t] <= from[i])) ++t;
        while (e < endings.size() && endings[e] <= from[i]) ++e;
        const bool there = t < to.size() && (i + 1 == from.size() || to[t] < from[i + 1]) &&
                           (e == endings.size() || to[t] < endings[e]) &&
                           (!rules.within || to[t] - from[i] <= *rules.within);
        if (!there)
            m.unanswered.push_back(from[i]);
        else if (!rules.beyond || to[t] - from[i] > *rules.beyond)
            m.answered.push_back({from[i], to[t]});
    }
    return m;
}

int place_in_frame(const EventName& e) {
    switch (e.moment) {
        case EventName::Moment::start:
        case EventName::Moment::error: return 0;
        case EventName::Moment::bit: return e.bit;
        case EventName::Moment::end: return 1000;
        default: return -1;
    }
}

std::optional<Time> moment_of(const EventName& e, const Frame& f) {
    switch (e.moment) {
        case EventName::Moment::start: return f.start;
        case EventName::Moment::end: return f.end;
        case EventName::Moment::error: return f.errors.empty() ? std::nullopt : std::optional(f.start);
        case EventName::Moment::bit:
            return f.bit_times.size() < static_cast<std::size_t>(e.bit)
                       ? std::nullopt
                       : std::optional<Time>(f.bit_times[static_cast<std::size_t>(e.bit) - 1]);
        default: return std::nullopt;
    }
}

/// From a moment of a frame to a later one of the same frame, or to one of the next frame. Frames that abut
/// are nothing apart.
DelayMeasurement in_frames(const EventName& from, const EventName& to, const std::vector<Frame>& frames,
                           const ContractInterval& rules) {
    DelayMeasurement m;
    const std::size_t next = place_in_frame(to) > place_in_frame(from) ? 0 : 1;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        const auto begins = moment_of(from, frames[i]);
        if (!begins) continue;
        const auto ends = i + next < frames.size() ? moment_of(to, frames[i + next]) : std::nullopt;
        const bool there = ends && (!rules.within || *ends - *begins <= *rules.within);
        if (!there)
            m.unanswered.push_back(*begins);
        else if (!rules.beyond || *ends - *begins > *rules.beyond)
            m.answered.push_back({*begins, std::max(*begins, *ends)});
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

/// One edge after the other of a line in one direction, for times that only go forward.
class EdgeCursor {
  public:
    EdgeCursor(const DigitalWaveform& line, Direction direction) : line_(&line), direction_(direction) {}
    /// The first one behind t, or at it; the end of time where there is none.
    Time from(Time t, bool at_it) {
        const auto edges = line_->edges();
        while (next_ < edges.size() &&
               ((at_it ? edges[next_] < t : edges[next_] <= t) || !line_->matches(next_, direction_)))
            ++next_;
        return next_ < edges.size() ? edges[next_] : Time::max();
    }

  private:
    const DigitalWaveform* line_;
    Direction direction_;
    std::size_t next_ = 0;
};

/// Between edges under the interval's rules, without lists of them. False when a rule or an event needs more.
bool visit_edges(const ContractInterval& interval, const EventName& from, const EventName& to,
                 const Capture& capture, const std::function<void(const Interval&)>& visit) {
    const auto cursor = [&](const EventName& e) -> std::optional<EdgeCursor> {
        if (e.moment != EventName::Moment::edge || e.after > Time{}) return std::nullopt;
        const auto line = capture.find_digital(e.edge.signal);
        return line ? std::optional<EdgeCursor>(std::in_place, **line, e.edge.direction) : std::nullopt;
    };
    auto starts = cursor(from), answers = cursor(to);
    if (!starts || !answers || from == to) return false;
    std::vector<EdgeCursor> endings;
    for (const auto& text : interval.until) {
        const auto event = parse_event(text);
        auto ending = event ? cursor(*event) : std::nullopt;
        if (!ending) return false;
        endings.push_back(*ending);
    }
    for (Time at = starts->from(Time::min(), true); at != Time::max();) {
        const Time next = starts->from(at, false), answer = answers->from(at, interval.at_once);
        Time limit = next;
        for (auto& e : endings) limit = std::min(limit, e.from(at, false));
        const Time length = answer == Time::max() ? Time::max() : answer - at;
        if (answer < limit && (!interval.within || length <= *interval.within) &&
            (!interval.beyond || length > *interval.beyond))
            visit({at, answer});
        at = next;
    }
    return true;
}

/// Edges as they are, without further rules: these are visited without a list of them.
bool is_plain(const ContractInterval& interval, const EventName& from, const EventName& to) {
    const auto edge = [](const EventName& e) {
        return e.moment == EventName::Moment::edge && e.after == Time{};
    };
    return edge(from) && edge(to) && !interval.beyond && interval.until.empty() && !interval.at_once;
}

}  // namespace

Result<std::vector<Time>> event_times(const EventName& event, const Capture& capture,
                                      const Decoding* decoding) {
    if (event.moment == EventName::Moment::edge) {
        const auto waveform = capture.find_digital(event.edge.signal);
        if (!waveform) return fail(waveform.error());
        auto times = (*waveform)->edge_times(event.edge.direction);
        if (event.after > Time{}) {
            const auto edges = (*waveform)->edges();
            std::erase_if(times, [&](Time t) {
                const auto n = (*waveform)->edges_before(t);
                return t - (n > 0 ? edges[n - 1] : capture.extent.from) < event.after;
            });
        }
        return times;
    }
    if (decoding == nullptr)
        return fail_usage(show_event(event) + " without frames", "a capture that is decoded");
    std::vector<Time> out;
    using enum EventName::Moment;
    if (place_in_frame(event) < 0) {
        const bool answer = event.moment == answer_start || event.moment == answer_end,
                   start = event.moment == poll_start || event.moment == answer_start;
        for (const auto& turn : talk_of(*decoding))
            if (turn.answer == answer) out.push_back(start ? turn.start : turn.end);
        return out;
    }
    for (const auto& f : decoding->frames)
        if (const auto t = moment_of(event, f)) out.push_back(*t);
    std::sort(out.begin(), out.end());
    return out;
}

Result<DelayMeasurement> measure_interval(const ContractInterval& interval, const Capture& capture,
                                          const Decoding* decoding) {
    const auto from = parse_event(interval.from), to = parse_event(interval.to);
    if (!from) return fail(from.error());
    if (!to) return fail(to.error());
    if (is_plain(interval, *from, *to) && *from != *to) {
        const auto a = capture.find_digital(from->edge.signal), b = capture.find_digital(to->edge.signal);
        if (!a) return fail(a.error());
        if (!b) return fail(b.error());
        return measure_delay(**a, from->edge.direction, **b, to->edge.direction, interval.within);
    }
    if (place_in_frame(*from) >= 0 && place_in_frame(*to) >= 0 && *from != *to && decoding != nullptr)
        return in_frames(*from, *to, decoding->frames, interval);
    const auto a = event_times(*from, capture, decoding);
    if (!a) return fail(a.error());
    if (*from == *to) return periods(*a, interval.within);
    const auto b = event_times(*to, capture, decoding);
    if (!b) return fail(b.error());
    const auto ends = endings(interval, capture, decoding);
    if (!ends) return fail(ends.error());
    return answers(*a, *b, *ends, interval);
}

Status visit_interval(const ContractInterval& interval, const Capture& capture, const Decoding* decoding,
                      const std::function<void(const Interval&)>& visit) {
    const auto from = parse_event(interval.from), to = parse_event(interval.to);
    if (from && to && !is_plain(interval, *from, *to) && visit_edges(interval, *from, *to, capture, visit))
        return {};
    if (!from || !to || !is_plain(interval, *from, *to)) {
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

namespace {

/// Nothing was measured, though everything can be: what the capture would need.
std::string why_never(const ContractInterval& interval, const std::vector<IntervalSource>& sources) {
    const auto to = parse_event(interval.to);
    if (to && to->moment == EventName::Moment::edge && !sources.empty() &&
        sources.front().capture != nullptr) {
        const auto line = sources.front().capture->find_digital(to->edge.signal);
        if (line && (*line)->edges().empty())
            return to->edge.signal + " never changes in the capture: record while it has something to say";
    }
    return "it never happens in the capture";
}

}  // namespace

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
        if (figure.problem.empty()) figure.problem = why_never(interval, sources);
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
