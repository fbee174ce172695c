// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/ways_view.hpp"

#include <QApplication>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

QString shown(const std::optional<double>& v) {
    return v ? QString::number(*v, 'g', 6) : QString();
}

/// False when the text is no such number; nothing for an empty one.
bool take_number(std::optional<double>& into, const QString& text, double most) {
    bool fine = text.isEmpty();
    const double v = fine ? 0 : text.toDouble(&fine);
    if (!fine || !(v >= 0 && v <= most)) return false;
    into = text.isEmpty() ? std::nullopt : std::optional(v);
    return true;
}

template <class T>
void removes_chosen(QPushButton* button, FactTable* table, Document& document) {
    QObject::connect(button, &QPushButton::clicked, table, [table, &document] {
        auto next = document.dossier();
        for (const int r : table->chosen_rows()) next = drop<T>(next, table->key(r).toString().toStdString());
        document.apply(QObject::tr("remove"), std::move(next));
    });
}

QPushButton* remove_chosen(const QString& tip) {
    auto* b = new QPushButton(QObject::tr("Remove"));
    b->setProperty("compact", true);
    b->setToolTip(tip);
    return b;
}

}  // namespace

WaysView::WaysView(Document& document, JobOutlook& outlook, QWidget* parent)
    : QWidget(parent), document_(document), outlook_(outlook) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    column->addWidget(make_ways());
    column->addWidget(make_hedges());
    column->addWidget(make_breadboards());
    column->addStretch(1);
    for (auto* table : {ways_, hedges_, breadboards_}) table->fit_rows(7);
}

QWidget* WaysView::make_ways() {
    ways_sheet_ = new Sheet(tr("Build, buy or adapt"));
    auto* remove = remove_chosen(tr("Takes the chosen ways away; undo brings them back"));
    ways_sheet_->add_to_title(remove);
    way_entry_ = new Field;
    way_entry_->setPlaceholderText(tr("Add: an adapter that somebody drew for the other Calder"));
    way_entry_->setAccessibleName(tr("A way as one line"));
    way_entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        WayThere w;
        w.says = text.trimmed().toStdString();
        w.id = free_id<WayThere>(document_.dossier(), w.says);
        document_.apply(tr("a way"), put(document_.dossier(), std::move(w)));
        way_entry_->clear();
        way_entry_->show_value({});
        return std::nullopt;
    };
    ways_sheet_->body()->addWidget(way_entry_);
    ways_ = new FactTable;
    ways_->set_columns({{tr("Way"), 170, false, true},
                        {tr("Kind"), 50, false, true},
                        {tr("Link"), 100, false, true},
                        {tr("Licence"), 74, false, true},
                        {tr("Would have to change"), 130, false, true},
                        {tr("Money"), 54, true, true},
                        {tr("Hours"), 50, true, true},
                        {tr("Days"), 46, true, true},
                        {tr("In all"), 70, true}},
                       tr("Ways"));
    connect(ways_, &FactTable::edited, this, &WaysView::edit_way);
    removes_chosen<WayThere>(remove, ways_, document_);
    ways_sheet_->body()->addWidget(ways_, 1);
    return ways_sheet_;
}

