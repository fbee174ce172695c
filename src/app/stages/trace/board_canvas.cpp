// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/trace/board_canvas.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <QWheelEvent>

#include <array>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"

#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {

namespace {

/// By Ground; the theme is asked once a picture, not once a pixel.
std::array<QRgb, 6> ground_colours() {
    std::array<QRgb, 6> out{};  // outside: clear
    for (const auto& [g, c] :
         {std::pair{Ground::board, theme().sheet}, std::pair{Ground::copper, theme().umber},
          std::pair{Ground::hole, theme().ink}, std::pair{Ground::unknown, theme().oxide},
          std::pair{Ground::silk, theme().ink2}})
        out[static_cast<std::size_t>(g)] = qPremultiply(qRgba(c.red(), c.green(), c.blue(), 235));
    return out;
}

}  // namespace

BoardCanvas::BoardCanvas(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(240, 180);
    setAccessibleName(tr("The board"));
    plane_.set_limits(0.2, 400);
    add_plane_keys(this, tr("Board"), {&plane_, [this] { update(); }, [this] { fit(); }});
}

void BoardCanvas::show_board(std::shared_ptr<const TraceAnalysis> trace, BoardSide side) {
    trace_ = std::move(trace);
    side_ = side;
    scan_.reset();
    if (trace_ && trace_->scan)
        for (std::size_t i = 0; i < trace_->scan->scans.size(); ++i)
            if (trace_->scan->scans[i].side == side && trace_->scan->pixels[i]) {
                scan_ = i;
                break;
            }
    const Raster* pixels = scan_ ? trace_->scan->pixels[*scan_].get() : nullptr;
    if (pixels != pixels_of_) {
        pixels_of_ = pixels;
        // Shares the bytes; the analysis holds them for as long as they are shown.
        picture_ = pixels == nullptr ? QImage()
                                     : QImage(pixels->rgb.data(), pixels->width, pixels->height,
                                              pixels->width * 3, QImage::Format_RGB888)
                                           .copy();
    }
    make_found();
    if (!fitted_) fit();
    update();
}

void BoardCanvas::make_found() {
    const auto* scanned = trace_ && trace_->scan ? trace_->scan->scanned.get() : nullptr;
    if (scanned == found_of_ && side_ == found_side_ && (!found_.isNull() || !found_shown_)) return;
    found_of_ = scanned;
    found_side_ = side_;
    found_ = sight_ = QImage();
    const std::size_t layer = side_ == BoardSide::front ? 0 : 1;
    if (!found_shown_ || scanned == nullptr || layer >= scanned->layers.size()) return;
    const auto& l = scanned->layers[layer];
    // Half the grid is enough to look at.
    const int step = 2;
    found_ = QImage(l.width / step, l.height / step, QImage::Format_ARGB32_Premultiplied);
    const auto colours = ground_colours();
    for (int y = 0; y < found_.height(); ++y) {
        auto* out = reinterpret_cast<QRgb*>(found_.scanLine(y));
        for (int x = 0; x < found_.width(); ++x)
            out[x] = colours[static_cast<std::size_t>(
                l.ground[static_cast<std::size_t>(y * step) * static_cast<std::size_t>(l.width) +
                         static_cast<std::size_t>(x * step)])];
    }
}

void BoardCanvas::show_sight(const ScanSight& sight) {
    if (sight.ground.empty()) return;
    sight_ = QImage(sight.width, sight.height, QImage::Format_ARGB32_Premultiplied);
    const auto colours = ground_colours();
    auto g = sight.ground.begin();
    for (int y = 0; y < sight.height; ++y) {
        auto* out = reinterpret_cast<QRgb*>(sight_.scanLine(y));
        for (int x = 0; x < sight.width; ++x) out[x] = colours[static_cast<std::size_t>(*g++)];
    }
    const double mm = 1.0 / sight.px_per_mm;
    sight_to_mm_ = QTransform(mm, 0, 0, mm, sight.x0_mm, sight.y0_mm);
    update();
}

void BoardCanvas::clear_sight() {
    sight_ = QImage();
    update();
}

BoardWindow BoardCanvas::seen() const {
    const auto a = to_board({0, 0}), b = to_board(QPointF(width(), height()));
    return {std::min(a.x(), b.x()), std::min(a.y(), b.y()), std::max(a.x(), b.x()), std::max(a.y(), b.y())};
}

