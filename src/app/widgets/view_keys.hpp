// SPDX-License-Identifier: GPL-3.0-or-later
// Keys that work while a view has the focus, as actions of that view: Help lists them from there.
#pragma once

#include <QAction>
#include <QKeySequence>
#include <QWidget>

#include <functional>
#include <initializer_list>

namespace grayrelic::app {

/// The group names the view in Help. Keys are written as QKeySequence reads them; Help shows the first, the
/// others are how further keyboards make the same key.
inline QAction* add_view_key(QWidget* view, const QString& group, const QString& text,
                             std::initializer_list<const char*> keys, std::function<void()> run) {
    auto* action = new QAction(text, view);
    QList<QKeySequence> sequences;
    for (const char* k : keys) sequences << QKeySequence(QLatin1String(k));
    action->setShortcuts(sequences);
    action->setShortcutContext(Qt::WidgetShortcut);
    action->setData(group);
    QObject::connect(action, &QAction::triggered, view, [run = std::move(run)] { run(); });
    view->addAction(action);
    return action;
}

}  // namespace grayrelic::app
