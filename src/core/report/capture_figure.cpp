// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/capture_figure.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/report/figures.hpp"
#include "core/report/svg.hpp"

namespace grayrelic {
namespace {

constexpr double left = 150.0;
constexpr double plot = 1000.0;
constexpr double right = 20.0;
constexpr double top = 34.0;
constexpr double wave_row = 34.0;
constexpr double level_height = 20.0;
constexpr std::size_t most_waves = 64;

class Figure {
  public:
    Figure(Svg& svg, Span window) : svg_(svg), window_(window) {}

    [[nodiscard]] double x(Time t) const {
        const auto length = static_cast<double>(std::max<std::int64_t>(1, window_.length().count()));
        return left + std::clamp(static_cast<double>((t - window_.from).count()) / length, 0.0, 1.0) * plot;
    }

    void digital(const DigitalWaveform& waveform, double base) {
        std::vector<Column> columns(static_cast<std::size_t>(plot));
        fill_columns(waveform, window_.from, std::max(window_.to, window_.from + Time::ps(1)), columns);
        const auto level_y = [&](bool high) { return high ? base - level_height : base; };
        std::vector<std::pair<double, double>> line{{left, level_y(waveform.level_before(window_.from))}};
        const auto finish = [&] {
            if (line.size() > 1) svg_.path(line, paper::ink, 1.2);
        };
        double band = -1.0;  // where a band of dense columns began
        for (std::size_t i = 0; i <= columns.size(); ++i) {
            const double at = left + static_cast<double>(i);
            const bool dense = i < columns.size() && columns[i].edge_count > 1;
            if (dense && band < 0) {
                line.emplace_back(at, line.back().second);
                finish();
                band = at;
            }
            if (!dense && band >= 0) {
                svg_.rect(band, base - level_height, at - band, level_height, paper::ink2);
                const auto before =
                    i < columns.size() ? columns[i].first_edge : waveform.edges_before(window_.to);
                line = {{at, level_y(waveform.level_after(before))}};
                band = -1.0;
            }
            if (i == columns.size() || dense || columns[i].edge_count == 0) continue;
            const double edge = x(waveform.edges()[columns[i].first_edge]);
            line.emplace_back(edge, line.back().second);
            line.emplace_back(edge, level_y(waveform.level_after(columns[i].first_edge + 1)));
        }
        if (!line.empty() && line.back().first < left + plot)
            line.emplace_back(left + plot, line.back().second);
        finish();
        unknown(waveform, base);
    }

    /// At most one mark a column, however many spans there are.
    void unknown(const DigitalWaveform& waveform, double base) {
        double drawn = -1.0;
        for (const auto& s : waveform.unknown()) {
            if (s.to <= window_.from || s.from >= window_.to) continue;
            const double from = std::max(drawn, x(s.from));
            const double to = std::max(x(s.to), from + 0.5);
            if (to - drawn < 1.0) continue;
            svg_.rect(from, base - level_height, to - from, level_height, paper::hairline);
            drawn = to;
        }
    }

    void real(const RealWaveform& waveform, double base) {
        if (waveform.values.empty()) return;
        const auto [low, high] = std::minmax_element(waveform.values.begin(), waveform.values.end());
        const double span = *high > *low ? *high - *low : 1.0;
        std::vector<std::pair<double, double>> line;
        const auto y = [&](double v) { return base - (v - *low) / span * level_height; };
        const auto n = waveform.times.size();
        const auto stride = std::max<std::size_t>(1, n / 4000);
        for (std::size_t i = 0; i < n; i += stride) {
            if (!line.empty()) line.emplace_back(x(waveform.times[i]), line.back().second);
            line.emplace_back(x(waveform.times[i]), y(waveform.values[i]));
        }
        line.emplace_back(left + plot, line.back().second);
        svg_.path(line, paper::ink, 1.2);
    }

  private:
    Svg& svg_;
    Span window_;
};

}  // namespace

std::string capture_figure(const Capture& capture, Span window) {
    const auto rows = std::min(most_waves, capture.signals.size());
    const auto more = capture.signals.size() - rows;
    const double height = top + static_cast<double>(rows + (more > 0 ? 1 : 0)) * wave_row + 16.0;
    Svg svg(left + plot + right, height, fmt::format("Capture of {}", print(window.length())));
    svg.rect(0, 0, left + plot + right, height, paper::sheet);
    Figure figure(svg, window);

    const double from = window.from.seconds();
    const double to = window.to.seconds();
    const auto marks = axis_marks(from, to, 10);
    const auto unit = axis_unit(from, to, marks.size() > 1 ? marks[1] - marks[0] : to - from);
    for (const double m : marks) {
        const double x = figure.x(Time::from_seconds(m));
        svg.line(x, top - 8.0, x, height - 8.0, paper::hairline, 0.5);
        svg.text(x, top - 14.0, unit.text(m), paper::ink2, Svg::Anchor::middle, 11);
    }
    double base = top + wave_row - 8.0;
    for (std::size_t i = 0; i < rows; ++i, base += wave_row) {
        const auto& s = capture.signals[i];
        auto name = short_name(s.name);
        if (name.size() > 20) name = name.substr(0, 19) + "…";
        svg.text(left - 10.0, base - 5.0, name, paper::ink, Svg::Anchor::end, 12, true);
        if (s.digital) figure.digital(*s.digital, base);
        if (s.real) figure.real(*s.real, base);
    }
    if (more > 0)
        svg.text(left, base - 5.0,
                 "and " + plural(static_cast<long long>(more), "more signal", "more signals"), paper::ink2);
    return svg.finish();
}

}  // namespace grayrelic
