// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/log/changes_view.hpp"

#include <QDate>
#include <QHBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/dossier/edits.hpp"
#include "core/plan/plan_analysis.hpp"
#include "core/record/revisions.hpp"
#include "core/record/trial_words.hpp"

namespace grayrelic::app {
namespace {

constexpr int highest_revision = 10'000;

QString kind_word(ComplaintKind k) {
    return QString(to_q(word(k))).replace(QLatin1Char('-'), QLatin1Char(' '));
}

CardLine<Complaint> text_line(std::string Complaint::*member, const QString& label, const QString& tip) {
    return {label, tip, [member](const Complaint& c) { return to_q(c.*member); },
            [member](Complaint& c, const QString& t) -> std::optional<QString> {
                c.*member = t.toStdString();
                return std::nullopt;
            }};
}

CardLine<Complaint> revision_line(std::optional<int> Complaint::*member, const QString& label,
                                  const QString& tip) {
    return {label, tip,
            [member](const Complaint& c) { return c.*member ? QString::number(*(c.*member)) : QString(); },
            [member](Complaint& c, const QString& t) -> std::optional<QString> {
                bool fine = t.isEmpty();
                const int n = fine ? 0 : t.toInt(&fine);
                if (!fine || n < 0 || n > highest_revision)
                    return ChangesView::tr("Expected the number of a revision.");
                c.*member = t.isEmpty() ? std::nullopt : std::optional(n);
                return std::nullopt;
            }};
}

}  // namespace

ChangesView::ChangesView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    auto* top = new QHBoxLayout;
    top->setSpacing(8);
    list_sheet_ = new Sheet(tr("Complaints, open items, parked ideas"));
    complaints_ = new BarList(tr("Complaints"));
    connect(complaints_, &BarList::chosen, this, &ChangesView::fill_card);
    list_sheet_->body()->addWidget(complaints_, 1);
    entry_ = new Field;
    entry_->setAccessibleName(tr("A complaint"));
    entry_->setPlaceholderText(tr("what is wrong; idea: what could be; open: what is to be done"));
    entry_->commit = [this](const QString& text) { return enter(text.trimmed()); };
    list_sheet_->body()->addWidget(entry_);
    top->addWidget(list_sheet_, 5);
    top->addWidget(make_card(), 4);
    whole->addLayout(top, 3);
    auto* below = new QHBoxLayout;
    below->setSpacing(8);
    bodge_sheet_ = new Sheet(tr("Changed by hand"));
    carry_ = compact_button(tr("Carry it"), tr("Makes a complaint of it, so that the next files have it"));
    connect(carry_, &QPushButton::clicked, this, &ChangesView::carry);
    bodge_sheet_->add_to_title(carry_);
    bodges_ = new FactTable;
    bodges_->set_columns({{tr("What"), 170}, {tr("On"), 80}, {tr("In the next files"), 120}},
                         tr("Changes by hand"));
    bodge_sheet_->body()->addWidget(bodges_, 1);
    bodge_entry_ = new Field;
    bodge_entry_->setAccessibleName(tr("A change by hand"));
    bodge_entry_->setPlaceholderText(tr("adapter-1: wire from U2.7 to J1.4"));
    bodge_entry_->commit = [this](const QString& text) { return enter_bodge(text.trimmed()); };
    bodge_sheet_->body()->addWidget(bodge_entry_);
    below->addWidget(bodge_sheet_, 5);
    revision_sheet_ = new Sheet(tr("Revisions and decisions"));
    revisions_ = new FactTable;
    revisions_->set_columns({{tr("Revision"), 64}, {tr("Day"), 124}, {tr("What"), 200}},
                            tr("Revisions and decisions"));
    revision_sheet_->body()->addWidget(revisions_, 1);
    revision_entry_ = new Field;
    revision_entry_->setAccessibleName(tr("A revision or a decision"));
    revision_entry_->setPlaceholderText(
        tr("3: driver at the socket; or a decision: logic, not firmware: it is in time"));
    revision_entry_->commit = [this](const QString& text) { return enter_revision(text.trimmed()); };
    revision_sheet_->body()->addWidget(revision_entry_);
    below->addWidget(revision_sheet_, 4);
    whole->addLayout(below, 2);
    today = [] { return QDate::currentDate().toString(Qt::ISODate); };
}

