// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/next_view.hpp"

#include <QHBoxLayout>
#include <QSettings>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/stage_content.hpp"

namespace grayrelic::app {
namespace {

Field* small_field(const QString& name, const QString& tip, int width) {
    auto* f = new Field;
    f->setAccessibleName(name);
    f->setToolTip(tip);
    f->setFixedWidth(width);
    return f;
}

}  // namespace

NextView::NextView(Document& document, JobOutlook& outlook, JobSchedule& schedule, QPushButton* example,
                   QWidget* parent)
    : QWidget(parent), document_(document), outlook_(outlook), schedule_(schedule) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    whole_ = new QStackedWidget;
    column->addWidget(whole_);
    whole_->addWidget(make_kinds(example));
    auto* plan = new QWidget;
    auto* rows = new QVBoxLayout(plan);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(8);
    rows->addWidget(make_gates());
    auto* middle = new QHBoxLayout;
    middle->setSpacing(8);
    middle->addWidget(make_questions(), 5);
    middle->addWidget(make_side(), 3);
    rows->addLayout(middle, 6);
    calendar_sheet_ = new Sheet(tr("Calendar"));
    calendar_ = new CalendarChart(tr("Calendar"));
    calendar_->setMinimumHeight(96);
    calendar_sheet_->body()->addWidget(calendar_, 1);
    rows->addWidget(calendar_sheet_, 5);
    whole_->addWidget(plan);
    // They share what room there is; the plots in them ask for none of their own.
    for (QWidget* w : std::initializer_list<QWidget*>{evening_, parcels_, questions_, calendar_})
        w->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
    for (auto* table : {evening_, parcels_}) table->setMinimumHeight(56);
    connect(&schedule_, &JobSchedule::made, this, [this] {
        fill_calendar();
        fill_evening();
    });
}

QWidget* NextView::make_kinds(QPushButton* example) {
    kinds_sheet_ = new Sheet(tr("What do you want to build?"));
    kinds_ = new BarList(tr("Kinds of job"));
    kinds_sheet_->body()->addWidget(kinds_, 1);
    auto* row = new QHBoxLayout;
    begin_ = new QPushButton(tr("Begin with this"));
    connect(begin_, &QPushButton::clicked, this, [this] { Q_EMIT kind_chosen(kinds_->picked()); });
    auto* open = new QPushButton(tr("Open a dossier…"));
    connect(open, &QPushButton::clicked, this, &NextView::open_wanted);
    row->addWidget(begin_);
    row->addWidget(open);
    row->addWidget(example);
    row->addStretch(1);
    kinds_sheet_->body()->addLayout(row);
    auto* drop =
        secondary_label(tr("Or drop a file on the window: a capture, a table of pins, a scan, a ledger of "
                           "beeps. What it is for is found out."));
    drop->setWordWrap(true);
    kinds_sheet_->body()->addWidget(drop);
    return kinds_sheet_;
}

QWidget* NextView::make_gates() {
    gates_sheet_ = new Sheet(tr("Ready?"));
    gates_sheet_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    gates_ = new GateStrip;
    connect(gates_, &GateStrip::chosen, this, [this] {
        gate_chosen_ = true;
        fill_gate_line();
    });
    connect(gates_, &GateStrip::opened, this, &NextView::open_gate);
    gates_sheet_->body()->addWidget(gates_);
    reason_ = small_field(
        tr("Reason for going on"),
        tr("Going on although a gate is shut stays on record; empty: the gate counts again"), 280);
    reason_->setPlaceholderText(tr("Go on all the same, because …"));
    reason_->commit = [this](const QString& text) -> std::optional<QString> {
        auto plan = *document_.dossier().plan;
        const auto gate = gates_->picked();
        std::erase_if(plan.overrides, [&](const GateOverride& o) { return o.gate == gate; });
        if (!text.trimmed().isEmpty())
            plan.overrides.push_back({gate, text.trimmed().toStdString(), print(outlook_.today())});
        if (plan.overrides == document_.dossier().plan->overrides) return std::nullopt;
        document_.apply(tr("going on at %1").arg(to_q(label(gate))),
                        put(document_.dossier(), std::move(plan)));
        return std::nullopt;
    };
    gates_sheet_->add_to_title(reason_);
    return gates_sheet_;
}