std::optional<ClickKind> BoardCanvas::said_by(Tool tool) {
    switch (tool) {
        case Tool::copper: return ClickKind::copper;
        case Tool::pad: return ClickKind::pad;
        case Tool::board: return ClickKind::board;
        case Tool::silk: return ClickKind::silk;
        case Tool::hole: return ClickKind::hole;
        default: return std::nullopt;
    }
}

void BoardCanvas::set_tool(Tool tool) {
    tool_ = tool;
    setCursor(tool == Tool::probe ? Qt::ArrowCursor : Qt::CrossCursor);
}

void BoardCanvas::set_found_shown(bool shown) {
    found_shown_ = shown;
    found_of_ = nullptr;
    make_found();
    update();
}

void BoardCanvas::choose(const QString& point) {
    chosen_ = point;
    update();
}

QPointF BoardCanvas::to_widget(double x, double y) const {
    // The back is looked at from behind: left and right change places.
    return plane_.to_view({side_ == BoardSide::back ? -x : x, y});
}

QPointF BoardCanvas::to_board(QPointF at) const {
    const auto p = plane_.to_plane(at);
    return {side_ == BoardSide::back ? -p.x() : p.x(), p.y()};
}

bool BoardCanvas::shown_here(const BoardPoint& p) const {
    return p.place && (!p.place->side || *p.place->side == side_);
}

void BoardCanvas::fit() {
    double x0 = 1e9, y0 = 1e9, x1 = -1e9, y1 = -1e9;
    const auto note = [&](double x, double y) {
        x0 = std::min(x0, x), x1 = std::max(x1, x);
        y0 = std::min(y0, y), y1 = std::max(y1, y);
    };
    if (trace_ && trace_->view)
        for (const auto& p : trace_->view->board.points)
            if (p.place) note(p.place->x_mm, p.place->y_mm);
    if (scan_ && trace_->scan->placements[*scan_])
        for (const double u : {0.0, static_cast<double>(picture_.width())})
            for (const double v : {0.0, static_cast<double>(picture_.height())}) {
                const auto [x, y] = trace_->scan->placements[*scan_]->to_mm(u, v);
                note(x, y);
            }
    fitted_ = x1 > x0 && width() > 50;
    if (!(x1 > x0)) x0 = y0 = 0, x1 = 100, y1 = 80;
    const bool back = side_ == BoardSide::back;
    plane_.fit(QRectF(QPointF(back ? -x1 : x0, y0), QPointF(back ? -x0 : x1, y1)), size(), 2);
    update();
}

void BoardCanvas::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().sheet);
    if (scan_) {
        const auto& place = trace_->scan->placements[*scan_];
        const QTransform board(side_ == BoardSide::back ? -plane_.scale() : plane_.scale(), 0, 0,
                               plane_.scale(), plane_.origin().x(), plane_.origin().y());
        p.save();
        p.setRenderHint(QPainter::SmoothPixmapTransform);
        if (place) {
            const auto& m = place->m;
            p.setTransform(QTransform(m[0], m[3], m[1], m[4], m[2], m[5]).inverted() * board);
        } else {
            const double s = std::min(width() / static_cast<double>(picture_.width()),
                                      height() / static_cast<double>(picture_.height()));
            p.setTransform(QTransform::fromScale(s, s));
        }
        p.setOpacity(theme().dark ? 0.75 : 0.85);
        p.drawImage(0, 0, picture_);
        p.restore();
        if (found_shown_ && !found_.isNull() && place) paint_found(p, board);
    }
    if (trace_ && trace_->view) paint_points(p);
    if (found_shown_ && scan_) paint_questions(p);
    if (dragging_ && tool_ != Tool::probe && tool_ != Tool::reference && !said_by(tool_)) {
        p.setPen(QPen(tool_ == Tool::cut || tool_ == Tool::unknown ? theme().oxide : theme().ink, 2,
                      tool_ == Tool::measure ? Qt::DashLine : Qt::SolidLine));
        p.drawLine(press_, last_);
    }
}

