// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/calendar_chart.hpp"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QLocale>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/calendar_sheet.hpp"

namespace grayrelic::app {
namespace {

constexpr int row_high = 24, head_high = 36, foot_high = 4;

QString short_day(const QDate& day) {
    return QLocale::c().toString(day, QStringLiteral("d MMM"));
}

/// Days between marks, so that their names do not touch.
int mark_step(double days, double width) {
    for (const int step : {1, 2, 7, 14, 28, 56, 112, 182, 364, 728})
        if (width * step / std::max(days, 1.0) >= 62) return step;
    int step = 3650;
    while (width * step / days < 62 && step < 1'000'000) step *= 2;
    return step;
}

}  // namespace

void CalendarSheet::set(std::vector<CalendarRow> now, const CalendarDates& at) {
    const auto was =
        picked < static_cast<int>(rows.size()) ? rows[static_cast<std::size_t>(picked)].id : QString();
    rows = std::move(now);
    dates = at;
    picked = std::max(0, row_of(was));
    setMinimumHeight(minimumSizeHint().height());
    QStringList said;
    for (int i = 0; i < static_cast<int>(rows.size()); ++i) said << words(i);
    setAccessibleDescription(said.join(QLatin1Char('\n')));
    update();
}

QSize CalendarSheet::minimumSizeHint() const {
    return {240, head_high + foot_high + row_high * static_cast<int>(rows.size())};
}

int CalendarSheet::row_of(const QString& id) const {
    const auto at = std::find_if(rows.begin(), rows.end(), [&](const CalendarRow& r) { return r.id == id; });
    return at == rows.end() ? -1 : static_cast<int>(at - rows.begin());
}

QString CalendarSheet::words(int row) const {
    const auto& r = rows[static_cast<std::size_t>(row)];
    const auto day = [&](double d) {
        return short_day(dates.today.addDays(static_cast<int>(std::floor(d + 1e-6))));
    };
    auto out = tr("%1: %2 to %3").arg(r.id, day(r.from), day(r.to));
    if (r.wait_to > r.to)
        out += tr(", then %1 until %2").arg(r.wait.isEmpty() ? tr("waits") : r.wait, day(r.wait_to));
    if (r.holds_up) out += tr(", holds up the finish");
    return out;
}

double CalendarSheet::names_width() const {
    return std::clamp(width() * 0.24, 130.0, 260.0);
}

double CalendarSheet::last_day() const {
    double last = 1;
    for (const auto& r : rows) last = std::max(last, r.wait_to);
    for (const auto& d : {dates.likely, dates.late, dates.deadline})
        if (d) last = std::max(last, static_cast<double>(*d));
    return last;
}

double CalendarSheet::x_of(double day) const {
    const double left = names_width();
    return left + (width() - left - 44) * day / last_day();
}

int CalendarSheet::row_at(double y) const {
    const int row = static_cast<int>(std::floor((y - head_high) / row_high));
    return row >= 0 && row < static_cast<int>(rows.size()) ? row : -1;
}

void CalendarSheet::paint_grid(QPainter& p) const {
    const int step = mark_step(last_day(), x_of(last_day()) - x_of(0));
    p.setFont(figure_font(11));
    for (int day = 0; day <= last_day() + 1e-6; day += step) {
        const double x = std::round(x_of(day)) + 0.5;
        p.setPen(QPen(day == 0 ? theme().ink : theme().hairline, 1));
        p.drawLine(QPointF(x, head_high), QPointF(x, height() - foot_high));
        p.setPen(theme().ink2);
        draw_text(p, QRectF(x - 30, 0, 60, 18), Qt::AlignCenter, short_day(dates.today.addDays(day)));
    }
}

void CalendarSheet::paint_row(QPainter& p, int row) const {
    const auto& r = rows[static_cast<std::size_t>(row)];
    const double top = head_high + row * row_high;
    if (row == picked) p.fillRect(QRectF(0, top, width(), row_high), theme().selection);
    p.setPen(theme().ink);
    p.setFont(text_font(12, r.holds_up));
    draw_text(p, QRectF(8, top, names_width() - 16, row_high), Qt::AlignLeft | Qt::AlignVCenter, r.id);
    const double from = x_of(r.from), to = std::max(x_of(r.to), from + 2);
    p.fillRect(QRectF(from, top + 6, to - from, row_high - 12), r.holds_up ? theme().ink : theme().ink2);
    if (r.wait_to <= r.to) return;
    p.setPen(QPen(theme().ink2, 1));
    p.setBrush(theme().panel);
    p.drawRect(QRectF(to, top + 9, x_of(r.wait_to) - to, row_high - 18));
    p.setBrush(Qt::NoBrush);
    p.setFont(text_font(11));
    p.setPen(theme().ink2);
    const double after = x_of(r.wait_to) + 6;
    draw_text(p, QRectF(after, top, std::max(0.0, width() - after - 4), row_high),
              Qt::AlignLeft | Qt::AlignVCenter, r.wait);
}

void CalendarSheet::paint_finish(QPainter& p) const {
    const double low = height() - foot_high;
    p.setFont(text_font(11));
    double taken = -1e9;
    const auto line = [&](const std::optional<int>& day, const QString& name, const QColor& ink,
                          Qt::PenStyle style) {
        if (!day) return;
        const double x = std::round(x_of(*day)) + 0.5;
        p.setPen(QPen(ink, 2, style));
        p.drawLine(QPointF(x, 32), QPointF(x, low));
        const double at = std::max(x - 14, taken);
        draw_text(p, QRectF(at, 16, std::max(0.0, width() - at), 16), Qt::AlignLeft | Qt::AlignVCenter, name);
        taken = at + p.fontMetrics().horizontalAdvance(name) + 8;
    };
    line(dates.likely, tr("likely"), theme().verdigris, Qt::SolidLine);
    line(dates.late, tr("late"), theme().brass, Qt::DashLine);
    line(dates.deadline, tr("deadline"), theme().oxide, Qt::DotLine);
}

void CalendarSheet::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing, false);
    if (rows.empty()) return;
    if (picked < static_cast<int>(rows.size()))
        p.fillRect(QRectF(0, head_high + picked * row_high, width(), row_high), theme().selection);
    paint_grid(p);
    for (int i = 0; i < static_cast<int>(rows.size()); ++i) paint_row(p, i);
    paint_finish(p);
    if (hasFocus()) {
        p.setPen(QPen(theme().slate, 1));
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void CalendarSheet::choose(int row) {
    if (row < 0 || row >= static_cast<int>(rows.size())) return;
    picked = row;
    update();
    Q_EMIT moved(row);
    Q_EMIT chosen(rows[static_cast<std::size_t>(row)].id);
}

void CalendarSheet::mousePressEvent(QMouseEvent* e) {
    choose(row_at(e->position().y()));
}

void CalendarSheet::keyPressEvent(QKeyEvent* e) {
    switch (e->key()) {
        case Qt::Key_Down: return choose(picked + 1);
        case Qt::Key_Up: return choose(picked - 1);
        case Qt::Key_Home: return choose(0);
        case Qt::Key_End: return choose(static_cast<int>(rows.size()) - 1);
        default: QWidget::keyPressEvent(e);
    }
}

bool CalendarSheet::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(e);
        const int row = row_at(help->pos().y());
        QToolTip::showText(help->globalPos(), row < 0 ? QString() : words(row).toHtmlEscaped(), this);
        return true;
    }
    return QWidget::event(e);
}

