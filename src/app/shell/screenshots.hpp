// SPDX-License-Identifier: GPL-3.0-or-later
// Writes one picture of each main view for the documentation (1280 × 800) and for looking at other sizes: of
// the shipped examples, each view from the one that shows it best; or of the open dossier, in both themes.
#pragma once

#include <QSize>
#include <QString>

namespace grayrelic::app {

class MainWindow;
/// Gives a message on failure, else an empty text.
[[nodiscard]] QString write_screenshots(MainWindow& window, const QString& folder, bool from_demos,
                                        QSize size = {1280, 800});

}  // namespace grayrelic::app
