// SPDX-License-Identifier: GPL-3.0-or-later
// The ledger beside the probing: its rows, what is set aside, and which unit a reading was taken on.
#include <QMenu>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/stages/trace/probe_view.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/trace/ledger.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {

namespace {

QString on_unit(const Dossier& d, const MeterReading& r) {
    const auto* unit = d.find_unit(r.unit);
    const auto where =
        QObject::tr("on %1").arg(to_q(unit == nullptr || unit->name.empty() ? r.unit : unit->name));
    return r.note.empty() ? where : QStringLiteral("%1: %2").arg(where, to_q(r.note));
}

}  // namespace

constexpr int rows_shown = 2000;  ///< of the ledger's end; all are in the dossier

void ProbeView::fill_ledger() {
    const auto& readings = *document_.dossier().readings;
    const auto& t = document_.analysis().trace;
    QSet<int> bad;
    if (t)
        for (const auto& c : t->state.contradictions) {
            bad.insert(c.apart);
            for (const int r : c.chain) bad.insert(r);
        }
    const auto shown = t ? t->unit : std::string();
    unit_->show_units(document_.dossier(), shown);
    taken_on_->setVisible(!document_.dossier().units->empty());
    const int n = static_cast<int>(readings.size()), from = std::max(0, n - rows_shown);
    std::vector<TableRow> rows;
    // The newest on top: that is what one looks back at.
    for (int i = n - 1; i >= from; --i) {
        const auto& r = readings[static_cast<std::size_t>(i)];
        const bool elsewhere = !counts_for(r.unit, shown);
        const auto ink = !r.set_aside.empty() || elsewhere ? theme().ink2
                         : bad.contains(i)                 ? theme().oxide
                                                           : QColor();
        TableRow row{{QString::number(i + 1), ink},
                     {to_q(r.a), ink},
                     {to_q(r.b), ink},
                     {to_q(grayrelic::show_reading(r)), ink},
                     {r.set_aside.empty() ? (elsewhere ? on_unit(document_.dossier(), r) : to_q(r.note))
                                          : tr("set aside: %1").arg(to_q(r.set_aside)),
                      ink}};
        row[0].key = i;
        row[0].sort = i;
        rows.push_back(std::move(row));
    }
    ledger_->set_rows(std::move(rows));
    ledger_sheet_->set_about(tr("%1, the newest on top").arg(to_q(plural(n, "reading", "readings"))));
    aside_->setEnabled(n > 0);
}

void ProbeView::show_reading(int row) {
    for (int i = 0; i < ledger_->row_count(); ++i)
        if (ledger_->key(i).toInt() == row) {
            ledger_->choose(i);
            ledger_->scrollTo(ledger_->currentIndex(), QAbstractItemView::PositionAtCenter);
            ledger_->setFocus();
        }
}

void ProbeView::set_aside_chosen() {
    QSet<int> rows;
    for (const int r : ledger_->chosen_rows()) rows.insert(ledger_->key(r).toInt());
    if (rows.isEmpty()) return;
    const auto set_aside = [&](std::vector<MeterReading>& readings) {
        for (const int i : rows) {
            auto& r = readings[static_cast<std::size_t>(i)];
            r.set_aside = r.set_aside.empty() ? tr("taken for a slip").toStdString() : std::string();
        }
    };
    document_.apply(tr("readings set aside"), edit(document_.dossier(), &Dossier::readings, set_aside));
}

void ProbeView::fill_unit_menu() {
    auto* menu = taken_on_->menu();
    menu->clear();
    for (const auto& u : *document_.dossier().units)
        connect(menu->addAction(to_q(u.name.empty() ? u.id : u.name)), &QAction::triggered, this,
                [this, id = u.id] { name_unit(id); });
    connect(menu->addAction(tr("not said")), &QAction::triggered, this, [this] { name_unit({}); });
}

void ProbeView::name_unit(const std::string& unit) {
    QSet<int> rows;
    for (const int r : ledger_->chosen_rows()) rows.insert(ledger_->key(r).toInt());
    if (rows.isEmpty()) return;
    document_.apply(tr("unit of readings"),
                    edit(document_.dossier(), &Dossier::readings, [&](std::vector<MeterReading>& readings) {
                        for (const int i : rows) readings[static_cast<std::size_t>(i)].unit = unit;
                    }));
}

}  // namespace grayrelic::app
