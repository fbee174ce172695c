// SPDX-License-Identifier: GPL-3.0-or-later
// Writes pictures of the views, named STAGE-VIEW-THEME.png: for the documentation those that their pages
// name, each from the shipped dossier and in the theme that shows it best; or every view in both themes, for
// looking at them.
#pragma once

#include <QSize>
#include <QString>

namespace grayrelic::app {

class MainWindow;
struct PictureWish {
    bool from_demos = true;   ///< opens the shipped dossiers; otherwise the open one is shown
    bool every_view = false;  ///< in both themes
    QSize size{1280, 800};
};
/// Gives a message on failure, else an empty text.
[[nodiscard]] QString write_screenshots(MainWindow& window, const QString& folder, const PictureWish& wish);

}  // namespace grayrelic::app
