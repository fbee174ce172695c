// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/worst_view.hpp"

#include <QPainter>

#include "app/paint/axis.hpp"
#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/paint/wave.hpp"
#include "core/base/quantity.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/report/figures.hpp"
#include "core/timing/replay_line.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

WorstView::WorstView(QWidget* parent) : QWidget(parent) {
    setAccessibleName(tr("Slowest reply"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void WorstView::show_option(const Analysis& a, const std::string& id) {
    looking_.cancel();
    soon_ = a.find_option(id) != nullptr;
    if (!soon_) shown_ = {};
    update();
    if (!soon_) return;
    looking_.ask([a, id](Progress&) { return look(a, *a.find_option(id)); },
                 [this](const Shown& shown) {
                     soon_ = false;
                     shown_ = shown;
                     update();
                     if (found) found(shown.rows.empty() ? std::nullopt : std::optional(shown.trigger));
                 });
}

WorstView::Shown WorstView::look(const Analysis& a, const OptionAnalysis& option) {
    Shown out;
    const auto moment = worst_moment(a, option);
    const auto* capture = a.find_capture(a.dossier.timing->reply.capture);
    if (!moment || capture == nullptr || !capture->named) return out;
    out.window = moment->window;
    out.trigger = moment->trigger;
    out.deadline = moment->deadline;
    out.reply = moment->reply;
    // The capture keeps its waveforms.
    const auto part = [&](const DigitalWaveform* w) {
        return std::shared_ptr<const DigitalWaveform>(capture->named, w);
    };
    if (const auto trigger = parse_edge(a.dossier.timing->reply.trigger))
        if (const auto t = capture->named->find_digital(trigger->signal))
            out.rows.push_back({to_q(short_name(trigger->signal)), tr("host"), Driver::relic, part(*t)});
    const auto answers = answer_of(a.dossier.timing->reply, capture);
    if (answers.empty()) return out;
    const auto answer = capture->named->find_digital(answers);
    if (!answer) return out;
    const auto name = to_q(short_name(answers));
    const bool in_turn = !parse_edge(a.dossier.timing->reply.trigger);
    if (const auto asks = capture->ref.decode.roles.find("data");
        in_turn && asks != capture->ref.decode.roles.end() && !asks->second.empty())
        if (const auto poll = capture->named->find_digital(asks->second.front()); poll && *poll != *answer)
            out.rows.push_back(
                {to_q(short_name(asks->second.front())), tr("host"), Driver::relic, part(*poll)});
    out.rows.push_back({name, tr("original"), Driver::unknown, part(*answer)});
    out.rows.push_back({name, tr("this option"), Driver::bridge,
                        std::make_shared<const DigitalWaveform>(
                            in_turn ? replay_turns(**answer, *a.timing->tasks, *option.summary, out.window)
                                    : replay_line(**answer, *a.timing->tasks, *option.summary, out.window))});
    return out;
}

void WorstView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const auto& rows = shown_.rows;
    const auto& window = shown_.window;
    const auto trigger = shown_.trigger, deadline = shown_.deadline;
    const auto& reply = shown_.reply;
    if (rows.empty()) {
        p.setPen(theme().ink2);
        p.setFont(text_font(12));
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
                   soon_ ? tr("Looking for the slowest reply …") : tr("No reply to show yet."));
        return;
    }
    const double left = 76.0;
    const QRectF plot(left, 18, width() - left - 6, height() - 42);
    const double h = plot.height() / static_cast<double>(rows.size());
    const auto x_of = [&](Time t) {
        return plot.left() + static_cast<double>((t - window.from).count()) /
                                 static_cast<double>(window.length().count()) * plot.width();
    };
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const auto& row = rows[i];
        const double top = plot.top() + h * static_cast<double>(i);
        p.setPen(theme().ink);
        p.setFont(text_font(12, true));
        draw_text(p, QRectF(0, top + h / 2 - 16, left - 6, 16), Qt::AlignVCenter, row.name);
        p.setPen(theme().ink2);
        p.setFont(text_font(11));
        draw_text(p, QRectF(0, top + h / 2, left - 6, 15), Qt::AlignVCenter, row.about);
        const double wave = std::min(26.0, h - 14.0);
        draw_wave(p, *row.waveform, window, QRectF(plot.left(), top + (h - wave) / 2, plot.width(), wave),
                  theme().driver(row.driver));
    }
    // Times count from the trigger.
    draw_time_axis(p, QRectF(plot.left(), plot.bottom(), plot.width(), 22), (window.from - trigger).seconds(),
                   (window.to - trigger).seconds(), {false, {}, 60});
    const bool late = reply && *reply > deadline;
    p.setPen(QPen(theme().ink, 1.5, Qt::DashLine));
    p.drawLine(QPointF(x_of(deadline), 14), QPointF(x_of(deadline), plot.bottom()));
    p.setFont(text_font(11));
    p.setPen(theme().ink);
    const auto look = tr("host looks");
    const double w = p.fontMetrics().horizontalAdvance(look) + 2;
    const double lx = std::clamp(x_of(deadline) - w / 2, plot.left(), plot.right() - w);
    p.drawText(QRectF(lx, 0, w, 15), Qt::AlignVCenter, look);
    if (!reply) return;
    const auto text = tr("%1%2").arg(to_q(print(*reply - trigger)), late ? tr(", late") : QString());
    p.setFont(figure_font(12, true));
    p.setPen(late ? theme().oxide : theme().verdigris);
    p.drawLine(QPointF(x_of(*reply), plot.bottom() - h + 4), QPointF(x_of(*reply), plot.bottom() - 2));
    const double tw = p.fontMetrics().horizontalAdvance(text) + 2;
    const double tx = x_of(*reply) + 4 + tw > plot.right() ? x_of(*reply) - tw - 4 : x_of(*reply) + 4;
    // Over the wave where there is room.
    const double wave = std::min(26.0, h - 14.0), over = wave / 2 + 17;
    const double ty = plot.bottom() - h / 2 - (h >= 2 * over ? over : 8);
    p.fillRect(QRectF(tx - 1, ty, tw + 2, 15), theme().sheet);
    p.drawText(QRectF(tx, ty, tw, 15), Qt::AlignVCenter, text);
}

}  // namespace grayrelic::app
