// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/wire/schools_view.hpp"

#include <QApplication>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

TableCell school_cell(const SchoolCell& c, bool editable) {
    TableCell cell(to_q(c.text));
    if (c.verdict != Verdict::unknown) cell.icon = verdict_icon(c.verdict);
    cell.bold = c.best;
    cell.editable = editable && !c.computed;
    if (c.text.empty()) {
        cell.text = editable ? QString() : QStringLiteral("–");
        cell.colour = theme().ink2;
    }
    return cell;
}

/// The person's number, as the bill has it: square centimetres, hours, money, amperes.
std::optional<QString> take_bill(OptionBill& b, const std::string& key, const std::string& typed) {
    const auto number = [&](std::optional<double>& into, Unit unit, double scale,
                            const char* expected) -> std::optional<QString> {
        if (typed.empty()) {
            into.reset();
            return std::nullopt;
        }
        auto plain = typed;
        for (const std::string_view tail : {"cm²", "cm2", "h"})
            if (unit == Unit::none && plain.ends_with(tail)) plain.resize(plain.size() - tail.size());
        const auto v = parse_number(trim(plain), unit);
        if (!v || !(*v >= 0 && *v <= 1e6))
            return QObject::tr("Found %1, expected %2.")
                .arg(to_q(in_quotes(typed)), QString::fromUtf8(expected));
        into = *v * scale;
        return std::nullopt;
    };
    if (key == "current") return number(b.current, Unit::ampere, 1, "a current such as 20mA");
    if (key == "cost") return number(b.cost, Unit::none, 1, "an amount of money such as 4.50");
    if (key == "area") return number(b.area, Unit::none, 1e-4, "an area in cm² such as 12");
    if (key == "hours") return number(b.hours, Unit::none, 1, "hours such as 6");
    if (key == "soldering") b.soldering = typed;
    if (key == "reversible") b.reversible = typed;
    if (key == "service") b.service = typed;
    if (key == "sample") b.sample = typed;
    return std::nullopt;
}

}  // namespace

SchoolsView::SchoolsView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* grid = grid_ = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(8);
    options_sheet_ = new Sheet(tr("Options side by side"));
    options_ = new FactTable;
    connect(options_, &FactTable::edited, this, &SchoolsView::edit_cell);
    options_sheet_->body()->addWidget(options_, 1);
    grid->addWidget(options_sheet_, 0, 0, 1, 2);
    regulators_sheet_ = new Sheet(tr("Linear or switching"));
    regulators_ = new FactTable;
    regulators_->set_columns(
        {{tr("Part"), 50}, {tr("Linear"), 110, true}, {tr("Switching"), 110, true}, {tr("Says"), 130}},
        tr("Linear or switching"));
    regulators_sheet_->body()->addWidget(regulators_, 1);
    grid->addWidget(regulators_sheet_, 1, 0);
    mounts_sheet_ = new Sheet(tr("Through the board or on it"));
    mounts_ = new FactTable;
    mounts_->set_columns({{tr("Part"), 90}, {tr("Through it"), 130}, {tr("On it"), 130}},
                         tr("Through the board or on it"));
    mounts_sheet_->body()->addWidget(mounts_, 1);
    grid->addWidget(mounts_sheet_, 1, 1);
    module_sheet_ = new Sheet(tr("Module or bare chip"));
    module_ = new FactTable;
    module_->set_columns(
        {{tr("By"), 90}, {tr("Module"), 120}, {tr("Bare"), 120}, {tr("How it is counted"), 260}},
        tr("Module or bare chip"));
    module_->fit_rows(6);
    module_sheet_->body()->addWidget(module_, 1);
    grid->addWidget(module_sheet_, 2, 0, 1, 2);
    grid->setRowStretch(0, 6);
    grid->setRowStretch(1, 3);
    grid->setRowStretch(2, 3);
}

void SchoolsView::refresh() {
    fill_options();
    fill_regulators();
    fill_mounts();
    fill_module();
}