QWidget* NextView::make_questions() {
    questions_sheet_ = new Sheet(tr("Settle next"));
    entry_ = new Field;
    entry_->setPlaceholderText(tr("Add a question of your own"));
    entry_->setAccessibleName(tr("A question of your own"));
    entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        PlanQuestion q;
        q.says = text.trimmed().toStdString();
        q.id = free_id<PlanQuestion>(document_.dossier(), q.says);
        const auto id = to_q(q.id);
        document_.apply(tr("a question"), put(document_.dossier(), std::move(q)));
        entry_->clear();
        entry_->show_value({});
        show_question(id);
        return std::nullopt;
    };
    entry_->setMinimumWidth(240);
    questions_sheet_->add_to_title(entry_);
    questions_ = new BarList(tr("Questions"));
    questions_->setMinimumHeight(78);
    connect(questions_, &BarList::chosen, this, &NextView::fill_details);
    questions_sheet_->body()->addWidget(questions_, 1);
    questions_sheet_->body()->addWidget(make_details());
    return questions_sheet_;
}

QWidget* NextView::make_details() {
    auto* box = new QWidget;
    auto* rows = new QVBoxLayout(box);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(4);
    answer_ = new FactRow(tr("Answer"), {});
    answer_->commit = [this](const QString& value, const Evidence& evidence) -> std::optional<QString> {
        say(tr("answer"), [&](PlanQuestion& q) {
            const auto extra = q.answer.evidence.extra;
            q.answer.value = value.trimmed().toStdString();
            q.answer.evidence = evidence;
            q.answer.evidence.extra = extra;
        });
        return std::nullopt;
    };
    rows->addWidget(answer_);
    auto* row = new QHBoxLayout;
    const auto number = [this](Field* f, const QString& what, double most,
                               std::optional<double> PlanQuestion::*member) {
        f->commit = [this, what, most, member](const QString& text) -> std::optional<QString> {
            bool fine = text.trimmed().isEmpty();
            const double v = fine ? 0 : text.trimmed().toDouble(&fine);
            if (!fine || !(v >= 0 && v <= most)) return tr("Expected a number from 0 to %1.").arg(most);
            say(what, [&](PlanQuestion& q) {
                q.*member = text.trimmed().isEmpty() ? std::nullopt : std::optional(v);
            });
            return std::nullopt;
        };
    };
    chance_ = small_field(tr("Chance of being wrong"), tr("0 to 1; empty: by how the answer is known"), 52);
    number(chance_, tr("chance"), 1, &PlanQuestion::chance);
    takes_ = small_field(tr("Minutes to settle it"), tr("How long it takes to settle it"), 52);
    number(takes_, tr("minutes"), 1e6, &PlanQuestion::minutes);
    stake_ = new ChoiceBox(tr("At stake"), tr("What is lost when the answer is not what it was taken for"));
    stake_->addItem(tr("little"), 0);
    stake_->addItem(tr("a new board"), 1);
    stake_->addItem(tr("what can't be bought"), 2);
    connect(stake_, &QComboBox::activated, this, [this] {
        say(tr("stake"),
            [&](PlanQuestion& q) { q.at_stake = static_cast<AtStake>(stake_->currentData().toInt()); });
    });
    go_ = compact_button(tr("Go there"), tr("To the place that it is about"));
    connect(go_, &QPushButton::clicked, this, [this] {
        if (const auto* q = picked()) Q_EMIT place_wanted(q->stage, q->place);
    });
    sheet_ = compact_button(tr("Sheet…"), tr("One page with its facts, to post or to print"));
    connect(sheet_, &QPushButton::clicked, this, [this] {
        if (picked() != nullptr) Q_EMIT sheet_wanted(questions_->picked());
    });
    drop_ = compact_button(tr("Forget"), tr("Takes away what was typed of it; undo brings it back"));
    connect(drop_, &QPushButton::clicked, this, [this] {
        const auto id = questions_->picked().toStdString();
        document_.apply(tr("forget a question"), drop<PlanQuestion>(document_.dossier(), id));
    });
    const auto label = [row](const QString& text) {
        auto* l = secondary_label(text);
        l->setWordWrap(false);
        row->addWidget(l);
    };
    label(tr("Chance"));
    row->addWidget(chance_);
    label(tr("Minutes"));
    row->addWidget(takes_);
    label(tr("At stake"));
    row->addWidget(stake_, 1);
    for (auto* b : {go_, sheet_, drop_}) row->addWidget(b);
    rows->addLayout(row);
    arithmetic_ = cut_label();
    rows->addWidget(arithmetic_);
    return box;
}

