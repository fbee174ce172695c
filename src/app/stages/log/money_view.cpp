// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/log/money_view.hpp"

#include <QDate>
#include <QHBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/job/job_money.hpp"
#include "core/record/trial_words.hpp"
#include "core/report/trial_figure.hpp"

namespace grayrelic::app {
namespace {

constexpr double most_money_typed = 1e9;
constexpr int largest_batch = 1'000'000;

QString in_money(double v) {
    return QString::number(v, 'f', 2).replace(QLatin1Char('-'), QChar(0x2212));
}

QString shown_number(const std::optional<double>& v) {
    return v ? QString::number(*v, 'g', 9) : QString();
}

}  // namespace

MoneyView::MoneyView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QHBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    whole->addLayout(make_costs(), 1);
    whole->addWidget(make_rows(), 1);
    today = [] { return QDate::currentDate().toString(Qt::ISODate); };
}

QLayout* MoneyView::make_costs() {
    auto* left = new QVBoxLayout;
    left->setSpacing(8);
    costs_sheet_ = new Sheet(tr("What is paid"));
    remove_ = compact_button(
        tr("Remove"), tr("Takes the chosen line out; what is computed goes with what it is computed from"));
    connect(remove_, &QPushButton::clicked, this, [this] {
        const auto id = costs_->key(std::max(0, costs_->chosen())).toString().toStdString();
        document_.apply(tr("remove a cost"), drop<CostLine>(document_.dossier(), id));
    });
    costs_sheet_->add_to_title(remove_);
    costs_ = new FactTable;
    costs_->set_columns({{tr("What"), 170}, {tr("For"), 62}, {tr("Money"), 74, true}}, tr("Costs"));
    costs_sheet_->body()->addWidget(costs_, 1);
    cost_entry_ = new Field;
    cost_entry_->setAccessibleName(tr("A cost"));
    cost_entry_->setPlaceholderText(tr("boards 24.50 a batch; tools 80: plug crimper"));
    cost_entry_->setToolTip(
        tr("parts, boards, shipping, tools or other; money; once, a batch or a piece; behind a colon what it "
           "is"));
    cost_entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        auto cost = cost_from_text(text.toStdString());
        if (!cost) return to_q(cost.error().message());
        cost->id = free_id<CostLine>(document_.dossier(), std::string(word(cost->kind)) + "-1");
        cost->day = today().toStdString();
        document_.apply(tr("a cost"), put(document_.dossier(), std::move(*cost)));
        cost_entry_->clear();
        cost_entry_->show_value({});
        return std::nullopt;
    };
    costs_sheet_->body()->addWidget(cost_entry_);
    left->addWidget(costs_sheet_, 3);
    hours_sheet_ = new Sheet(tr("Hours"));
    hours_ = new FactTable;
    hours_->set_columns({{tr("Task"), 190}, {tr("Planned"), 62, true}, {tr("Spent"), 56, true}}, tr("Hours"));
    hours_sheet_->body()->addWidget(hours_, 1);
    hours_entry_ = new Field;
    hours_entry_->setAccessibleName(tr("Hours spent"));
    hours_entry_->setPlaceholderText(tr("Solder a board 3.5"));
    hours_entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        auto spent = hours_from_text(text.toStdString());
        if (!spent) return to_q(spent.error().message());
        spent->day = today().toStdString();
        document_.apply(tr("hours"), edit(document_.dossier(), &Dossier::log,
                                          [&](JobLog& log) { log.money.hours.push_back(*spent); }));
        hours_entry_->clear();
        hours_entry_->show_value({});
        return std::nullopt;
    };
    hours_sheet_->body()->addWidget(hours_entry_);
    left->addWidget(hours_sheet_, 2);
    return left;
}

QWidget* MoneyView::make_rows() {
    rows_sheet_ = new Sheet(tr("For one and for many"));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    price_ = number_field(
        tr("Price"), tr("What one is sold for; empty: not sold"), grid,
        [](const Economics& e) { return shown_number(e.price); },
        [](Economics& e, std::optional<double> v) -> std::optional<QString> {
            e.price = v;
            return std::nullopt;
        });
    batch_ = number_field(
        tr("Batch"), tr("Boards begun together"), grid,
        [](const Economics& e) { return QString::number(e.batch); },
        [](Economics& e, std::optional<double> v) -> std::optional<QString> {
            if (!v || *v < 1 || *v > largest_batch || *v != static_cast<int>(*v))
                return tr("Expected a whole number, 1 or more.");
            e.batch = static_cast<int>(*v);
            return std::nullopt;
        });
    const auto fact = [this](Fact<std::optional<double>> Economics::*member) {
        return [this, member](Economics& e, std::optional<double> v) -> std::optional<QString> {
            (e.*member).value = v;
            (e.*member).evidence =
                v ? Evidence{EvidenceKind::documented, tr("entered").toStdString(), today().toStdString(), {}}
                  : Evidence{};
            return std::nullopt;
        };
    };
    original_ = number_field(
        tr("Original"), tr("What an original costs, where one can be had"), grid,
        [](const Economics& e) { return shown_number(e.original.value); }, fact(&Economics::original));
    ready_ = number_field(
        tr("Ready-made"), tr("What a ready-made one costs"), grid,
        [](const Economics& e) { return shown_number(e.ready_made.value); }, fact(&Economics::ready_made));
    worth_ = number_field(
        tr("An hour"), tr("What an hour is worth; empty: hours are counted apart"), grid,
        [](const Economics& e) { return shown_number(e.hour_worth); },
        [](Economics& e, std::optional<double> v) -> std::optional<QString> {
            e.hour_worth = v;
            return std::nullopt;
        });
    (void)number_field(
        tr("Hours each"), tr("Of work for each board; empty: from Build's log"), grid,
        [](const Economics& e) { return shown_number(e.hours_each); },
        [](Economics& e, std::optional<double> v) -> std::optional<QString> {
            constexpr double most_hours = 1e6;
            if (v && *v > most_hours) return tr("Expected hours, at most a million.");
            e.hours_each = v;
            return std::nullopt;
        });
    rows_sheet_->body()->addLayout(grid);
    figure_ = new DrawingView(tr("What one costs, over how many"));
    constexpr int drawn_to = 50;
    figure_->redraw = [this](double width) {
        return cost_figure(study_, document_.dossier().log->money, drawn_to, width);
    };
    rows_sheet_->body()->addWidget(figure_);
    rows_ = new FactTable;
    rows_->set_columns({{tr("That work"), 62, true},
                        {tr("Cost"), 74, true},
                        {tr("Each"), 66, true},
                        {tr("Left over"), 74, true}},
                       tr("Cost over quantity"));
    rows_sheet_->body()->addWidget(rows_, 1);
    return rows_sheet_;
}

