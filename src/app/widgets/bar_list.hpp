// SPDX-License-Identifier: GPL-3.0-or-later
// A list whose rows each hold a name, a bar on one scale, and figures: how much of a part is there, how long
// something is. One row is picked, with mouse or keys.
#pragma once

#include <QScrollArea>
#include <QWidget>

#include <optional>
#include <vector>

#include "core/base/verdict.hpp"

namespace grayrelic::app {

struct BarPiece {
    enum class Ink { plain, holds, doubt, stop, hollow };
    double from = 0, to = 0;  ///< on the row's scale
    Ink ink = Ink::plain;
};

struct BarRow {
    QString id;
    std::optional<Verdict> verdict;
    QString title, about;  ///< about: in the secondary colour below
    bool italic = false;   ///< assumed
    std::vector<BarPiece> pieces;
    double full = 0;        ///< the end of the scale; 0: no bar
    QString figures, more;  ///< more: below the figures
};

class BarList : public QScrollArea {
    Q_OBJECT
  public:
    explicit BarList(const QString& name, QWidget* parent = nullptr);
    void show_rows(std::vector<BarRow> rows);  ///< the picked one stays picked, else the first
    void pick(const QString& id);
    /// Whether the picked row is the one whose card is shown; else it does not stand out.
    void set_leading(bool leads);
    [[nodiscard]] QString picked() const;
    /// All that a row says, for tooltips, screen readers and tests; empty for one that is not there.
    [[nodiscard]] QString said_of(const QString& id) const;
    [[nodiscard]] QRect row_of(const QString& id) const;  ///< in the viewport's widget
    [[nodiscard]] int count() const;
    [[nodiscard]] QWidget& sheet() const { return *widget(); }

  Q_SIGNALS:
    void chosen(const QString& id);
};

}  // namespace grayrelic::app
