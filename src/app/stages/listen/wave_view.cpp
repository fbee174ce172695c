// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/wave_view.hpp"

#include <QMouseEvent>
#include <QScrollBar>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

#include "app/widgets/view_keys.hpp"
#include "core/base/quantity.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/signal/line_health.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic::app {
namespace {

constexpr double header_width = 118.0;
constexpr double axis_height = 26.0;
constexpr double first_lane = 58.0;    ///< with names of bits
constexpr double further_lane = 26.0;  ///< values only
constexpr double snap_pixels = 12.0;
constexpr Time least_window = Time::ns(10);

}  // namespace

WaveView::WaveView(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Waves"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    scroll_ = new QScrollBar(Qt::Vertical, this);
    scroll_->setAccessibleName(tr("Further signals"));
    scroll_->setFocusPolicy(Qt::NoFocus);
    scroll_->hide();
    connect(scroll_, &QScrollBar::valueChanged, this, [this](int value) {
        top_ = value;
        update();
    });
    add_keys();
}

void WaveView::show_capture(std::shared_ptr<const CaptureAnalysis> capture, const Dossier& dossier) {
    const bool same =
        capture_ && capture && capture_->ref.id == capture->ref.id && capture_->capture == capture->capture;
    const bool read_anew = same && !(capture_->ref.decode == capture->ref.decode);
    capture_ = std::move(capture);
    if (!same || !shown_) {
        hiding_.cancel();
        shown_ = capture_ ? capture_->capture : nullptr;
        if (shown_ && hidden_chatter_) take_chatter_out();
    }
    fill_rows(dossier);
    fill_lanes();
    if (!same) {
        cursors_ = {};
        marks_.clear();
        breaches_.clear();
        mark_ = -1;
        row_ = 0;
        // The clock says most about a conversation; without a decoder, the busiest signal.
        for (int i = 1; i < row_count(); ++i)
            if (waveform_of(i)->edges().size() > waveform_of(row_)->edges().size()) row_ = i;
        fit();
        Q_EMIT cursors_changed();
        Q_EMIT row_changed();
    }
    setAccessibleDescription(tr("%1 signals").arg(rows_.size()));
    fit_scroll_bar();
    select_row(read_anew ? 0 : row_);  // the link's lines stand on top
    update();
}

void WaveView::hide_chatter(std::optional<Time> within) {
    if (within == hidden_chatter_) return;
    hidden_chatter_ = within;
    if (!capture_ || !capture_->capture) return;
    if (within) return take_chatter_out();
    hiding_.cancel();
    show_instead(capture_->capture);
}

/// Goes through the whole capture: beside the window, which shows all of it until then.
void WaveView::take_chatter_out() {
    hiding_.ask([whole = capture_->capture, within = *hidden_chatter_](
                    Progress&) { return std::make_shared<const Capture>(without_chatter(*whole, within)); },
                [this](const std::shared_ptr<const Capture>& calm) { show_instead(calm); });
}

void WaveView::show_instead(std::shared_ptr<const Capture> capture) {
    shown_ = std::move(capture);
    for (auto& row : rows_)
        for (const auto& s : shown_->signals)
            if (QString::fromStdString(s.name) == row.path) row.waveform = s.digital;
    update();
    Q_EMIT row_changed();
}

void WaveView::set_breaches(std::vector<Breach> breaches) {
    breaches_ = std::move(breaches);
    longest_breach_ = {};
    for (const auto& b : breaches_) longest_breach_ = std::max(longest_breach_, b.where.length());
    update();
}

void WaveView::fit() {
    if (!capture_ || !capture_->capture) return;
    time_.set_whole(capture_->capture->extent, least_window);
    set_window(capture_->capture->extent);
}

void WaveView::set_window(Span w) {
    if (!capture_ || !capture_->capture) return;
    // A capture that is still being read, or recorded, grows.
    time_.set_whole(capture_->capture->extent, least_window);
    if (time_.set(w)) moved();
}

void WaveView::moved() {
    update();
    Q_EMIT window_changed();
}

void WaveView::center_on(Time t, Time width) {
    set_window({t - width / 2, t - width / 2 + width});
}

void WaveView::zoom(double factor, std::optional<Time> at) {
    const auto w = window();
    const double share = at ? static_cast<double>((*at - w.from).count()) /
                                  std::max(1.0, static_cast<double>(w.length().count()))
                            : 0.5;
    if (time_.zoom(factor, share)) moved();
}

