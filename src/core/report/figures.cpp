// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/figures.hpp"

#include "core/base/long_work.hpp"
#include "core/listen/listen_analysis.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/report/connector_figure.hpp"
#include "core/report/svg.hpp"
#include "core/timing/replay_line.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {
std::vector<double> axis_marks(double low, double high, int most) {
    std::vector<double> marks;
    if (!(high > low) || most < 1) return marks;
    const double raw = (high - low) / most;
    const double power = std::pow(10.0, std::floor(std::log10(raw)));
    const double m = raw / power;
    const double step = power * (m <= 1.000001 ? 1.0 : m <= 2.000001 ? 2.0 : m <= 5.000001 ? 5.0 : 10.0);
    for (double k = std::ceil(low / step - 1e-9); k * step <= high + step * 1e-9; k += 1.0)
        marks.push_back(k * step);
    return marks;
}

std::string AxisUnit::text(double seconds) const {
    auto number = fmt::format("{:.{}f}", seconds * factor, decimals);
    if (number.starts_with("-")) {
        const bool zero = number.find_first_not_of("-0.") == std::string::npos;
        number.replace(0, 1, zero ? "" : "−");
    }
    return number + " " + suffix;
}

AxisUnit axis_unit(double low, double high, double step) {
    const double size = std::max(std::abs(low), std::abs(high));
    AxisUnit u;
    if (size >= 1.0)
        u = {1.0, "s", 0};
    else if (size >= 1e-3)
        u = {1e3, "ms", 0};
    else if (size >= 1e-6)
        u = {1e6, "µs", 0};
    else
        u = {1e9, "ns", 0};
    const double shown = std::abs(step) * u.factor;
    u.decimals = shown <= 0.0 ? 0 : std::clamp(static_cast<int>(std::ceil(-std::log10(shown) - 1e-9)), 0, 12);
    return u;
}

std::string histogram_figure(const std::string& title, const Spread& seconds,
                             std::optional<double> deadline_s, Driver driver, double finest_s) {
    constexpr double w = 620.0;
    constexpr double h = 200.0;
    constexpr double base = h - 28.0;
    Svg svg(w, h, title);
    const auto hist = make_histogram(seconds, 60, finest_s);
    if (hist.bars.empty()) {
        svg.text(w / 2.0, h / 2.0, "nothing measured", paper::ink2, Svg::Anchor::middle);
        return svg.finish();
    }
    double low = hist.low;
    double high = hist.edge(hist.bars.size());
    if (deadline_s) {
        low = std::min(low, *deadline_s);
        high = std::max(high, *deadline_s);
    }
    const double spare = (high - low) * 0.04;
    low -= low > spare ? spare : 0.0;
    high += spare;
    const auto x_of = [&](double s) { return 10.0 + (s - low) / (high - low) * (w - 20.0); };
    const double tallest = static_cast<double>(hist.tallest());
    for (std::size_t i = 0; i < hist.bars.size(); ++i) {
        if (hist.bars[i] == 0) continue;
        const bool late = deadline_s && hist.edge(i) >= *deadline_s;
        const double x = x_of(hist.edge(i));
        const double bar = std::max(1.0, static_cast<double>(hist.bars[i]) / tallest * (base - 24.0));
        svg.rect(x, base - bar, std::max(1.0, x_of(hist.edge(i + 1)) - x - 1.0), bar,
                 late ? paper::oxide : driver_colour(driver));
    }
    svg.line(10.0, base, w - 10.0, base, paper::ink2);
    const auto marks = axis_marks(low, high, 7);
    const auto unit = axis_unit(low, high, marks.size() > 1 ? marks[1] - marks[0] : high - low);
    for (const double m : marks) {
        if (x_of(m) < 30.0 || x_of(m) > w - 30.0) continue;
        svg.line(x_of(m), base, x_of(m), base + 4.0, paper::ink2);
        svg.text(x_of(m), base + 18.0, unit.text(m), paper::ink2, Svg::Anchor::middle, 11);
    }
    if (deadline_s) {
        const double x = x_of(*deadline_s);
        svg.line(x, 12.0, x, base, paper::ink, 1.5, "4 3");
        const bool left = x > w / 2.0;
        svg.text(x + (left ? -6.0 : 6.0), 18.0,
                 fmt::format("host looks at {}", print_number(*deadline_s, Unit::second)), paper::ink,
                 left ? Svg::Anchor::end : Svg::Anchor::start, 11);
    }
    return svg.finish();
}

