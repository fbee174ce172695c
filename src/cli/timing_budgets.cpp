// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli timing budget, golden, options, figure
#include <fmt/format.h>

#include <memory>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/file_system.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/json/json.hpp"
#include "core/report/contract_figure.hpp"
#include "core/timing/budget.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::cli {
namespace {

struct BudgetArguments {
    std::string dossier, capture, event, out;
    std::vector<std::string> budgets;
};

Json budget_json(const Budget& b, const std::optional<BudgetResult>& r, const std::string& problem) {
    Json j = {{"id", b.id},
              {"name", b.name},
              {"kind", word(b.kind)},
              {"verdict", r ? word(r->verdict) : "unknown"}};
    if (!r) {
        j["problem"] = problem;
        return j;
    }
    Json figures = Json::array();
    for (const auto& f : r->figures)
        figures.push_back(
            {{"label", f.label}, {"value", f.value}, {"unit", symbol(f.unit)}, {"note", f.note}});
    j.update({{"says", r->says},
              {"do", r->todo},
              {"used", r->used},
              {"available", r->available},
              {"unit", symbol(r->unit)},
              {"figures", figures},
              {"assumed", r->assumed}});
    return j;
}

void print_budget(const Budget& b, const std::optional<BudgetResult>& r, const std::string& problem) {
    say("{}: {}: {}\n", r ? word(r->verdict) : "unknown", b.name, r ? r->says : problem);
    if (!r) return;
    for (const auto& f : r->figures)
        say("  {:<28} {:>12}  {}\n", f.label, print_number(f.value, f.unit), f.note);
    if (!r->todo.empty()) say("  {}\n", r->todo);
    if (!r->assumed.empty()) say("  assumed: {}\n", fmt::join(r->assumed, ", "));
}

int budget(const BudgetArguments& a, bool json) {
    Json list = Json::array();
    bool bad = false;
    const auto give = [&](const Budget& b, const std::optional<BudgetResult>& r, const std::string& problem) {
        bad = bad || !r || r->verdict == Verdict::stop;
        list.push_back(budget_json(b, r, problem));
        if (!json) print_budget(b, r, problem);
    };
    if (!a.budgets.empty()) {
        std::vector<Time> events;
        if (!a.capture.empty()) {
            const auto capture = read_capture(a.capture);
            if (!capture) return report_error(capture.error());
            const auto name = parse_event(a.event);
            if (!name) return report_error(name.error());
            const auto times = event_times(*name, *capture, nullptr);
            if (!times) return report_error(times.error());
            events = *times;
        }
        for (const auto& text : a.budgets) {
            const auto b = parse_budget(text);
            if (!b) return report_error(b.error());
            Progress progress;
            const auto r = evaluate_budget(*b, events, progress);
            if (!r) return report_error(r.error());
            give(*b, *r, "");
        }
    } else {
        if (a.dossier.empty())
            return report_error(
                usage_error("neither a dossier nor a budget", "DOSSIER or --budget KIND:key=value,…"));
        const auto d = analyse_dossier(a.dossier);
        if (!d) return report_error(d.error());
        for (const auto& b : (*d)->timing->budgets) give(b->budget, b->result, b->problem);
    }
    if (json) print_json({{"budgets", list}});
    return bad || list.empty() ? bad_answer : fine;
}

int golden(const BudgetArguments& a, bool json) {
    const auto d = analyse_dossier(a.dossier);
    if (!d) return report_error(d.error());
    Json list = Json::array();
    bool bad = false;
    for (const auto& g : (*d)->timing->golden) {
        bad = bad || !g->result || g->result->verdict == Verdict::stop;
        if (!g->result) {
            list.push_back({{"id", g->pair.id},
                            {"original", g->pair.original},
                            {"replica", g->pair.replica},
                            {"verdict", "unknown"},
                            {"problem", g->problem}});
            if (!json) say("unknown: {} against {}: {}\n", g->pair.replica, g->pair.original, g->problem);
            continue;
        }
        const auto& r = *g->result;
        Json intervals = Json::array();
        for (const auto& i : r.intervals)
            intervals.push_back({{"name", i.name},
                                 {"n", i.n},
                                 {"min_s", i.least.seconds()},
                                 {"max_s", i.most.seconds()},
                                 {"least_s", to_json(i.limits.least)},
                                 {"most_s", to_json(i.limits.most)},
                                 {"broken", i.broken},
                                 {"first_s", to_json(i.first)}});
        Json j = {{"id", g->pair.id},
                  {"original", g->pair.original},
                  {"replica", g->pair.replica},
                  {"verdict", word(r.verdict)},
                  {"says", r.says},
                  {"same", r.edges.same},
                  {"first_difference_s", to_json(r.edges.first_difference)},
                  {"intervals", intervals}};
        if (r.words)
            j["words"] = {{"same", r.words->same},
                          {"differ", r.words->differ},
                          {"missing", r.words->missing},
                          {"extra", r.words->extra}};
        list.push_back(std::move(j));
        if (json) continue;
        say("{}: {} against {}: {}\n", word(r.verdict), g->pair.replica, g->pair.original, r.says);
        std::vector<std::vector<std::string>> rows{
            {"interval", "seen", "least", "most", "allowed", "broken"}};
        for (const auto& i : r.intervals)
            rows.push_back({i.name, print_count(i.n), print(i.least), print(i.most),
                            fmt::format("{} … {}", i.limits.least ? print(*i.limits.least) : "any",
                                        i.limits.most ? print(*i.limits.most) : "any"),
                            print_count(i.broken)});
        print_table(rows);
    }
    if (json) print_json({{"pairs", list}});
    return bad || list.empty() ? bad_answer : fine;
}

int figure(const BudgetArguments& a, bool json) {
    const auto d = analyse_dossier(a.dossier);
    if (!d) return report_error(d.error());
    if ((*d)->timing->contract.empty())
        return report_error(usage_error("a dossier without a contract", "at least one interval"));
    if (const auto free = not_over(a.out, (*d)->dossier, a.dossier); !free) return report_error(free.error());
    const auto figure = contract_figure((*d)->timing->contract);
    if (const auto written = write_atomically(disk(), a.out, figure); !written)
        return report_error(written.error());
    if (json)
        print_json({{"file", a.out}, {"intervals", (*d)->timing->contract.size()}, {"bytes", figure.size()}});
    return fine;
}

}  // namespace

void add_timing_budgets(CLI::App& noun, Session& session) {
    const auto a = std::make_shared<BudgetArguments>();
    const auto verb = [&](const char* name, const char* about, int (*work)(const BudgetArguments&, bool)) {
        auto* v = noun.add_subcommand(name, about);
        v->callback(
            [&session, a, work] { session.run = [&session, a, work] { return work(*a, session.json); }; });
        return v;
    };
    auto* v = verb("budget", "queues, watchdogs, latencies, races: does each hold?", budget);
    v->add_option("DOSSIER", a->dossier);
    v->add_option("--budget", a->budgets, "KIND:key=value,… instead of a dossier's");
    v->add_option("--capture", a->capture, "whose events are the clock");
    v->add_option("--event", a->event, "the edge in it, STEP:rise");
    verb("golden", "replicas held against the original and the contract", golden)
        ->add_option("DOSSIER", a->dossier)
        ->required();
    v = verb("figure", "the contract as a timing figure", figure);
    v->add_option("DOSSIER", a->dossier)->required();
    v->add_option("OUT", a->out, "a file .svg")->required();
}

}  // namespace grayrelic::cli