void WaveView::set_cursors(Cursors c) {
    cursors_ = c;
    update();
    Q_EMIT cursors_changed();
}

void WaveView::select_row(int row) {
    if (rows_.empty()) return;
    row_ = std::clamp(row, 0, row_count() - 1);
    if (row_ < top_) scroll_->setValue(row_);
    if (row_ >= top_ + rows_in_view()) scroll_->setValue(row_ - rows_in_view() + 1);
    update();
    Q_EMIT row_changed();
}

const DigitalWaveform* WaveView::waveform_of(int row) const {
    return row >= 0 && row < row_count() ? rows_[static_cast<std::size_t>(row)].waveform.get() : nullptr;
}

QString WaveView::name_of(int row) const {
    return row >= 0 && row < row_count() ? rows_[static_cast<std::size_t>(row)].name : QString();
}

void WaveView::set_marks(std::vector<Interval> marks) {
    marks_ = std::move(marks);
    mark_ = -1;
    update();
}

void WaveView::step_mark(int direction) {
    if (marks_.empty()) return;
    const int n = static_cast<int>(marks_.size());
    mark_ = mark_ < 0 ? (direction > 0 ? 0 : n - 1) : (mark_ + direction + n) % n;
    const auto& m = marks_[static_cast<std::size_t>(mark_)];
    cursors_ = {m.from, m.to};
    const Time width = std::max(m.length() * 24, std::min(window().length(), m.length() * 240));
    center_on(m.from + m.length() / 2, width);
    update();
    Q_EMIT cursors_changed();
}

QRectF WaveView::plot() const {
    const double bar = scroll_->isHidden() ? 0.0 : scroll_->width() + 2.0;
    return QRectF(header_width, axis_height, std::max(10.0, width() - header_width - 8 - bar),
                  height() - axis_height - words_height() - 4);
}
QRectF WaveView::words_box() const {
    return QRectF(header_width, height() - words_height(), plot().width(), words_height() - 8);
}
double WaveView::words_height() const {
    return first_lane + further_lane * static_cast<double>(
                                           lanes_.empty() ? 0 : std::min<std::size_t>(lanes_.size() - 1, 4));
}
double WaveView::row_height() const {
    return rows_.empty() ? 60.0 : std::clamp(plot().height() / static_cast<double>(rows_.size()), 30.0, 72.0);
}

int WaveView::rows_in_view() const {
    return std::max(1, static_cast<int>(plot().height() / row_height() + 0.01));
}

void WaveView::fit_scroll_bar() {
    const int beyond = std::max(0, row_count() - rows_in_view());
    scroll_->setVisible(beyond > 0);
    scroll_->setRange(0, beyond);
    scroll_->setPageStep(rows_in_view());
    const int wide = scroll_->sizeHint().width();
    scroll_->setGeometry(width() - wide - 1, static_cast<int>(axis_height), wide,
                         height() - static_cast<int>(axis_height + words_height()) - 4);
}

void WaveView::resizeEvent(QResizeEvent*) {
    fit_scroll_bar();
}

QRectF WaveView::row_box(int row) const {
    const double h = row_height();
    const double top = plot().top() + h * (row - top_);
    const double wave = std::min(32.0, h - 14.0);
    return {plot().left(), top + (h - wave) / 2.0, plot().width(), wave};
}

int WaveView::row_at(double y) const {
    if (y < plot().top() || y > words_box().top() - 3) return -1;
    const int row = top_ + static_cast<int>(std::floor((y - plot().top()) / row_height()));
    return row >= 0 && row < row_count() ? row : -1;
}

double WaveView::x_of(Time t) const {
    return time_.x_of(t, plot().left(), plot().width());
}

Time WaveView::time_at(double x) const {
    return time_.time_at(x, plot().left(), plot().width());
}

Time WaveView::snap(QPointF at) const {
    const Time t = time_at(at.x());
    const auto* waveform = waveform_of(row_at(at.y()));
    if (waveform == nullptr) return t;
    const auto edge = nearest_edge(*waveform, t);
    return edge && std::abs(x_of(*edge) - at.x()) <= snap_pixels ? *edge : t;
}