QWidget* NextView::make_side() {
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    evening_sheet_ = new Sheet(tr("This evening"));
    minutes_ = small_field(tr("Minutes this evening"), tr("How long you have this evening"), 52);
    minutes_->commit = [this](const QString& text) -> std::optional<QString> {
        bool fine = false;
        const double v = text.trimmed().toDouble(&fine);
        if (!fine || !(v >= 1 && v <= 1440)) return tr("Expected minutes, 1 to 1440.");
        QSettings().setValue(QStringLiteral("evening"), v);
        fill_evening();
        return std::nullopt;
    };
    evening_sheet_->add_to_title(minutes_);
    evening_sheet_->add_to_title(secondary_label(tr("minutes")));
    evening_ = new FactTable;
    evening_->set_columns({{tr("What"), 170}, {tr("Minutes"), 40, true}}, tr("This evening"));
    connect(evening_, &FactTable::row_opened, this, [this](int row) {
        const auto id = evening_->key(row).toString();
        if (id.isEmpty())
            Q_EMIT view_wanted(QStringLiteral("calendar"));
        else
            show_question(id);
    });
    evening_sheet_->body()->addWidget(evening_, 1);
    column->addWidget(evening_sheet_, 1);
    parcels_sheet_ = new Sheet(tr("Parts and parcels"));
    parcels_ = new FactTable;
    parcels_->set_columns({{tr("State"), 130}, {tr("What"), 150}}, tr("Parts and parcels"));
    connect(parcels_, &FactTable::row_opened, this, [this] { Q_EMIT view_wanted(QStringLiteral("parts")); });
    parcels_sheet_->body()->addWidget(parcels_, 1);
    column->addWidget(parcels_sheet_, 1);
    return side;
}

const OpenQuestion* NextView::picked() const {
    return outlook_.now().questions.find(questions_->picked().toStdString());
}

void NextView::say(const QString& what, const std::function<void(PlanQuestion&)>& change) {
    const auto id = questions_->picked().toStdString();
    if (id.empty()) return;
    const auto& all = things<PlanQuestion>(document_.dossier());
    const auto at = place_of<PlanQuestion>(all, id);
    PlanQuestion q;
    if (at != all.end())
        q = *at;
    else
        q.id = id;
    const auto before = q;
    change(q);
    if (q == before) return;
    document_.apply(tr("%1 of a question").arg(what), put(document_.dossier(), std::move(q)));
}

void NextView::open_gate(JobGate gate) {
    const auto& g = outlook_.now().gate(gate);
    if (g.blocked_by.empty()) return;
    const auto& b = g.verdict == Verdict::unknown ? g.blocked_by.back() : g.blocked_by.front();
    if (b.place.kind == "question")
        show_question(to_q(b.place.id));
    else
        Q_EMIT place_wanted(b.stage, b.place);
}

void NextView::show_question(const QString& id) {
    questions_->pick(id);
    fill_details();
}

void NextView::refresh() {
    const auto& d = document_.dossier();
    bool anything = false;
    for (const auto s : all_of<Stage>()) anything = anything || has_content(d, s);
    const bool ask = !document_.is_open() || (d.plan->kind.empty() && !anything);
    whole_->setCurrentIndex(ask ? 0 : 1);
    if (ask) return fill_kinds();
    schedule_.refresh();
    fill_gates();
    fill_questions();
    fill_evening();
    fill_parcels();
    fill_calendar();
}

}  // namespace grayrelic::app
