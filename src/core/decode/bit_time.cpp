// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/bit_time.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

constexpr std::size_t most_intervals =
    60'000;  ///< they say as much as all of them; the rate is refined later

double refine(const std::vector<double>& intervals, double t, double most_multiple) {
    double up = 0, down = 0;
    for (const double d : intervals) {
        const double k = std::round(d / t);
        if (k < 1 || k > most_multiple || std::abs(d - k * t) > 0.3 * t) continue;
        up += k * d;
        down += k * k;
    }
    return down > 0 ? up / down : t;
}

std::vector<double> intervals_of(const DigitalWaveform& waveform) {
    const auto edges = waveform.edges();
    std::vector<double> intervals;
    for (std::size_t i = 0; i + 1 < edges.size() && i < most_intervals; ++i)
        intervals.push_back(static_cast<double>((edges[i + 1] - edges[i]).count()));
    return intervals;
}

std::vector<double> candidates(const std::vector<double>& intervals) {
    if (intervals.size() < 4) return {};
    auto sorted = intervals;
    std::sort(sorted.begin(), sorted.end());
    // The lowest interval around which (±30 %) a fair share of all lie: glitches are shorter, but few.
    const auto wanted = std::max<std::size_t>(2, sorted.size() / 25);
    double t = sorted.front();
    for (std::size_t i = 0; i < sorted.size(); ++i) {
        const auto end = std::upper_bound(sorted.begin(), sorted.end(), sorted[i] * 1.5);
        const auto count = static_cast<std::size_t>(end - sorted.begin()) - i;
        if (count >= wanted && sorted[i] > 0) {
            t = sorted[i + count / 2];
            break;
        }
    }
    if (!(t > 0)) return {};
    for (const double most : {1.0, 2.0, 4.0, 9.0, 9.0}) t = refine(intervals, t, most);
    return {t, t / 2, t / 3};
}

/// Edges that follow each other within the chatter become one, where the level is another behind them.
std::vector<double> settled(const std::vector<double>& intervals, double longest) {
    std::vector<double> out;
    double since = 0;
    bool turned = true;  // the first edge
    for (const double d : intervals) {
        if (d <= longest) {
            turned = !turned;
            since += d;
            continue;
        }
        if (turned && since + d > 0) out.push_back(since + d), since = 0;
        if (!turned) since += d;  // a glitch within a bit: nothing happened
        turned = true;
    }
    return out;
}

}  // namespace

std::vector<double> bit_time_candidates(const DigitalWaveform& waveform) {
    return candidates(intervals_of(waveform));
}

Chatter bit_times_behind_chatter(const DigitalWaveform& waveform) {
    constexpr double apart = 3;
    Chatter out;
    const auto intervals = intervals_of(waveform);
    auto sorted = intervals;
    std::sort(sorted.begin(), sorted.end());
    double widest = apart;
    for (std::size_t i = 1; 4 * i <= 3 * sorted.size(); ++i)
        if (sorted[i] > widest * sorted[i - 1])
            widest = sorted[i] / std::max(1.0, sorted[i - 1]), out.intervals = i;
    if (out.intervals == 0) return out;
    out.longest_ps = sorted[out.intervals - 1];
    out.bit_times_ps = candidates(settled(intervals, out.longest_ps));
    return out;
}

BitTimeFit fit_bit_time(const std::vector<double>& offsets, const std::vector<int>& multiples,
                        const std::vector<char>& turned) {
    // Normal equations of offset = multiple · T + turned · late.
    double kk = 0, kt = 0, tt = 0, ky = 0, ty = 0;
    for (std::size_t i = 0; i < offsets.size(); ++i) {
        const double k = multiples[i], t = turned[i];
        kk += k * k;
        kt += k * t;
        tt += t;
        ky += k * offsets[i];
        ty += t * offsets[i];
    }
    BitTimeFit fit;
    fit.edges = static_cast<long>(offsets.size());
    const double det = kk * tt - kt * kt;
    double inverse = 0;
    if (det > 1e-9 * kk * std::max(1.0, tt)) {
        fit.ps = (ky * tt - ty * kt) / det;
        fit.turned_late_ps = (kk * ty - kt * ky) / det;
        inverse = tt / det;
    } else if (kk > 0) {
        fit.ps = ky / kk;
        inverse = 1 / kk;
    } else {
        return fit;
    }
    double left = 0;
    for (std::size_t i = 0; i < offsets.size(); ++i) {
        const double r = offsets[i] - multiples[i] * fit.ps - (turned[i] != 0 ? fit.turned_late_ps : 0);
        left += r * r;
    }
    if (offsets.size() > 2)
        fit.standard_error_ps = std::sqrt(left / static_cast<double>(offsets.size() - 2) * inverse);
    return fit;
}

}  // namespace grayrelic