void BoardCanvas::paint_found(QPainter& p, const QTransform& board) const {
    const auto& l = trace_->scan->scanned->layers[side_ == BoardSide::front ? 0 : 1];
    p.save();
    const auto lay = [&](const QImage& image, const QTransform& to_mm) {
        p.setTransform(to_mm * board);
        p.drawImage(0, 0, image);
    };
    if (!sight_.isNull()) {  // there the old one does not show through
        const QTransform to_widget = sight_to_mm_ * board;
        const auto part = to_widget.mapRect(QRectF(sight_.rect()));
        p.setClipRegion(QRegion(rect()) - QRegion(part.toAlignedRect()));
    }
    lay(found_, QTransform(2.0 / l.px_per_mm, 0, 0, 2.0 / l.px_per_mm, l.x0_mm, l.y0_mm));
    p.setClipping(false);
    if (!sight_.isNull()) lay(sight_, sight_to_mm_);
    p.restore();
}

/// Where nobody can see whether two nets meet, and the places of clicks.
void BoardCanvas::paint_questions(QPainter& p) const {
    p.setBrush(Qt::NoBrush);
    for (const auto& q : trace_->scan_nets.questions) {
        if (q.place.side != side_ || (q.a < 0 && q.b < 0)) continue;
        const auto at = to_widget(q.place.x_mm, q.place.y_mm);
        for (const auto& [colour, width] : {std::pair{theme().sheet, 4.0}, std::pair{theme().oxide, 2.0}}) {
            // What is only guessed, dashed.
            p.setPen(QPen(colour, q.is_guess ? width - 0.5 : width,
                          q.is_guess && width < 3 ? Qt::DashLine : Qt::SolidLine));
            p.drawPolygon(QPolygonF(
                {at + QPointF(0, -7), at + QPointF(7, 0), at + QPointF(0, 7), at + QPointF(-7, 0)}));
        }
    }
    p.setFont(text_font(10, true));
    for (const auto& c : trace_->scan->scans[*scan_].clicks) {
        const auto at = to_widget(c.x_mm, c.y_mm);
        const auto label = to_q(std::string(word(c.kind)));
        const QRectF plate(at + QPointF(6, -8),
                           QSizeF(QFontMetricsF(p.font()).horizontalAdvance(label) + 8, 16));
        p.fillRect(plate, theme().panel);
        p.setPen(theme().ink);
        p.drawText(plate, Qt::AlignCenter, label);
        p.drawLine(at - QPointF(4, 0), at + QPointF(4, 0));
        p.drawLine(at - QPointF(0, 4), at + QPointF(0, 4));
    }
}

