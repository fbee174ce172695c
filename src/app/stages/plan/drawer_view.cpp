// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/drawer_view.hpp"

#include <QApplication>
#include <QHBoxLayout>
#include <QMenu>
#include <QVBoxLayout>

#include <algorithm>
#include <map>

#include "app/paint/marks.hpp"
#include "core/base/text.hpp"
#include "core/plan/plan_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr std::size_t most_shown = 5000;

bool speaks_of(const DrawerPart& p, const QString& wish) {
    return wish.isEmpty() || to_q(p.part).contains(wish, Qt::CaseInsensitive) ||
           to_q(word(p.kind)).contains(wish, Qt::CaseInsensitive) ||
           to_q(p.place).contains(wish, Qt::CaseInsensitive) ||
           to_q(p.note).contains(wish, Qt::CaseInsensitive);
}

/// A message when the text can't be taken; the drawer stays as it is then.
QString set_cell(Drawer& d, const std::string& key, int column, const QString& text) {
    auto* p = d.find(key);
    if (p == nullptr) return {};
    switch (column) {
        case 0: {
            if (part_key(text.toStdString()).empty() || text.size() > 1000)
                return QObject::tr("Expected what the part is called.");
            const auto* other = d.find(text.toStdString());
            if (other != nullptr && other != p) return QObject::tr("There is “%1” already.").arg(text);
            p->part = text.toStdString();
            return {};
        }
        case 1: {
            const auto kind = named<PartKind>(text.toStdString());
            if (!kind) return QObject::tr("Found “%1”, expected %2.").arg(text, to_q(one_of<PartKind>()));
            p->kind = *kind;
            return {};
        }
        case 2: {
            bool fine = false;
            const int n = text.toInt(&fine);
            if (!fine || n < 0 || n > most_in_drawer)
                return QObject::tr("Found “%1”, expected a whole number, 0 or more.").arg(text);
            d.set_count(key, p->kind, n);
            return {};
        }
        case 3: p->place = text.toStdString(); return {};
        default: p->note = text.toStdString(); return {};
    }
}

}  // namespace

DrawerView::DrawerView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    sheet_ = new Sheet(tr("Your drawer"));
    remove_ = new QPushButton(tr("Remove"));
    remove_->setToolTip(tr("Takes the chosen parts out of your drawer, for all dossiers"));
    auto* table = new QPushButton(tr("Table"));
    table->setToolTip(tr("The drawer as CSV, in and out"));
    for (auto* b : {remove_, table}) {
        b->setProperty("compact", true);
        sheet_->add_to_title(b);
    }
    auto* menu = new QMenu(table);
    connect(menu->addAction(tr("Read a drawer…")), &QAction::triggered, this, &DrawerView::table_in_wanted);
    connect(menu->addAction(tr("Write the drawer…")), &QAction::triggered, this,
            &DrawerView::table_out_wanted);
    table->setMenu(menu);
    table->setProperty("menu", true);
    connect(remove_, &QPushButton::clicked, this, [this] {
        QStringList keys;
        for (const int r : parts_->chosen_rows()) keys << parts_->key(r).toString();
        (void)change([&](Drawer& d) {
            std::erase_if(d.parts,
                          [&](const DrawerPart& p) { return keys.contains(to_q(part_key(p.part))); });
        });
    });
    auto* row = new QHBoxLayout;
    entry_ = new Field;
    entry_->setPlaceholderText(tr("Add: 12 × 74x165 hct, 40 × resistor 4k7"));
    entry_->setAccessibleName(tr("Parts for the drawer"));
    entry_->setToolTip(
        tr("How many, and what; with commas between. What is there already gets so many more."));
    entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        const auto parts = parts_in_words(text.toStdString());
        if (parts.empty()) return tr("Expected parts such as 12 × 74x165 hct.");
        auto problem = change([&](Drawer& d) {
            for (const auto& p : parts) {
                auto& e = d.entry(p.part, p.kind);
                e.count = std::min(most_in_drawer, e.count + p.per_board.value_or(1));
            }
        });
        if (!problem) {
            entry_->clear();
            entry_->show_value({});
        }
        return problem;
    };
    search_ = new Field;
    search_->setPlaceholderText(tr("Look for a part, a kind or a place"));
    search_->setAccessibleName(tr("Look for parts"));
    connect(search_, &QLineEdit::textChanged, this, &DrawerView::fill);
    row->addWidget(entry_, 3);
    row->addWidget(search_, 2);
    sheet_->body()->addLayout(row);
    parts_ = new FactTable;
    parts_->set_columns({{tr("Part"), 220, false, true},
                         {tr("Kind"), 90, false, true},
                         {tr("Count"), 60, true, true},
                         {tr("Place"), 120, false, true},
                         {tr("Note"), 200, false, true},
                         {tr("This job needs"), 100, true}},
                        tr("Drawer"));
    connect(parts_, &FactTable::edited, this, &DrawerView::edit_cell);
    sheet_->body()->addWidget(parts_, 1);
    column->addWidget(sheet_);
    connect(&document_, &Document::person_changed, this, &DrawerView::refresh);
}

std::optional<QString> DrawerView::change(const std::function<void(Drawer&)>& edit) {
    const auto problem = document_.change_drawer(edit);
    if (problem.isEmpty()) return std::nullopt;
    sheet_->set_about(problem);
    return problem;
}

void DrawerView::edit_cell(int row, int column, const QString& typed) {
    const auto key = parts_->key(row).toString().toStdString();
    const auto text = typed.trimmed();
    // What can't be taken is found on a copy: nothing is written for it.
    auto tried = document_.person().drawer;
    if (const auto problem = set_cell(tried, key, column, text); !problem.isEmpty()) {
        QApplication::beep();
        refresh();
        sheet_->set_about(problem);
        return;
    }
    (void)change([&](Drawer& d) { (void)set_cell(d, key, column, text); });
}

void DrawerView::fill() {
    std::map<std::string, int> needs;
    for (const auto& r : document_.analysis().plan->parts.rows) needs[part_key(r.part)] = r.need;
    const auto wish = search_->text().trimmed();
    std::vector<TableRow> rows;
    std::size_t found = 0;
    const auto& parts = document_.person().drawer.parts;
    for (const auto& p : parts) {
        if (!speaks_of(p, wish)) continue;
        if (++found > most_shown) continue;
        TableCell name(to_q(p.part));
        name.key = to_q(part_key(p.part));
        TableCell count(QString::number(p.count));
        count.sort = p.count;
        const auto need = needs.find(part_key(p.part));
        rows.push_back({name, to_q(word(p.kind)), count, to_q(p.place), to_q(p.note),
                        need == needs.end() ? QString() : QString::number(need->second)});
    }
    const auto all = to_q(plural(static_cast<long>(parts.size()), "part", "parts"));
    sheet_->set_about(parts.empty() ? tr("Yours, over all dossiers: type what you have, or read a table.")
                      : found > most_shown
                          ? tr("%1; the first %2 that fit are shown.").arg(all).arg(most_shown)
                      : wish.isEmpty() ? tr("%1, over all dossiers; undo does not reach them.").arg(all)
                                       : tr("%1 of %2").arg(found).arg(all));
    remove_->setEnabled(!rows.empty());
    parts_->set_rows(std::move(rows));
}

void DrawerView::refresh() {
    fill();
}

}  // namespace grayrelic::app
