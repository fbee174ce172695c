// SPDX-License-Identifier: GPL-3.0-or-later
// Text in a small box: the largest face that fits, down to 8 px, then as many letters as there is room for.
// The whole stands in the tooltip of whoever draws it.
#pragma once

#include <QFontMetricsF>
#include <QPainter>

#include "app/paint/theme.hpp"

namespace grayrelic::app {

inline void draw_small_text(QPainter& p, const QRectF& box, int flags, QString text, int size,
                            bool bold = false) {
    constexpr int least = 8;
    const auto wide = [&] {
        return QFontMetricsF(text_font(size, bold)).horizontalAdvance(text) > box.width();
    };
    while (size > least && wide()) --size;
    while (text.size() > 1 && wide()) text.chop(1);
    p.setFont(text_font(size, bold));
    p.drawText(box, flags, text);
}

}  // namespace grayrelic::app
