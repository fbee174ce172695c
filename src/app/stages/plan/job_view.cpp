// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/job_view.hpp"

#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

QString mm(const std::optional<double>& v) {
    return v ? QString::number(*v, 'g', 6) : QString();
}

std::optional<QString> take_figure(std::optional<double>& into, const QString& text, double most) {
    bool fine = text.isEmpty();
    const double v = fine ? 0 : text.toDouble(&fine);
    if (!fine || !(v >= 0 && v <= most)) return QObject::tr("Expected a number from 0 to %1.").arg(most);
    into = text.isEmpty() ? std::nullopt : std::optional(v);
    return std::nullopt;
}

/// One of a must's two limits; they stay in order.
std::optional<QString> take_limit(const Must& m, std::optional<double>& limit, const QString& text) {
    if (auto problem = take_figure(limit, text, 1e5)) return problem;
    if (m.least && m.most && *m.least > *m.most)
        return QObject::tr("At least %1 mm is above at most %2 mm.").arg(*m.least).arg(*m.most);
    return std::nullopt;
}

}  // namespace

JobView::JobView(Document& document, JobOutlook& outlook, QWidget* fields, QWidget* parent)
    : QWidget(parent), document_(document), outlook_(outlook) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(12);
    column->addWidget(fields);
    auto* row = new QHBoxLayout;
    row->setSpacing(12);
    column->addLayout(row, 1);
    row->addWidget(make_job(), 3);
    row->addWidget(make_musts(), 4);
    row->addWidget(make_card(), 3);
}

void JobView::change(const QString& what, const std::function<void(JobPlan&)>& edit) {
    auto plan = *document_.dossier().plan;
    edit(plan);
    if (plan == *document_.dossier().plan) return;
    document_.apply(what, put(document_.dossier(), std::move(plan)));
}

void JobView::add_plan_field(QGridLayout& grid, int row, const QString& label, const QString& tip,
                             std::function<QString(const JobPlan&)> show,
                             std::function<std::optional<QString>(JobPlan&, const QString&)> take) {
    auto* field = new Field;
    field->setAccessibleName(label);
    field->setToolTip(tip);
    field->commit = [this, label, take = std::move(take)](const QString& text) -> std::optional<QString> {
        auto plan = *document_.dossier().plan;
        if (auto problem = take(plan, text.trimmed())) return problem;
        change(label.toLower(), [&](JobPlan& p) { p = plan; });
        return std::nullopt;
    };
    grid.addWidget(secondary_label(label), row, 0);
    grid.addWidget(field, row, 1);
    plan_fields_.push_back({field, std::move(show)});
}