QWidget* WaysView::make_hedges() {
    hedges_sheet_ = new Sheet(tr("Hedges"));
    auto* remove = remove_chosen(tr("Takes the chosen hedges away; undo brings them back"));
    hedges_sheet_->add_to_title(remove);
    auto* row = new QHBoxLayout;
    hedge_entry_ = new Field;
    hedge_entry_->setPlaceholderText(tr("Add: a second board in the same parcel"));
    hedge_entry_->setAccessibleName(tr("A hedge as one line"));
    hedge_entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        Hedge h;
        h.says = text.trimmed().toStdString();
        h.id = free_id<Hedge>(document_.dossier(), h.says);
        h.question = question_->currentData().toString().toStdString();
        document_.apply(tr("a hedge"), put(document_.dossier(), std::move(h)));
        hedge_entry_->clear();
        hedge_entry_->show_value({});
        return std::nullopt;
    };
    question_ = new ChoiceBox(tr("Against"), tr("The question whose wrong answer it makes cheaper"));
    connect(question_, &QComboBox::activated, this, [this] {
        auto next = document_.dossier();
        for (const int r : hedges_->chosen_rows())
            next = edit<Hedge>(next, hedges_->key(r).toString().toStdString(), [&](Hedge& h) {
                h.question = question_->currentData().toString().toStdString();
            });
        if (!(next == document_.dossier())) document_.apply(tr("what a hedge is against"), std::move(next));
    });
    row->addWidget(hedge_entry_, 1);
    row->addWidget(secondary_label(tr("Against")));
    row->addWidget(question_, 1);
    hedges_sheet_->body()->addLayout(row);
    hedges_ = new FactTable;
    hedges_->set_columns({{tr("Hedge"), 170, false, true},
                          {tr("Price"), 54, true, true},
                          {tr("Chance"), 54, true, true},
                          {tr("Avoids money"), 80, true, true},
                          {tr("Avoids days"), 76, true, true},
                          {tr("Worth"), 84, true},
                          {tr("Chance × loss avoided − price"), 230}},
                         tr("Hedges"));
    connect(hedges_, &FactTable::edited, this, &WaysView::edit_hedge);
    connect(hedges_, &FactTable::row_chosen, this, [this] { fill_questions(); });
    removes_chosen<Hedge>(remove, hedges_, document_);
    hedges_sheet_->body()->addWidget(hedges_, 1);
    return hedges_sheet_;
}

QWidget* WaysView::make_breadboards() {
    breadboards_sheet_ = new Sheet(tr("Breadboard first, or straight to a board?"));
    breadboards_ = new FactTable;
    breadboards_->set_columns({{tr("Open in"), 70},
                               {tr("Better"), 150},
                               {tr("Saved against spent"), 240},
                               {tr("What is open"), 300}},
                              tr("Breadboards"));
    breadboards_sheet_->body()->addWidget(breadboards_, 1);
    return breadboards_sheet_;
}

void WaysView::edit_way(int row, int column, const QString& typed) {
    const auto text = typed.trimmed();
    const auto id = ways_->key(row).toString().toStdString();
    bool fine = true;
    auto next = edit<WayThere>(document_.dossier(), id, [&](WayThere& w) {
        switch (column) {
            case 0: w.says = text.toStdString(); break;
            case 1: {
                const auto kind = named<WayKind>(text.toStdString());
                fine = kind.has_value();
                if (fine) w.kind = *kind;
                break;
            }
            case 2: w.link = text.toStdString(); break;
            case 3: w.licence = text.toStdString(); break;
            case 4: w.change = text.toStdString(); break;
            case 5: fine = take_number(w.money, text, 1e9); break;
            case 6: fine = take_number(w.hours, text, most_task_hours); break;
            default: fine = take_number(w.days, text, most_wait_days);
        }
    });
    if (fine) return document_.apply(tr("a way"), std::move(next));
    QApplication::beep();
    refresh();
    ways_sheet_->set_about(
        tr("Found “%1”, expected %2.")
            .arg(text, column == 1 ? to_q(one_of<WayKind>()) : tr("a number, zero or more")));
}

void WaysView::edit_hedge(int row, int column, const QString& typed) {
    const auto text = typed.trimmed();
    const auto id = hedges_->key(row).toString().toStdString();
    bool fine = true;
    auto next = edit<Hedge>(document_.dossier(), id, [&](Hedge& h) {
        switch (column) {
            case 0: h.says = text.toStdString(); break;
            case 1: fine = take_number(h.price, text, 1e9); break;
            case 2: fine = take_number(h.chance, text, 1); break;
            case 3: fine = take_number(h.avoids_money, text, 1e9); break;
            default: fine = take_number(h.avoids_days, text, most_wait_days);
        }
    });
    if (fine) return document_.apply(tr("a hedge"), std::move(next));
    QApplication::beep();
    refresh();
    hedges_sheet_->set_about(tr("Found “%1”, expected a number, zero or more%2.")
                                 .arg(text, column == 2 ? tr(", at most 1") : QString()));
}

