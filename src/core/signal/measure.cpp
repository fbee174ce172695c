// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/measure.hpp"

#include "core/base/long_work.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

std::vector<double> seconds_of(const std::vector<Interval>& intervals) {
    std::vector<double> out;
    out.reserve(intervals.size());
    for (const auto& i : intervals) out.push_back(i.length().seconds());
    return out;
}

/// Intervals from every edge of one direction to the edge `step` further on.
std::vector<Interval> edge_to_edge(const DigitalWaveform& waveform, bool from_rise, std::size_t step,
                                   Span window) {
    std::vector<Interval> out;
    const auto edges = waveform.edges();
    for (auto i = waveform.edges_before(window.from); i + step < edges.size() && edges[i + step] <= window.to;
         ++i)
        if (waveform.is_rise(i) == from_rise && waveform.known_between(edges[i], edges[i + step]))
            out.push_back({edges[i], edges[i + step]});
    return out;
}

}  // namespace

std::vector<Interval> pulses(const DigitalWaveform& waveform, bool high, Span window) {
    return edge_to_edge(waveform, high, 1, window);
}

PulseMeasurement measure_pulses(const DigitalWaveform& waveform, Span window) {
    long_work("measure_pulses");
    PulseMeasurement m;
    m.high = summarise(seconds_of(pulses(waveform, true, window)));
    m.low = summarise(seconds_of(pulses(waveform, false, window)));
    const auto periods = edge_to_edge(waveform, true, 2, window);
    m.period = summarise(seconds_of(periods));
    if (m.period.n > 0) {
        m.frequency_hz = 1.0 / m.period.mean;
        double high = 0.0;
        double whole = 0.0;
        const auto edges = waveform.edges();
        for (const auto& p : periods) {
            whole += p.length().seconds();
            high += (edges[waveform.edges_until(p.from)] - p.from).seconds();
        }
        m.duty = high / whole;
    }
    return m;
}

PulseGlance glance_at(const DigitalWaveform& waveform, Span window) {
    PulseGlance g;
    const auto edges = waveform.edges();
    const bool gaps = !waveform.unknown().empty();
    double high = 0.0, whole = 0.0;
    const auto end = waveform.edges_until(window.to);
    for (auto i = waveform.edges_before(window.from); i + 1 < end; ++i) {
        if (!gaps || waveform.known_between(edges[i], edges[i + 1]))
            g.shortest = std::min(g.shortest.value_or(Time::max()), edges[i + 1] - edges[i]);
        if (i + 2 >= end || !waveform.is_rise(i)) continue;
        if (gaps && !waveform.known_between(edges[i], edges[i + 2])) continue;
        whole += (edges[i + 2] - edges[i]).seconds();
        high += (edges[i + 1] - edges[i]).seconds();
    }
    if (whole > 0.0) g.duty = high / whole;
    return g;
}

Statistics DelayMeasurement::statistics() const {
    return summarise(seconds_of(answered));
}

DelayMeasurement measure_delay(const DigitalWaveform& from, Direction from_edge, const DigitalWaveform& to,
                               Direction to_edge, std::optional<Time> within) {
    long_work("measure_delay");
    DelayMeasurement m;
    each_delay(
        from, from_edge, to, to_edge, within, [&](const Interval& i) { m.answered.push_back(i); },
        [&](Time t) { m.unanswered.push_back(t); });
    return m;
}

std::optional<Time> usual_answer_limit(const DigitalWaveform& from, Direction from_edge) {
    long_work("usual_answer_limit");
    const auto widths = pulses(from, from_edge != Direction::fall, {Time::min(), Time::max()});
    if (widths.empty()) return std::nullopt;
    const auto spread = summarise(seconds_of(widths));
    return Time::from_seconds(spread.median * 1.5);
}

std::optional<Time> nearest_edge(const DigitalWaveform& waveform, Time t) {
    const auto edges = waveform.edges();
    if (edges.empty()) return std::nullopt;
    const auto after = waveform.edges_before(t);
    if (after == edges.size()) return edges.back();
    if (after == 0) return edges.front();
    return edges[after] - t < t - edges[after - 1] ? edges[after] : edges[after - 1];
}

std::size_t Histogram::bar_of(double value) const {
    if (bars.empty()) return 0;
    const double place = std::floor((value - low) / width + 1e-9);
    return static_cast<std::size_t>(std::clamp(place, 0.0, static_cast<double>(bars.size() - 1)));
}

long Histogram::tallest() const {
    return bars.empty() ? 0 : *std::max_element(bars.begin(), bars.end());
}

Histogram make_histogram(const std::vector<double>& values, std::size_t wanted_bars, double finest) {
    return make_histogram(spread_of(values), wanted_bars, finest);
}

Histogram make_histogram(const Spread& values, std::size_t wanted_bars, double finest) {
    Histogram h;
    if (values.empty() || wanted_bars == 0) return h;
    const double min = values.items.front().value, max = values.items.back().value;
    const double range = std::max(max - min, std::max(std::abs(max) * 1e-9, 1e-12));
    const double raw = range / static_cast<double>(wanted_bars);
    if (finest > 0.0 && raw <= finest) {
        h.width = finest;
        h.low = (std::round(min / finest) - 0.5) * finest;
    } else {
        const double power = std::pow(10.0, std::floor(std::log10(raw)));
        const double m = raw / power;
        h.width = power * (m <= 1.000001 ? 1.0 : m <= 2.000001 ? 2.0 : m <= 5.000001 ? 5.0 : 10.0);
        h.low = std::floor(min / h.width + 1e-9) * h.width;
    }
    h.bars.assign(static_cast<std::size_t>(std::floor((max - h.low) / h.width + 1e-9)) + 1, 0);
    for (const auto& i : values.items) h.bars[h.bar_of(i.value)] += i.count;
    return h;
}

std::optional<Interval> extreme_pulse(const DigitalWaveform& waveform, PulsePart part, bool longest,
                                      Span window) {
    std::optional<Interval> out;
    const auto edges = waveform.edges();
    const std::size_t step = part == PulsePart::period ? 2 : 1;
    const auto end = waveform.edges_until(window.to);
    for (auto i = waveform.edges_before(window.from); i + step < end; ++i) {
        if (waveform.is_rise(i) == (part == PulsePart::low)) continue;
        const Interval one{edges[i], edges[i + step]};
        if (out && (longest ? one.length() <= out->length() : one.length() >= out->length())) continue;
        if (!waveform.unknown().empty() && !waveform.known_between(one.from, one.to)) continue;
        out = one;
    }
    return out;
}

}  // namespace grayrelic
