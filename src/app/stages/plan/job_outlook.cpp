// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/job_outlook.hpp"

#include <QLocale>

#include <algorithm>

#include "app/paint/marks.hpp"

namespace grayrelic::app {

Versions JobOutlook::rests_on() const {
    const auto& a = document_.analysis();
    auto from = versions_of(document_.dossier(), a, ~0U);
    from.insert(from.end(), a.by_check.begin(), a.by_check.end());
    return from;
}

bool JobOutlook::is_stale() const {
    return rests_on() != made_from_ || made_on_ != today();
}

const Outlook& JobOutlook::now() {
    if (is_stale()) {
        made_from_ = rests_on();
        made_on_ = today();
        // The plan as it is now; what the checks say of it follows when they have run.
        auto a = document_.analysis();
        a.dossier = document_.dossier();
        data_ = a.data;  // the outlook points at its kinds
        outlook_ = outlook(a, made_on_);
    }
    return outlook_;
}

Day JobOutlook::today() const {
    const auto day = ask_today();
    return std::chrono::year(day.year()) / day.month() / day.day();
}

double JobOutlook::hours() const {
    return document_.person().bench.hours_per_week.value_or(ScheduleOptions{}.hours_per_week);
}

QString day_words(Day day, Day today) {
    const std::chrono::year_month_day d(day), now(today);
    const QDate q(static_cast<int>(d.year()), static_cast<int>(static_cast<unsigned>(d.month())),
                  static_cast<int>(static_cast<unsigned>(d.day())));
    return QLocale::c().toString(
        q, d.year() == now.year() ? QStringLiteral("d MMMM") : QStringLiteral("d MMMM yyyy"));
}

JobSchedule::JobSchedule(Document& document, JobOutlook& outlook)
    : document_(document), outlook_(outlook), latest_(this) {}

void JobSchedule::refresh() {
    const auto& o = outlook_.now();
    if (o.dated == tasks_ && hours_ == outlook_.hours() && today_ == outlook_.today()) return;
    tasks_ = o.dated;
    hours_ = outlook_.hours();
    today_ = outlook_.today();
    if (tasks_.empty() || !o.task_problem.empty()) {
        latest_.cancel();
        now_.reset();
        problem_.clear();
        Q_EMIT made();
        return;
    }
    ScheduleOptions options;
    options.today = today_;
    options.hours_per_week = hours_;
    latest_.ask(
        [tasks = tasks_, options](Progress& progress) -> Made {
            auto s = schedule(tasks, options, progress);
            if (!s) return {nullptr, s.error().found};
            return {std::make_shared<const Schedule>(std::move(*s)), {}};
        },
        [this](const Made& made_now) {
            now_ = made_now.schedule;
            problem_ = made_now.problem;
            Q_EMIT made();
        });
}

std::vector<CalendarRow> JobSchedule::rows() const {
    std::vector<CalendarRow> out;
    if (!now_) return out;
    for (const auto& t : now_->plan) {
        CalendarRow r;
        r.id = to_q(t.task);
        r.from = t.from;
        r.to = t.to;
        r.wait_to = t.wait_to;
        r.holds_up = std::find(now_->critical.begin(), now_->critical.end(), t.task) != now_->critical.end();
        for (const auto& task : tasks_)
            if (task.id == t.task && task.wait_most_d > 0)
                r.wait = task.wait_least_d == task.wait_most_d
                             ? tr("waits %1 days").arg(task.wait_most_d)
                             : tr("waits %1 to %2 days").arg(task.wait_least_d).arg(task.wait_most_d);
        out.push_back(std::move(r));
    }
    return out;
}

CalendarDates JobSchedule::dates() const {
    CalendarDates out;
    const std::chrono::year_month_day now(outlook_.today());
    out.today = QDate(static_cast<int>(now.year()), static_cast<int>(static_cast<unsigned>(now.month())),
                      static_cast<int>(static_cast<unsigned>(now.day())));
    if (now_) {
        out.likely = static_cast<int>((now_->p50 - today_).count());
        out.late = static_cast<int>((now_->p90 - today_).count());
    }
    if (const auto day = parse_day(document_.dossier().plan->deadline); day && *day >= outlook_.today())
        out.deadline = static_cast<int>((*day - outlook_.today()).count());
    return out;
}

QString JobSchedule::sentence() const {
    const auto& o = outlook_.now();
    if (!o.task_problem.empty()) return tr("No dates: %1.").arg(to_q(o.task_problem));
    if (o.tasks.empty()) return tr("No tasks yet: choose the kind of job, or type the first one.");
    if (!problem_.empty()) return tr("No dates: %1.").arg(to_q(problem_));
    if (!now_) return tr("Working out the dates.");
    auto out = tr("%1 hours a week%2: likely done %3, late %4.")
                   .arg(QString::number(hours_), outlook_.hours_taken() ? tr(" (taken)") : QString(),
                        day_words(now_->p50, today_), day_words(now_->p90, today_));
    // What takes longest of the chain, its wait included.
    const PlannedTask* longest = nullptr;
    for (const auto& t : now_->plan) {
        const bool in_chain =
            std::find(now_->critical.begin(), now_->critical.end(), t.task) != now_->critical.end();
        if (in_chain && (longest == nullptr || t.wait_to - t.from > longest->wait_to - longest->from))
            longest = &t;
    }
    if (longest != nullptr) out += tr(" What holds it up most: %1.").arg(to_q(longest->task));
    if (const auto day = parse_day(document_.dossier().plan->deadline)) {
        if (*day < today_)
            out += tr(" The deadline, %1, has passed.").arg(day_words(*day, today_));
        else
            out += tr(" By %1: %2 in 100 runs.")
                       .arg(day_words(*day, today_))
                       .arg(qRound(100 * now_->chance_by(today_, *day)));
    }
    return out;
}

}  // namespace grayrelic::app
