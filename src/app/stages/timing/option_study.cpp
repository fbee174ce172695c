// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/option_study.hpp"

#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/dossier/edits.hpp"
#include "core/report/figures.hpp"
#include "core/timing/reply_option.hpp"
#include "core/timing/timing_analysis.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr int parts_column = 3, cost_column = 4, current_column = 5, soldering_column = 6;

/// What follows from the option's circuit is not typed.
void say_computed(TableRow& row, const NetworkBill& bill) {
    if (bill.count == 0) return;
    const auto fix = [&](int column, const QString& tip) {
        auto& cell = row[static_cast<std::size_t>(column)];
        cell.editable = false;
        cell.tip = cell.text + QLatin1Char('\n') + tip;
    };
    const auto from = QObject::tr("follows from the circuit under Wire");
    fix(parts_column, from);
    fix(soldering_column, from);
    if (bill.cost)
        fix(cost_column, bill.without_price > 0
                             ? QObject::tr("%1; %2 kinds of parts have no price under Plan, Parts")
                                   .arg(from)
                                   .arg(bill.without_price)
                             : from);
    if (bill.current_a)
        fix(current_column, QObject::tr("%1: the parts' own currents, without load").arg(from));
}

}  // namespace

OptionStudy::OptionStudy(Document& document, QWidget* parent)
    : Sheet(QString(), parent), document_(document) {
    parts_ = new QTabBar;
    parts_->setDrawBase(false);
    parts_->setExpanding(false);
    parts_->setAccessibleName(tr("What follows for the option"));
    for (const auto& name : {tr("Worst reply"), tr("Margin"), tr("How far"), tr("Side by side")})
        parts_->addTab(name);
    add_to_title(parts_);
    stack_ = new QStackedWidget;
    worst_ = new WorstView;
    stack_->addWidget(worst_);
    histogram_ = new HistogramView;
    histogram_->setAccessibleName(tr("Margin histogram"));
    stack_->addWidget(histogram_);
    auto* far = new QWidget;
    auto* column = new QVBoxLayout(far);
    column->setContentsMargins(0, 0, 0, 0);
    limits_ = new FactTable;
    limits_->set_columns(
        {{tr("Number"), 130}, {tr("Now"), 84, true}, {tr("At most"), 90, true}, {tr("Room"), 84, true}},
        tr("How far each number may go"));
    column->addWidget(limits_, 1);
    proof_ = secondary_label({});
    proof_->setWordWrap(true);
    proof_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(proof_);
    stack_->addWidget(far);
    options_ = new FactTable;
    options_->set_columns({{tr("Option"), 118},
                           {tr("Verdict"), 56},
                           {tr("Margin"), 74, true},
                           {tr("Parts"), 110, false, true},
                           {tr("Cost"), 52, true, true},
                           {tr("Current"), 66, true, true},
                           {tr("Soldering"), 84, false, true}},
                          tr("Options side by side"));
    options_->setToolTip(tr("Parts, cost, current and soldering are typed in place"));
    connect(options_, &FactTable::edited, this, &OptionStudy::change_bill);
    stack_->addWidget(options_);
    body()->addWidget(stack_, 1);
    connect(parts_, &QTabBar::currentChanged, stack_, &QStackedWidget::setCurrentIndex);
    worst_->found = [this](std::optional<Time> trigger) { say_moment(trigger); };
}

/// The slowest reply is looked for beside the window.
void OptionStudy::say_moment(std::optional<Time> trigger) {
    set_about(trigger ? tr("at %1").arg(to_q(print(*trigger, 6))) : QString());
}

void OptionStudy::show_part(Part part) {
    parts_->setCurrentIndex(part);
}

void OptionStudy::show_option(const OptionAnalysis* o) {
    const auto& a = document_.analysis();
    worst_->show_option(a, o == nullptr ? std::string() : o->option.id);
    fill_options();
    fill_margin(o);
    if (o == nullptr || !o->summary) {
        set_title(tr("No reply to show yet"));
        set_about({});
        limits_->set_rows({});
        proof_->setText(o == nullptr ? QString() : to_q(o->problem));
        return;
    }
    set_title(to_q(o->option.name));
    fill_limits(*o);
}

/// How long before the host's look, or after it, the replies come.
void OptionStudy::fill_margin(const OptionAnalysis* o) {
    if (o == nullptr || !o->summary || !document_.analysis().timing->tasks)
        return histogram_->clear(o == nullptr ? tr("Choose an option above.") : to_q(o->problem));
    histogram_->show_values(o->summary->after_look, Driver::bridge,
                            HistogramView::Marker{0.0, tr("host looks").toStdString()}, 0.0);
}