void SchoolsView::fill_options() {
    table_ = compare_options(document_.analysis());
    if (table_.names != shown_ || options_->column_count() == 0) {
        QList<TableColumn> columns{{tr("By"), 140}};
        for (const auto& name : table_.names) columns << TableColumn{to_q(name), 110, false, true};
        columns << TableColumn{tr("How it is counted"), 200};
        options_->set_columns(columns, tr("Options side by side"));
        shown_ = table_.names;
    }
    std::vector<TableRow> rows;
    for (const auto& r : table_.rows) {
        TableRow row{TableCell(to_q(r.name))};
        for (const auto& c : r.cells) row.push_back(school_cell(c, !r.key.empty()));
        row.push_back({to_q(r.rule), theme().ink2});
        rows.push_back(std::move(row));
    }
    options_sheet_->set_about(
        !problem_.isEmpty() ? problem_
        : rows.empty()
            ? tr("No option yet: they are entered under Timing, with their circuits here under Netlist.")
            : tr("the best of a row stands bold; what is not computed is typed in place"));
    options_->setVisible(!rows.empty());
    grid_->setRowStretch(0, rows.empty() ? 0 : 6);
    options_->set_rows(std::move(rows));
}

void SchoolsView::fill_regulators() {
    std::vector<TableRow> rows;
    for (const auto& c : compare_regulators(document_.analysis())) {
        TableCell name(to_q(c.ref));
        const auto side = [&](const RegulatorChoice::Side& s, bool now) {
            const auto text = to_q(print_number(s.loss_w, Unit::watt));
            TableCell cell(text);
            cell.icon = verdict_icon(s.verdict);
            cell.bold = now;
            cell.tip = tr("%1 lost, %2 taken in").arg(text, to_q(print_number(s.in_a, Unit::ampere)));
            if (s.junction_c) cell.tip += tr(", %1 °C inside").arg(*s.junction_c, 0, 'f', 0);
            if (now) cell.tip += tr("; as it is now");
            return cell;
        };
        rows.push_back({name, side(c.linear, c.linear_now), side(c.switching, !c.linear_now), to_q(c.says)});
    }
    regulators_sheet_->set_about(rows.empty() ? tr("once there is a regulator among the rails")
                                              : tr("what each loses; as it is now stands bold"));
    regulators_->set_rows(std::move(rows));
}

void SchoolsView::fill_mounts() {
    std::vector<TableRow> rows;
    for (const auto& m : compare_mounts(document_.analysis())) {
        const auto side = [&](const MountChoice::Side& s, bool now) {
            TableCell cell(tr("%1, %2 mm², %3 %")
                               .arg(to_q(s.package))
                               .arg(s.area_m2 * 1e6, 0, 'f', 0)
                               .arg(100 * s.chance, 0, 'f', 0));
            cell.icon = verdict_icon(s.verdict);
            cell.bold = now;
            cell.tip =
                tr("%1: %2 mm² of board, %3 mm high, %4 % that it comes out well by your bench's record")
                    .arg(to_q(s.package))
                    .arg(s.area_m2 * 1e6, 0, 'f', 0)
                    .arg(s.height_mm, 0, 'f', 1)
                    .arg(100 * s.chance, 0, 'f', 0);
            return cell;
        };
        TableCell name(to_q(m.part));
        if (m.refs.size() > 1) name.text += tr(" × %1").arg(m.refs.size());
        rows.push_back({name, side(m.hole, m.hole_now), side(m.surface, !m.hole_now)});
    }
    mounts_sheet_->set_about(rows.empty() ? tr("once a part comes both ways")
                                          : tr("board area, and the chance that soldering goes well"));
    mounts_sheet_->setVisible(!rows.empty());
    mounts_->set_rows(std::move(rows));
}

void SchoolsView::fill_module() {
    const auto t = compare_module(document_.analysis());
    std::vector<TableRow> rows;
    for (const auto& r : t.rows)
        rows.push_back({to_q(r.name), school_cell(r.cells[0], false), school_cell(r.cells[1], false),
                        TableCell(to_q(r.rule), theme().ink2)});
    module_sheet_->setVisible(!rows.empty());
    module_->set_rows(std::move(rows));
}

void SchoolsView::edit_cell(int row, int column, const QString& text) {
    if (row < 0 || static_cast<std::size_t>(row) >= table_.rows.size() || column < 1 ||
        static_cast<std::size_t>(column) > table_.ids.size())
        return;
    const auto& key = table_.rows[static_cast<std::size_t>(row)].key;
    const auto& id = table_.ids[static_cast<std::size_t>(column - 1)];
    for (auto o : document_.dossier().timing->options) {
        if (o.id != id) continue;
        if (const auto wrong = take_bill(o.bill, key, text.trimmed().toStdString())) {
            QApplication::beep();
            problem_ = *wrong;
            return fill_options();
        }
        problem_.clear();
        const auto what = tr("%1 of %2").arg(to_q(key), to_q(o.name));
        document_.apply(what, put(document_.dossier(), std::move(o)));
        return;
    }
}

}  // namespace grayrelic::app
