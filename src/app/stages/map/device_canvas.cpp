// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/device_canvas.hpp"

#include <QDropEvent>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/stages/map/small_text.hpp"
#include "core/input/map_analysis.hpp"
#include "core/input/meaning.hpp"

namespace grayrelic::app {
namespace {

constexpr double gap = 0.06;  // between keys, in key widths

/// Keys are narrow: the words that stand on nearly every one are shortened; the tooltip has them whole.
QString short_words(QString text) {
    for (const auto& [whole, cut] :
         {std::pair("left control", "ctrl"), std::pair("left shift", "shift"), std::pair("left alt", "alt"),
          std::pair("right alt", "alt gr"), std::pair("pad slash", "pad ÷"), std::pair("pad times", "pad ×"),
          std::pair("pad minus", "pad −"), std::pair("pad plus", "pad +"), std::pair("pad dot", "pad ."),
          std::pair("pad enter", "pad ↵"), std::pair("print screen", "print"), std::pair("backspace", "back"),
          std::pair(" + ", "+")})
        text.replace(QString::fromUtf8(whole), QString::fromUtf8(cut));
    return text;
}

QString meaning_said(const std::string& text) {
    if (text.empty()) return {};
    const auto m = parse_meaning(text);
    if (!m) return QObject::tr("not readable");
    if (m->kind == MeaningKind::text) return to_q(m->text);
    if (m->kind == MeaningKind::nothing) return QObject::tr("nothing");
    return short_words(to_q(say_meaning(*m)));
}

QString code_said(const MapKey& k) {
    if (!k.code.value.empty()) return to_q(k.code.value);
    if (!k.row.empty()) return to_q(k.row + " × " + k.column);
    return k.kind == ControlKind::lamp ? QObject::tr("lamp") : QObject::tr("code ?");
}

}  // namespace

DeviceCanvas::DeviceCanvas(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(240, 150);
    setAcceptDrops(true);
    setAccessibleName(tr("The old device"));
    plane_.set_limits(16, 220);
    add_plane_keys(this, tr("Old device"),
                   {&plane_,
                    [this] {
                        fitted_ = false;
                        update();
                    },
                    [this] { fit(); }});
}

void DeviceCanvas::show_map(const DeviceMap& map, std::shared_ptr<const MapAnalysis> analysis,
                            const std::string& chosen) {
    const bool other = map.keys.size() != map_.keys.size();
    map_ = map;
    analysis_ = std::move(analysis);
    chosen_ = chosen;
    if (other || fitted_) fit();
    update();
}

QRectF DeviceCanvas::whole() const {
    QRectF all;
    for (const auto& k : map_.keys) all = all.united(QRectF(k.x, k.y, k.width, k.height));
    return all.isEmpty() ? QRectF(0, 0, 1, 1) : all;
}

void DeviceCanvas::fit() {
    fitted_ = true;
    plane_.fit(whole(), size(), 0.25);
    if (plane_.scale() > 110) {
        const auto all = whole();
        plane_.set(110, rect().center() - all.center() * 110);
    }
    update();
}

QRectF DeviceCanvas::rect_of(const std::string& id) const {
    const auto* k = map_.find_key(id);
    if (k == nullptr) return {};
    QRectF r(plane_.to_view({k->x + gap / 2, k->y + gap / 2}),
             QSizeF(k->width - gap, k->height - gap) * plane_.scale());
    if (dragging_ && id == chosen_) r.translate(drag_by_);
    return r;
}

std::string DeviceCanvas::key_at(QPointF at) const {
    for (auto it = map_.keys.rbegin(); it != map_.keys.rend(); ++it)
        if (rect_of(it->id).contains(at)) return it->id;
    return {};
}

void DeviceCanvas::set_pressing(bool on) {
    pressing_ = on;
    if (on) setFocus();
    update();
}

void DeviceCanvas::paint_key(QPainter& p, const MapKey& k) const {
    const auto r = rect_of(k.id);
    if (!r.intersects(rect())) return;
    const auto& t = theme();
    const bool is_chosen = k.id == chosen_;
    p.setPen(QPen(is_chosen       ? t.ink
                  : k.id == over_ ? t.slate
                                  : t.hairline,
                  is_chosen || k.id == over_ ? 2 : 1));
    p.setBrush(is_chosen ? t.selection : t.panel);
    if (k.kind == ControlKind::key || k.kind == ControlKind::lamp)
        p.drawRect(r);
    else
        p.drawRoundedRect(r, 3, 3);
    const auto* view = analysis_ ? analysis_->coverage.find(k.id) : nullptr;
    const bool room = r.height() >= 44;
    const double line = room ? std::min(17.0, (r.height() - 6) / 3) : (r.height() - 4) / 2;
    const int size = std::clamp(static_cast<int>(line) - 4, 8, 13);
    QRectF box = r.adjusted(4, 2, -4, -2);
    p.setPen(t.umber);
    const bool sign = view != nullptr && view->state != Verdict::holds;
    draw_small_text(p, QRectF(box.left(), box.top(), box.width() - (sign ? 12 : 0), line),
                    Qt::AlignLeft | Qt::AlignVCenter, to_q(k.legend), size, true);
    if (sign) draw_verdict(p, {box.right() - 3, box.top() + line / 2}, view->state);
    if (room) {
        p.setPen(t.ink2);
        p.setFont(figure_font(std::max(8, size - 2)));
        draw_text(p, QRectF(box.left(), box.top() + line, box.width(), line),
                  Qt::AlignLeft | Qt::AlignVCenter, code_said(k));
    }
    const auto meaning = meaning_said(k.meaning);
    p.setPen(t.slate);
    draw_small_text(p, QRectF(box.left(), box.bottom() - line, box.width(), line),
                    Qt::AlignRight | Qt::AlignVCenter, meaning, std::max(8, size - 1));
}

void DeviceCanvas::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().sheet);
    for (const auto& k : map_.keys)
        if (k.id != chosen_) paint_key(p, k);
    if (const auto* k = map_.find_key(chosen_)) paint_key(p, *k);
    if (hasFocus()) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(pressing_ ? theme().brass : theme().slate, 1));
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

