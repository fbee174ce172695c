// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/capture_figure.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/report/wave_figure.hpp"

namespace grayrelic {
namespace {

constexpr double left = 150.0;
constexpr double plot = 1000.0;
constexpr double right = 20.0;
constexpr double top = 32.0;
constexpr double wave_row = 34.0;
constexpr double level_height = 20.0;
constexpr std::size_t most_waves = 64;

double x_of(Span window, Time t) {
    const auto length = static_cast<double>(std::max<std::int64_t>(1, window.length().count()));
    return left + std::clamp(static_cast<double>((t - window.from).count()) / length, 0.0, 1.0) * plot;
}

void add_real(Drawing& d, const RealWaveform& waveform, Span window, double base) {
    if (waveform.values.empty()) return;
    const auto ends = std::minmax_element(waveform.values.begin(), waveform.values.end());
    const double low = *ends.first, span = *ends.second > low ? *ends.second - low : 1.0;
    Drawing::Stroke line{{}, Ink::ink, 1.2};
    const auto y = [&](double v) { return base - (v - low) / span * level_height; };
    const auto n = waveform.times.size();
    const auto stride = std::max<std::size_t>(1, n / 4000);
    for (std::size_t i = 0; i < n; i += stride) {
        const double x = x_of(window, waveform.times[i]);
        if (!line.points.empty()) line.points.emplace_back(x, line.points.back().second);
        line.points.emplace_back(x, y(waveform.values[i]));
    }
    line.points.emplace_back(left + plot, line.points.back().second);
    d.strokes.push_back(std::move(line));
}

}  // namespace

std::string capture_figure(const Capture& capture, Span window) {
    const auto rows = std::min(most_waves, capture.signals.size());
    const auto more = capture.signals.size() - rows;
    Drawing d;
    d.width = left + plot + right;
    d.height = top + static_cast<double>(rows + (more > 0 ? 1 : 0)) * wave_row + 28.0;
    const Span seen{window.from, std::max(window.to, window.from + Time::ps(1))};
    add_time_axis(
        d, {left, d.height - 24, plot, seen.from.seconds(), seen.to.seconds(), 100, false, 6, d.height - 24});
    double base = top;
    for (std::size_t i = 0; i < rows; ++i, base += wave_row) {
        const auto& s = capture.signals[i];
        d.texts.push_back({left - 10.0, base - 5.0, shortened(short_name(s.name), 20), Ink::ink,
                           Drawing::Anchor::end, 12, true});
        if (s.digital)
            add_wave(d, *s.digital, seen, {left, base - level_height, plot, level_height}, Ink::ink);
        if (s.real) add_real(d, *s.real, window, base);
    }
    if (more > 0)
        d.texts.push_back({left, base - 5.0,
                           "and " + plural(static_cast<long long>(more), "more signal", "more signals"),
                           Ink::ink2});
    return drawing_svg(d, fmt::format("Capture of {}", print(window.length())));
}

}  // namespace grayrelic
