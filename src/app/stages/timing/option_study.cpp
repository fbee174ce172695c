// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/option_study.hpp"

#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/widgets/plain_table.hpp"
#include "core/dossier/edits.hpp"
#include "core/report/figures.hpp"
#include "core/timing/reply_option.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr int parts_column = 3, cost_column = 4, current_column = 5, soldering_column = 6;

}  // namespace

OptionStudy::OptionStudy(Document& document, QWidget* parent)
    : Sheet(QString(), parent), document_(document) {
    parts_ = new QTabBar;
    parts_->setDrawBase(false);
    parts_->setExpanding(false);
    parts_->setAccessibleName(tr("What follows for the option"));
    for (const auto& name : {tr("Worst reply"), tr("How far"), tr("Side by side")}) parts_->addTab(name);
    add_to_title(parts_);
    stack_ = new QStackedWidget;
    worst_ = new WorstView;
    stack_->addWidget(worst_);
    auto* far = new QWidget;
    auto* column = new QVBoxLayout(far);
    column->setContentsMargins(0, 0, 0, 0);
    limits_ = new QTableWidget;
    setup_table(*limits_,
                {{tr("Number"), 130, false},
                 {tr("Now"), 84, true},
                 {tr("At most"), 90, true},
                 {tr("Room"), 84, true},
                 {QString(), 8, false}},
                tr("How far each number may go"));
    column->addWidget(limits_, 1);
    proof_ = secondary_label({});
    proof_->setWordWrap(true);
    proof_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(proof_);
    stack_->addWidget(far);
    options_ = new QTableWidget;
    setup_table(*options_,
                {{tr("Option"), 118, false},
                 {tr("Verdict"), 56, false},
                 {tr("Margin"), 74, true},
                 {tr("Parts"), 110, false},
                 {tr("Cost"), 48, true},
                 {tr("Current"), 62, true},
                 {tr("Soldering"), 80, false}},
                tr("Options side by side"));
    options_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                              QAbstractItemView::AnyKeyPressed);
    options_->setToolTip(tr("Parts, cost, current and soldering are typed in place"));
    connect(options_, &QTableWidget::cellChanged, this, &OptionStudy::change_bill);
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
    limits_->setRowCount(0);
    if (o == nullptr || !o->summary) {
        set_title(tr("No reply to show yet"));
        set_about({});
        proof_->setText(o == nullptr ? QString() : to_q(o->problem));
        return;
    }
    set_title(to_q(o->option.name));
    fill_limits(*o);
}

void OptionStudy::fill_limits(const OptionAnalysis& o) {
    const auto add = [&](const QString& name, const QString& now, const QString& most, const QString& room,
                         bool holds) {
        const int row = limits_->rowCount();
        limits_->insertRow(row);
        set_cell(*limits_, row, 0, name);
        set_cell(*limits_, row, 1, now, true);
        set_cell(*limits_, row, 2, most, true, holds ? theme().verdigris : theme().oxide);
        set_cell(*limits_, row, 3, room, true, holds ? theme().ink : theme().oxide);
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
    filling_ = true;
    const auto& timing = *document_.dossier().timing;
    options_->setRowCount(static_cast<int>(timing.options.size()));
    for (int r = 0; r < options_->rowCount(); ++r) {
        const auto& o = timing.options[static_cast<std::size_t>(r)];
        const auto* found = document_.analysis().find_option(o.id);
        const auto verdict = found == nullptr ? Verdict::unknown : found->verdict;
        const auto margin = found != nullptr && found->summary && found->summary->worst_margin
                                ? to_q(print(*found->summary->worst_margin))
                                : QString();
        const auto fixed = [&](int column, const QString& text, bool figure, const QColor& colour = {}) {
            set_cell(*options_, r, column, text, figure, colour)
                ->setFlags(Qt::ItemIsSelectable | Qt::ItemIsEnabled);
        };
        fixed(0, to_q(o.name) + (o.id == timing.chosen ? tr(" (chosen)") : QString()), false);
        fixed(1, to_q(word(verdict)), false, theme().verdict(verdict));
        fixed(2, margin, true, theme().verdict(verdict));
        set_cell(*options_, r, parts_column, to_q(o.bill.parts));
        set_cell(*options_, r, cost_column, o.bill.cost ? QString::number(*o.bill.cost, 'f', 2) : QString(),
                 true);
        set_cell(*options_, r, current_column,
                 o.bill.current ? to_q(print(Amperes(*o.bill.current))) : QString(), true);
        set_cell(*options_, r, soldering_column, to_q(o.bill.soldering));
    }
    filling_ = false;
}

void OptionStudy::change_bill(int row, int column) {
    const auto& options = document_.dossier().timing->options;
    if (filling_ || row < 0 || row >= static_cast<int>(options.size())) return;
    auto o = options[static_cast<std::size_t>(row)];
    const auto text = options_->item(row, column)->text().trimmed().toStdString();
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
    // What can't be taken goes back to what stood there.
    if (o == options[static_cast<std::size_t>(row)]) return fill_options();
    const auto what = tr("bill of %1").arg(to_q(o.name));
    document_.apply(what, put(document_.dossier(), std::move(o)));
}

}  // namespace grayrelic::app