bool DeviceCanvas::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && pressing_) {
        event->accept();
        return true;
    }
    // The arrows choose a key here; the view itself is moved by the wheel and by dragging.
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->modifiers() == Qt::NoModifier && key->key() >= Qt::Key_Left && key->key() <= Qt::Key_Down) {
            event->accept();
            return true;
        }
    }
    // Tab is a key like the others while pressing.
    if (event->type() == QEvent::KeyPress && pressing_) {
        keyPressEvent(static_cast<QKeyEvent*>(event));
        return true;
    }
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const auto* k = map_.find_key(key_at(help->pos()));
        if (k == nullptr) {
            QToolTip::hideText();
            return true;
        }
        QStringList says{to_q(k->legend.empty() ? k->id : k->legend), code_said(*k)};
        if (const auto m = parse_meaning(k->meaning)) says << to_q(say_meaning(*m));
        if (analysis_)
            for (const auto& g : analysis_->coverage.gaps)
                if (std::find(g.keys.begin(), g.keys.end(), k->id) != g.keys.end()) says << to_q(g.says);
        for (auto& line : says) line = line.toHtmlEscaped();
        QToolTip::showText(help->globalPos(),
                           QStringLiteral("<p>") + says.join(QStringLiteral("<br>")) + QStringLiteral("</p>"),
                           this);
        return true;
    }
    return QWidget::event(event);
}

void DeviceCanvas::resizeEvent(QResizeEvent*) {
    if (fitted_) fit();
}

void DeviceCanvas::wheelEvent(QWheelEvent* event) {
    fitted_ = false;
    plane_.wheel(*event);
    update();
    event->accept();
}

void DeviceCanvas::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    const auto id = key_at(event->position());
    dragged_from_ = event->position();
    drag_by_ = {};
    dragging_ = false;
    if (!id.empty()) Q_EMIT chosen(to_q(id));
}

void DeviceCanvas::mouseMoveEvent(QMouseEvent* event) {
    if ((event->buttons() & Qt::LeftButton) == 0) return;
    const auto by = event->position() - dragged_from_;
    if (event->modifiers() & Qt::AltModifier) {
        if (!dragging_ && by.manhattanLength() < 6) return;
        dragging_ = map_.find_key(chosen_) != nullptr;
        drag_by_ = by;
    } else if (!dragging_ && key_at(dragged_from_).empty()) {
        fitted_ = false;
        plane_.pan(by);
        dragged_from_ = event->position();
    }
    update();
}

void DeviceCanvas::mouseReleaseEvent(QMouseEvent*) {
    if (!dragging_) return;
    dragging_ = false;
    const auto* k = map_.find_key(chosen_);
    if (k == nullptr) return;
    // To quarters of a key, as keys are laid out.
    const auto place = [&](double at, double by) { return std::round((at + by / plane_.scale()) * 4) / 4; };
    Q_EMIT moved(to_q(chosen_), place(k->x, drag_by_.x()), place(k->y, drag_by_.y()));
}

void DeviceCanvas::mouseDoubleClickEvent(QMouseEvent* event) {
    const auto id = key_at(event->position());
    if (!id.empty()) Q_EMIT opened(to_q(id));
}

/// The nearest key in that direction.
void DeviceCanvas::step(double dx, double dy) {
    const auto* from = map_.find_key(chosen_);
    if (from == nullptr) {
        if (!map_.keys.empty()) Q_EMIT chosen(to_q(map_.keys.front().id));
        return;
    }
    const QPointF middle(from->x + from->width / 2, from->y + from->height / 2);
    const MapKey* best = nullptr;
    double least = 1e9;
    for (const auto& k : map_.keys) {
        const QPointF by = QPointF(k.x + k.width / 2, k.y + k.height / 2) - middle;
        const double along = by.x() * dx + by.y() * dy,
                     across = std::abs(by.x() * dy) + std::abs(by.y() * dx);
        if (along < 0.25 || along + 2 * across >= least) continue;
        least = along + 2 * across;
        best = &k;
    }
    if (best != nullptr) Q_EMIT chosen(to_q(best->id));
}

void DeviceCanvas::keyPressEvent(QKeyEvent* event) {
    if (pressing_) {
        Q_EMIT pressed(event);
        event->accept();
        return;
    }
    switch (event->key()) {
        case Qt::Key_Left: return step(-1, 0);
        case Qt::Key_Right: return step(1, 0);
        case Qt::Key_Up: return step(0, -1);
        case Qt::Key_Down: return step(0, 1);
        case Qt::Key_Return:
        case Qt::Key_Enter:
            if (!chosen_.empty()) Q_EMIT opened(to_q(chosen_));
            return;
        default: QWidget::keyPressEvent(event);
    }
}

void DeviceCanvas::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasFormat(QString::fromLatin1(meaning_mime))) event->acceptProposedAction();
}

void DeviceCanvas::dragMoveEvent(QDragMoveEvent* event) {
    over_ = key_at(event->position());
    event->setAccepted(!over_.empty());
    update();
}

void DeviceCanvas::dropEvent(QDropEvent* event) {
    const auto id = key_at(event->position());
    over_.clear();
    update();
    if (id.empty()) return;
    event->acceptProposedAction();
    Q_EMIT dropped(to_q(id), QString::fromUtf8(event->mimeData()->data(QString::fromLatin1(meaning_mime))));
}

}  // namespace grayrelic::app
