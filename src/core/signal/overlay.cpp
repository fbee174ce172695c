// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/overlay.hpp"

#include "core/base/long_work.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

/// Running mean and spread (Welford 1962).
struct Running {
    long n = 0;
    double mean = 0, square = 0, min = 0, max = 0;
    std::size_t min_span = 0, max_span = 0;
    bool rises = false;
    void add(double v, std::size_t span, bool rise) {
        if (n == 0 || v < min) min = v, min_span = span;
        if (n == 0 || v > max) max = v, max_span = span;
        if (n == 0) rises = rise;
        ++n;
        const double off = v - mean;
        mean += off / static_cast<double>(n);
        square += off * (v - mean);
    }
};

}  // namespace

Result<Overlay> make_overlay(const Capture& capture, const OverlayRequest& request, Progress& progress) {
    long_work("make_overlay");
    Overlay out;
    std::vector<const DigitalWaveform*> lines;
    for (const auto& name : request.signals) {
        const auto waveform = capture.find_digital(name);
        if (!waveform) return fail(waveform.error());
        lines.push_back(*waveform);
        out.lines.push_back({(*capture.find(name))->name, {}, {}, {}});
    }
    const DigitalWaveform* align = nullptr;
    if (request.align) {
        const auto waveform = capture.find_digital(request.align->signal);
        if (!waveform) return fail(waveform.error());
        align = *waveform;
    }
    const auto width = static_cast<double>((request.before + request.after).count());
    if (!(width > 0) || request.columns == 0 || request.columns > 100'000)
        return fail_usage("a window of no width", "a time before or after the edge");
    const double per_ps = static_cast<double>(request.columns) / width;
    const auto columns = static_cast<std::ptrdiff_t>(request.columns);
    // High shares as differences between columns: a level costs two additions however long it lasts.
    std::vector<std::vector<double>> change(lines.size(), std::vector<double>(request.columns + 1, 0.0));
    std::vector<std::vector<double>> edges(lines.size(), std::vector<double>(request.columns, 0.0));
    std::vector<std::vector<Running>> spread(lines.size());
    const auto stride = std::max<std::size_t>(1, request.stride);
    for (std::size_t k = 0; k < request.spans.size(); k += stride) {
        if ((k / stride & 4095U) == 0) {
            progress.report(static_cast<double>(k) / static_cast<double>(request.spans.size()));
            if (progress.cancelled()) return fail_cancelled();
        }
        Time zero = request.spans[k].from;
        if (align != nullptr) {
            const auto all = align->edges();
            auto i = align->edges_before(zero);
            while (i < all.size() && !align->matches(i, request.align->direction)) ++i;
            if (i >= all.size() || all[i] > request.spans[k].to) {
                ++out.without;
                continue;
            }
            zero = all[i];
        }
        ++out.spans;
        const Time from = zero - request.before, to = zero + request.after;
        for (std::size_t l = 0; l < lines.size(); ++l) {
            const auto all = lines[l]->edges();
            auto i = lines[l]->edges_before(from);
            double since = 0;
            std::size_t n = 0;
            for (; i < all.size() && all[i] < to; ++i, ++n) {
                const double x = static_cast<double>((all[i] - from).count()) * per_ps;
                const auto column = std::min(static_cast<std::ptrdiff_t>(x), columns - 1);
                edges[l][static_cast<std::size_t>(column)] += 1;
                if (lines[l]->is_rise(i)) {
                    since = x;
                } else {
                    change[l][static_cast<std::size_t>(std::lround(since))] += 1;
                    change[l][static_cast<std::size_t>(
                        std::lround(std::min(x, static_cast<double>(columns))))] -= 1;
                }
                if (n < most_spread) {
                    if (spread[l].size() <= n) spread[l].emplace_back();
                    spread[l][n].add((all[i] - zero).seconds(), k, lines[l]->is_rise(i));
                }
            }
            if (lines[l]->level_after(i)) {
                change[l][static_cast<std::size_t>(
                    std::lround(std::min(since, static_cast<double>(columns))))] += 1;
                change[l][request.columns] -= 1;
            }
        }
    }
    const double each = out.spans == 0 ? 0.0 : 1.0 / static_cast<double>(out.spans);
    for (std::size_t l = 0; l < lines.size(); ++l) {
        auto& line = out.lines[l];
        double level = 0;
        for (std::size_t c = 0; c < request.columns; ++c) {
            level += change[l][c];
            line.high.push_back(static_cast<float>(std::clamp(level * each, 0.0, 1.0)));
            line.edges.push_back(static_cast<float>(edges[l][c] * each));
        }
        for (const auto& r : spread[l])
            line.spread.push_back({r.rises, r.n, r.mean,
                                   r.n > 1 ? std::sqrt(r.square / static_cast<double>(r.n - 1)) : 0.0, r.min,
                                   r.max, r.min_span, r.max_span});
    }
    progress.report(1.0);
    return out;
}

}  // namespace grayrelic
