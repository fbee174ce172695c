// SPDX-License-Identifier: GPL-3.0-or-later
// A table to read from: rows selected as a whole, no grid, figures in the figures' face, to the right.
#pragma once

#include <QHeaderView>
#include <QTableWidget>

#include "app/paint/theme.hpp"

namespace grayrelic::app {

struct PlainColumn {
    QString heading;
    int width = 100;
    bool figure = false;  ///< right-aligned
};

inline void setup_table(QTableWidget& table, const QList<PlainColumn>& columns, const QString& name) {
    table.setColumnCount(static_cast<int>(columns.size()));
    QStringList headings;
    for (const auto& c : columns) headings << c.heading;
    table.setHorizontalHeaderLabels(headings);
    for (int i = 0; i < columns.size(); ++i) {
        table.setColumnWidth(i, columns[i].width);
        table.horizontalHeaderItem(i)->setTextAlignment((columns[i].figure ? Qt::AlignRight : Qt::AlignLeft) |
                                                        Qt::AlignVCenter);
    }
    table.horizontalHeader()->setStretchLastSection(true);
    table.horizontalHeader()->setHighlightSections(false);
    table.verticalHeader()->hide();
    table.verticalHeader()->setDefaultSectionSize(22);
    table.setShowGrid(false);
    table.setEditTriggers(QAbstractItemView::NoEditTriggers);
    table.setSelectionBehavior(QAbstractItemView::SelectRows);
    table.setSelectionMode(QAbstractItemView::SingleSelection);
    table.setAccessibleName(name);
}

inline QTableWidgetItem* set_cell(QTableWidget& table, int row, int column, const QString& text,
                                  bool figure = false, const QColor& colour = {}) {
    auto* item = new QTableWidgetItem(text);
    if (figure) {
        item->setFont(figure_font(12));
        item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    }
    if (colour.isValid()) item->setForeground(colour);
    item->setToolTip(text);
    table.setItem(row, column, item);
    return item;
}

}  // namespace grayrelic::app