QWidget* ChangesView::make_card() {
    card_sheet_ = new Sheet(tr("From complaint to evidence"));
    remove_ = compact_button(tr("Remove"), tr("Undo brings it back"));
    connect(remove_, &QPushButton::clicked, this, [this] {
        document_.apply(tr("remove a complaint"),
                        drop<Complaint>(document_.dossier(), complaints_->picked().toStdString()));
    });
    card_sheet_->add_to_title(remove_);
    std::vector<CardLine<Complaint>> lines{
        text_line(&Complaint::says, tr("Says"), tr("What is wrong")),
        revision_line(&Complaint::found_in, tr("Found in"), tr("The revision that has it")),
        text_line(&Complaint::cause, tr("Cause"),
                  tr("Why; a fault from Build by its name counts as carried")),
        text_line(&Complaint::change, tr("Change"), tr("What is changed")),
        revision_line(&Complaint::changed_in, tr("In"), tr("The revision that has the change")),
        text_line(&Complaint::check, tr("Check"), tr("What would show that it is gone")),
        {tr("Closed by"), tr("What showed it: a trial, a reading, a capture. Without evidence it stays open"),
         [](const Complaint& c) { return to_q(c.closed.value); },
         [this](Complaint& c, const QString& t) -> std::optional<QString> {
             c.closed.value = t.toStdString();
             if (t.isEmpty()) {
                 c.closed.evidence = {};
             } else if (c.closed.evidence.kind == EvidenceKind::assumed) {
                 c.closed.evidence.kind = EvidenceKind::measured;
                 c.closed.evidence.date = today().toStdString();
             }
             return std::nullopt;
         }}};
    fields_ = std::make_unique<CardFields<Complaint>>(
        nullptr, std::move(lines), [this](const QString& what, Complaint c) {
            const auto name = to_q(c.id);
            document_.apply(tr("%1 of %2").arg(what, name), put(document_.dossier(), std::move(c)));
        });
    card_sheet_->body()->addWidget(fields_->box());
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setColumnStretch(1, 1);
    kind_ = new ChoiceBox(tr("Kind"));
    for (const auto k : all_of<ComplaintKind>()) kind_->addItem(kind_word(k), static_cast<int>(k));
    evidence_ = new ChoiceBox(tr("Evidence"));
    for (const auto k : all_of<EvidenceKind>()) evidence_->addItem(to_q(word(k)), static_cast<int>(k));
    connect(kind_, &QComboBox::activated, this, [this] {
        if (auto c = fields_->shown()) {
            c->kind = static_cast<ComplaintKind>(kind_->currentData().toInt());
            document_.apply(tr("kind of a complaint"), put(document_.dossier(), *c));
        }
    });
    connect(evidence_, &QComboBox::activated, this, [this] {
        if (auto c = fields_->shown()) {
            c->closed.evidence.kind = static_cast<EvidenceKind>(evidence_->currentData().toInt());
            document_.apply(tr("evidence of a complaint"), put(document_.dossier(), *c));
        }
    });
    grid->addWidget(secondary_label(tr("Evidence")), 0, 0);
    grid->addWidget(evidence_, 0, 1);
    grid->addWidget(secondary_label(tr("Kind")), 1, 0);
    grid->addWidget(kind_, 1, 1);
    card_sheet_->body()->addLayout(grid);
    card_sheet_->body()->addStretch(1);
    return card_sheet_;
}