CalendarChart::CalendarChart(const QString& name, QWidget* parent) : QScrollArea(parent) {
    sheet_ = new CalendarSheet;
    sheet_->setAccessibleName(name);
    sheet_->setFocusPolicy(Qt::StrongFocus);
    sheet_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::MinimumExpanding);
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::NoFocus);
    setWidget(sheet_);
    connect(sheet_, &CalendarSheet::chosen, this, &CalendarChart::chosen);
    connect(sheet_, &CalendarSheet::moved, this,
            [this](int row) { ensureVisible(0, head_high + row * row_high + row_high / 2, 0, row_high); });
}

void CalendarChart::show_rows(std::vector<CalendarRow> rows, const CalendarDates& dates) {
    sheet_->set(std::move(rows), dates);
}

void CalendarChart::pick(const QString& id) {
    if (const int row = sheet_->row_of(id); row >= 0) {
        sheet_->picked = row;
        sheet_->update();
    }
}

QString CalendarChart::picked() const {
    const auto at = static_cast<std::size_t>(sheet_->picked);
    return at < sheet_->rows.size() ? sheet_->rows[at].id : QString();
}

int CalendarChart::count() const {
    return static_cast<int>(sheet_->rows.size());
}

QString CalendarChart::said_of(const QString& id) const {
    const int row = sheet_->row_of(id);
    return row < 0 ? QString() : sheet_->words(row);
}

QWidget& CalendarChart::sheet() const {
    return *sheet_;
}

}  // namespace grayrelic::app
