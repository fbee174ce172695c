// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/calendar_view.hpp"

#include <QApplication>
#include <QHBoxLayout>
#include <QMenu>
#include <QVBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/dossier/edits.hpp"
#include "core/plan/task_text.hpp"

namespace grayrelic::app {
namespace {

QString figure(double v) {
    return v > 0 ? QString::number(v, 'g', 6) : QString();
}

QString joined_names(const std::vector<std::string>& names) {
    QStringList out;
    for (const auto& n : names) out << to_q(n);
    return out.join(QStringLiteral(" + "));
}

}  // namespace

CalendarView::CalendarView(Document& document, JobOutlook& outlook, JobSchedule& schedule, QWidget* parent)
    : QWidget(parent), document_(document), outlook_(outlook), schedule_(schedule) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    chart_sheet_ = new Sheet(tr("Dates"));
    chart_ = new CalendarChart(tr("Dates of the tasks"));
    chart_->setMinimumHeight(120);
    connect(chart_, &CalendarChart::chosen, this, [this](const QString& id) {
        for (int i = 0; i < tasks_->row_count(); ++i)
            if (tasks_->text(i, 0) == id) tasks_->choose(i);
    });
    chart_sheet_->body()->addWidget(chart_, 1);
    meanwhile_ = secondary_label({});
    meanwhile_->setWordWrap(true);
    meanwhile_->setTextFormat(Qt::PlainText);
    chart_sheet_->body()->addWidget(meanwhile_);
    column->addWidget(chart_sheet_, 1);
    column->addWidget(make_tasks(), 1);
    connect(&schedule_, &JobSchedule::made, this, &CalendarView::fill_chart);
}

QWidget* CalendarView::make_tasks() {
    tasks_sheet_ = new Sheet(tr("Tasks"));
    propose_ = compact_button(tr("Propose anew"),
                              tr("Back to the tasks of the kind of job; undo brings these back"));
    connect(propose_, &QPushButton::clicked, this, [this] {
        auto plan = *document_.dossier().plan;
        plan.tasks.clear();
        document_.apply(tr("tasks as proposed"), put(document_.dossier(), std::move(plan)));
    });
    done_ = compact_button(tr("Done today"),
                           tr("The chosen tasks are done; only what is left of their waits counts"));
    connect(done_, &QPushButton::clicked, this, [this] {
        const auto rows = tasks_->chosen_rows();
        change(tr("a task done"), [&](std::vector<PlanTask>& tasks) -> std::optional<QString> {
            for (const int r : rows) tasks[static_cast<std::size_t>(r)].done = print(outlook_.today());
            return std::nullopt;
        });
    });
    remove_ =
        compact_button(tr("Remove"), tr("What comes after a removed task comes after what that came after"));
    connect(remove_, &QPushButton::clicked, this, [this] {
        auto rows = tasks_->chosen_rows();
        std::sort(rows.begin(), rows.end(), std::greater<>());
        change(tr("remove tasks"), [&](std::vector<PlanTask>& tasks) -> std::optional<QString> {
            for (const int r : rows) remove_task(tasks, tasks[static_cast<std::size_t>(r)].id);
            return std::nullopt;
        });
    });
    auto* table = compact_button(tr("Table"), tr("Tasks as CSV, in and out"));
    auto* menu = new QMenu(table);
    connect(menu->addAction(tr("Read tasks…")), &QAction::triggered, this, &CalendarView::table_in_wanted);
    connect(menu->addAction(tr("Write tasks…")), &QAction::triggered, this, &CalendarView::table_out_wanted);
    table->setMenu(menu);
    table->setProperty("menu", true);
    for (auto* b : {propose_, done_, remove_, table}) tasks_sheet_->add_to_title(b);
    auto* row = new QHBoxLayout;
    entry_ = new Field;
    entry_->setPlaceholderText(tr("Add: firmware 2-6-10 h after breadboard + parts, 7-21 d"));
    entry_->setAccessibleName(tr("A task as one line"));
    entry_->setToolTip(
        tr("What is done; least, likely and most hours; what it comes after, joined by +; how many "
           "days it waits behind its work"));
    entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        return enter(text);
    };
    hours_ = new Field;
    hours_->setAccessibleName(tr("Hours a week"));
    hours_->setToolTip(tr("How many hours a week you work on it; kept on your bench, for all dossiers"));
    hours_->setFixedWidth(52);
    hours_->commit = [this](const QString& text) -> std::optional<QString> {
        bool fine = false;
        const double v = text.trimmed().toDouble(&fine);
        if (!fine || !(v > 0 && v <= 168)) return tr("Expected hours, more than 0 and at most 168.");
        const auto problem = document_.change_bench([&](Bench& b) { b.hours_per_week = v; });
        return problem.isEmpty() ? std::optional<QString>() : problem;
    };
    row->addWidget(entry_, 1);
    row->addWidget(secondary_label(tr("Hours a week")));
    row->addWidget(hours_);
    tasks_sheet_->body()->addLayout(row);
    tasks_ = new FactTable;
    tasks_->set_columns({{tr("Task"), 200, false, true},
                         {tr("Least h"), 56, true, true},
                         {tr("Likely h"), 56, true, true},
                         {tr("Most h"), 56, true, true},
                         {tr("After"), 200, false, true},
                         {tr("Waits from d"), 76, true, true},
                         {tr("to d"), 52, true, true},
                         {tr("Done"), 100, false, true}},
                        tr("Tasks"));
    connect(tasks_, &FactTable::edited, this, &CalendarView::edit_cell);
    connect(tasks_, &FactTable::row_chosen, this,
            [this](int chosen) { chart_->pick(tasks_->text(chosen, 0)); });
    tasks_sheet_->body()->addWidget(tasks_, 1);
    return tasks_sheet_;
}

