// SPDX-License-Identifier: GPL-3.0-or-later
// How the grid is found: the smallest distance between two different edge times is a first guess, good to the
// file's rounding. Distances in rising order then refine it: each is a whole number of periods, and the
// longer it is, the finer it tells the period. A distance that is no whole number of the guess divides the
// guess or disproves the grid.
#include "core/signal/sampling.hpp"

#include "core/base/long_work.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

constexpr std::size_t most_times =
    20'000;  // enough to tell; the rest of a long capture agrees or is another device

std::vector<double> distinct_times(const Capture& capture) {
    std::vector<Time> times;
    for (const auto& s : capture.signals) {
        if (!s.digital) continue;
        const auto edges = s.digital->edges();
        times.insert(times.end(), edges.begin(),
                     edges.begin() + static_cast<std::ptrdiff_t>(std::min(edges.size(), most_times)));
    }
    std::sort(times.begin(), times.end());
    times.erase(std::unique(times.begin(), times.end()), times.end());
    if (times.size() > most_times) times.resize(most_times);
    std::vector<double> out;
    out.reserve(times.size());
    for (const Time t : times) out.push_back(static_cast<double>(t.count()));
    return out;
}

/// Tries periods all over period ± spread on the shorter distances and keeps the middle of those that fit
/// best.
void narrow(const std::vector<double>& distances, double rounding, double& period, double& spread) {
    constexpr int steps = 400;
    long best = -1;
    double first = period;
    double last = period;
    for (int i = 0; i <= steps; ++i) {
        const double p = period + spread * (2.0 * i / steps - 1.0);
        if (p < 4.0 * rounding) continue;
        long fits = 0;
        for (std::size_t k = 0; k < distances.size() && k < 300; ++k) {
            const double n = std::round(distances[k] / p);
            if (std::abs(distances[k] - n * p) <= 1.05 * rounding) ++fits;
        }
        if (fits > best) {
            best = fits;
            first = p;
        }
        if (fits == best) last = p;
    }
    const double step = 2.0 * spread / steps;
    period = (first + last) / 2.0;
    spread = (last - first) / 2.0 + step;
}

}  // namespace

std::optional<Time> find_sample_period(const Capture& capture) {
    const auto times = distinct_times(capture);
    if (times.size() < 16) return std::nullopt;
    std::vector<double> distances;
    for (std::size_t i = 0; i + 1 < times.size(); ++i) distances.push_back(times[i + 1] - times[i]);
    for (std::size_t i = 0; i + 8 < times.size(); i += 4) distances.push_back(times[i + 8] - times[i]);
    std::sort(distances.begin(), distances.end());
    const double rounding = static_cast<double>(std::max<std::int64_t>(1, capture.resolution.count()));

    double period = distances.front();
    double spread = rounding;  // the period lies within period ± spread
    for (const double d : distances) {
        if (period < 4.0 * rounding) return std::nullopt;
        const double n = std::round(d / period);
        if (n * spread > 0.25 * period) continue;  // too far away to count the periods yet
        const double off = std::abs(d - n * period);
        if (off <= n * spread + rounding) {
            const double better = rounding / n;
            if (better < spread) {
                period = d / n;
                spread = better;
            }
            continue;
        }
        // Between two multiples: the true period divides the guess.
        const double rest = std::fmod(d, period);
        const double smaller = std::min(rest, period - rest);
        period = smaller;
        spread = rounding + n * spread;
        if (period < 4.0 * rounding) return std::nullopt;
    }
    if (spread > 0.02 * period) {
        narrow(distances, rounding, period, spread);
        for (const double d : distances) {
            const double n = std::round(d / period);
            if (n * spread > 0.25 * period || std::abs(d - n * period) > n * spread + rounding ||
                rounding / n >= spread)
                continue;
            period = d / n;
            spread = rounding / n;
        }
    }
    // The grid must hold over the whole of it: from the first time, within the rounding and the error of the
    // period. Distances too long to count the periods in can't tell; when most are, there is no proof of a
    // grid.
    long off_grid = 0;
    long tested = 0;
    for (std::size_t i = 0; i + 1 < times.size(); ++i) {
        const double d = times[i + 1] - times[i];
        const double n = std::round(d / period);
        if (n * spread > 0.25 * period) continue;
        ++tested;
        if (std::abs(d - n * period) > 1.5 * rounding + n * spread + 0.02 * period) ++off_grid;
    }
    if (static_cast<double>(tested) < 0.5 * static_cast<double>(times.size())) return std::nullopt;
    if (static_cast<double>(off_grid) > 0.01 * static_cast<double>(tested)) return std::nullopt;
    // The longest reach that can still be counted gives the last digits.
    double base = times.front();
    for (const double t : times) {
        const double n = std::round((t - base) / period);
        if (n < 1.0 || n * spread > 0.25 * period) continue;
        if (rounding / n < spread && std::abs(t - base - n * period) <= rounding + n * spread) {
            period = (t - base) / n;
            spread = rounding / n;
        }
    }
    return Time::ps(std::llround(period));
}

SamplingReport judge_sampling(const Capture& capture, Time sample_period) {
    long_work("judge_sampling");
    SamplingReport report;
    report.sample_period = sample_period;
    for (const auto& s : capture.signals) {
        if (!s.digital || s.digital->edges().size() < 2) continue;
        const auto edges = s.digital->edges();
        SamplingReport::Line line{s.name, Time::max(), 0, static_cast<long>(edges.size()) - 1, {}};
        // Half a sample of slack: a pulse of three samples may be printed as a little less by the file's
        // rounding.
        const Time limit = sample_period * 5 / 2;
        for (std::size_t i = 0; i + 1 < edges.size(); ++i) {
            const Time length = edges[i + 1] - edges[i];
            if (length < limit) ++line.too_short;
            if (length < line.shortest) {
                line.shortest = length;
                line.at = edges[i];
            }
        }
        report.lines.push_back(std::move(line));
    }
    return report;
}

}  // namespace grayrelic
