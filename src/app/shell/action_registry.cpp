// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/action_registry.hpp"

#include <QWidget>

#include <algorithm>

namespace grayrelic::app {

QAction* ActionRegistry::add(const QString& id, const QString& menu, const QString& text,
                             const QList<QKeySequence>& keys, std::function<void()> run) {
    auto* action = new QAction(text, this);
    action->setObjectName(id);
    action->setShortcuts(keys);
    if (!keys.isEmpty()) {
        auto plain = text;
        plain.remove(QLatin1Char('&'));
        action->setToolTip(
            QStringLiteral("%1 (%2)").arg(plain, keys.front().toString(QKeySequence::NativeText)));
    }
    connect(action, &QAction::triggered, this, [run = std::move(run)] { run(); });
    entries_.push_back({id, menu, action});
    return action;
}

void ActionRegistry::note(const QString& group, const QString& text, const QString& keys) {
    noted_.push_back({group, text, keys});
}

void ActionRegistry::collect(const QWidget& view) {
    const auto same = [](const QAction* a) {
        return [a](const QAction* b) {
            return a->data() == b->data() && a->text() == b->text() && a->shortcuts() == b->shortcuts();
        };
    };
    for (const auto* a : view.actions())
        if (!a->data().toString().isEmpty() && std::none_of(of_views_.begin(), of_views_.end(), same(a)))
            of_views_.push_back(a);
}

QAction* ActionRegistry::find(const QString& id) const {
    for (const auto& e : entries_)
        if (e.id == id) return e.action;
    return nullptr;
}

std::vector<ActionRegistry::Line> ActionRegistry::shortcuts() const {
    std::vector<Line> lines;
    const auto add = [&](const QString& group, const QAction& action, qsizetype most) {
        if (action.shortcuts().isEmpty()) return;
        QStringList keys;
        for (const auto& k : action.shortcuts().first(std::min(most, action.shortcuts().size())))
            keys << k.toString(QKeySequence::NativeText);
        auto text = action.text();
        text.remove(QLatin1Char('&')).remove(QStringLiteral("…"));
        lines.push_back({group, text, keys.join(QStringLiteral(" or "))});
    };
    for (const auto& e : entries_) add(e.menu, *e.action, e.action->shortcuts().size());
    for (const auto* a : of_views_) add(a->data().toString(), *a, 1);
    lines.insert(lines.end(), noted_.begin(), noted_.end());
    return lines;
}

}  // namespace grayrelic::app
