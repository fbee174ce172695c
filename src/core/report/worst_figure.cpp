// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/worst_figure.hpp"

#include <algorithm>

#include "core/base/long_work.hpp"
#include "core/base/text.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/report/connector_figure.hpp"
#include "core/report/wave_figure.hpp"
#include "core/timing/replay_line.hpp"

namespace grayrelic {
namespace {

/// Index of a task; `line` may be null.
std::size_t worst_that_shows(const Analysis& analysis, const ReplySummary& summary,
                             const DigitalWaveform* line) {
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

void add_rows(const Analysis& a, const OptionAnalysis& option, const CaptureAnalysis& capture,
              WorstReply& out) {
    // The capture keeps its waveforms.
    const auto part = [&](const DigitalWaveform* w) {
        return std::shared_ptr<const DigitalWaveform>(capture.named, w);
    };
    const auto& question = a.dossier.timing->reply;
    const auto trigger = parse_edge(question.trigger);
    if (trigger)
        if (const auto t = capture.named->find_digital(trigger->signal))
            out.rows.push_back({std::string(short_name(trigger->signal)), "host", Driver::relic, part(*t)});
    const auto answers = answer_of(question, &capture);
    if (answers.empty()) return;
    const auto answer = capture.named->find_digital(answers);
    if (!answer) return;
    const auto* line = *answer;
    if (const auto asks = capture.ref.decode.roles.find("data");
        !trigger && asks != capture.ref.decode.roles.end() && !asks->second.empty())
        if (const auto poll = capture.named->find_digital(asks->second.front()); poll && *poll != line)
            out.rows.push_back(
                {std::string(short_name(asks->second.front())), "host", Driver::relic, part(*poll)});
    const std::string name(short_name(answers));
    out.rows.push_back({name, "original", Driver::unknown, part(line)});
    const auto& tasks = *a.timing->tasks;
    out.rows.push_back({name, "this option", Driver::bridge,
                        std::make_shared<const DigitalWaveform>(
                            trigger ? replay_line(*line, tasks, *option.summary, out.window)
                                    : replay_turns(*line, tasks, *option.summary, out.window))});
}

}  // namespace

WorstReply worst_reply(const Analysis& a, const OptionAnalysis& option) {
    long_work("worst_reply");
    WorstReply out;
    if (!option.summary || !option.summary->worst || !a.timing->tasks) return out;
    const auto* capture = a.find_capture(a.dossier.timing->reply.capture);
    const DigitalWaveform* line = nullptr;
    if (capture != nullptr && capture->named)
        if (const auto answer = answer_of(a.dossier.timing->reply, capture); !answer.empty())
            if (const auto found = capture->named->find_digital(answer)) line = *found;
    const auto i = worst_that_shows(a, *option.summary, line);
    const auto& task = (*a.timing->tasks)[i];
    out.trigger = task.trigger;
    out.deadline = task.deadline;
    out.reply = option.summary->reply_to(i);
    const Time last = out.reply ? std::max(task.deadline, *out.reply) : task.deadline;
    const Time reach = last - task.trigger;
    out.window = {task.trigger - reach / 2, last + reach / 2};
    if (capture != nullptr && capture->named) add_rows(a, option, *capture, out);
    return out;
}

Drawing worst_drawing(const WorstReply& worst, double width, double height) {
    Drawing d;
    d.width = width;
    d.height = height;
    if (worst.rows.empty()) {
        d.texts.push_back(
            {width / 2, height / 2, "No reply to show yet.", Ink::ink2, Drawing::Anchor::middle});
        return d;
    }
    constexpr double left = 76.0;
    const Drawing::Rect plot{left, 18, std::max(1.0, width - left - 6), std::max(1.0, height - 42)};
    const double base = plot.y + plot.h, h = plot.h / static_cast<double>(worst.rows.size());
    const double wave = std::max(4.0, std::min(26.0, h - 14.0));
    const auto& window = worst.window;
    const auto x_of = [&](Time t) {
        return plot.x + static_cast<double>((t - window.from).count()) /
                            static_cast<double>(window.length().count()) * plot.w;
    };
    for (std::size_t i = 0; i < worst.rows.size(); ++i) {
        const auto& row = worst.rows[i];
        const double top = plot.y + h * static_cast<double>(i);
        d.texts.push_back(
            {0, top + h / 2 - 4, shortened(row.name, 9), Ink::ink, Drawing::Anchor::start, 12, true});
        d.texts.push_back({0, top + h / 2 + 11, row.about, Ink::ink2, Drawing::Anchor::start, 11});
        add_wave(d, *row.waveform, window,
                 {plot.x, std::round(top + (h - wave) / 2), plot.w, std::round(wave)},
                 driver_ink(row.driver));
    }
    add_time_axis(d, {plot.x, base, plot.w, (window.from - worst.trigger).seconds(),
                      (window.to - worst.trigger).seconds(), 60});
    const double look = x_of(worst.deadline), w = text_width("host looks", 11);
    d.lines.push_back({look, 14, look, base, Ink::ink, 1.5, true});
    d.texts.push_back({std::clamp(look, plot.x + w / 2, plot.x + plot.w - w / 2), 11, "host looks", Ink::ink,
                       Drawing::Anchor::middle, 11});
    if (!worst.reply) return d;
    const bool late = *worst.reply > worst.deadline;
    const auto ink = late ? Ink::stop : Ink::holds;
    const auto text = print(*worst.reply - worst.trigger) + (late ? ", late" : "");
    const double x = x_of(*worst.reply), tw = text_width(text, 12, true);
    d.lines.push_back({x, base - h + 4, x, base - 2, ink});
    const bool before = x + 4 + tw > plot.x + plot.w;
    // Over the wave where there is room.
    const double over = wave / 2 + 17;
    d.texts.push_back({before ? x - 4 : x + 4, base - h / 2 - (h >= 2 * over ? over : 8) + 12, text, ink,
                       before ? Drawing::Anchor::end : Drawing::Anchor::start, 12, true, true, false, true});
    return d;
}

std::string worst_case_figure(const Analysis& a, const OptionAnalysis& option) {
    return drawing_svg(worst_drawing(worst_reply(a, option), 620, 200),
                       "Slowest reply of " + option.option.name);
}

}  // namespace grayrelic
