// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/option_axis.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic::app {
namespace {

constexpr double names_width = 190, words_width = 132, scale_height = 22, look_height = 18, row_height = 25;

/// The original's reply as the contract measured it.
const ContractFigure* original_reply(const TimingAnalysis& timing, const ReplyQuestion& question) {
    for (const auto& f : timing.contract)
        if (f->interval.kind == IntervalKind::response && f->interval.from == question.trigger && f->max &&
            (question.answer.empty() || f->interval.to == question.answer))
            return f.get();
    return nullptr;
}

}  // namespace

OptionAxis::OptionAxis(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("All options against the host's look"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Preferred);
    setToolTip(tr("Click an option to see its numbers and its worst reply; up and down go through them"));
}

QSize OptionAxis::sizeHint() const {
    const auto rows = std::max<std::size_t>(2, rows_.size());
    return {700, static_cast<int>(look_height + scale_height + row_height * static_cast<double>(rows))};
}

QSize OptionAxis::minimumSizeHint() const {
    return {420, sizeHint().height()};
}

void OptionAxis::show_options(const Analysis& a, const std::string& selected) {
    rows_.clear();
    selected_ = to_q(selected);
    const auto& timing = *a.dossier.timing;
    look_assumed_ = timing.reply.look.evidence.kind == EvidenceKind::assumed;
    look_.reset();
    if (a.timing->least_allowed) look_ = a.timing->least_allowed->seconds();
    if (const auto* f = original_reply(*a.timing, timing.reply)) {
        Row row;
        row.name = tr("The original");
        row.least = f->min->seconds();
        row.middle = f->typ->seconds();
        row.most = f->max->seconds();
        row.said = to_q(plural(f->n, "reply", "replies"));
        row.assumed = f->evidence.kind == EvidenceKind::assumed;
        rows_.push_back(std::move(row));
    }
    for (const auto& o : timing.options) {
        Row row;
        row.id = to_q(o.id);
        row.name = to_q(o.name);
        row.chosen = o.id == timing.chosen;
        const auto* r = a.find_option(o.id);
        if (r == nullptr) {
            row.said = tr("computing …");
        } else if (!r->summary || r->summary->latency.n == 0) {
            row.said = r->summary ? tr("never answers") : tr("can't be judged");
        } else {
            const auto& s = *r->summary;
            row.verdict = r->verdict;
            row.least = s.latency.min;
            row.middle = s.latency.median;
            row.most = s.latency.max;
            for (const auto& c : r->corners) row.most = std::max(*row.most, c.latency.seconds());
            row.assumed = !r->confidence.assumed.empty();
            row.said = s.missed == 0 ? tr("in time")
                                     : tr("%1 too late").arg(to_q(print_share(r->confidence.missed_share)));
        }
        rows_.push_back(std::move(row));
    }
    low_ = 1e9;
    high_ = 0;
    const auto reach = [this](std::optional<double> s) {
        if (s && *s > 0) low_ = std::min(low_, *s), high_ = std::max(high_, *s);
    };
    for (const auto& row : rows_) reach(row.least), reach(row.most);
    reach(look_);
    if (high_ <= 0) low_ = 1e-8, high_ = 1e-5;
    low_ /= 1.6;
    high_ = std::max(high_ * 1.6, low_ * 10);
    QStringList lines;
    for (const auto& row : rows_) lines << row.name + QStringLiteral(": ") + row.said;
    setAccessibleDescription(lines.join(QStringLiteral("; ")));
    updateGeometry();
    update();
}

QRectF OptionAxis::plot() const {
    return {names_width, look_height, std::max(40.0, width() - names_width - words_width),
            std::max(20.0, height() - look_height - scale_height)};
}

double OptionAxis::x_of(double seconds) const {
    const auto box = plot();
    const double share = std::log(std::max(seconds, low_) / low_) / std::log(high_ / low_);
    return box.left() + std::clamp(share, 0.0, 1.0) * box.width();
}

QRectF OptionAxis::box_of(std::size_t row) const {
    const auto box = plot();
    const double h =
        std::min(row_height, box.height() / static_cast<double>(std::max<std::size_t>(1, rows_.size())));
    return {0, box.top() + h * static_cast<double>(row), static_cast<double>(width()), h};
}

QRect OptionAxis::row_of(const QString& id) const {
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (rows_[i].id == id) return box_of(i).toRect();
    return {};
}

QString OptionAxis::said_of(const QString& id) const {
    for (const auto& row : rows_)
        if (row.id == id) return row.said;
    return {};
}