void WaysView::fill_ways() {
    const auto& o = outlook_.now();
    std::vector<TableRow> rows;
    for (const auto& s : o.ways) {
        const auto& w = s.way;
        const bool own = w.id != "build" || w.kind != WayKind::build;
        TableRow row{TableCell(to_q(w.says)),
                     to_q(word(w.kind)),
                     to_q(w.link),
                     to_q(w.licence),
                     to_q(w.change),
                     shown(w.money),
                     shown(w.hours),
                     shown(w.days),
                     s.total ? QString::number(*s.total, 'f', 2) : tr("open")};
        row.front().key = own ? to_q(w.id) : QString();
        row.back().tip = s.total ? to_q(s.arithmetic) : tr("missing: %1").arg(to_q(s.missing));
        if (!own)
            for (auto& cell : row) cell.editable = false;
        rows.push_back(std::move(row));
    }
    ways_sheet_->set_about(o.stakes.hour_taken
                               ? tr("Money + hours × worth of an hour + days × worth of a day; say on your "
                                    "bench what an hour is worth.")
                               : tr("Money + hours × worth of an hour + days × worth of a day."));
    ways_->set_rows(std::move(rows));
}

void WaysView::fill_hedges() {
    std::vector<TableRow> rows;
    for (const auto& s : outlook_.now().hedges) {
        TableCell name(to_q(s.hedge.says));
        name.key = to_q(s.hedge.id);
        TableCell worth(s.worth ? QString::number(*s.worth, 'f', 2) : tr("open"));
        if (s.worth) worth.icon = verdict_icon(*s.worth > 0 ? Verdict::holds : Verdict::unknown);
        rows.push_back({name, shown(s.hedge.price), shown(s.hedge.chance), shown(s.hedge.avoids_money),
                        shown(s.hedge.avoids_days), worth, to_q(s.arithmetic)});
    }
    hedges_sheet_->set_about(
        rows.empty() ? tr("Something small that makes being wrong cheaper: a spare board, an alternate "
                          "footprint, a part that snaps off.")
                     : tr("Above zero it is worth its price."));
    hedges_->set_rows(std::move(rows));
    fill_questions();
}

void WaysView::fill_questions() {
    const QSignalBlocker block(question_);
    const auto& o = outlook_.now();
    std::string of_row;
    const auto id =
        hedges_->chosen() >= 0 ? hedges_->key(hedges_->chosen()).toString().toStdString() : std::string();
    for (const auto& s : o.hedges)
        if (s.hedge.id == id) of_row = s.hedge.question;
    question_->clear();
    question_->addItem(tr("a chance of its own"), QString());
    for (const auto& q : o.questions.open) question_->addItem(to_q(q.says), to_q(q.id));
    if (!of_row.empty() && question_->findData(to_q(of_row)) < 0)
        question_->addItem(to_q(of_row), to_q(of_row));
    question_->setCurrentIndex(std::max(0, question_->findData(to_q(of_row))));
}

void WaysView::fill_breadboards() {
    std::vector<TableRow> rows;
    for (const auto& b : outlook_.now().breadboards) {
        QStringList open;
        for (const auto& q : b.questions) open << to_q(q);
        TableCell better(b.breadboard_first() ? tr("breadboard first") : tr("straight to a board"));
        better.icon = verdict_icon(b.breadboard_first() ? Verdict::doubt : Verdict::holds);
        rows.push_back({to_q(label(b.stage)), better, to_q(b.arithmetic), open.join(QStringLiteral(" · "))});
    }
    breadboards_sheet_->set_about(
        rows.empty() ? tr("Nothing that a board hangs on is open: straight to a board.")
        : outlook_.now().stakes.hour_taken
            ? tr("An hour counts nothing while nobody says what it is worth, so a breadboard always pays "
                 "here.")
            : tr("A breadboard pays where what it may save is more than the hours it takes."));
    breadboards_->set_rows(std::move(rows));
}

void WaysView::show_way(const QString& id) {
    for (int i = 0; i < ways_->row_count(); ++i)
        if (ways_->key(i).toString() == id) ways_->choose(i);
}

void WaysView::refresh() {
    fill_ways();
    fill_hedges();
    fill_breadboards();
}

}  // namespace grayrelic::app