Field* MoneyView::number_field(
    const QString& label, const QString& tip, QLayout* into, std::function<QString(const Economics&)> show,
    std::function<std::optional<QString>(Economics&, std::optional<double>)> take) {
    auto* field = new Field;
    field->setAccessibleName(label);
    field->setToolTip(tip);
    field->commit = [this, label, take = std::move(take)](const QString& text) -> std::optional<QString> {
        bool fine = true;
        const double v = text.trimmed().isEmpty() ? 0 : text.trimmed().toDouble(&fine);
        if (!fine || !(v >= 0 && v <= most_money_typed)) return tr("Expected a number, 0 or more.");
        auto next = document_.dossier().log->money;
        if (auto problem = take(next, text.trimmed().isEmpty() ? std::nullopt : std::optional(v)))
            return problem;
        document_.apply(label,
                        edit(document_.dossier(), &Dossier::log, [&](JobLog& log) { log.money = next; }));
        return std::nullopt;
    };
    auto* grid = static_cast<QGridLayout*>(into);
    const int column = static_cast<int>(shown_.size());
    auto* name = secondary_label(label);
    name->setBuddy(field);
    grid->addWidget(name, 0, column);
    grid->addWidget(field, 1, column);
    shown_.emplace_back(field, std::move(show));
    return field;
}

void MoneyView::refresh() {
    auto now = document_.analysis();
    now.dossier = document_.dossier();
    study_ = job_costs(now);
    const auto& e = now.dossier.log->money;
    for (const auto& [field, show] : shown_) field->show_value(show(e));
    std::vector<TableRow> costs;
    for (std::size_t i = 0; i < study_.entries.size(); ++i) {
        const auto& c = study_.entries[i];
        TableCell what(to_q(c.says));
        what.sort = static_cast<double>(i);
        if (i < e.costs.size()) what.key = to_q(e.costs[i].id);
        TableCell amount(in_money(c.money));
        amount.sort = c.money;
        costs.push_back({what,
                         c.per == CostPer::once    ? tr("once")
                         : c.per == CostPer::batch ? tr("a batch")
                                                   : tr("a piece"),
                         amount});
        costs.back().front().tip = costs.back().front().text + QLatin1String("\n") + to_q(c.from);
    }
    QStringList missing;
    for (const auto& m : study_.missing) missing << to_q(m);
    costs_sheet_->set_about(
        missing.isEmpty() ? QString() : tr("Not known: %1.").arg(missing.join(QStringLiteral("; "))), true);
    costs_->set_rows(std::move(costs));
    remove_->setEnabled(!e.costs.empty());
    std::vector<TableRow> rows;
    for (const auto& r : study_.rows) {
        TableCell quantity(QString::number(r.quantity));
        quantity.tip = tr("%1 begun, in %2").arg(r.begun).arg(to_q(plural(r.batches, "batch", "batches")));
        TableCell left(r.profit ? in_money(*r.profit) : QString());
        if (r.profit) left.icon = verdict_icon(*r.profit >= 0 ? Verdict::holds : Verdict::stop);
        rows.push_back({quantity, in_money(r.cost), in_money(r.each), left});
    }
    rows_sheet_->set_about(tr("%1. %2.").arg(to_q(study_.says), to_q(study_.yield_from)), true);
    rows_->set_rows(std::move(rows));
    figure_->show_drawing(figure_->redraw(figure_->width()));
    fill_hours();
}

void MoneyView::fill_hours() {
    auto now = document_.analysis();
    now.dossier = document_.dossier();
    const auto outlook_now = outlook(now, std::nullopt);
    const auto hours = job_hours(now, outlook_now.tasks);
    std::vector<TableRow> rows;
    for (const auto& t : hours.tasks) {
        TableCell task(to_q(t.task));
        task.icon = verdict_icon(t.done ? Verdict::holds : Verdict::unknown);
        rows.push_back({task, t.estimated ? QString::number(*t.estimated, 'f', 1) : QString(),
                        QString::number(t.spent, 'f', 1)});
    }
    hours_sheet_->set_about(
        hours.factor   ? tr("What is done took %1 times as long as planned.").arg(*hours.factor, 0, 'f', 2)
        : rows.empty() ? tr("Hours beside Plan's estimates make the next estimate better.")
                       : tr("None of these is both estimated and done yet."),
        true);
    hours_->set_rows(std::move(rows));
}

}  // namespace grayrelic::app
