// SPDX-License-Identifier: GPL-3.0-or-later
// Measurements on digital waveforms. Every value carries the edges behind it, so that a figure can lead to
// its evidence.
#pragma once

#include <optional>
#include <vector>

#include "core/base/statistics.hpp"
#include "core/signal/waveform.hpp"

namespace grayrelic {

/// One measured interval: from one edge to another.
struct Interval {
    Time from;
    Time to;
    [[nodiscard]] Time length() const { return to - from; }
};

struct PulseMeasurement {
    Statistics high;                     ///< whole high pulses, seconds
    Statistics low;                      ///< whole low pulses, seconds
    Statistics period;                   ///< rise to next rise, seconds
    std::optional<double> frequency_hz;  ///< 1 ÷ mean period
    std::optional<double> duty;          ///< share of high time over whole periods
};

/// Measures the pulses that lie wholly inside the window and touch no unknown span.
[[nodiscard]] PulseMeasurement measure_pulses(const DigitalWaveform& waveform, Span window);

/// Pulses of one level, wholly inside the window.
[[nodiscard]] std::vector<Interval> pulses(const DigitalWaveform& waveform, bool high, Span window);

enum class PulsePart { high, low, period };
/// The shortest or longest of them in the window, the first of equals: where a figure of measure_pulses()
/// comes from.
[[nodiscard]] std::optional<Interval> extreme_pulse(const DigitalWaveform& waveform, PulsePart part,
                                                    bool longest, Span window);

/// What a glance at a line tells: the same figures as measure_pulses(), without the others.
struct PulseGlance {
    std::optional<Time> shortest;  ///< of the whole pulses
    std::optional<double> duty;
};
[[nodiscard]] PulseGlance glance_at(const DigitalWaveform& waveform, Span window);

struct DelayMeasurement {
    std::vector<Interval> answered;  ///< in order of time
    std::vector<Time> unanswered;    ///< the "from" edges without an answer
    [[nodiscard]] Statistics statistics() const;
};

/// The first `to` edge after each `from` edge and before the next `from` edge; the last one is open to the
/// end. Both ends are strict: an edge at the very time of a `from` edge answers nothing. A delay above
/// `within` counts as unanswered.
[[nodiscard]] DelayMeasurement measure_delay(const DigitalWaveform& from, Direction from_edge,
                                             const DigitalWaveform& to, Direction to_edge,
                                             std::optional<Time> within = std::nullopt);

/// The same one after the other, without keeping them: answered(Interval) and unanswered(Time).
template <class Answered, class Unanswered>
void each_delay(const DigitalWaveform& from, Direction from_edge, const DigitalWaveform& to,
                Direction to_edge, std::optional<Time> within, Answered answered, Unanswered unanswered) {
    const auto starts = from.edges(), answers = to.edges();
    std::size_t a = 0, i = 0;
    while (i < starts.size() && !from.matches(i, from_edge)) ++i;
    while (i < starts.size()) {
        auto next = i + 1;
        while (next < starts.size() && !from.matches(next, from_edge)) ++next;
        const Time limit = next < starts.size() ? starts[next] : Time::max();
        while (a < answers.size() && (answers[a] <= starts[i] || !to.matches(a, to_edge))) ++a;
        if (a < answers.size() && answers[a] < limit && (!within || answers[a] - starts[i] <= *within))
            answered(Interval{starts[i], answers[a]});
        else
            unanswered(starts[i]);
        i = next;
    }
}
/// How long an answer may take when nobody has said it: it belongs to its burst, so it comes before the
/// signal's own opposite edge, give or take: 1.5 × the median of the pulses that begin with the edge. Nothing
/// without pulses.
[[nodiscard]] std::optional<Time> usual_answer_limit(const DigitalWaveform& from, Direction from_edge);

/// The edge of the waveform that is nearest to t, if any.
[[nodiscard]] std::optional<Time> nearest_edge(const DigitalWaveform& waveform, Time t);

/// Bars of equal width over [low, high]; bar i holds values in [low + i·width, low + (i+1)·width), the last
/// one its upper end too. The width is 1, 2 or 5 times a power of ten; where that would be below `finest`
/// (the sampling), the width is `finest` itself and the bars are centred on its multiples.
struct Histogram {
    double low = 0.0;
    double width = 0.0;
    std::vector<long> bars;
    [[nodiscard]] double edge(std::size_t bar) const { return low + width * static_cast<double>(bar); }
    [[nodiscard]] std::size_t bar_of(double value) const;
    [[nodiscard]] long tallest() const;
};
[[nodiscard]] Histogram make_histogram(const std::vector<double>& values, std::size_t wanted_bars,
                                       double finest = 0.0);
[[nodiscard]] Histogram make_histogram(const Spread& values, std::size_t wanted_bars, double finest = 0.0);

}  // namespace grayrelic
