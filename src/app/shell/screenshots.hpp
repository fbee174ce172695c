// SPDX-License-Identifier: GPL-3.0-or-later
// Writes one picture of each main view in both themes at 1280 × 800, for the documentation.
#pragma once

#include <QString>

namespace grayrelic::app {

class MainWindow;
/// Gives a message on failure, else an empty text.
[[nodiscard]] QString write_screenshots(MainWindow& window, const QString& folder);

}  // namespace grayrelic::app
