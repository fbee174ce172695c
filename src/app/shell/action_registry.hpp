// SPDX-License-Identifier: GPL-3.0-or-later
// Every action describes itself once: id, text, shortcut, place in the menus. Menus, tooltips and the list in
// Help are made from it.
#pragma once

#include <QAction>
#include <QKeySequence>
#include <QObject>

#include <functional>
#include <vector>

class QMenuBar;

namespace grayrelic::app {

class ActionRegistry : public QObject {
    Q_OBJECT
  public:
    struct Entry {
        QString id;    ///< "file.open"
        QString menu;  ///< title of the menu, or of the group in Help for keys without a menu
        QAction* action;
    };
    using QObject::QObject;

    /// Shortcuts are explicit, since the platform's standard keys differ between platforms.
    QAction* add(const QString& id, const QString& menu, const QString& text, const QList<QKeySequence>& keys,
                 std::function<void()> run);
    /// Takes up the keys of a widget (add_view_key) for Help; the same key of another one of its kind is
    /// listed once.
    void collect(const QWidget& view);
    /// What is no key, such as a drag or the wheel; listed for Help only.
    void note(const QString& group, const QString& text, const QString& keys);
    [[nodiscard]] QAction* find(const QString& id) const;
    [[nodiscard]] const std::vector<Entry>& entries() const { return entries_; }

    struct Line {
        QString group, text, keys;
    };
    /// What Help lists: actions with shortcuts, then noted keys.
    [[nodiscard]] std::vector<Line> shortcuts() const;

  private:
    std::vector<Entry> entries_;
    std::vector<Line> noted_;
    std::vector<const QAction*> of_views_;
};

}  // namespace grayrelic::app
