// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/matrix_canvas.hpp"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/stages/map/small_text.hpp"
#include "core/input/map_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr double names_left = 32, names_above = 22;

QString keys_said(const MatrixModel& m, const std::vector<std::size_t>& keys) {
    QStringList out;
    for (const auto k : keys) out << to_q(m.keys[k].name);
    return out.join(QStringLiteral(" + "));
}

}  // namespace

MatrixCanvas::MatrixCanvas(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(220, 130);
    setAccessibleName(tr("The switch matrix"));
}

const MatrixStudy* MatrixCanvas::study() const {
    return analysis_ && analysis_->matrix ? &*analysis_->matrix : nullptr;
}

void MatrixCanvas::show_matrix(std::shared_ptr<const MapAnalysis> analysis) {
    analysis_ = std::move(analysis);
    const auto* s = study();
    const auto keys = s != nullptr ? s->model.keys.size() : 0;
    at_.clear();
    for (std::size_t i = 0; i < keys; ++i)
        at_.emplace(std::pair(s->model.keys[i].row, s->model.keys[i].column), i);
    std::erase_if(held_, [&](auto k) { return k >= keys; });
    update();
}

void MatrixCanvas::hold(std::vector<std::size_t> keys) {
    held_ = std::move(keys);
    update();
    Q_EMIT held_changed();
}

QRectF MatrixCanvas::cell(std::size_t row, std::size_t column) const {
    const auto* s = study();
    if (s == nullptr || s->model.rows.empty() || s->model.columns.empty()) return {};
    const double w =
        std::min(96.0, (width() - names_left - 4) / static_cast<double>(s->model.columns.size()));
    const double h = std::min(52.0, (height() - names_above - 4) / static_cast<double>(s->model.rows.size()));
    return {names_left + w * static_cast<double>(column), names_above + h * static_cast<double>(row), w, h};
}

std::optional<std::size_t> MatrixCanvas::key_at(std::size_t row, std::size_t column) const {
    const auto it = at_.find({row, column});
    return it == at_.end() ? std::nullopt : std::optional(it->second);
}

bool MatrixCanvas::place_at(QPointF at, std::size_t& row, std::size_t& column) const {
    const auto* s = study();
    if (s == nullptr) return false;
    for (std::size_t r = 0; r < s->model.rows.size(); ++r)
        for (std::size_t c = 0; c < s->model.columns.size(); ++c)
            if (cell(r, c).contains(at)) {
                row = r;
                column = c;
                return true;
            }
    return false;
}

QString MatrixCanvas::says() const {
    const auto* s = study();
    if (s == nullptr) return {};
    if (held_.empty()) return tr("Click keys to hold them.");
    const auto view = scan_view(s->model, held_);
    auto out = tr("%1 held").arg(keys_said(s->model, held_));
    if (!view.ghosts.empty())
        out += tr(": %1 seems closed, too. Blocking firmware leaves out %2.")
                   .arg(keys_said(s->model, view.ghosts), keys_said(s->model, view.blocked));
    else
        out += tr(": read as they are.");
    return out;
}

void MatrixCanvas::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto& t = theme();
    p.fillRect(rect(), t.sheet);
    const auto* s = study();
    if (s == nullptr) return;
    const auto view = scan_view(s->model, held_);
    p.setFont(text_font(11));
    for (std::size_t r = 0; r < s->model.rows.size(); ++r) {
        const auto c = cell(r, 0);
        p.setPen(t.slate);
        draw_text(p, QRectF(2, c.top(), names_left - 6, c.height()), Qt::AlignRight | Qt::AlignVCenter,
                  to_q(s->model.rows[r]));
    }
    for (std::size_t c = 0; c < s->model.columns.size(); ++c) {
        const auto at = cell(0, c);
        p.setPen(t.umber);
        draw_text(p, QRectF(at.left(), 2, at.width(), names_above - 4), Qt::AlignHCenter | Qt::AlignVCenter,
                  to_q(s->model.columns[c]));
    }
    for (std::size_t r = 0; r < s->model.rows.size(); ++r)
        for (std::size_t c = 0; c < s->model.columns.size(); ++c) paint_cell(p, *s, view, r, c);
}