/// An edit of what is proposed takes it over; one that gives no dates is taken and said.
void CalendarView::change(const QString& what,
                          const std::function<std::optional<QString>(std::vector<PlanTask>&)>& edit) {
    auto plan = *document_.dossier().plan;
    plan.tasks = outlook_.now().tasks;
    if (const auto problem = edit(plan.tasks)) {
        QApplication::beep();
        refresh();
        tasks_sheet_->set_about(*problem);
        return;
    }
    document_.apply(what, put(document_.dossier(), std::move(plan)));
}

void CalendarView::edit_cell(int row, int column, const QString& typed) {
    change(tr("a task"), [&](std::vector<PlanTask>& tasks) -> std::optional<QString> {
        if (row >= static_cast<int>(tasks.size())) return std::nullopt;
        const auto problem = set_task_field(tasks, static_cast<std::size_t>(row),
                                            static_cast<TaskField>(column), typed.trimmed().toStdString());
        return problem.empty() ? std::nullopt : std::optional(to_q(problem));
    });
}

std::optional<QString> CalendarView::enter(const QString& text) {
    auto made = parse_task(text.toStdString());
    if (!made) return tr("Found %1, expected %2.").arg(to_q(made.error().found), to_q(made.error().expected));
    auto plan = *document_.dossier().plan;
    plan.tasks = outlook_.now().tasks;
    plan.tasks.push_back(std::move(*made));
    if (const auto problem = task_problem(plan.tasks); !problem.empty())
        return to_q(problem) + QLatin1Char('.');
    document_.apply(tr("a task"), put(document_.dossier(), std::move(plan)));
    entry_->clear();
    entry_->show_value({});
    return std::nullopt;
}

QString CalendarView::take_table(const std::string& text, const QString& name) {
    auto tasks = tasks_from_csv(text, name.toStdString());
    if (!tasks) return to_q(tasks.error().message());
    auto plan = *document_.dossier().plan;
    const auto many = tasks->size();
    plan.tasks = std::move(*tasks);
    document_.apply(tr("tasks from a table"), put(document_.dossier(), std::move(plan)));
    return tr("%1 tasks read.").arg(many);
}

void CalendarView::refresh() {
    const auto& o = outlook_.now();
    schedule_.refresh();
    std::vector<TableRow> rows;
    for (const auto& t : o.tasks) {
        TableCell name(to_q(t.id));
        name.key = to_q(t.id);
        rows.push_back({name, QString::number(t.least_h, 'g', 6), QString::number(t.likely_h, 'g', 6),
                        QString::number(t.most_h, 'g', 6), joined_names(t.after), figure(t.wait_least_d),
                        figure(t.wait_most_d), to_q(t.done)});
    }
    const bool own = !document_.dossier().plan->tasks.empty();
    // What Log has learned of hours counts in the dates; what was typed stays.
    const auto learned = o.hours_learned.empty()
                             ? QString()
                             : tr(" In the dates what is to do counts %1.").arg(to_q(o.hours_learned));
    tasks_sheet_->set_about((rows.empty() ? tr("Choose a kind of job in Job, and its usual tasks stand here.")
                             : own        ? tr("Yours. Three figures each, because nobody knows one.")
                                   : tr("As proposed by the kind of job; the first edit takes them over.")) +
                            learned);
    propose_->setEnabled(own && o.kind != nullptr);
    const bool any = !rows.empty();
    remove_->setEnabled(any);
    done_->setEnabled(any);
    tasks_->set_rows(std::move(rows));
    hours_->show_value(QString::number(outlook_.hours()));
    fill_chart();
}

void CalendarView::fill_chart() {
    chart_->show_rows(schedule_.rows(), schedule_.dates());
    chart_sheet_->set_about(schedule_.sentence());
    QStringList lines;
    if (const auto* s = schedule_.now()) {
        if (!s->start_now.empty())
            lines << tr("Start now: %1.")
                         .arg(
                             joined_names(s->start_now).replace(QStringLiteral(" + "), QStringLiteral(", ")));
        for (const auto& m : s->meanwhile)
            lines << tr("%1 while waiting for %2.").arg(to_q(m.task), to_q(m.while_waiting_for));
    }
    if (lines.size() > 4) lines = lines.mid(0, 4) << tr("and %1 more").arg(lines.size() - 4);
    meanwhile_->setText(lines.join(QLatin1Char(' ')));
    meanwhile_->setVisible(!lines.isEmpty());
}

}  // namespace grayrelic::app
