// SPDX-License-Identifier: GPL-3.0-or-later
// The tasks that a kind of job proposes, with what the dossier knows of them.
#include <algorithm>
#include <cmath>

#include "core/job/outlook.hpp"
#include "core/plan/plan_analysis.hpp"
#include "core/record/learned.hpp"

namespace grayrelic {
namespace {

struct PostDays {
    double least = 0, most = 0;
    bool known = false;
};

/// How long until the slowest part is here: of what is to be ordered, and of what is in the post.
PostDays post_days(const Analysis& a, std::optional<Day> today) {
    PostDays out;
    const auto take = [&](double least, double most) {
        out.least = std::max(out.least, least);
        out.most = std::max(out.most, std::max(least, most));
        out.known = true;
    };
    for (const auto& r : a.plan->parts.rows) {
        if (r.state != PartState::order && r.state != PartState::undecided) continue;
        if (r.lead_days_from || r.lead_days_to)
            take(r.lead_days_from.value_or(0), r.lead_days_to.value_or(r.lead_days_from.value_or(0)));
        else
            for (const auto& before : learned_post(*a.dossier.supply))
                if (before.from == r.supplier) take(before.least_days, before.most_days);
    }
    if (!today) return out;
    for (const auto& o : a.dossier.supply->orders) {
        const auto from = parse_day(o.expected_from);
        if (o.ordered.empty() || !o.arrived.empty() || !from) continue;
        const auto to = parse_day(o.expected_to).value_or(*from);
        take(static_cast<double>(std::max<long>(0, (*from - *today).count())),
             static_cast<double>(std::max<long>(0, (to - *today).count())));
    }
    return out;
}

/// Whom a task comes after, when those that are left out are looked through.
void add_after(const JobKind& kind, const std::vector<std::string>& after,
               const std::vector<const KindTask*>& kept, std::vector<std::string>& out) {
    for (const auto& name : after) {
        const bool is_kept =
            std::any_of(kept.begin(), kept.end(), [&](const KindTask* t) { return t->task.id == name; });
        if (is_kept) {
            if (std::find(out.begin(), out.end(), name) == out.end()) out.push_back(name);
            continue;
        }
        for (const auto& t : kind.tasks)
            if (t.task.id == name) add_after(kind, t.task.after, kept, out);
    }
}

double to_quarters(double hours) {
    return std::ceil(hours * 4) / 4;
}

}  // namespace

std::vector<PlanTask> propose_tasks(const Analysis& a, const JobKind& kind, const Questions& questions,
                                    std::optional<Day> today) {
    std::vector<const KindTask*> kept;
    for (const auto& t : kind.tasks)
        if (!t.task.stage || stage_needed(*a.dossier.plan, &kind, *t.task.stage)) kept.push_back(&t);
    const auto post = post_days(a, today);
    std::vector<PlanTask> out;
    for (const auto* t : kept) {
        auto task = t->task;
        task.after.clear();
        add_after(kind, t->task.after, kept, task.after);
        if (t->boards) {
            const double boards = std::max(1, a.dossier.supply->boards);
            task.least_h *= boards;
            task.likely_h *= boards;
            task.most_h *= boards;
        }
        if (t->parcel && post.known) {
            task.wait_least_d = post.least;
            task.wait_most_d = post.most;
        }
        out.push_back(std::move(task));
    }
    double minutes = 0;
    for (const auto& q : questions.open)
        if (q.at_stake != AtStake::little) minutes += q.minutes;
    if (minutes <= 0) return out;
    // Nothing is ordered before it is settled: what waits for nothing comes after it.
    PlanTask settle;
    settle.id = "Settle the open questions";
    settle.likely_h = to_quarters(minutes / 60);
    settle.least_h = to_quarters(minutes / 120);
    settle.most_h = to_quarters(minutes / 30);
    settle.stage = Stage::plan;
    for (const auto* t : kept)
        if (t->parcel)
            for (auto& task : out)
                if (task.id == t->task.id) task.after.push_back(settle.id);
    out.insert(out.begin(), std::move(settle));
    return out;
}

std::vector<PlanTask> with_parcels(std::vector<PlanTask> tasks, const Supply& supply, Day today) {
    const auto is_task = [&](const std::string& id) {
        return std::any_of(tasks.begin(), tasks.end(), [&](const PlanTask& t) { return t.id == id; });
    };
    const auto days_until = [&](Day day) {
        return std::clamp(static_cast<double>((day - today).count()), 0.0, most_wait_days);
    };
    for (const auto& o : supply.orders) {
        const auto from = parse_day(o.expected_from.empty() ? o.expected_to : o.expected_from);
        if (o.ordered.empty() || !o.arrived.empty() || !from) continue;
        PlanTask parcel;
        parcel.id = "In the post: " + (o.from.empty() ? o.id : o.from);
        std::replace(parcel.id.begin(), parcel.id.end(), '+', ' ');  // it joins names
        while (is_task(parcel.id)) parcel.id += " too";
        parcel.least_h = parcel.likely_h = parcel.most_h = 0;
        parcel.done = print(today);  // it is under way, whatever else is worked on
        parcel.wait_least_d = days_until(*from);
        parcel.wait_most_d =
            std::max(parcel.wait_least_d, days_until(parse_day(o.expected_to).value_or(*from)));
        bool frees = false;
        for (auto& t : tasks) {
            const bool freed = std::any_of(o.frees.begin(), o.frees.end(), [&](const std::string& f) {
                return part_key(f) == part_key(t.id);
            });
            if (!freed || !t.done.empty()) continue;
            t.after.push_back(parcel.id);
            frees = true;
        }
        if (frees) tasks.push_back(std::move(parcel));
    }
    return tasks;
}

std::vector<EveningItem> evening(const Outlook& o, const Schedule* s, double minutes) {
    std::vector<EveningItem> out;
    double left = minutes;
    for (const auto& q : o.questions.open) {
        if (q.minutes > left) continue;
        left -= q.minutes;
        out.push_back({q.says, q.how, q.minutes, q.id});
    }
    if (s == nullptr) return out;
    for (const auto& name : s->start_now)
        for (const auto& t : o.tasks) {
            if (t.id != name || t.likely_h <= 0 || t.likely_h * 60 > left) continue;
            // The questions of the evening are this task.
            if (t.stage == Stage::plan && !out.empty()) continue;
            left -= t.likely_h * 60;
            out.push_back({t.id, {}, t.likely_h * 60, {}});
        }
    return out;
}

}  // namespace grayrelic
