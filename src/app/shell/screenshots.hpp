// SPDX-License-Identifier: GPL-3.0-or-later
// Writes one picture of each main view in both themes for the documentation (1280 × 800) and for
// looking at other sizes.
#pragma once

#include <QSize>
#include <QString>

namespace grayrelic::app {

class MainWindow;
/// Gives a message on failure, else an empty text.
[[nodiscard]] QString write_screenshots(MainWindow& window, const QString& folder, QSize size = {1280, 800});

}  // namespace grayrelic::app