void OptionAxis::paint_scale(QPainter& p, const QRectF& area) {
    const auto& t = theme();
    p.setFont(figure_font(11));
    const bool many = high_ > low_ * 1e4;
    for (double decade = std::pow(10, std::floor(std::log10(low_))); decade <= high_; decade *= 10)
        for (const int part : {1, 2, 5}) {
            const double s = decade * part;
            if (s < low_ || s > high_ || (many && part != 1)) continue;
            const double x = x_of(s);
            p.setPen(QPen(t.hairline, 1));
            p.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom() + (part == 1 ? 4 : 0)));
            if (part != 1) continue;
            p.setPen(t.ink2);
            p.drawText(QRectF(x - 40, area.bottom() + 4, 80, scale_height - 4),
                       Qt::AlignHCenter | Qt::AlignTop, to_q(print_number(s, Unit::second, 1)));
        }
}

void OptionAxis::paint_row(QPainter& p, const Row& row, const QRectF& area) {
    const auto& t = theme();
    if (!row.id.isEmpty() && row.id == selected_) {
        p.fillRect(area, t.selection);
        p.fillRect(QRectF(area.left(), area.top(), 3, area.height()), t.ink);
    }
    if (!row.id.isEmpty()) draw_verdict(p, {16, area.center().y()}, row.verdict);
    p.setFont(text_font(12, row.chosen));
    p.setPen(t.ink);
    (void)draw_text(p, {30, area.top(), names_width - 38, area.height()}, Qt::AlignVCenter | Qt::AlignLeft,
                    row.chosen ? tr("%1, chosen").arg(row.name) : row.name);
    const QColor ink = row.id.isEmpty() ? t.ink2 : t.driver(Driver::bridge);
    if (row.least && row.most) {
        const double y = area.center().y(), from = x_of(*row.least), to = std::max(x_of(*row.most), from + 2);
        QColor fill = ink;
        fill.setAlpha(row.assumed ? 70 : 150);
        p.fillRect(QRectF(from, y - 5, to - from, 10), fill);
        p.setPen(QPen(ink, 1, row.assumed ? Qt::DashLine : Qt::SolidLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRectF(from, y - 5, to - from, 10));
        if (look_ && *row.most > *look_ && !row.id.isEmpty()) {
            const double late = std::max(from, x_of(*look_));
            p.fillRect(QRectF(late, y + 7, to - late, 2), t.oxide);
        }
        if (row.middle) {
            p.setPen(QPen(ink, 2));
            p.drawLine(QPointF(x_of(*row.middle), y - 7), QPointF(x_of(*row.middle), y + 7));
        }
    }
    p.setFont(text_font(12));
    p.setPen(row.verdict == Verdict::stop ? t.oxide : t.ink2);
    (void)draw_text(p, {width() - words_width + 8, area.top(), words_width - 12, area.height()},
                    Qt::AlignVCenter | Qt::AlignLeft, row.said);
}

void OptionAxis::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing, false);
    const auto box = plot();
    const auto& t = theme();
    const double below = rows_.empty() ? box.bottom() : box_of(rows_.size() - 1).bottom();
    const QRectF used(box.left(), box.top(), box.width(), below - box.top());
    paint_scale(p, used);
    for (std::size_t i = 0; i < rows_.size(); ++i) paint_row(p, rows_[i], box_of(i));
    if (look_) {
        const double x = x_of(*look_);
        p.setPen(QPen(t.ink, 1.5, Qt::DashLine));
        p.drawLine(QPointF(x, used.top() - 2), QPointF(x, used.bottom() + 2));
        p.setPen(t.ink);
        p.setFont(text_font(11, false, look_assumed_));
        const auto text =
            tr("host looks at %1%2")
                .arg(to_q(print(Time::from_seconds(*look_))), look_assumed_ ? tr(", assumed") : QString());
        const bool left = x > width() / 2.0;
        p.drawText(QRectF(left ? x - 320 : x + 4, 0, 316, look_height),
                   (left ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter, text);
    }
    if (hasFocus()) {
        p.setPen(QPen(t.slate, 1, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void OptionAxis::mousePressEvent(QMouseEvent* event) {
    setFocus();
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (!rows_[i].id.isEmpty() && box_of(i).contains(event->position())) Q_EMIT selected(rows_[i].id);
}

void OptionAxis::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (step == 0) return QWidget::keyPressEvent(event);
    std::vector<QString> ids;
    for (const auto& row : rows_)
        if (!row.id.isEmpty()) ids.push_back(row.id);
    if (ids.empty()) return;
    const auto at = std::find(ids.begin(), ids.end(), selected_) - ids.begin();
    const auto next = std::clamp<std::ptrdiff_t>(at + step, 0, static_cast<std::ptrdiff_t>(ids.size()) - 1);
    Q_EMIT selected(ids[static_cast<std::size_t>(next)]);
}

}  // namespace grayrelic::app