namespace {

/// The answer line of the capture that the question is about; null when there is none.
const DigitalWaveform* answer_line(const Analysis& analysis) {
    const auto* capture = analysis.find_capture(analysis.dossier.timing->reply.capture);
    if (capture == nullptr || !capture->named) return nullptr;
    const auto answer = answer_of(analysis.dossier.timing->reply, capture);
    if (answer.empty()) return nullptr;
    const auto waveform = capture->named->find_digital(answer);
    return waveform ? *waveform : nullptr;
}

std::size_t worst_that_shows(const Analysis& analysis, const ReplySummary& summary) {
    const auto* line = answer_line(analysis);
    std::optional<std::size_t> found;
    Time least = Time::max();
    for (std::size_t k = 0; line != nullptr && k < summary.outcomes.size(); ++k) {
        const auto i = summary.first_outcome + k;
        const auto& task = (*analysis.timing->tasks)[i];
        if (!summary.outcomes[k].reply) continue;
        const Time margin = task.deadline - *summary.outcomes[k].reply;
        if (margin >= least || line->level_before(task.trigger) == line->level_before(task.deadline))
            continue;
        least = margin;
        found = i;
    }
    return found.value_or(*summary.worst);
}

}  // namespace

std::optional<WaveMoment> worst_moment(const Analysis& analysis, const OptionAnalysis& option) {
    long_work("worst_moment");
    if (!option.summary || !option.summary->worst || !analysis.timing->tasks) return std::nullopt;
    const auto i = worst_that_shows(analysis, *option.summary);
    const auto& task = (*analysis.timing->tasks)[i];
    WaveMoment m;
    m.trigger = task.trigger;
    m.deadline = task.deadline;
    m.reply = option.summary->reply_to(i);
    Time last = task.deadline;
    if (m.reply) last = std::max(last, *m.reply);
    const Time reach = last - task.trigger;
    m.window = {task.trigger - reach / 2, last + reach / 2};
    return m;
}

std::string worst_case_figure(const Analysis& analysis, const OptionAnalysis& option) {
    const auto moment = worst_moment(analysis, option);
    const auto* capture = analysis.find_capture(analysis.dossier.timing->reply.capture);
    constexpr double w = 620.0;
    constexpr double left = 90.0;
    Svg svg(w, 190.0, "Slowest reply of " + option.option.name);
    if (!moment || capture == nullptr || !capture->named) {
        svg.text(w / 2.0, 90.0, "no reply to show", paper::ink2, Svg::Anchor::middle);
        return svg.finish();
    }
    const auto span = moment->window;
    const auto x_of = [&](Time t) {
        return left + static_cast<double>((t - span.from).count()) /
                          static_cast<double>(span.length().count()) * (w - left - 10.0);
    };
    double y = 40.0;
    const auto draw = [&](const std::string& name, const DigitalWaveform& waveform, std::string_view colour) {
        const auto level_y = [&](bool high) { return high ? y - 22.0 : y; };
        bool level = waveform.level_before(span.from);
        std::vector<std::pair<double, double>> points{{x_of(span.from), level_y(level)}};
        const auto edges = waveform.edges();
        for (auto i = waveform.edges_before(span.from);
             i < edges.size() && edges[i] < span.to && points.size() < 4000; ++i) {
            points.emplace_back(x_of(edges[i]), level_y(level));
            level = waveform.is_rise(i);
            points.emplace_back(x_of(edges[i]), level_y(level));
        }
        points.emplace_back(x_of(span.to), level_y(level));
        svg.path(points, colour);
        svg.text(left - 8.0, y - 7.0, name, colour, Svg::Anchor::end, 12, true);
        y += 42.0;
    };
    const auto trigger = parse_edge(analysis.dossier.timing->reply.trigger);
    if (trigger)
        if (const auto t = capture->named->find_digital(trigger->signal))
            draw(trigger->signal, **t, paper::umber);
    if (const auto* answer = answer_line(analysis)) {
        draw("original", *answer, paper::ink2);
        const auto& tasks = *analysis.timing->tasks;
        draw("this option",
             trigger ? replay_line(*answer, tasks, *option.summary, span)
                     : replay_turns(*answer, tasks, *option.summary, span),
             paper::slate);
    }
    if (moment->reply) {
        const double x = x_of(*moment->reply);
        const bool late = *moment->reply > moment->deadline;
        svg.text(x + 4.0, y - 28.0, print(*moment->reply - moment->trigger) + (late ? ", late" : ""),
                 late ? paper::oxide : paper::ink, Svg::Anchor::start, 11);
    }
    svg.line(x_of(moment->deadline), 10.0, x_of(moment->deadline), 170.0, paper::ink, 1.5, "4 3");
    svg.text(x_of(moment->deadline) + 4.0, 182.0, "host looks", paper::ink, Svg::Anchor::start, 11);
    svg.line(x_of(moment->trigger), 10.0, x_of(moment->trigger), 170.0, paper::hairline);
    return svg.finish();
}

}  // namespace grayrelic
