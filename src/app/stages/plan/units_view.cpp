// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/units_view.hpp"

#include <QHBoxLayout>
#include <QMenu>
#include <QVBoxLayout>

#include <algorithm>
#include <map>

#include "app/paint/marks.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {
namespace {

struct Taken {
    long readings = 0, captures = 0, scans = 0, dimensions = 0;
};

std::map<std::string, Taken> taken_on(const Dossier& d) {
    std::map<std::string, Taken> out;
    for (const auto& r : *d.readings)
        if (r.set_aside.empty()) ++out[r.unit].readings;
    for (const auto& c : *d.captures) ++out[c.unit].captures;
    for (const auto& s : d.trace->scans) ++out[s.unit].scans;
    for (const auto& m : *d.dimensions) ++out[m.unit].dimensions;
    return out;
}

QString said(const Taken& t) {
    QStringList out;
    const auto add = [&](long n, const char* one, const char* many) {
        if (n > 0) out << to_q(plural(n, one, many));
    };
    add(t.readings, "reading", "readings");
    add(t.captures, "capture", "captures");
    add(t.scans, "scan", "scans");
    add(t.dimensions, "dimension", "dimensions");
    return out.isEmpty() ? QObject::tr("nothing taken on it") : out.join(QStringLiteral(", "));
}

}  // namespace

UnitsView::UnitsView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(12);
    auto* top = new QHBoxLayout;
    top->setSpacing(12);
    units_sheet_ = new Sheet(tr("Boards and machines"));
    auto* add = new QPushButton(tr("Add"));
    add->setProperty("compact", true);
    connect(add, &QPushButton::clicked, this, &UnitsView::add);
    units_sheet_->add_to_title(add);
    units_ = new BarList(tr("Units"));
    connect(units_, &BarList::chosen, this, &UnitsView::fill_card);
    units_sheet_->body()->addWidget(units_, 1);
    top->addWidget(units_sheet_, 5);
    top->addWidget(make_card(), 3);
    whole->addLayout(top, 1);
    differ_sheet_ = new Sheet(tr("Where they differ"));
    differences_ = new FactTable;
    differences_->set_columns(
        {{tr("Reading"), 60, true}, {tr("From"), 90}, {tr("To"), 90}, {tr("There"), 160}, {tr("Here"), 160}},
        tr("Differences between units"));
    differences_->fit_rows(8);
    differ_sheet_->body()->addWidget(differences_, 1);
    whole->addWidget(differ_sheet_);
}

