// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/outlook.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/record/learned.hpp"

namespace grayrelic {
namespace {

std::string lower(std::string_view text) {
    std::string out(text);
    for (auto& c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    return out;
}

std::string in_words(std::size_t n) {
    constexpr std::array words{"no", "one", "two", "three", "four", "five", "six"};
    return n < words.size() ? words[n] : std::to_string(n);
}

/// The first gate that is not open, and what keeps it.
std::string sentence_of(const Outlook& o) {
    if (!o.next_gate) return "Every gate is open";
    const auto& g = o.gate(*o.next_gate);
    const auto gate = lower(label(g.gate));
    const auto n = static_cast<std::size_t>(std::count_if(
        g.blocked_by.begin(), g.blocked_by.end(), [&](const Blocker& b) { return b.verdict == g.verdict; }));
    if (g.verdict == Verdict::stop)
        return n == 1 ? fmt::format("Not ready to {}: one thing decides it", gate)
                      : fmt::format("Not ready to {}: {} things decide it", gate, in_words(n));
    if (g.verdict == Verdict::doubt)
        return n == 1 ? fmt::format("Ready to {} at a risk: one thing is in doubt", gate)
                      : fmt::format("Ready to {} at a risk: {} things are in doubt", gate, in_words(n));
    return fmt::format("Not at {} yet: {}", gate, g.blocked_by.back().says);
}

/// What is still to do takes as much longer as what is done did.
void take_learned_hours(const Analysis& a, Outlook& out) {
    constexpr int least_counted = 2;
    const auto hours = learned_hours(*a.dossier.log, out.tasks);
    if (hours.counted < least_counted) return;
    for (auto& t : out.dated) {
        if (!t.done.empty()) continue;
        for (auto* h : {&t.least_h, &t.likely_h, &t.most_h})
            *h = std::min(*h * *hours.factor, most_task_hours);
    }
    out.hours_learned = fmt::format("times {:.2g}: {} took {:.3g} h in place of {:.3g}", *hours.factor,
                                    plural(hours.counted, "task", "tasks"), hours.spent, hours.estimated);
}

}  // namespace

bool stage_needed(const JobPlan& plan, const JobKind* kind, Stage stage) {
    const auto among = [&](const std::vector<Stage>& list) {
        return std::find(list.begin(), list.end(), stage) != list.end();
    };
    if (among(plan.wanted)) return true;
    if (among(plan.unwanted)) return false;
    return kind == nullptr || kind->stages.empty() || kind->needs(stage);
}

std::vector<std::string> kind_cautions(const Analysis& a) {
    const auto* kind = a.data ? a.data->jobs.find(a.dossier.plan->kind) : nullptr;
    return kind == nullptr ? std::vector<std::string>{} : kind->cautions;
}

Outlook outlook(const Analysis& a, std::optional<Day> today) {
    Outlook out;
    const auto& plan = *a.dossier.plan;
    out.kind = a.data ? a.data->jobs.find(plan.kind) : nullptr;
    out.stakes = stakes_of(a);
    out.questions = gather_questions(a);
    out.musts = judge_musts(a, out.kind);
    out.ready = judge_gates(a, out);
    out.tasks = plan.tasks;
    if (out.tasks.empty() && out.kind != nullptr) {
        out.tasks = propose_tasks(a, *out.kind, out.questions, today);
        out.tasks_proposed = true;
    }
    out.task_problem = task_problem(out.tasks);
    out.dated = today ? with_parcels(out.tasks, *a.dossier.supply, *today) : out.tasks;
    take_learned_hours(a, out);
    weigh_ways(a, out, today);
    for (const auto& g : out.ready)
        if (!out.next_gate && g.needed && !g.behind && g.verdict != Verdict::holds && g.passed_with.empty())
            out.next_gate = g.gate;
    out.sentence = sentence_of(out);
    return out;
}

}  // namespace grayrelic