void MatrixCanvas::paint_cell(QPainter& p, const MatrixStudy& s, const ScanView& view, std::size_t r,
                              std::size_t c) const {
    const auto& t = theme();
    const auto in = [](const std::vector<std::size_t>& list, std::size_t k) {
        return std::find(list.begin(), list.end(), k) != list.end();
    };
    const auto box = cell(r, c).adjusted(1, 1, -1, -1);
    const auto key = key_at(r, c);
    const bool here = hasFocus() && r == row_ && c == column_;
    if (!key) {
        p.setPen(QPen(here ? t.slate : t.hairline, here ? 2 : 1, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(box);
        return;
    }
    const bool held = in(held_, *key), ghost = in(view.ghosts, *key);
    const auto edge = here ? t.slate : ghost ? t.oxide : held ? t.ink : t.hairline;
    p.setPen(QPen(edge, here || ghost || held ? 2 : 1));
    p.setBrush(held ? t.selection : t.panel);
    p.drawRect(box);
    p.setPen(ghost ? t.oxide : t.ink);
    draw_small_text(p, box.adjusted(2, 1, -2, -1), Qt::AlignCenter, to_q(s.model.keys[*key].name), 13, held);
    if (ghost) draw_verdict(p, box.topRight() + QPointF(-8, 8), Verdict::stop);
    // A diode: a bar at the key's left side.
    if (s.model.keys[*key].diode)
        p.fillRect(QRectF(box.left() + 2, box.top() + 3, 3, box.height() - 6), t.verdigris);
}

void MatrixCanvas::toggle(std::size_t row, std::size_t column) {
    const auto key = key_at(row, column);
    if (!key) return;
    auto held = held_;
    if (std::erase(held, *key) == 0) held.push_back(*key);
    hold(std::move(held));
}

void MatrixCanvas::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && place_at(event->position(), row_, column_))
        toggle(row_, column_);
}

void MatrixCanvas::mouseDoubleClickEvent(QMouseEvent* event) {
    const auto* s = study();
    if (s == nullptr || !place_at(event->position(), row_, column_)) return;
    if (const auto key = key_at(row_, column_)) Q_EMIT key_opened(to_q(s->model.keys[*key].id));
}

void MatrixCanvas::keyPressEvent(QKeyEvent* event) {
    const auto* s = study();
    if (s == nullptr || s->model.rows.empty() || s->model.columns.empty())
        return QWidget::keyPressEvent(event);
    switch (event->key()) {
        case Qt::Key_Left: column_ -= column_ > 0 ? 1 : 0; break;
        case Qt::Key_Right: column_ = std::min(column_ + 1, s->model.columns.size() - 1); break;
        case Qt::Key_Up: row_ -= row_ > 0 ? 1 : 0; break;
        case Qt::Key_Down: row_ = std::min(row_ + 1, s->model.rows.size() - 1); break;
        case Qt::Key_Space: toggle(row_, column_); break;
        case Qt::Key_Delete:
        case Qt::Key_Backspace: hold({}); break;
        default: return QWidget::keyPressEvent(event);
    }
    update();
}

bool MatrixCanvas::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const auto* s = study();
    std::size_t r = 0, c = 0;
    if (s == nullptr || !place_at(help->pos(), r, c)) {
        QToolTip::hideText();
        return true;
    }
    const auto key = key_at(r, c);
    const auto place = to_q(s->model.rows[r] + " × " + s->model.columns[c]).toHtmlEscaped();
    QToolTip::showText(
        help->globalPos(),
        key ? QStringLiteral("<p>%1<br>%2</p>").arg(to_q(s->model.keys[*key].name).toHtmlEscaped(), place)
            : tr("<p>%1: vacant</p>").arg(place),
        this);
    return true;
}

}  // namespace grayrelic::app