void ChangesView::refresh() {
    std::vector<BarRow> rows;
    int open = 0, closed = 0;
    for (const auto& s : complaint_states(*document_.dossier().log)) {
        BarRow row;
        row.id = to_q(s.complaint->id);
        row.verdict = s.verdict;
        row.title = to_q(s.complaint->says.empty() ? s.complaint->id : s.complaint->says);
        row.about = s.verdict == Verdict::holds ? tr("closed: %1").arg(to_q(s.complaint->closed.value))
                                                : to_q(s.step);
        if (s.complaint->found_in)
            row.about = (s.complaint->changed_in
                             ? tr("rev %1 to %2 · ").arg(*s.complaint->found_in).arg(*s.complaint->changed_in)
                             : tr("rev %1 · ").arg(*s.complaint->found_in)) +
                        row.about;
        (s.verdict == Verdict::holds ? closed : open) += 1;
        rows.push_back(std::move(row));
    }
    list_sheet_->set_about(rows.empty() ? tr("Nothing was complained of yet. What the bench found wrong goes "
                                             "here before the next board is ordered.")
                                        : tr("%1 open, %2 closed by evidence").arg(open).arg(closed));
    complaints_->show_rows(std::move(rows));
    fill_card();
    fill_bodges();
    fill_revisions();
}

void ChangesView::fill_card() {
    const auto id = complaints_->picked().toStdString();
    const Complaint* shown = nullptr;
    for (const auto& c : document_.dossier().log->complaints)
        if (c.id == id) shown = &c;
    fields_->show(shown == nullptr ? std::nullopt : std::optional(*shown));
    for (QWidget* w : std::initializer_list<QWidget*>{kind_, evidence_, remove_})
        w->setEnabled(shown != nullptr);
    if (shown == nullptr) return;
    kind_->setCurrentIndex(static_cast<int>(shown->kind));
    evidence_->setCurrentIndex(static_cast<int>(shown->closed.evidence.kind));
}

void ChangesView::fill_bodges() {
    const auto& d = document_.dossier();
    std::vector<TableRow> rows;
    int open = 0;
    for (const auto& b : bodge_states(d)) {
        TableCell what(to_q(b.what));
        what.key = to_q(b.key);
        what.icon = verdict_icon(b.is_open() ? Verdict::doubt : Verdict::holds);
        const auto* unit = d.find_unit(b.unit);
        open += b.is_open() ? 1 : 0;
        rows.push_back({what, to_q(unit == nullptr || unit->name.empty() ? b.unit : unit->name),
                        !b.carried.empty()    ? tr("by %1").arg(to_q(b.carried))
                        : !b.left_out.empty() ? tr("no: %1").arg(to_q(b.left_out))
                                              : tr("not yet")});
    }
    bodge_sheet_->set_about(
        rows.empty() ? tr("No wire, no cut, no part on another: the files are what the boards are.")
        : open == 0  ? tr("All of them are in the next files, or stay out for a reason.")
                     : tr("%1 would come without it on the next board.").arg(open));
    bodges_->set_rows(std::move(rows));
    carry_->setEnabled(open > 0);
}

void ChangesView::fill_revisions() {
    const auto& d = document_.dossier();
    std::vector<TableRow> rows;
    for (const auto& r : d.log->revisions) rows.push_back({to_q(r.id), to_q(r.day), to_q(r.says)});
    for (const auto& c : d.log->decisions) {
        QString ways;
        for (const auto& w : c.ways)
            ways += tr("\n%1: %2; against: %3").arg(to_q(w.name), to_q(w.for_it), to_q(w.against));
        TableCell says(tr("%1: %2. %3").arg(to_q(c.says), to_q(c.chosen), to_q(c.why)));
        says.tip = says.text + ways;
        rows.push_back({tr("decided"), to_q(c.day), says});
    }
    revisions_->set_rows(std::move(rows));
    QStringList stock;
    for (const auto& s : useless_stock(d, document_.analysis().plan->parts))
        stock << tr("%1 × %2").arg(s.count).arg(to_q(s.what));
    revision_sheet_->set_about(
        stock.isEmpty() ? QString() : tr("Of no use any more: %1.").arg(stock.join(QStringLiteral(", "))),
        true);
}