QWidget* JobView::make_job() {
    job_sheet_ = new Sheet(tr("Kind of job"));
    job_sheet_->setMinimumWidth(236);
    kind_ = new ChoiceBox(tr("Kind of job"));
    kind_->setMaxVisibleItems(20);
    connect(kind_, &QComboBox::activated, this, [this] {
        const auto id = kind_->currentData().toString().toStdString();
        change(tr("kind of job"), [&](JobPlan& p) { p.kind = id; });
    });
    job_sheet_->body()->addWidget(kind_);
    about_kind_ = secondary_label({});
    about_kind_->setWordWrap(true);
    about_kind_->setTextFormat(Qt::PlainText);
    job_sheet_->body()->addWidget(about_kind_);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    host_ = new ChoiceBox(tr("Host"), tr("Who asks; the other side answers"));
    for (const auto& [text, side] :
         {std::pair(tr("not said"), HostSide::not_said), std::pair(tr("the relic side"), HostSide::relic),
          std::pair(tr("the modern side"), HostSide::modern), std::pair(tr("neither"), HostSide::neither)})
        host_->addItem(text, static_cast<int>(side));
    connect(host_, &QComboBox::activated, this, [this] {
        change(tr("host"), [&](JobPlan& p) { p.host = static_cast<HostSide>(host_->currentData().toInt()); });
    });
    reversible_ = new ChoiceBox(tr("Reversible"), tr("Whether the relic can be put back as it was"));
    for (const auto& [text, r] : {std::pair(tr("not said"), Reversible::not_said),
                                  std::pair(tr("yes"), Reversible::yes), std::pair(tr("no"), Reversible::no)})
        reversible_->addItem(text, static_cast<int>(r));
    connect(reversible_, &QComboBox::activated, this, [this] {
        change(tr("reversible"), [&](JobPlan& p) {
            p.reversible = static_cast<Reversible>(reversible_->currentData().toInt());
        });
    });
    grid->addWidget(secondary_label(tr("Host")), 0, 0);
    grid->addWidget(host_, 0, 1);
    grid->addWidget(secondary_label(tr("Reversible")), 1, 0);
    grid->addWidget(reversible_, 1, 1);
    add_plan_field(
        *grid, 2, tr("Deadline"), tr("A day such as 2027-01-31; empty for none"),
        [](const JobPlan& p) { return to_q(p.deadline); },
        [](JobPlan& p, const QString& t) -> std::optional<QString> {
            if (!t.isEmpty() && !parse_day(t.toStdString())) return tr("Expected a day such as 2027-01-31.");
            p.deadline = t.toStdString();
            return std::nullopt;
        });
    add_plan_field(
        *grid, 3, tr("A new board costs"), tr("Money to make the board again; empty: from the parts list"),
        [](const JobPlan& p) { return mm(p.respin_money); },
        [](JobPlan& p, const QString& t) { return take_figure(p.respin_money, t, 1e9); });
    add_plan_field(
        *grid, 4, tr("and takes days"), tr("Days until it is here; empty: from the parts list"),
        [](const JobPlan& p) { return mm(p.respin_days); },
        [](JobPlan& p, const QString& t) { return take_figure(p.respin_days, t, most_wait_days); });
    grid->setColumnStretch(1, 1);
    job_sheet_->body()->addLayout(grid);
    job_sheet_->body()->addWidget(secondary_label(tr("Stages that it needs")));
    auto* stages = new QGridLayout;
    int n = 0;
    for (const auto s : all_of<Stage>()) {
        if (s == Stage::plan || s == Stage::practice) continue;
        auto* box = new QCheckBox(to_q(label(s)));
        connect(box, &QCheckBox::clicked, this, [this, s](bool on) {
            const auto* kind = outlook_.now().kind;
            change(on ? tr("bring back a stage") : tr("leave out a stage"), [&](JobPlan& p) {
                std::erase(p.wanted, s);
                std::erase(p.unwanted, s);
                if (stage_needed(p, kind, s) != on) (on ? p.wanted : p.unwanted).push_back(s);
            });
        });
        stages_[s] = box;
        stages->addWidget(box, n / 3, n % 3);
        ++n;
    }
    job_sheet_->body()->addLayout(stages);
    job_sheet_->body()->addStretch(1);
    return job_sheet_;
}

QWidget* JobView::make_musts() {
    musts_sheet_ = new Sheet(tr("Musts"));
    entry_ = new Field;
    entry_->setPlaceholderText(tr("Add: the lid closes without force"));
    entry_->setAccessibleName(tr("A must as one line"));
    entry_->setToolTip(tr("What the thing has to do or to fit"));
    entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        Must m;
        m.says = text.trimmed().toStdString();
        m.id = free_id<Must>(document_.dossier(), m.says);
        const auto id = to_q(m.id);
        document_.apply(tr("a must"), put(document_.dossier(), std::move(m)));
        entry_->clear();
        entry_->show_value({});
        show_must(id);
        return std::nullopt;
    };
    musts_sheet_->body()->addWidget(entry_);
    musts_ = new BarList(tr("Musts"));
    connect(musts_, &BarList::chosen, this, &JobView::fill_card);
    musts_sheet_->body()->addWidget(musts_, 1);
    return musts_sheet_;
}

