// SPDX-License-Identifier: GPL-3.0-or-later
// The two themes: colours by meaning, the type, and the platform palette made from them.
#pragma once

#include <QColor>
#include <QFont>

#include "core/analysis/finding.hpp"
#include "core/dossier/dossier.hpp"

class QApplication;

namespace grayrelic::app {

struct Theme {
    bool dark = false;
    QColor bench, rail, panel, sheet;
    QColor ink, ink2, hairline;
    QColor umber, slate;             ///< who drives: relic, bridge
    QColor verdigris, brass, oxide;  ///< holds, doubt, stop
    QColor selection;

    [[nodiscard]] QColor driver(Driver d) const;  ///< supply and unknown in ink-2
    [[nodiscard]] QColor verdict(Verdict v) const;
    [[nodiscard]] QColor severity(Severity s) const;
};

/// The theme in force. Painting code reads it at paint time, so a change needs only a repaint.
[[nodiscard]] const Theme& theme();
/// Sets palette, style and fonts of the whole application.
void apply_theme(QApplication& application, bool dark);

/// While it lives, widgets are put together without the theme's style sheet; then it is laid over all of them
/// at once. Qt lays it anew over a whole subtree whenever that is put into another, which makes up most of a
/// window's start.
class StyleRest {
  public:
    StyleRest();
    ~StyleRest();
    StyleRest(const StyleRest&) = delete;
    StyleRest& operator=(const StyleRest&) = delete;

  private:
    QString sheet_;
};

[[nodiscard]] QFont text_font(int pixels = 13, bool bold = false, bool italic = false);
[[nodiscard]] QFont figure_font(int pixels = 12, bool bold = false);

}  // namespace grayrelic::app
