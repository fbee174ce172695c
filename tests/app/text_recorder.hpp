// SPDX-License-Identifier: GPL-3.0-or-later
// A paint device that draws nothing and notes every text it is asked to draw, with its place: so a test can
// see cut and overlapping text in drawings as well as in labels.
#pragma once

#include <QPaintDevice>
#include <QPaintEngine>
#include <QPainter>
#include <QPainterPath>
#include <QWidget>

#include <vector>

namespace grayrelic::app {

struct DrawnText {
    QString text;
    QRectF box;         ///< from ascent to descent, in the widget's coordinates
    bool clipped_area;  ///< drawn under a clip of its own, such as a view that pans
    QRectF clip;
};

class TextRecorder : public QPaintDevice {
  public:
    explicit TextRecorder(const QWidget& widget) : size_(widget.size()), engine_(*this) {}
    [[nodiscard]] QPaintEngine* paintEngine() const override { return &engine_; }
    std::vector<DrawnText> texts;

  protected:
    int metric(PaintDeviceMetric m) const override {
        switch (m) {
            case PdmWidth: return size_.width();
            case PdmHeight: return size_.height();
            case PdmDpiX:
            case PdmDpiY:
            case PdmPhysicalDpiX:
            case PdmPhysicalDpiY: return 96;
            case PdmDepth: return 32;
            case PdmNumColors: return 1 << 24;
            case PdmDevicePixelRatio: return 1;
            case PdmDevicePixelRatioScaled: return static_cast<int>(devicePixelRatioFScale());
            default: return QPaintDevice::metric(m);
        }
    }

  private:
    class Engine : public QPaintEngine {
      public:
        explicit Engine(TextRecorder& owner) : QPaintEngine(AllFeatures), owner_(owner) {}
        bool begin(QPaintDevice*) override { return true; }
        bool end() override { return true; }
        Type type() const override { return User; }
        void updateState(const QPaintEngineState& s) override {
            if ((s.state() & DirtyTransform) != 0) transform_ = s.transform();
            if ((s.state() & DirtyClipEnabled) != 0) clipping_ = s.isClipEnabled();
            if ((s.state() & DirtyClipRegion) != 0) {
                clip_ = transform_.mapRect(QRectF(s.clipRegion().boundingRect()));
                clipping_ = s.clipOperation() != Qt::NoClip;
            }
            if ((s.state() & DirtyClipPath) != 0) {
                clip_ = transform_.mapRect(s.clipPath().boundingRect());
                clipping_ = s.clipOperation() != Qt::NoClip;
            }
        }
        void drawTextItem(const QPointF& at, const QTextItem& item) override {
            if (item.text().trimmed().isEmpty()) return;
            const QRectF box(at.x(), at.y() - item.ascent(), item.width(), item.ascent() + item.descent());
            owner_.texts.push_back({item.text(), transform_.mapRect(box), clipping_, clip_});
        }
        void drawPixmap(const QRectF&, const QPixmap&, const QRectF&) override {}
        void drawPath(const QPainterPath&) override {}
        void drawPolygon(const QPointF*, int, PolygonDrawMode) override {}

      private:
        TextRecorder& owner_;
        QTransform transform_;
        bool clipping_ = false;
        QRectF clip_;
    };
    QSize size_;
    mutable Engine engine_;
};

/// What a widget itself draws, without its children.
inline std::vector<DrawnText> texts_of(QWidget& widget) {
    TextRecorder recorder(widget);
    widget.render(&recorder, QPoint(), QRegion(), QWidget::RenderFlags());
    return recorder.texts;
}

}  // namespace grayrelic::app