QWidget* UnitsView::make_card() {
    card_sheet_ = new Sheet(tr("Unit"));
    card_sheet_->setMinimumWidth(216);
    card_sheet_->setMaximumWidth(268);
    remove_ = new QPushButton(tr("Remove"));
    remove_->setProperty("compact", true);
    remove_->setToolTip(tr("What names it keeps its name; undo brings it back"));
    connect(remove_, &QPushButton::clicked, this, [this] {
        document_.apply(tr("remove a unit"),
                        drop<JobUnit>(document_.dossier(), units_->picked().toStdString()));
    });
    card_sheet_->add_to_title(remove_);
    using Line = CardLine<JobUnit>;
    const auto text = [](std::string JobUnit::*member, const QString& label, const QString& tip) {
        return Line{label, tip, [member](const JobUnit& u) { return to_q(u.*member); },
                    [member](JobUnit& u, const QString& t) -> std::optional<QString> {
                        u.*member = t.toStdString();
                        return std::nullopt;
                    }};
    };
    std::vector<Line> lines{
        text(&JobUnit::name, tr("Name"), tr("What you call it")),
        {tr("Revision"), tr("Of the board, when it has one"),
         [](const JobUnit& u) { return u.revision ? QString::number(*u.revision) : QString(); },
         [](JobUnit& u, const QString& t) -> std::optional<QString> {
             bool fine = t.isEmpty();
             const int n = fine ? 0 : t.toInt(&fine);
             if (!fine || n < 0 || n > 1'000'000) return tr("Expected a whole number, 0 or more.");
             u.revision = t.isEmpty() ? std::nullopt : std::optional(n);
             return std::nullopt;
         }},
        text(&JobUnit::number, tr("Number"), tr("What is written on it")),
        {tr("Worth"),
         tr("In money, when it dies; an original without a worth can't be bought again, and comes before all "
            "money"),
         [](const JobUnit& unit) { return unit.worth ? QString::number(*unit.worth) : QString(); },
         [](JobUnit& unit, const QString& t) -> std::optional<QString> {
             bool fine = t.isEmpty();
             const double v = fine ? 0 : t.toDouble(&fine);
             if (!fine || !(v >= 0 && v < 1e9)) return tr("Expected money, zero or more.");
             unit.worth = t.isEmpty() ? std::nullopt : std::optional(v);
             return std::nullopt;
         }},
        text(&JobUnit::note, tr("Note"), tr("Whose it is, what was done to it"))};
    fields_ = std::make_unique<CardFields<JobUnit>>(
        nullptr, std::move(lines), [this](const QString& what, JobUnit u) { change(what, std::move(u)); });
    auto* grid = make_words();
    card_sheet_->body()->addWidget(fields_->box());
    card_sheet_->body()->addLayout(grid);
    look_ = new QPushButton(tr("Look at this board"));
    look_->setToolTip(tr("Trace shows what its readings prove, and keeps the other boards' apart"));
    connect(look_, &QPushButton::clicked, this, [this] {
        const auto id = units_->picked().toStdString();
        document_.apply(tr("look at a unit"),
                        edit(document_.dossier(), &Dossier::trace, [&](Trace& t) { t.unit = id; }));
    });
    card_sheet_->body()->addWidget(look_);
    make_scans();
    card_sheet_->body()->addWidget(scans_);
    card_sheet_->body()->addStretch(1);
    return card_sheet_;
}

QGridLayout* UnitsView::make_words() {
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setColumnStretch(1, 1);
    kind_ = new ChoiceBox(tr("Kind"));
    for (const auto k : all_of<UnitKind>()) kind_->addItem(to_q(word(k)), static_cast<int>(k));
    state_ = new ChoiceBox(tr("State"));
    for (const auto s : all_of<UnitState>())
        state_->addItem(QString(to_q(word(s))).replace(QLatin1Char('-'), QLatin1Char(' ')),
                        static_cast<int>(s));
    connect(kind_, &QComboBox::activated, this, [this] {
        if (auto u = fields_->shown()) {
            u->kind = static_cast<UnitKind>(kind_->currentData().toInt());
            change(tr("kind"), *u);
        }
    });
    connect(state_, &QComboBox::activated, this, [this] {
        if (auto u = fields_->shown()) {
            u->state = static_cast<UnitState>(state_->currentData().toInt());
            change(tr("state"), *u);
        }
    });
    grid->addWidget(secondary_label(tr("Kind")), 0, 0);
    grid->addWidget(kind_, 0, 1);
    grid->addWidget(secondary_label(tr("State")), 1, 0);
    grid->addWidget(state_, 1, 1);
    return grid;
}

void UnitsView::make_scans() {
    scans_ = new QPushButton(tr("Scans of it"));
    scans_->setToolTip(tr("Which of the scans show this board; a scan is of one board"));
    scans_->setProperty("menu", true);
    auto* menu = new QMenu(scans_);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        menu->clear();
        const auto id = units_->picked().toStdString();
        for (const auto& scan : document_.dossier().trace->scans) {
            auto* entry = menu->addAction(tr("%1, %2").arg(to_q(scan.title), to_q(word(scan.side))));
            entry->setCheckable(true);
            entry->setChecked(scan.unit == id);
            connect(entry, &QAction::triggered, this,
                    [this, id, scan = scan.id](bool on) { say_scan(scan, on ? id : std::string()); });
        }
    });
    scans_->setMenu(menu);
}

void UnitsView::add() {
    JobUnit u;
    u.id = free_id<JobUnit>(document_.dossier(), "unit");
    u.name = u.id;
    const auto id = to_q(u.id);
    document_.apply(tr("a unit"), put(document_.dossier(), std::move(u)));
    show_unit(id);
}

