// SPDX-License-Identifier: GPL-3.0-or-later
// plan: the whole job; plan schedule: when tasks of a table will be done; plan sheet: one question as a page.
#include "cli/plan_commands.hpp"

#include <chrono>
#include <cstdlib>
#include <memory>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/plan/plan_analysis.hpp"
#include "core/report/question_sheet.hpp"
#include "render/pdf.hpp"
#include "render/report_pdf.hpp"

namespace grayrelic::cli {
namespace {

struct PlanArguments {
    std::string dossier, today, tasks, question, out;
    double hours = 0;
    int runs = 2000;
    std::uint64_t seed = 1;
};

Day day_of_the_clock() {
    // The core has no clock: the day of here is this program's to say.
    const auto now = std::chrono::system_clock::to_time_t(std::chrono::system_clock::now());
    std::tm local{};
    localtime_r(&now, &local);
    return std::chrono::year(local.tm_year + 1900) / (local.tm_mon + 1) / local.tm_mday;
}

Result<Day> day_in(const std::string& text) {
    if (text.empty()) return day_of_the_clock();
    const auto day = parse_day(text);
    if (!day) return fail(usage_error("--today " + in_quotes(text), "a day such as 2026-11-29"));
    return *day;
}

Json strings(const std::vector<std::string>& list) {
    Json out = Json::array();
    for (const auto& s : list) out.push_back(s);
    return out;
}

Json question_json(const OpenQuestion& q, const Stakes& stakes) {
    const bool kills = q.at_stake == AtStake::relic;
    return {{"question", q.says},
            {"stage", word(q.stage)},
            {"why", q.why},
            {"wrong_cost",
             {{"money", q.money}, {"days", q.days}, {"irreplaceable", kills ? Json(stakes.dies) : Json()}}},
            {"minutes", q.minutes},
            {"settled_by", q.how},
            {"id", q.id},
            {"grade", word(q.grade)},
            {"chance", q.chance},
            {"loss", q.loss},
            {"before_all", q.before_all}};
}

std::string what_of(const Order& o) {
    std::string out;
    for (const auto& l : o.lines) out += (out.empty() ? "" : ", ") + std::to_string(l.count) + " × " + l.part;
    return out;
}

Json day_json(const std::string& day) {
    return day.empty() ? Json() : Json(day);
}

Json orders_json(const Analysis& a, Day today) {
    Json out = Json::array();
    for (const auto& o : a.dossier.supply->orders) {
        const bool planned = o.ordered.empty();
        out.push_back({{"what", what_of(o)},
                       {"state", !o.arrived.empty() ? "arrived"
                                 : planned          ? "planned"
                                                    : "ordered"},
                       {"expected", day_json(o.expected_to.empty() ? o.expected_from : o.expected_to)},
                       {"expected_from", day_json(o.expected_from)},
                       {"from", o.from}});
    }
    for (const auto& r : a.plan->parts.rows) {
        if (r.state != PartState::order && r.state != PartState::undecided) continue;
        const auto lead = r.lead_days_to ? r.lead_days_to : r.lead_days_from;
        const bool now = r.state == PartState::order;
        out.push_back({{"what", std::to_string(r.order) + " × " + r.part},
                       {"state", word(r.state)},
                       {"expected", now && lead ? Json(print(today + std::chrono::days(*lead))) : Json()},
                       {"from", r.supplier}});
    }
    return out;
}

Json musts_json(const Outlook& o) {
    Json out = Json::array();
    for (const auto& m : o.musts)
        out.push_back(
            {{"must", m.must.says}, {"verdict", word(m.verdict)}, {"why", m.why}, {"id", m.must.id}});
    return out;
}

Json worth_json(const Outlook& o) {
    Json hedges = Json::array(), ways = Json::array(), boards = Json::array();
    for (const auto& h : o.hedges)
        hedges.push_back({{"hedge", h.hedge.says},
                          {"worth", h.worth ? Json(*h.worth) : Json()},
                          {"arithmetic", h.arithmetic}});
    for (const auto& w : o.ways)
        ways.push_back({{"way", w.way.says},
                        {"kind", word(w.way.kind)},
                        {"total", w.total ? Json(*w.total) : Json()},
                        {"missing", w.missing}});
    for (const auto& b : o.breadboards)
        boards.push_back({{"stage", word(b.stage)},
                          {"chance", b.chance},
                          {"saves", b.saves},
                          {"costs", b.costs},
                          {"breadboard_first", b.breadboard_first()}});
    return {{"hedges", std::move(hedges)}, {"ways", std::move(ways)}, {"breadboards", std::move(boards)}};
}

Result<Schedule> schedule_of(const Outlook& o, const Analysis& a, Day today, const PlanArguments& args) {
    ScheduleOptions options;
    options.today = today;
    options.hours_per_week =
        args.hours > 0 ? args.hours : a.person->bench.hours_per_week.value_or(options.hours_per_week);
    options.runs = args.runs;
    options.seed = args.seed;
    Progress progress;
    return schedule(o.dated, options, progress);
}

void say_plan(const Outlook& o, const Analysis& a, const Schedule* s, Day today) {
    say("{}\n\n", o.sentence);
    for (const auto& g : o.ready) {
        say("{:<11} {}\n", label(g.gate),
            !g.needed                       ? "not needed"
            : g.verdict == Verdict::unknown ? "not reached"
            : g.verdict == Verdict::holds   ? "open"
                                            : word(g.verdict));
        if (!g.passed_with.empty()) say("            gone on: {}\n", g.passed_with);
        for (const auto& b : g.blocked_by) say("            {}\n", b.says);
    }
    if (!o.questions.open.empty()) say("\nSettle next\n");
    for (const auto& q : o.questions.open)
        say("  {}\n      if wrong: {}; {:.6g} min; {}\n", q.says, wrong_cost(q, o.stakes), q.minutes, q.how);
    if (!o.musts.empty()) say("\nMusts\n");
    for (const auto& m : o.musts) say("  {:<8} {}: {}\n", word(m.verdict), m.must.says, m.why);
    for (const auto& h : o.hedges) say("\nhedge: {}\n  {}\n", h.hedge.says, h.arithmetic);
    if (s != nullptr && !o.tasks.empty()) {
        say("\nDone on {} (half of all runs), {} (nine of ten)\n", print(s->p50), print(s->p90));
        if (const auto deadline = parse_day(a.dossier.plan->deadline))
            say("by {}: {:.0f} % of the runs\n", print(*deadline), 100 * s->chance_by(today, *deadline));
        if (!o.hours_learned.empty()) say("hours of what is still to do {}\n", o.hours_learned);
        for (const auto& m : s->meanwhile) say("  {} while waiting for {}\n", m.task, m.while_waiting_for);
    } else if (!o.task_problem.empty()) {
        say("\nno dates: {}\n", o.task_problem);
    }
}

int plan_job(const PlanArguments& args, bool json) {
    const auto today = day_in(args.today);
    if (!today) return report_error(today.error());
    const auto a = analyse_dossier(args.dossier);
    if (!a) return report_error(a.error());
    const auto o = outlook(**a, *today);
    std::optional<Schedule> s;
    if (o.task_problem.empty() && !o.tasks.empty()) {
        auto made = schedule_of(o, **a, *today, args);
        if (!made) return report_error(made.error());
        s = std::move(*made);
    }
    if (!json) {
        say_plan(o, **a, s ? &*s : nullptr, *today);
        return o.task_problem.empty() ? fine : bad_answer;
    }
    Json next = Json::array();
    for (const auto& q : o.questions.open) next.push_back(question_json(q, o.stakes));
    Json out = {
        {"kind", (*a)->dossier.plan->kind},
        {"ready", gates_json(o)},
        {"next", std::move(next)},
        {"finish", {{"p50", s ? Json(print(s->p50)) : Json()}, {"p90", s ? Json(print(s->p90)) : Json()}}},
        {"orders", orders_json(**a, *today)},
        {"musts", musts_json(o)},
        {"sentence", o.sentence}};
    if (const auto deadline = parse_day((*a)->dossier.plan->deadline); s && deadline)
        out["deadline"] = {{"day", print(*deadline)}, {"chance", s->chance_by(*today, *deadline)}};
    if (!o.task_problem.empty()) out["task_problem"] = o.task_problem;
    if (!o.hours_learned.empty()) out["hours_learned"] = o.hours_learned;
    out.update(worth_json(o));
    print_json(out);
    return o.task_problem.empty() ? fine : bad_answer;
}

int plan_schedule(const PlanArguments& args, bool json) {
    const auto today = day_in(args.today);
    if (!today) return report_error(today.error());
    const auto text = disk().read(args.tasks, 4U << 20U);
    if (!text) return report_error(text.error());
    const auto tasks = tasks_from_csv(*text, args.tasks);
    if (!tasks) return report_error(tasks.error());
    Progress progress;
    const auto s = schedule(*tasks, {*today, args.hours, args.runs, args.seed}, progress);
    if (!s) return report_error(s.error());
    if (json) {
        Json meanwhile = Json::array();
        for (const auto& m : s->meanwhile)
            meanwhile.push_back({{"task", m.task}, {"while_waiting_for", m.while_waiting_for}});
        print_json({{"finish", {{"p50", print(s->p50)}, {"p90", print(s->p90)}}},
                    {"critical", strings(s->critical)},
                    {"start_now", strings(s->start_now)},
                    {"meanwhile", std::move(meanwhile)}});
        return fine;
    }
    say("done on {} (half of all runs), {} (nine of ten)\n", print(s->p50), print(s->p90));
    say("held up by {}\n", fmt::format("{}", fmt::join(s->critical, ", then ")));
    say("start now: {}\n", fmt::format("{}", fmt::join(s->start_now, ", ")));
    for (const auto& m : s->meanwhile) say("{} while waiting for {}\n", m.task, m.while_waiting_for);
    return fine;
}

int plan_sheet(const PlanArguments& args, bool json) {
    const std::filesystem::path target(args.out);
    const bool paper = target.extension() == ".pdf";
    if (!paper && target.extension() != ".html")
        return report_error(usage_error(in_quotes(args.out), "a file that ends in .html or .pdf"));
    const auto a = analyse_dossier(args.dossier);
    if (!a) return report_error(a.error());
    if (const auto free = not_over(args.out, (*a)->dossier, args.dossier); !free)
        return report_error(free.error());
    const auto o = outlook(**a, std::nullopt);
    auto text = question_sheet(**a, o, args.question);
    if (!text) return report_error(text.error());
    if (paper) {
        const render::HeadlessGui gui;
        Progress progress;
        auto pages = render::report_pdf(*text, (*a)->dossier.about->name, progress);
        if (!pages) return report_error(pages.error());
        *text = std::move(*pages);
    }
    if (auto written = write_atomically(disk(), target, *text); !written)
        return report_error(written.error());
    if (json)
        print_json({{"file", args.out}, {"bytes", text->size()}});
    else
        say("{}\n", args.out);
    return fine;
}

}  // namespace

Json gates_json(const Outlook& o) {
    Json out = Json::array();
    for (const auto& g : o.ready) {
        Json blocked = Json::array(), blocks = Json::array();
        for (const auto& b : g.blocked_by) {
            blocked.push_back(b.says);
            blocks.push_back({{"says", b.says}, {"verdict", word(b.verdict)}, {"stage", word(b.stage)}});
        }
        Json gate = {{"gate", word(g.gate)},
                     {"verdict", word(g.verdict)},
                     {"blocked_by", std::move(blocked)},
                     {"blocks", std::move(blocks)},
                     {"needed", g.needed}};
        if (!g.passed_with.empty()) gate["passed_with"] = g.passed_with;
        out.push_back(std::move(gate));
    }
    return out;
}

void add_plan_commands(CLI::App& app, Session& session) {
    auto* noun = app.add_subcommand("plan", "the whole job: gates, what to settle next, musts, dates");
    noun->require_subcommand(0, 1);
    const auto a = std::make_shared<PlanArguments>();
    auto* dossier = noun->add_option("DOSSIER", a->dossier);
    noun->add_option("--today", a->today, "as a day; else that of the clock");
    noun->add_option("--hours-per-week", a->hours, "else those of your bench, else 6")
        ->check(CLI::Range(0.001, 168.0));
    noun->callback([&session, a, noun, dossier] {
        if (!noun->get_subcommands().empty()) return;
        if (dossier->empty()) throw CLI::RequiredError("DOSSIER");
        session.run = [&session, a] { return plan_job(*a, session.json); };
    });
    auto* v = noun->add_subcommand("schedule", "when the tasks of a table will be done");
    v->add_option("TASKS", a->tasks, "task,least_h,likely_h,most_h,after,wait_least_d,wait_most_d")
        ->required();
    v->add_option("--today", a->today)->required();
    v->add_option("--hours-per-week", a->hours)->required();
    v->add_option("--runs", a->runs, "2,000 unless said")->check(CLI::Range(1, most_schedule_runs));
    v->add_option("--seed", a->seed);
    v->callback([&session, a] { session.run = [&session, a] { return plan_schedule(*a, session.json); }; });
    v = noun->add_subcommand("sheet", "a question or a finding as one page, to post or to print");
    v->add_option("DOSSIER", a->dossier)->required();
    v->add_option("QUESTION", a->question, "its id, as plan --json gives it")->required();
    v->add_option("OUT", a->out, "a file that ends in .html or .pdf")->required();
    v->callback([&session, a] { session.run = [&session, a] { return plan_sheet(*a, session.json); }; });
}

}  // namespace grayrelic::cli