void WaveView::step_cursor(bool second, int direction) {
    const auto* waveform = waveform_of(row_);
    if (waveform == nullptr) return;
    auto c = cursors_;
    auto& cursor = second ? c.b : c.a;
    const Time from = cursor.value_or(window().from + window().length() / 2);
    const auto edges = waveform->edges();
    const auto i = direction > 0 ? waveform->edges_until(from) : waveform->edges_before(from);
    if (direction > 0 ? i >= edges.size() : i == 0) return;
    cursor = direction > 0 ? edges[i] : edges[i - 1];
    set_cursors(c);
    if (*cursor < window().from || *cursor > window().to) center_on(*cursor, window().length());
}

void WaveView::wheelEvent(QWheelEvent* e) {
    if (time_.wheel(*e, plot().left(), plot().width())) moved();
    e->accept();
}

void WaveView::mousePressEvent(QMouseEvent* e) {
    if (e->button() != Qt::LeftButton) return;
    const int row = row_at(e->position().y());
    if (row >= 0) select_row(row);
    if (e->position().x() < header_width) {
        if (row >= 0)
            Q_EMIT pin_menu_wanted(rows_[static_cast<std::size_t>(row)].path, e->globalPosition().toPoint());
        return;
    }
    pressed_ = e->position();
    pressed_window_ = window();
    dragging_ = false;
}

void WaveView::mouseMoveEvent(QMouseEvent* e) {
    hover_ = e->position();
    if (pressed_ && (e->buttons() & Qt::LeftButton) != 0) {
        const double dx = e->position().x() - pressed_->x();
        if (std::abs(dx) > 4.0) dragging_ = true;
        if (dragging_) {
            setCursor(Qt::ClosedHandCursor);
            const Time by = Time::ps(
                std::llround(dx / plot().width() * static_cast<double>(pressed_window_.length().count())));
            set_window({pressed_window_.from - by, pressed_window_.to - by});
        }
    }
    update();
}

void WaveView::mouseReleaseEvent(QMouseEvent* e) {
    if (e->button() != Qt::LeftButton || !pressed_) return;
    if (!dragging_) {
        auto c = cursors_;
        ((e->modifiers() & Qt::ShiftModifier) != 0 ? c.b : c.a) = snap(e->position());
        set_cursors(c);
    }
    pressed_.reset();
    dragging_ = false;
    unsetCursor();
}

void WaveView::leaveEvent(QEvent*) {
    hover_.reset();
    update();
}

void WaveView::add_keys() {
    const auto group = tr("Waves");
    const auto key = [&](const QString& text, std::initializer_list<const char*> keys,
                         std::function<void()> run) {
        add_view_key(this, group, text, keys, std::move(run));
    };
    // At the first cursor, while it is in view.
    const auto at = [this] {
        const auto w = window();
        return cursors_.a && w.contains(*cursors_.a) ? static_cast<double>((*cursors_.a - w.from).count()) /
                                                           static_cast<double>(w.length().count())
                                                     : 0.5;
    };
    add_time_keys(this, group, {&time_, [this] { moved(); }, at});
    key(tr("Signal above"), {"Up"}, [this] { select_row(row_ - 1); });
    key(tr("Signal below"), {"Down"}, [this] { select_row(row_ + 1); });
    key(tr("Cursor A to the edge before"), {"["}, [this] { step_cursor(false, -1); });
    key(tr("Cursor A to the next edge"), {"]"}, [this] { step_cursor(false, 1); });
    key(tr("Cursor B to the edge before"), {"{", "Shift+{", "Shift+["}, [this] { step_cursor(true, -1); });
    key(tr("Cursor B to the next edge"), {"}", "Shift+}", "Shift+]"}, [this] { step_cursor(true, 1); });
    key(tr("Next marked edge"), {"N"}, [this] { step_mark(1); });
    key(tr("Previous marked edge"), {"Shift+N"}, [this] { step_mark(-1); });
    key(tr("Mark what was pressed from A to B"), {"M"}, [this] {
        if (cursors_.a && cursors_.b) Q_EMIT moment_wanted();
    });
    key(tr("Pin of the signal"), {"P"}, [this] {
        if (row_ < row_count())
            Q_EMIT pin_menu_wanted(rows_[static_cast<std::size_t>(row_)].path,
                                   mapToGlobal(row_box(row_).bottomLeft().toPoint()));
    });
    key(tr("Remove the cursors"), {"Esc"}, [this] { set_cursors({}); });
}

}  // namespace grayrelic::app
