// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/text_figures.hpp"

#include <QTextFormat>

#include <algorithm>

namespace grayrelic::render {

int TextFigures::add(const QByteArray& svg) {
    pictures_.push_back(std::make_unique<QSvgRenderer>(svg));
    return static_cast<int>(pictures_.size()) - 1;
}

bool TextFigures::valid() const {
    return std::all_of(pictures_.begin(), pictures_.end(), [](const auto& p) { return p->isValid(); });
}

QSvgRenderer* TextFigures::picture(const QTextFormat& format) const {
    constexpr int behind_svg = 4;
    const auto n = format.toImageFormat().name().mid(behind_svg).toInt();
    return n >= 0 && n < static_cast<int>(pictures_.size()) ? pictures_[static_cast<std::size_t>(n)].get()
                                                            : nullptr;
}

QSizeF TextFigures::intrinsicSize(QTextDocument*, int, const QTextFormat& format) {
    const auto* p = picture(format);
    if (p == nullptr) return {};
    QSizeF size = p->defaultSize();
    // Pixels of a screen are smaller than points; signs in the text stay as they are.
    constexpr double small_sign = 14, points_a_pixel = 0.72, heading = 40;
    if (size.width() > small_sign) size *= points_a_pixel;
    return size * std::min({1.0, page_.width() / size.width(), (page_.height() - heading) / size.height()});
}

void TextFigures::drawObject(QPainter* painter, const QRectF& rect, QTextDocument*, int,
                             const QTextFormat& format) {
    if (auto* p = picture(format)) p->render(painter, rect);
}

}  // namespace grayrelic::render