void BoardCanvas::paint_points(QPainter& p) const {
    const auto& board = trace_->view->board;
    const int chosen = board.table.find(chosen_.toStdString());
    const int net = chosen >= 0 && chosen < static_cast<int>(trace_->state.net_of.size())
                        ? trace_->state.net_of[static_cast<std::size_t>(chosen)]
                        : -1;
    const double r = std::clamp(plane_.scale() * 0.55, 2.5, 9.0);
    // Outlines of parts: a dotted box around their pins, with the name.
    std::map<std::string, QRectF> boxes;
    for (const auto& pt : board.points)
        if (shown_here(pt) && !pt.ref.empty()) {
            const auto at = to_widget(pt.place->x_mm, pt.place->y_mm);
            auto& box = boxes[pt.ref];
            box = box.isNull() ? QRectF(at - QPointF(0.1, 0.1), QSizeF(0.2, 0.2))
                               : box.united(QRectF(at, QSizeF(0.1, 0.1)));
        }
    p.setFont(text_font(11, true));
    for (const auto& [ref, box] : boxes) {
        const auto b = box.adjusted(-1.4 * plane_.scale(), -1.4 * plane_.scale(), 1.4 * plane_.scale(),
                                    1.4 * plane_.scale());
        p.setPen(QPen(scan_ ? QColor(255, 255, 255, 190) : theme().ink2, 1, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(b);
        const auto label = to_q(ref);
        const QRectF plate(b.left(), b.top() - 15, QFontMetricsF(p.font()).horizontalAdvance(label) + 8, 15);
        p.fillRect(plate, theme().panel);
        p.setPen(theme().ink);
        p.drawText(plate, Qt::AlignCenter, label);
    }
    // The chosen point's net: joined points filled, separated ones crossed, the others open.
    for (std::size_t i = 0; i < board.points.size(); ++i) {
        const auto& pt = board.points[i];
        if (!shown_here(pt)) continue;
        const auto at = to_widget(pt.place->x_mm, pt.place->y_mm);
        if (!rect().adjusted(-20, -20, 20, 20).contains(at.toPoint())) continue;
        const int own = trace_->state.net_of[i];
        const bool joined = net >= 0 && own == net;
        const bool apart = net >= 0 && own != net && trace_->state.separated(net, own);
        p.setPen(QPen(theme().sheet, 3));
        p.setBrush(joined ? QBrush(theme().verdigris) : Qt::NoBrush);
        p.drawEllipse(at, r, r);
        p.setPen(QPen(joined  ? theme().verdigris
                      : apart ? theme().ink2
                              : theme().ink,
                      static_cast<int>(i) == chosen ? 3 : 1.4));
        p.drawEllipse(at, r, r);
        if (apart) p.drawLine(at + QPointF(-r * 0.6, r * 0.6), at + QPointF(r * 0.6, -r * 0.6));
    }
}

int BoardCanvas::point_at(QPointF at) const {
    if (!trace_ || !trace_->view) return -1;
    int found = -1;
    double least = std::max(8.0, 1.2 * plane_.scale());
    const auto& points = trace_->view->board.points;
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (!shown_here(points[i])) continue;
        const auto d = to_widget(points[i].place->x_mm, points[i].place->y_mm) - at;
        if (const double l = std::hypot(d.x(), d.y()); l < least) least = l, found = static_cast<int>(i);
    }
    return found;
}

void BoardCanvas::resizeEvent(QResizeEvent*) {
    fit();
}

void BoardCanvas::mousePressEvent(QMouseEvent* e) {
    press_ = last_ = e->position();
    panning_ = e->button() == Qt::MiddleButton || e->button() == Qt::RightButton;
    dragging_ = e->button() == Qt::LeftButton;
}

void BoardCanvas::mouseMoveEvent(QMouseEvent* e) {
    const bool drag_pans = dragging_ && (tool_ == Tool::probe || tool_ == Tool::reference || said_by(tool_));
    if (panning_ || drag_pans) plane_.pan(e->position() - last_);
    last_ = e->position();
    if (panning_ || dragging_) update();
    if (const int p = point_at(e->position()); p >= 0 && !dragging_) {
        const auto& pt = trace_->view->board.points[static_cast<std::size_t>(p)];
        const int net = trace_->state.net_of[static_cast<std::size_t>(p)];
        QToolTip::showText(e->globalPosition().toPoint(),
                           tr("%1%2 · %3 points in its net")
                               .arg(to_q(trace_->name(p)),
                                    pt.function.empty() ? QString() : tr(" (%1)").arg(to_q(pt.function)))
                               .arg(trace_->state.nets[static_cast<std::size_t>(net)].size()),
                           this);
    }
}

void BoardCanvas::mouseReleaseEvent(QMouseEvent* e) {
    const bool moved = (e->position() - press_).manhattanLength() > 4;
    if (dragging_ && !moved && tool_ == Tool::probe) {
        if (const int p = point_at(e->position()); p >= 0) {
            choose(to_q(trace_->name(p)));
            Q_EMIT picked(chosen_);
        }
    } else if (dragging_ && !moved && tool_ == Tool::reference && scan_) {
        QPointF pixel;
        if (const auto& place = trace_->scan->placements[*scan_]) {
            const auto b = to_board(e->position());
            const auto [x, y] = place->to_px(b.x(), b.y());
            pixel = {x, y};
        } else {
            const double s = std::min(width() / static_cast<double>(picture_.width()),
                                      height() / static_cast<double>(picture_.height()));
            pixel = e->position() / s;
        }
        Q_EMIT marked(pixel);
    } else if (dragging_ && !moved && said_by(tool_) && scan_) {
        Q_EMIT said(*said_by(tool_), to_board(e->position()));
    } else if (dragging_ && moved && tool_ != Tool::probe && tool_ != Tool::reference && !said_by(tool_)) {
        Q_EMIT drawn(to_board(press_), to_board(e->position()));
    }
    dragging_ = panning_ = false;
    update();
}

void BoardCanvas::wheelEvent(QWheelEvent* e) {
    plane_.wheel(*e);
    update();
    e->accept();
}

}  // namespace grayrelic::app
