// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/fab_picture.hpp"

#include <QPainter>
#include <QPainterPath>

#include <cmath>

#include "app/paint/theme.hpp"

namespace grayrelic::app {
namespace {

/// Corners nearer than this, in pixels, are left out.
constexpr double finest = 0.6;

class FabPainter {
  public:
    FabPainter(const FabView& view, const Theme& colours, const Progress& progress)
        : v_(view), t_(colours), progress_(progress) {
        image_ = QImage(v_.size * v_.ratio, QImage::Format_RGB32);
        image_.setDevicePixelRatio(v_.ratio);
        image_.fill(t_.sheet);
    }

    QImage paint() {
        const auto& read = *v_.board->read;
        QPainter p(&image_);
        p.setRenderHint(QPainter::Antialiasing);
        if (read.outline.known()) {
            QPainterPath board;
            board.setFillRule(Qt::OddEvenFill);
            for (const auto& ring : read.outline.rings()) add(board, ring);
            p.fillPath(board, t_.panel);
        }
        if (read.copper) {
            const auto near = v_.back ? FileRole::copper_bottom : FileRole::copper_top;
            for (const auto& l : read.copper->layers)
                if (l.role != near && l.role != FileRole::copper_inner) copper(p, l, false);
            for (const auto& l : read.copper->layers)
                if (l.role == near) copper(p, l, true);
            print(p);
            holes(p);
        }
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(t_.ink, 1.4));
        for (const auto& ring : read.outline.rings()) {
            if (ring.empty()) continue;
            QPainterPath way;
            add(way, ring);
            p.drawPath(way);
        }
        p.end();
        return progress_.cancelled() ? QImage() : image_;
    }

  private:
    [[nodiscard]] bool in_sight(const Extent& e) const {
        return QRectF(v_.to_view({e.left, e.top}), v_.to_view({e.right, e.bottom}))
            .normalized()
            .adjusted(-1, -1, 1, 1)
            .intersects(QRectF(QPointF(), QSizeF(v_.size)));
    }
    void add(QPainterPath& path, const Ring& ring) const {
        QPolygonF polygon;
        polygon.reserve(static_cast<qsizetype>(ring.size()));
        for (const auto s : ring) {
            const auto q = v_.to_view(s);
            if (!polygon.isEmpty() &&
                std::abs(q.x() - polygon.last().x()) + std::abs(q.y() - polygon.last().y()) < finest)
                continue;
            polygon << q;
        }
        if (polygon.size() < 3) return;
        path.addPolygon(polygon);
        path.closeSubpath();
    }
    void copper(QPainter& p, const CopperLayer& layer, bool near) {
        for (std::size_t i = 0; i < layer.pieces.size(); ++i) {
            if (progress_.cancelled()) return;
            const auto& piece = layer.pieces[i];
            if (!in_sight(piece.extent)) continue;
            const auto net = static_cast<std::size_t>(layer.net[i]);
            const auto driver = net < v_.drivers->size() ? (*v_.drivers)[net] : Driver::nobody;
            QColor c = near ? t_.driver(driver) : t_.hairline;
            const bool chosen = v_.net >= 0 && layer.net[i] == v_.net;
            if (v_.net >= 0 && !chosen && near) c.setAlphaF(0.35F);
            if (chosen && !near) c = t_.driver(driver);
            if (chosen && !near) c.setAlphaF(0.55F);
            const QRectF box = QRectF(v_.to_view({piece.extent.left, piece.extent.top}),
                                      v_.to_view({piece.extent.right, piece.extent.bottom}))
                                   .normalized();
            if (box.width() < 1.2 && box.height() < 1.2) {
                p.fillRect(box.adjusted(0, 0, 0.5, 0.5), c);
                continue;
            }
            QPainterPath path;
            path.setFillRule(Qt::OddEvenFill);
            add(path, piece.outer);
            for (const auto& h : piece.holes)
                if (in_sight(extent_of(h))) add(path, h);
            p.fillPath(path, c);
        }
    }
    /// Letters and lines printed on this side, as they would be read.
    void print(QPainter& p) {
        const auto* file = v_.board->read->files.find(v_.back ? FileRole::silk_bottom : FileRole::silk_top);
        if (file == nullptr || !file->layer) return;
        QColor c = t_.ink;
        c.setAlphaF(0.8F);
        for (const auto& o : file->layer->objects) {
            if (progress_.cancelled()) return;
            if (!o.dark || o.kind == GerberObject::Kind::flash || o.kind == GerberObject::Kind::region)
                continue;
            const auto from = v_.to_view(o.from), to = v_.to_view(o.to);
            if (!QRectF(from, to)
                     .normalized()
                     .adjusted(-20, -20, 20, 20)
                     .intersects(QRectF(QPointF(), QSizeF(v_.size))))
                continue;
            p.setPen(QPen(c, std::max(0.6, file->layer->apertures[o.aperture].least() / 1e6 * v_.scale),
                          Qt::SolidLine, Qt::RoundCap));
            if (o.kind == GerberObject::Kind::line) {
                p.drawLine(from, to);
            } else {
                QPolygonF way;
                way << from;
                for (const auto s : arc_points(o.from, o.to, o.middle, o.clockwise)) way << v_.to_view(s);
                p.drawPolyline(way);
            }
        }
    }
    void holes(QPainter& p) {
        for (const auto& h : v_.board->read->copper->holes) {
            const auto m = v_.to_view(h.hole.middle());
            const double r = h.hole.diameter / 2e6 * v_.scale;
            if (!QRectF(m - QPointF(r, r), QSizeF(2 * r, 2 * r))
                     .adjusted(-200, -200, 200, 200)
                     .intersects(QRectF(QPointF(), QSizeF(v_.size))) &&
                !h.hole.slot())
                continue;
            p.setPen(h.hole.plated ? QPen(Qt::NoPen) : QPen(t_.ink2, 1));
            p.setBrush(t_.sheet);
            if (!h.hole.slot()) {
                p.drawEllipse(m, std::max(0.5, r), std::max(0.5, r));
                continue;
            }
            QPolygonF way;
            for (const auto s : h.hole.way) way << v_.to_view(s);
            p.setPen(QPen(t_.sheet, std::max(1.0, 2 * r), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            p.setBrush(Qt::NoBrush);
            p.drawPolyline(way);
        }
    }
    const FabView& v_;
    const Theme& t_;
    const Progress& progress_;
    QImage image_;
};

}  // namespace

QImage paint_fabrication(const FabView& view, const Theme& colours, const Progress& progress) {
    if (!view.board || view.size.isEmpty()) return {};
    return FabPainter(view, colours, progress).paint();
}

QRectF plane_of(const FabricationAnalysis& b, bool back) {
    Extent e;
    if (b.read->outline.known()) e = extent_of(b.read->outline.outer);
    if (b.read->copper)
        for (const auto& l : b.read->copper->layers)
            for (const auto& p : l.pieces) e.add(p.extent);
    if (e.empty()) return {};
    const QPointF a(back ? -to_mm(e.right) : to_mm(e.left), -to_mm(e.top));
    return {a, QSizeF(to_mm(e.width()), to_mm(e.height()))};
}

}  // namespace grayrelic::app
