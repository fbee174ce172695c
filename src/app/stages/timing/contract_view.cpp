// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/contract_view.hpp"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>

#include "app/paint/axis.hpp"
#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/quantity.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr double line_height = 15.0;

}  // namespace

ContractView::ContractView(QWidget* parent) : QWidget(parent) {
    setAccessibleName(tr("Contract"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void ContractView::show_analysis(const Analysis& a) {
    lines_.clear();
    reply_.reset();
    look_least_.reset();
    const auto& q = a.dossier.timing->reply;
    const auto cell = [](const std::optional<Time>& t) { return t ? to_q(print(*t)) : QStringLiteral("·"); };
    for (const auto& f : a.timing->contract) {
        lines_.push_back({to_q(f->interval.id), to_q(f->interval.name), cell(f->min), cell(f->typ),
                          cell(f->max), to_q(f->problem.empty() ? f->evidence.source : f->problem),
                          f->evidence.kind, !f->problem.empty()});
        if (f->interval.kind == IntervalKind::response && f->interval.from == q.trigger &&
            f->problem.empty() && !reply_)
            reply_ = *f;
    }
    look_least_ = a.timing->least_allowed;
    guard_ = q.guard.value;
    const auto trigger = parse_edge(q.trigger);
    trigger_ = trigger ? to_q(short_name(trigger->signal)) : QString();
    trigger_rises_ = !trigger || trigger->direction != Direction::fall;
    const auto answer = reply_ ? parse_edge(reply_->interval.to) : Result<EdgeName>(EdgeName{});
    answer_ = answer ? to_q(short_name(answer->signal)) : QString();
    look_assumed_ = q.look.evidence.kind == EvidenceKind::assumed;
    setFixedHeight(
        static_cast<int>(std::max(142.0, 22.0 + line_height * static_cast<double>(lines_.size()))));
    setAccessibleDescription(look_least_ ? tr("A reply has %1").arg(to_q(print(*look_least_)))
                                         : tr("no question yet"));
    update();
}

void ContractView::select(const QString& interval) {
    selected_ = interval;
    update();
}

void ContractView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const double figure = std::clamp(width() * 0.40, 190.0, 400.0);
    paint_figure(p, QRectF(0, 0, figure, height()));
    list_box_ = QRectF(figure + 16, 0, width() - figure - 16, height());
    paint_list(p, list_box_);
}

void ContractView::paint_figure(QPainter& p, const QRectF& box) {
    if (!look_least_ || trigger_.isEmpty()) {
        p.setPen(theme().ink2);
        p.setFont(text_font(12));
        p.drawText(box, Qt::AlignCenter | Qt::TextWordWrap, tr("No question yet: when does the host look?"));
        return;
    }
    const double label = 58.0;
    const double end = (*look_least_ + guard_).seconds() * 1.25;
    const double begin = -0.18 * end;
    const auto x_of = [&](double s) {
        return box.left() + label + (s - begin) / (end - begin) * (box.width() - label - 6);
    };
    const double high1 = 28;
    const double low1 = 52;
    const double high2 = 78;
    const double low2 = 102;
    const double x_trigger = x_of(0);
    const double x_look = x_of((*look_least_ + guard_).seconds());
    const double x_need = x_of(look_least_->seconds());

    p.setPen(theme().ink);
    p.setFont(text_font(12, true));
    p.drawText(QRectF(box.left(), high1, label - 6, 24), Qt::AlignVCenter,
               p.fontMetrics().elidedText(trigger_, Qt::ElideRight, static_cast<int>(label - 6)));
    p.drawText(QRectF(box.left(), high2, label - 6, 24), Qt::AlignVCenter,
               p.fontMetrics().elidedText(answer_, Qt::ElideRight, static_cast<int>(label - 6)));
    p.setPen(QPen(theme().umber, 2));
    const double before = trigger_rises_ ? low1 : high1;
    const double after = trigger_rises_ ? high1 : low1;
    const QPointF clock[] = {{x_of(begin), before}, {x_trigger, before}, {x_trigger, after},
                             {x_look, after},       {x_look, before},    {x_of(end), before}};
    p.drawPolyline(clock, 6);
    p.setPen(QPen(theme().slate, 2));
    double settled = x_trigger;
    if (reply_ && reply_->min && reply_->max) {
        const double x0 = x_of(reply_->min->seconds());
        const double x1 = std::max(x0 + 2, x_of(reply_->max->seconds()));
        p.fillRect(QRectF(x0, high2, x1 - x0, low2 - high2), QBrush(theme().slate, Qt::BDiagPattern));
        p.drawLine(QPointF(x_of(begin), high2), QPointF(x0, high2));
        p.drawLine(QPointF(x_of(begin), low2), QPointF(x0, low2));
        settled = x1;
    }
    p.drawLine(QPointF(settled, high2), QPointF(x_of(end), high2));
    p.drawLine(QPointF(settled, low2), QPointF(x_of(end), low2));
    if (guard_ > Time{})
        p.fillRect(QRectF(x_need, high2, std::max(1.0, x_look - x_need), low2 - high2), theme().selection);
    p.setPen(QPen(theme().ink, 1.5, Qt::DashLine));
    p.drawLine(QPointF(x_need, 16), QPointF(x_need, 120));
    p.setPen(theme().ink);
    p.setFont(text_font(11, false, look_assumed_));
    const auto look = look_assumed_ ? tr("host looks, assumed") : tr("host looks");
    const double w = p.fontMetrics().horizontalAdvance(look) + 2;
    p.drawText(QRectF(std::max(box.left(), std::min(x_need - w - 4, box.right() - w)), 2, w, 16),
               Qt::AlignVCenter, look);
    // What a reply has, as a dimension line.
    const double y = 118;
    p.setPen(theme().ink2);
    p.drawLine(QPointF(x_trigger, y), QPointF(x_need, y));
    p.drawLine(QPointF(x_trigger, y - 4), QPointF(x_trigger, y + 4));
    p.setFont(figure_font(12, true));
    p.setPen(theme().ink);
    const auto to_reply = tr("%1 to reply").arg(to_q(print(*look_least_)));
    const double tw = p.fontMetrics().horizontalAdvance(to_reply) + 4;
    p.drawText(QRectF(std::min((x_trigger + x_need - tw) / 2, box.right() - tw), y + 3, tw, 18),
               Qt::AlignCenter, to_reply);
}

void ContractView::paint_list(QPainter& p, const QRectF& box) {
    const double figure = std::min(64.0, (box.width() - 34) / 5.0);
    const double name = box.width() - 3 * figure - 34;
    const auto column = [&](int i) { return box.left() + name + figure * i; };
    p.setPen(theme().ink2);
    p.setFont(text_font(11));
    const QString heads[] = {tr("least"), tr("typical"), tr("most")};
    for (int i = 0; i < 3; ++i)
        p.drawText(QRectF(column(i), box.top(), figure - 6, 16), Qt::AlignRight | Qt::AlignVCenter, heads[i]);
    double y = box.top() + 18;
    for (const auto& line : lines_) {
        const QRectF row(box.left(), y, box.width(), line_height);
        if (line.id == selected_) p.fillRect(row, theme().selection);
        const bool assumed = line.evidence == EvidenceKind::assumed;
        p.setPen(theme().ink);
        p.setFont(text_font(12, false, assumed));
        draw_text(p, QRectF(row.left() + 2, y, name - 8, line_height), Qt::AlignVCenter, line.name);
        if (line.problem) {
            p.setPen(theme().ink2);
            p.setFont(text_font(11));
            draw_text(p, QRectF(column(0), y, 3 * figure, line_height), Qt::AlignVCenter, line.source);
        } else {
            p.setFont(figure_font(11));
            const QString cells[] = {line.least, line.typical, line.most};
            for (int i = 0; i < 3; ++i)
                p.drawText(QRectF(column(i) - 4, y, figure - 2, line_height),
                           Qt::AlignRight | Qt::AlignVCenter, cells[i]);
        }
        draw_evidence(p, QPointF(row.right() - 28, row.center().y()), line.evidence);
        y += line_height;
    }
}

bool ContractView::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(e);
        const int i = static_cast<int>((help->pos().y() - list_box_.top() - 18) / line_height);
        if (list_box_.contains(help->pos()) && i >= 0 && i < static_cast<int>(lines_.size())) {
            const auto& line = lines_[static_cast<std::size_t>(i)];
            QToolTip::showText(help->globalPos(), tr("%1: %2").arg(to_q(word(line.evidence)), line.source),
                               this);
        } else {
            QToolTip::hideText();
        }
        return true;
    }
    return QWidget::event(e);
}

}  // namespace grayrelic::app