void UnitsView::say_scan(const std::string& scan, const std::string& unit) {
    document_.apply(tr("unit of a scan"),
                    edit<Scan>(document_.dossier(), scan, [&](Scan& s) { s.unit = unit; }));
}

void UnitsView::change(const QString& what, JobUnit unit) {
    const auto said = tr("%1 of %2").arg(what, to_q(unit.name));
    document_.apply(said, put(document_.dossier(), std::move(unit)));
}

void UnitsView::show_unit(const QString& id) {
    units_->pick(id);
    fill_card();
}

void UnitsView::refresh() {
    const auto& d = document_.dossier();
    const auto taken = taken_on(d);
    const auto& trace = document_.analysis().trace;
    const auto shown = trace ? trace->unit : std::string();
    long most = 0;
    for (const auto& [unit, t] : taken) most = std::max(most, t.readings);
    std::vector<BarRow> rows;
    for (const auto& u : *d.units) {
        const auto at = taken.find(u.id);
        const auto& t = at == taken.end() ? Taken{} : at->second;
        BarRow row;
        row.id = to_q(u.id);
        row.title = to_q(u.name.empty() ? u.id : u.name);
        QStringList about{QString(to_q(word(u.state))).replace(QLatin1Char('-'), QLatin1Char(' '))};
        if (u.revision) about << tr("rev %1").arg(*u.revision);
        if (!u.number.empty()) about << to_q(u.number);
        about << to_q(word(u.kind));
        row.about = about.join(QStringLiteral(" · "));
        row.verdict = is_retired(u.state) ? Verdict::unknown : Verdict::holds;
        row.full = static_cast<double>(most);
        row.pieces = {{0, static_cast<double>(t.readings),
                       u.id == shown ? BarPiece::Ink::holds : BarPiece::Ink::plain}};
        row.figures = said(t);
        row.more = u.id == shown ? tr("looked at in Trace") : QString();
        rows.push_back(std::move(row));
    }
    const auto without = taken.find("");
    units_->show_rows(std::move(rows));
    units_sheet_->set_about(
        d.units->empty()
            ? tr("Add the original, the breadboard and each board built: then every reading and capture says "
                 "which it was taken on, and two boards are never mixed up.")
        : without != taken.end() ? tr("Without a unit: %1.").arg(said(without->second))
                                 : QString());
    std::vector<TableRow> table;
    if (trace)
        for (const auto& x : trace->unit_differences) {
            const auto& r = (*document_.analysis().dossier.readings)[static_cast<std::size_t>(x.row)];
            const auto* unit = d.find_unit(x.unit);
            const auto name = to_q(unit == nullptr || unit->name.empty() ? x.unit : unit->name);
            const bool joined = x.says == Says::joined;
            TableRow row{QString::number(x.row + 1), to_q(r.a), to_q(r.b),
                         joined ? tr("joined on %1").arg(name) : tr("apart on %1").arg(name),
                         joined ? tr("apart") : tr("joined")};
            row[0].sort = x.row;
            table.push_back(std::move(row));
        }
    const auto* here = d.find_unit(shown);
    differ_sheet_->set_about(
        table.empty() ? tr("No reading of another board says otherwise than the one that is looked at.")
                      : tr("Here: %1.").arg(to_q(here == nullptr ? shown : here->name)));
    differences_->setVisible(!table.empty());
    differences_->set_rows(std::move(table));
    fill_card();
}

void UnitsView::fill_card() {
    const auto* unit = document_.dossier().find_unit(units_->picked().toStdString());
    fields_->show(unit == nullptr ? std::nullopt : std::optional(*unit));
    for (QWidget* w : std::initializer_list<QWidget*>{kind_, state_, look_, remove_})
        w->setEnabled(unit != nullptr);
    scans_->setEnabled(unit != nullptr && !document_.dossier().trace->scans.empty());
    if (unit == nullptr) return;
    kind_->setCurrentIndex(kind_->findData(static_cast<int>(unit->kind)));
    state_->setCurrentIndex(state_->findData(static_cast<int>(unit->state)));
    const auto& trace = document_.analysis().trace;
    look_->setEnabled(!trace || trace->unit != unit->id);
}

}  // namespace grayrelic::app
