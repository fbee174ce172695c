// SPDX-License-Identifier: GPL-3.0-or-later
// An ItemChooser over a list of the dossier: its entries, and its rename and remove as edits that undo takes
// back.
#pragma once

#include "app/paint/marks.hpp"
#include "app/shell/document.hpp"
#include "app/widgets/item_chooser.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {

template <KeptById T>
[[nodiscard]] QList<ItemChooser::Item> items_of(const Dossier& dossier) {
    QList<ItemChooser::Item> items;
    for (const T& t : things<T>(dossier)) items << ItemChooser::Item{to_q(t.*key_of<T>()), to_q(t.name), {}};
    return items;
}

template <KeptById T>
void removes_items(ItemChooser& chooser, Document& document) {
    chooser.on_remove([&chooser, &document](const QString& id) {
        document.apply(QObject::tr("remove %1").arg(chooser.name()),
                       drop<T>(document.dossier(), id.toStdString()));
    });
}

template <KeptById T>
void renames_items(ItemChooser& chooser, Document& document) {
    chooser.on_rename([&chooser, &document](const QString& id, const QString& name) {
        if (name != chooser.name())
            document.apply(
                QObject::tr("rename to %1").arg(name),
                edit<T>(document.dossier(), id.toStdString(), [&](T& t) { t.name = name.toStdString(); }));
        return std::optional<QString>();
    });
}

}  // namespace grayrelic::app
