// SPDX-License-Identifier: GPL-3.0-or-later
// The painting half of WaveView.
#include <QPainter>

#include <algorithm>
#include <cmath>

#include "app/paint/axis.hpp"
#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/paint/wave.hpp"
#include "app/stages/listen/wave_view.hpp"
#include "core/base/quantity.hpp"
#include "core/decode/decoder.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic::app {

void WaveView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().sheet);
    p.setPen(theme().hairline);
    p.drawRect(rect().adjusted(0, 0, -1, -1));
    if (rows_.empty()) {
        p.setPen(theme().ink2);
        p.setFont(text_font(13));
        const auto text = capture_ && !capture_->problem.empty() ? to_q(capture_->problem)
                          : capture_ && !capture_->under_way.empty()
                              ? tr("Reading “%1” …").arg(to_q(capture_->ref.title))
                          : !empty_.isEmpty() ? empty_
                                              : tr("No capture yet. Drop one here, or choose Add capture.");
        p.drawText(rect().adjusted(24, 24, -24, -24), Qt::AlignCenter | Qt::TextWordWrap, text);
        return;
    }
    const auto box = plot();
    const double bottom = words_box().bottom();
    draw_time_axis(p, QRectF(box.left(), 2, box.width(), axis_band()), window().from.seconds(),
                   window().to.seconds(),
                   {true, QRectF(box.left(), box.top(), box.width(), bottom - box.top()), 120});
    p.setPen(theme().hairline);
    p.drawLine(QPointF(box.left() - 0.5, 1), QPointF(box.left() - 0.5, height() - 2));
    p.save();
    p.setClipRect(QRectF(0, box.top() - 2, width() - 1, bottom - box.top() + 6));
    paint_marks(p);
    paint_rows(p);
    paint_breaches(p);
    for (std::size_t i = 0; i < lanes_.size() && i < 5; ++i) {
        const auto all = words_box();
        const double top = i == 0 ? all.top() : all.top() + 50 + 26 * static_cast<double>(i - 1);
        paint_lane(p, lanes_[i], QRectF(all.left(), top, all.width(), i == 0 ? 50 : 26), i == 0);
    }
    paint_moments(p);
    paint_cursors(p);
    p.restore();
    paint_hover(p);
    if (hasFocus()) {
        p.setPen(QPen(theme().slate, 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

double WaveView::axis_band() {
    return 22.0;
}

void WaveView::paint_rows(QPainter& p) {
    const double h = row_height();
    p.save();
    p.setClipRect(QRectF(0, plot().top() - 2, plot().right(), words_box().top() - 3 - plot().top() + 2),
                  Qt::IntersectClip);
    for (int i = top_; i < std::min(row_count(), top_ + rows_in_view()); ++i) {
        const auto& row = rows_[static_cast<std::size_t>(i)];
        const double top = plot().top() + h * (i - top_);
        if (i == row_) p.fillRect(QRectF(1, top + 1, plot().left() - 2, h - 2), theme().selection);
        if (i > top_) {
            p.setPen(theme().hairline);
            p.drawLine(QPointF(0, top), QPointF(width(), top));
        }
        // Rows too low for two lines keep the name; the pin stands in the menu that a click opens.
        const bool low = h < 38.0;
        p.setPen(theme().ink);
        p.setFont(text_font(13, true));
        draw_text(p, QRectF(12, low ? top + h / 2 - 9 : top + h / 2 - 18, 72, 18), Qt::AlignVCenter,
                  row.name);
        draw_driver(p, QPointF(98, low ? top + h / 2 : top + h / 2 - 8), row.driver);
        if (!low) {
            p.setPen(theme().ink2);
            p.setFont(figure_font(11));
            draw_text(p, QRectF(12, top + h / 2, 90, 16), Qt::AlignVCenter, row.pin);
        }
        if (row.analogue)
            paint_analogue(p, row, row_box(i));
        else
            draw_wave(p, *row.waveform, window(), row_box(i), theme().driver(row.driver));
    }
    p.restore();
}

/// Least and greatest of each pixel column: what is drawn costs pixels, not samples.
void WaveView::paint_analogue(QPainter& p, const Row& row, const QRectF& box) {
    const auto& a = *row.analogue;
    const auto whole = a.range(0, a.size());
    const double span = std::max(1e-12, static_cast<double>(whole.high) - static_cast<double>(whole.low));
    const auto y_of = [&](double v) {
        return box.bottom() - box.height() * (v - static_cast<double>(whole.low)) / span;
    };
    p.setPen(QPen(theme().driver(row.driver), 1));
    std::optional<QPointF> last;
    for (int x = static_cast<int>(box.left()); x < static_cast<int>(box.right()); ++x) {
        const double from = a.sample_at(time_at(x)), to = a.sample_at(time_at(x + 1));
        if (to < 0 || from > static_cast<double>(a.size())) continue;
        const auto first = static_cast<std::size_t>(std::max(0.0, std::floor(from)));
        const auto end =
            std::min(a.size(), std::max(first + 1, static_cast<std::size_t>(std::max(0.0, std::ceil(to)))));
        if (first >= end) continue;
        const auto r = a.range(first, end);
        const QPointF top(x + 0.5, y_of(r.high)), bottom(x + 0.5, y_of(r.low));
        if (last)
            p.drawLine(*last,
                       std::abs(last->y() - top.y()) < std::abs(last->y() - bottom.y()) ? top : bottom);
        p.drawLine(top, bottom);
        last = QPointF(x + 0.5, y_of(a.samples()[end - 1]));
    }
}

namespace {

/// What stands on a word's plate: what its family calls it, else its value.
QString word_text(const Frame& f) {
    for (const char* key : {"pid", "bytes"})
        if (const auto it = f.extra.find(key); it != f.extra.end())
            if (const auto* text = std::get_if<std::string>(&it->second)) return to_q(*text);
    return f.value ? QStringLiteral("0x%1").arg(static_cast<qulonglong>(*f.value), 0, 16)
                   : QStringLiteral("?");
}

}  // namespace

void WaveView::paint_lane(QPainter& p, const Lane& shown, const QRectF& lane, bool first) {
    p.setPen(theme().hairline);
    p.drawLine(QPointF(0, lane.top() - 3), QPointF(width(), lane.top() - 3));
    p.setPen(theme().ink);
    p.setFont(text_font(first ? 13 : 12, true));
    draw_text(p, QRectF(12, lane.top() + (first ? 4 : 2), 104, 18), Qt::AlignVCenter, shown.title);
    p.setPen(theme().ink2);
    p.setFont(text_font(11));
    if (first) draw_text(p, QRectF(12, lane.top() + 22, 104, 16), Qt::AlignVCenter, shown.about);
    if (!shown.decoding) {
        if (!first) draw_text(p, lane.adjusted(8, 0, -8, -4), Qt::AlignVCenter, tr("can't be read"));
        return;
    }
    p.save();
    p.setClipRect(lane.adjusted(0, -2, 0, first ? 8 : 0), Qt::IntersectClip);
    const auto& frames = shown.decoding->frames;
    auto it = std::lower_bound(frames.begin(), frames.end(), window().from,
                               [](const Frame& f, Time t) { return f.end < t; });
    while (it != frames.end() && it->start <= window().to) {
        const double x0 = x_of(it->start);
        const double next_x = it + 1 != frames.end() ? x_of((it + 1)->start) : lane.right();
        // Words of one moment take the room until the next one.
        const bool moment = it->start == it->end && !it->levels.empty();
        if (x_of(it->end) - x0 >= 3.0 || (moment && next_x - x0 >= 12.0)) {
            paint_word(p, *it++, shown.bits, lane, next_x, !first);
            continue;
        }
        // A whole word in under three pixels: one tick stands for all that begin within two.
        const auto next = std::lower_bound(it + 1, frames.end(), time_at(x0 + 2.0),
                                           [](const Frame& f, Time t) { return f.start < t; });
        // Errors are looked for among a few: painting must not cost more than pixels.
        const bool bad = std::any_of(it, std::min(next, it + std::min<std::ptrdiff_t>(16, next - it)),
                                     [](const Frame& f) { return !f.errors.empty(); });
        p.fillRect(QRectF(x0, lane.top() + (first ? 12 : 4), 2, first ? 22 : 14),
                   bad ? theme().oxide : theme().ink2);
        it = next;
    }
    p.restore();
}

void WaveView::paint_word(QPainter& p, const Frame& frame, const std::vector<std::string>& names,
                          const QRectF& lane, double next_x, bool slim) {
    const auto n = frame.levels.size();
    const bool bad = !frame.errors.empty();
    const auto plate = [&](double left, double wide) {
        const QRectF box(left, lane.top() + (slim ? 1 : 8), std::max(3.0, wide), slim ? 19 : 28);
        p.fillRect(box, theme().selection);
        p.setPen(bad ? theme().oxide : theme().hairline);
        p.setBrush(Qt::NoBrush);
        p.drawRect(box);
        const auto text = word_text(frame);
        p.setFont(figure_font(11));
        if (p.fontMetrics().horizontalAdvance(text) + 4 >= box.width()) return;
        p.setPen(bad ? theme().oxide : theme().ink);
        p.drawText(box, Qt::AlignCenter, text);
    };
    const double x0 = x_of(frame.start), x1 = x_of(frame.end);
    if (slim || n == 0 || frame.bit_times.empty() || frame.bit_times.front() == frame.bit_times.back() ||
        frame.extra.count("pid") > 0)
        return plate(x0, std::max(x1, std::min(next_x - 2, x0 + (slim ? 0 : 96))) - x0);
    const double first = x_of(frame.bit_times.front());
    const double last = x_of(frame.bit_times.back());
    const double step = n > 1 ? (last - first) / static_cast<double>(n - 1) : 24.0;
    // Bits too narrow for names: the word as one plate with its value.
    if (step < 9.0) return plate(first - step / 2, last - first + step);
    const double w = std::min(step - 2.0, 34.0);
    for (std::size_t i = 0; i < n; ++i) {
        const double x = x_of(frame.bit_times[i]);
        if (x + w < lane.left() || x - w > lane.right()) continue;
        const QRectF tile(x - w / 2, lane.top() + 6, w, 34);
        const bool high = frame.levels[i] == '1';
        p.fillRect(tile, high ? theme().selection : theme().ink);
        if (bad) {
            p.setPen(theme().oxide);
            p.setBrush(Qt::NoBrush);
            p.drawRect(tile);
        }
        p.setPen(high ? theme().ink : theme().sheet);
        if (w >= 14.0) {
            p.setFont(text_font(11, true));
            const auto name = i < names.size() ? to_q(names[i]) : QString::number(i);
            p.drawText(QRectF(tile.left() - 6, tile.top() + 1, tile.width() + 12, 16), Qt::AlignCenter, name);
        }
        p.setFont(figure_font(11));
        p.drawText(QRectF(tile.left(), tile.top() + (w >= 14.0 ? 17 : 9), tile.width(), 15), Qt::AlignCenter,
                   QString(QLatin1Char(frame.levels[i])));
    }
}

/// A bar in the stop colour below each stretch that the contract does not allow.
void WaveView::paint_breaches(QPainter& p) {
    for (int i = top_; i < std::min(row_count(), top_ + rows_in_view()); ++i) {
        const auto& path = rows_[static_cast<std::size_t>(i)].path;
        const auto box = row_box(i);
        double done = -1;
        auto it = std::lower_bound(breaches_.begin(), breaches_.end(), window().from - longest_breach_,
                                   [](const Breach& b, Time t) { return b.where.from < t; });
        for (; it != breaches_.end() && it->where.from <= window().to; ++it) {
            if (it->path != path) continue;
            const double x0 = x_of(it->where.from), x1 = std::max(x0 + 3, x_of(it->where.to));
            if (x1 < done) continue;  // a pixel that is drawn already
            p.fillRect(QRectF(x0, box.bottom() + 2, x1 - x0, 3), theme().oxide);
            done = x1;
        }
    }
}

/// What was pressed when, as brackets at the top.
void WaveView::paint_moments(QPainter& p) {
    p.setFont(text_font(11));
    for (const auto& m : capture_->ref.moments) {
        if (m.to < window().from || m.from > window().to) continue;
        const double x0 = x_of(std::max(m.from, window().from)), x1 = x_of(std::min(m.to, window().to)),
                     y = plot().top() + 0.5;
        p.setPen(QPen(theme().brass, 2));
        p.drawLine(QPointF(x0, y), QPointF(x1, y));
        p.drawLine(QPointF(x0, y), QPointF(x0, y + 6));
        p.drawLine(QPointF(x1, y), QPointF(x1, y + 6));
        const auto text = m.pressed.empty() ? tr("at rest") : to_q(m.pressed);
        if (p.fontMetrics().horizontalAdvance(text) + 8 < x1 - x0) {
            p.setPen(theme().ink);
            p.drawText(QRectF(x0 + 4, y + 1, x1 - x0 - 8, 14), Qt::AlignLeft | Qt::AlignVCenter, text);
        }
    }
}

void WaveView::paint_marks(QPainter& p) {
    auto it = std::lower_bound(marks_.begin(), marks_.end(), window().from,
                               [](const Interval& m, Time t) { return m.to < t; });
    while (it != marks_.end() && it->from <= window().to) {
        const double x0 = x_of(it->from);
        const double x1 = std::max(x0 + 1.0, x_of(it->to));
        p.fillRect(QRectF(x0, plot().top(), x1 - x0, std::min(plot().height(), row_height() * row_count())),
                   theme().selection);
        it = std::lower_bound(it + 1, marks_.end(), time_at(x1),
                              [](const Interval& m, Time t) { return m.to < t; });
    }
}

void WaveView::paint_cursors(QPainter& p) {
    const double bottom = words_box().bottom();
    const auto line = [&](const std::optional<Time>& t, const QString& label) {
        if (!t || *t < window().from || *t > window().to) return;
        const double x = std::round(x_of(*t)) + 0.5;
        p.setPen(QPen(theme().ink, 1, Qt::DashLine));
        p.drawLine(QPointF(x, plot().top()), QPointF(x, bottom));
        p.fillRect(QRectF(x - 7, plot().top() - 1, 14, 14), theme().ink);
        p.setPen(theme().sheet);
        p.setFont(text_font(11, true));
        p.drawText(QRectF(x - 7, plot().top() - 1, 14, 14), Qt::AlignCenter, label);
    };
    line(cursors_.a, QStringLiteral("A"));
    line(cursors_.b, QStringLiteral("B"));
    if (!cursors_.a || !cursors_.b) return;
    const double xa = x_of(std::clamp(*cursors_.a, window().from, window().to));
    const double xb = x_of(std::clamp(*cursors_.b, window().from, window().to));
    const Time d = *cursors_.b - *cursors_.a;
    const auto text = tr("A to B %1").arg(to_q(print(d, 4)));
    p.setFont(figure_font(12));
    const double w = p.fontMetrics().horizontalAdvance(text) + 16;
    const double x = std::clamp((xa + xb) / 2 - w / 2, plot().left() + 2, plot().right() - w - 2);
    const QRectF plate(x, plot().top() + 18, w, 20);
    p.fillRect(plate, theme().ink);
    p.setPen(theme().sheet);
    p.drawText(plate, Qt::AlignCenter, text);
}

/// What stands under the pointer: the pulse and its length.
void WaveView::paint_hover(QPainter& p) {
    if (!hover_ || dragging_ || hover_->x() < plot().left()) return;
    const int row = row_at(hover_->y());
    const auto* waveform = waveform_of(row);
    if (waveform == nullptr || waveform->edges().empty()) return;
    const Time t = time_at(hover_->x());
    const auto after = waveform->edges_until(t);
    const auto edges = waveform->edges();
    if (after == 0 || after >= edges.size()) return;
    const auto text = tr("%1 %2 for %3")
                          .arg(name_of(row), waveform->level_after(after) ? tr("high") : tr("low"),
                               to_q(print(edges[after] - edges[after - 1], 4)));
    p.setFont(figure_font(11));
    const double w = p.fontMetrics().horizontalAdvance(text) + 12;
    const double x = std::clamp(hover_->x() + 12, plot().left(), plot().right() - w);
    const QRectF plate(x, row_box(row).bottom() + 2, w, 17);
    p.fillRect(plate, theme().panel);
    p.setPen(theme().hairline);
    p.drawRect(plate);
    p.setPen(theme().ink);
    p.drawText(plate, Qt::AlignCenter, text);
}

}  // namespace grayrelic::app
