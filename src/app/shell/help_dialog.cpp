// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/help_dialog.hpp"

#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/paint/theme.hpp"

namespace grayrelic::app {

HelpDialog::HelpDialog(const ActionRegistry& actions, QWidget* parent) : QDialog(parent) {
    setWindowTitle(tr("Shortcuts"));
    resize(560, 560);
    auto* layout = new QVBoxLayout(this);
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    auto* page = new QWidget;
    auto* grid = new QGridLayout(page);
    grid->setColumnStretch(0, 1);
    grid->setHorizontalSpacing(24);
    QString group;
    int row = 0;
    for (const auto& line : actions.shortcuts()) {
        if (line.group != group) {
            group = line.group;
            auto* heading = new QLabel(QString(group).remove(QLatin1Char('&')));
            heading->setFont(text_font(13, true));
            heading->setContentsMargins(0, row == 0 ? 0 : 8, 0, 2);
            grid->addWidget(heading, row++, 0, 1, 2);
        }
        grid->addWidget(new QLabel(line.text), row, 0);
        auto* keys = new QLabel(line.keys);
        keys->setFont(figure_font(12));
        grid->addWidget(keys, row++, 1);
    }
    grid->setRowStretch(row, 1);
    area->setWidget(page);
    layout->addWidget(area);
    auto* close = new QPushButton(tr("Close"));
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    layout->addWidget(close, 0, Qt::AlignRight);
}

}  // namespace grayrelic::app