QWidget* JobView::make_card() {
    card_sheet_ = new Sheet(tr("Shown by"));
    card_sheet_->setMinimumWidth(236);
    remove_ = new QPushButton(tr("Remove"));
    remove_->setProperty("compact", true);
    connect(remove_, &QPushButton::clicked, this, [this] {
        document_.apply(tr("remove a must"), drop<Must>(document_.dossier(), musts_->picked().toStdString()));
    });
    card_sheet_->add_to_title(remove_);
    make_tie();
    met_ = new FactRow(tr("Met"), {QString(), tr("yes"), tr("no")});
    met_->set_whole(true);
    met_->value_choice()->setMinimumWidth(56);
    met_->commit = [this](const QString& value, const Evidence& evidence) -> std::optional<QString> {
        const auto* s = picked();
        if (s == nullptr) return std::nullopt;
        auto m = s->must;
        const auto extra = m.met.evidence.extra;
        m.met.value = value.isEmpty() ? std::nullopt : std::optional(value == tr("yes"));
        m.met.evidence = evidence;
        m.met.evidence.extra = extra;
        change_must(tr("outcome"), std::move(m));
        return std::nullopt;
    };
    card_sheet_->body()->addWidget(met_);
    using Line = CardLine<Must>;
    std::vector<Line> lines{
        {tr("Says"), tr("What it has to do or to fit"), [](const Must& m) { return to_q(m.says); },
         [](Must& m, const QString& t) -> std::optional<QString> {
             m.says = t.toStdString();
             return std::nullopt;
         }},
        {tr("At least, mm"), tr("Of the dimension"), [](const Must& m) { return mm(m.least); },
         [](Must& m, const QString& t) { return take_limit(m, m.least, t); }},
        {tr("At most, mm"), tr("Of the dimension"), [](const Must& m) { return mm(m.most); },
         [](Must& m, const QString& t) { return take_limit(m, m.most, t); }},
        {tr("Need not be"), tr("Why it is given up; empty: it must"),
         [](const Must& m) { return to_q(m.waived); },
         [](Must& m, const QString& t) -> std::optional<QString> {
             m.waived = t.toStdString();
             return std::nullopt;
         }}};
    fields_ = std::make_unique<CardFields<Must>>(
        nullptr, std::move(lines), [this](const QString& what, Must m) { change_must(what, std::move(m)); });
    card_sheet_->body()->addWidget(fields_->box());
    why_ = secondary_label({});
    why_->setWordWrap(true);
    why_->setTextFormat(Qt::PlainText);
    card_sheet_->body()->addWidget(why_);
    card_sheet_->body()->addStretch(1);
    return card_sheet_;
}

void JobView::make_tie() {
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    tie_ = new ChoiceBox(tr("Hangs on"), tr("What shows that it is met"));
    for (const auto& [text, tie] :
         {std::pair(tr("a trial or a mock-up"), MustTie::none),
          std::pair(tr("a dimension"), MustTie::dimension), std::pair(tr("a pin's facts"), MustTie::pin),
          std::pair(tr("an interval"), MustTie::interval),
          std::pair(tr("the reply in time"), MustTie::reply)})
        tie_->addItem(text, static_cast<int>(tie));
    connect(tie_, &QComboBox::activated, this, [this] {
        if (const auto* s = picked()) {
            auto m = s->must;
            m.tie = static_cast<MustTie>(tie_->currentData().toInt());
            m.thing.clear();
            change_must(tr("tie"), std::move(m));
        }
    });
    thing_ = new ChoiceBox(tr("Which one"));
    connect(thing_, &QComboBox::activated, this, [this] {
        if (const auto* s = picked()) {
            auto m = s->must;
            m.thing = thing_->currentData().toString().toStdString();
            change_must(tr("tie"), std::move(m));
        }
    });
    grid->addWidget(secondary_label(tr("Hangs on")), 0, 0);
    grid->addWidget(tie_, 0, 1);
    grid->addWidget(secondary_label(tr("Which one")), 1, 0);
    grid->addWidget(thing_, 1, 1);
    grid->setColumnStretch(1, 1);
    card_sheet_->body()->addLayout(grid);
}

Field* JobView::field(const QString& label) const {
    for (const auto& f : plan_fields_)
        if (f.field->accessibleName() == label) return f.field;
    return fields_->field(label);
}

const MustState* JobView::picked() const {
    const auto id = musts_->picked().toStdString();
    for (const auto& m : outlook_.now().musts)
        if (m.must.id == id) return &m;
    return nullptr;
}

void JobView::change_must(const QString& what, Must must) {
    const auto said = tr("%1 of a must").arg(what);
    document_.apply(said, put(document_.dossier(), std::move(must)));
}

void JobView::show_must(const QString& id) {
    musts_->pick(id);
    fill_card();
}

