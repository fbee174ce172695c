// SPDX-License-Identifier: GPL-3.0-or-later
// Which board or machine something was taken on: a box of the dossier's units. It is not seen while there are
// none.
#pragma once

#include <QSignalBlocker>

#include "app/paint/marks.hpp"
#include "app/widgets/choice_box.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic::app {

class UnitBox : public ChoiceBox {
    Q_OBJECT
  public:
    explicit UnitBox(const QString& name, const QString& tip, QWidget* parent = nullptr)
        : ChoiceBox(name, tip, parent) {
        connect(this, &QComboBox::activated, this, [this] { Q_EMIT picked(unit()); });
    }
    /// `chosen`: a JobUnit::id; empty, or one that is not there: none is said.
    void show_units(const Dossier& dossier, const std::string& chosen) {
        const QSignalBlocker block(this);
        clear();
        addItem(tr("unit not said"), QString());
        for (const auto& u : *dossier.units) addItem(to_q(u.name.empty() ? u.id : u.name), to_q(u.id));
        setCurrentIndex(std::max(0, findData(to_q(chosen))));
        setVisible(!dossier.units->empty());
    }
    [[nodiscard]] std::string unit() const { return currentData().toString().toStdString(); }

  Q_SIGNALS:
    void picked(const std::string& unit);
};

}  // namespace grayrelic::app
