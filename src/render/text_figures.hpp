// SPDX-License-Identifier: GPL-3.0-or-later
// SVG pictures in a text document, drawn with all their lines: the text has them as images named "svg:N".
#pragma once

#include <QObject>
#include <QSvgRenderer>
#include <QTextObjectInterface>

#include <memory>
#include <vector>

namespace grayrelic::render {

class TextFigures : public QObject, public QTextObjectInterface {
    Q_OBJECT
    Q_INTERFACES(QTextObjectInterface)
  public:
    /// `page`: no picture is wider or higher, in points.
    explicit TextFigures(QSizeF page) : page_(page) {}
    int add(const QByteArray& svg);  ///< its number
    [[nodiscard]] bool valid() const;
    QSizeF intrinsicSize(QTextDocument* document, int position, const QTextFormat& format) override;
    void drawObject(QPainter* painter, const QRectF& rect, QTextDocument* document, int position,
                    const QTextFormat& format) override;

  private:
    [[nodiscard]] QSvgRenderer* picture(const QTextFormat& format) const;
    QSizeF page_;
    std::vector<std::unique_ptr<QSvgRenderer>> pictures_;
};

}  // namespace grayrelic::render