void OptionStudy::fill_limits(const OptionAnalysis& o) {
    std::vector<TableRow> rows;
    const auto add = [&rows](const QString& name, const QString& now, const QString& most,
                             const QString& room, bool holds) {
        rows.push_back({name,
                        now,
                        {most, holds ? theme().verdigris : theme().oxide},
                        {room, holds ? theme().ink : theme().oxide}});
    };
    for (const auto& s : o.sensitivity) {
        QString label = to_q(s.key);
        for (const auto& spec : parameters_of(o.option.kind))
            if (spec.key == s.key) label = to_q(spec.label);
        if (s.key == "cycles") label = tr("Whole program");
        add(label, to_q(print(s.now)), s.at_most ? to_q(print(*s.at_most)) : tr("not even 0"),
            s.at_most ? to_q(print(*s.at_most - s.now)) : QString(), s.holds);
    }
    for (const auto& c : o.corners)
        add(tr("%1 corner").arg(to_q(c.name)), to_q(print(c.latency)),
            o.summary->enough_latency ? to_q(print(*o.summary->enough_latency)) : QString(),
            to_q(print(c.margin)), c.margin >= Time{});
    if (o.network)
        for (std::size_t i = 3; i < o.network->corners.size(); ++i) {
            const auto& c = o.network->corners[i];
            add(to_q(c.name), to_q(print(c.slowest)), QString(),
                c.worst_margin ? to_q(print(*c.worst_margin)) : QString(), c.missed == 0);
        }
    limits_->set_rows(std::move(rows));
    const auto& c = o.confidence;
    auto text = c.missed_share > 0 ? tr("%1 replies: %2 missed; with 95 % confidence at most %3.")
                                   : tr("%1 replies, none missed: with 95 % confidence at most %3 would be.");
    text = text.arg(to_q(print_count(c.replies)));
    text = c.missed_share > 0
               ? text.arg(to_q(print_share(c.missed_share)), to_q(print_share(c.at_most_share)))
               : text.replace(QStringLiteral("%3"), to_q(print_share(c.at_most_share)));
    if (o.network)
        text += o.network->differ == 0
                    ? tr(" It answers as the original did at all %1 looks.")
                          .arg(to_q(print_count(o.network->compared)))
                    : tr(" At %1 of %2 looks it answers otherwise than the original.")
                          .arg(to_q(print_count(o.network->differ)), to_q(print_count(o.network->compared)));
    if (!c.assumed.empty()) {
        QStringList names;
        for (const auto& n : c.assumed) names << to_q(n);
        text += tr(" Rests on assumed: %1.").arg(names.join(QStringLiteral(", ")));
    }
    proof_->setText(text);
}

void OptionStudy::fill_options() {
    const auto& timing = *document_.dossier().timing;
    std::vector<TableRow> rows;
    for (const auto& o : timing.options) {
        const auto* found = document_.analysis().find_option(o.id);
        const auto verdict = found == nullptr ? Verdict::unknown : found->verdict;
        const Time* margin = found != nullptr && found->summary && found->summary->worst_margin
                                 ? &*found->summary->worst_margin
                                 : nullptr;
        const auto& wire = document_.analysis().wire;
        const auto* cost = wire ? wire->find_cost(o.id) : nullptr;
        const auto bill = shown_bill(o, cost == nullptr ? nullptr : &cost->bill);
        TableRow row{to_q(o.name) + (o.id == timing.chosen ? tr(" (chosen)") : QString()),
                     {to_q(word(verdict)), theme().verdict(verdict)},
                     {margin != nullptr ? to_q(print(*margin)) : QString(), theme().verdict(verdict)},
                     to_q(bill.parts),
                     bill.cost ? QString::number(*bill.cost, 'f', 2) : QString(),
                     bill.current ? to_q(print(Amperes(*bill.current))) : QString(),
                     to_q(bill.soldering)};
        if (cost != nullptr) say_computed(row, cost->bill);
        row[0].key = to_q(o.id);
        row[1].sort = static_cast<double>(verdict);
        row[2].sort = margin != nullptr ? margin->seconds() : -1e12;
        row[cost_column].sort = bill.cost.value_or(-1.0);
        row[current_column].sort = bill.current.value_or(-1.0);
        rows.push_back(std::move(row));
    }
    options_->set_rows(std::move(rows));
}

void OptionStudy::change_bill(int row, int column, const QString& typed) {
    const auto& options = document_.dossier().timing->options;
    if (row < 0 || row >= static_cast<int>(options.size())) return;
    auto o = options[static_cast<std::size_t>(row)];
    const auto text = typed.trimmed().toStdString();
    const auto number = [&](Unit unit, std::optional<double>& to) {
        if (text.empty()) {
            to.reset();
            return;
        }
        const auto v = parse_number(text, unit);
        if (v && *v >= 0)
            to = *v;
        else
            set_about(
                tr("Found “%1” for %2: expected %3.")
                    .arg(to_q(text), to_q(o.name), v ? tr("a number from 0") : to_q(v.error().expected)));
    };
    if (column == parts_column)
        o.bill.parts = text;
    else if (column == cost_column)
        number(Unit::none, o.bill.cost);
    else if (column == current_column)
        number(Unit::ampere, o.bill.current);
    else if (column == soldering_column)
        o.bill.soldering = text;
    if (o == options[static_cast<std::size_t>(row)]) return;
    const auto what = tr("bill of %1").arg(to_q(o.name));
    document_.apply(what, put(document_.dossier(), std::move(o)));
}

}  // namespace grayrelic::app