void ChangesView::select(const QString& complaint) {
    complaints_->pick(complaint);
    fill_card();
}

void ChangesView::carry() {
    const auto& d = document_.dossier();
    const auto states = bodge_states(d);
    const int row = bodges_->chosen();
    const auto key = row < 0 ? std::string() : bodges_->key(row).toString().toStdString();
    const BodgeState* chosen = nullptr;
    for (const auto& s : states)
        if (s.is_open() && (s.key == key || (key.empty() && chosen == nullptr))) chosen = &s;
    if (chosen == nullptr) return;
    Complaint c;
    c.id = free_id<Complaint>(d, "change-1");
    c.says = chosen->what;
    c.unit = chosen->unit;
    c.day = today().toStdString();
    if (const auto* unit = d.find_unit(chosen->unit)) c.found_in = unit->revision;
    c.cause = chosen->what;
    auto next = put(d, c);
    constexpr std::string_view of_log = "bodge:";
    if (chosen->key.starts_with(of_log))
        next = edit<Bodge>(next, chosen->key.substr(of_log.size()), [&](Bodge& b) { b.carried = c.id; });
    document_.apply(tr("carry a change by hand"), next);
    select(to_q(c.id));
}

std::optional<QString> ChangesView::enter(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    Complaint c;
    auto says = text;
    for (const auto& [sign, kind] : {std::pair{QStringLiteral("idea:"), ComplaintKind::idea},
                                     std::pair{QStringLiteral("open:"), ComplaintKind::open_item}})
        if (text.startsWith(sign)) {
            c.kind = kind;
            says = text.mid(sign.size()).trimmed();
        }
    const auto& d = document_.dossier();
    c.id = free_id<Complaint>(d, c.kind == ComplaintKind::idea ? "idea-1" : "complaint-1");
    c.says = says.toStdString();
    c.day = today().toStdString();
    c.found_in = last_revision(d);
    document_.apply(tr("a complaint"), put(d, c));
    entry_->clear();
    entry_->show_value({});
    select(to_q(c.id));
    return std::nullopt;
}

std::optional<QString> ChangesView::enter_bodge(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    const auto& d = document_.dossier();
    Bodge b;
    const auto unit = text.section(QLatin1Char(':'), 0, 0).trimmed().toStdString();
    for (const auto& u : *d.units)
        if (u.id == unit || u.name == unit) b.unit = u.id;
    const auto what = text.section(QLatin1Char(':'), 1).trimmed();
    if (b.unit.empty() || what.isEmpty())
        return tr("Expected a unit of Plan, a colon and what was changed on it.");
    b.id = free_id<Bodge>(d, "bodge-1");
    b.what = what.toStdString();
    b.day = today().toStdString();
    document_.apply(tr("a change by hand"), put(d, b));
    bodge_entry_->clear();
    bodge_entry_->show_value({});
    return std::nullopt;
}

std::optional<QString> ChangesView::enter_revision(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    const auto& d = document_.dossier();
    const auto head = text.section(QLatin1Char(':'), 0, 0).trimmed(),
               rest = text.section(QLatin1Char(':'), 1).trimmed();
    bool number = false;
    (void)head.toInt(&number);
    if (rest.isEmpty()) return tr("Expected a revision or a question, a colon, and what was done or chosen.");
    if (number) {
        RevisionNote r;
        r.id = head.toStdString();
        r.day = today().toStdString();
        r.says = rest.toStdString();
        document_.apply(tr("a revision"), put(d, r));
    } else {
        auto c = decision_from_text(text.toStdString());
        if (!c) return to_q(c.error().message());
        c->id = free_id<LoggedDecision>(d, "decision-1");
        c->day = today().toStdString();
        document_.apply(tr("a decision"), put(d, *c));
    }
    revision_entry_->clear();
    revision_entry_->show_value({});
    return std::nullopt;
}

}  // namespace grayrelic::app
