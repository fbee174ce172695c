// SPDX-License-Identifier: GPL-3.0-or-later
// A low button for titles and rows of tools.
#pragma once

#include <QPushButton>

namespace grayrelic::app {

[[nodiscard]] inline QPushButton* compact_button(const QString& text, const QString& tip) {
    auto* b = new QPushButton(text);
    b->setProperty("compact", true);
    b->setToolTip(tip);
    return b;
}

}  // namespace grayrelic::app