void JobView::refresh() {
    const auto& plan = *document_.dossier().plan;
    const auto& o = outlook_.now();
    {
        const QSignalBlocker block(kind_);
        kind_->clear();
        kind_->addItem(tr("not said"), QString());
        for (const auto& k : document_.data().jobs.kinds) kind_->addItem(to_q(k.name), to_q(k.id));
        if (!plan.kind.empty() && o.kind == nullptr) kind_->addItem(to_q(plan.kind), to_q(plan.kind));
        kind_->setCurrentIndex(std::max(0, kind_->findData(to_q(plan.kind))));
    }
    about_kind_->setText(
        o.kind != nullptr ? to_q(o.kind->about)
        : plan.kind.empty()
            ? tr("It says which stages are needed, what is always asked, and the usual tasks.")
            : tr("This kind is not known here."));
    host_->setCurrentIndex(host_->findData(static_cast<int>(plan.host)));
    reversible_->setCurrentIndex(reversible_->findData(static_cast<int>(plan.reversible)));
    for (const auto& f : plan_fields_) f.field->show_value(f.show(plan));
    for (const auto& [s, box] : stages_) box->setChecked(stage_needed(plan, o.kind, s));
    std::vector<BarRow> rows;
    long open = 0;
    for (const auto& m : o.musts) {
        BarRow r;
        r.id = to_q(m.must.id);
        r.verdict = m.verdict;
        r.title = to_q(m.must.says);
        r.about = to_q(m.why);
        rows.push_back(std::move(r));
        open += m.verdict == Verdict::holds ? 0 : 1;
    }
    musts_sheet_->set_about(rows.empty()
                                ? tr("What it has to do or to fit; what is open keeps it from being ordered.")
                            : open == 0 ? tr("All are met.")
                                        : tr("%1 before anything is ordered.")
                                              .arg(to_q(plural(open, "is to be shown", "are to be shown"))));
    musts_->show_rows(std::move(rows));
    fill_card();
}

void JobView::fill_things(const Must& m) {
    const QSignalBlocker block(thing_);
    thing_->clear();
    thing_->addItem(tr("not said"), QString());
    const auto& d = document_.dossier();
    if (m.tie == MustTie::dimension)
        for (const auto& x : *d.dimensions) thing_->addItem(to_q(x.name.empty() ? x.id : x.name), to_q(x.id));
    if (m.tie == MustTie::pin)
        for (const auto& p : *d.ports)
            for (const auto& pin : p.pins)
                thing_->addItem(
                    QStringLiteral("%1 %2 %3").arg(to_q(p.id), to_q(pin.number), to_q(pin.name.value)),
                    to_q(p.id + "/" + pin.number));
    if (m.tie == MustTie::interval)
        for (const auto& i : d.timing->intervals) thing_->addItem(to_q(i.name), to_q(i.id));
    if (!m.thing.empty() && thing_->findData(to_q(m.thing)) < 0)
        thing_->addItem(to_q(m.thing), to_q(m.thing));
    thing_->setCurrentIndex(std::max(0, thing_->findData(to_q(m.thing))));
    thing_->setEnabled(m.tie != MustTie::none && m.tie != MustTie::reply);
}

void JobView::fill_card() {
    const auto* s = picked();
    for (QWidget* w : std::initializer_list<QWidget*>{tie_, thing_, met_}) w->setEnabled(s != nullptr);
    remove_->setEnabled(s != nullptr && !s->of_kind);
    fields_->show(s == nullptr ? std::nullopt : std::optional(s->must));
    why_->setText(s == nullptr ? QString() : to_q(s->why));
    card_sheet_->set_about(s != nullptr && s->of_kind ? tr("Usual for this kind of job.") : QString());
    if (s == nullptr) {
        met_->show_fact({}, {});
        return;
    }
    tie_->setCurrentIndex(tie_->findData(static_cast<int>(s->must.tie)));
    fill_things(s->must);
    met_->setVisible(s->must.tie == MustTie::none);
    const auto& met = s->must.met;
    met_->show_fact(met.value ? (*met.value ? tr("yes") : tr("no")) : QString(), met.evidence);
    for (const auto& label : {tr("At least, mm"), tr("At most, mm")})
        fields_->field(label)->setEnabled(s->must.tie == MustTie::dimension);
}

}  // namespace grayrelic::app
