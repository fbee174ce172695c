// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli timing …
#include <fmt/format.h>

#include <algorithm>
#include <memory>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/analysis/analysis.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/store.hpp"
#include "core/json/json.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::cli {
namespace {

int contract(const std::string& path, bool json) {
    const auto a = analyse_dossier(path);
    if (!a) return report_error(a.error());
    Json list = Json::array();
    std::vector<std::vector<std::string>> rows{
        {"interval", "from", "to", "least", "typical", "most", "evidence"}};
    const auto cell = [](const std::optional<Time>& t) { return t ? print(*t) : std::string("·"); };
    for (const auto& f : (*a)->timing->contract) {
        const auto& i = f->interval;
        Json j = {{"name", i.name},
                  {"from", i.from},
                  {"to", i.to},
                  {"kind", word(i.kind)},
                  {"min_s", to_json(f->min)},
                  {"typ_s", to_json(f->typ)},
                  {"max_s", to_json(f->max)},
                  {"evidence", word(f->evidence.kind)},
                  {"source", f->evidence.source},
                  {"n", f->n}};
        const auto limits = limits_of(*f);
        j["least_s"] = to_json(limits.least);
        j["most_s"] = to_json(limits.most);
        Json specimens = Json::array();
        for (const auto& sp : f->specimens)
            specimens.push_back({{"capture", sp.id},
                                 {"n", sp.n},
                                 {"min_s", sp.min.seconds()},
                                 {"typ_s", sp.typ.seconds()},
                                 {"max_s", sp.max.seconds()}});
        j["specimens"] = specimens;
        if (!f->problem.empty()) j["problem"] = f->problem;
        list.push_back(std::move(j));
        rows.push_back({i.name, i.from, i.to, cell(f->min), cell(f->typ), cell(f->max),
                        f->problem.empty() ? fmt::format("{}: {}", word(f->evidence.kind), f->evidence.source)
                                           : f->problem});
    }
    if (json)
        print_json({{"intervals", list}});
    else
        print_table(rows);
    return list.empty() ? bad_answer : fine;
}

Json option_json(const BuildOption& option, bool chosen, const ReplySummary& s) {
    return {{"name", option.name},
            {"kind", word(option.kind)},
            {"chosen", chosen},
            {"replies", s.replies},
            {"met", s.met},
            {"missed", s.missed},
            {"lost", s.lost},
            {"latency_s", to_json(s.latency)},
            {"worst_margin_s", to_json(s.worst_margin)},
            {"enough_latency_s", to_json(s.enough_latency)},
            {"verdict", word(judge(s))}};
}

/// What follows beyond the one simulation.
void add_study(Json& j, const OptionAnalysis& o) {
    Json sensitivity = Json::array(), corners = Json::array();
    for (const auto& s : o.sensitivity)
        sensitivity.push_back({{"key", s.key},
                               {"now_s", s.now.seconds()},
                               {"at_most_s", to_json(s.at_most)},
                               {"holds", s.holds}});
    for (const auto& c : o.corners)
        corners.push_back(
            {{"name", c.name}, {"latency_s", c.latency.seconds()}, {"margin_s", c.margin.seconds()}});
    j["sensitivity"] = sensitivity;
    j["corners"] = corners;
    j["missed_at_most_share"] = o.confidence.at_most_share;
    j["assumed"] = o.confidence.assumed;
    if (!o.network) return;
    j["differ"] = o.network->differ;
    j["compared"] = o.network->compared;
    Json mixtures = Json::array();
    for (const auto& c : o.network->corners)
        mixtures.push_back({{"name", c.name},
                            {"slowest_s", c.slowest.seconds()},
                            {"worst_margin_s", to_json(c.worst_margin)},
                            {"missed", c.missed}});
    j["mixtures"] = mixtures;
}

std::vector<std::string> option_row(const BuildOption& option, bool chosen, const ReplySummary& s) {
    const auto cell = [](const std::optional<Time>& t) { return t ? print(*t) : std::string("·"); };
    return {std::string(word(judge(s))),
            option.name + (chosen ? " (chosen)" : ""),
            print_count(s.replies),
            print_count(s.missed),
            s.latency.n > 0 ? print_number(s.latency.max, Unit::second) : "·",
            cell(s.worst_margin),
            cell(s.enough_latency)};
}
const std::vector<std::string> reply_heading{"verdict", "option",          "replies",        "missed",
                                             "slowest", "smallest margin", "would be enough"};

struct ReplyArguments {
    std::string dossier, capture, trigger, deadline;
    std::vector<std::string> options;
    unsigned long seed = 1;
};

int reply_of_dossier(const ReplyArguments& args, bool json) {
    const auto a = analyse_dossier(args.dossier);
    if (!a) return report_error(a.error());
    Json list = Json::array();
    std::vector<std::vector<std::string>> rows{reply_heading};
    bool bad = false;
    std::size_t found = 0;
    for (const auto& wanted : args.options) {
        const auto& all = (*a)->timing->options;
        if (std::none_of(all.begin(), all.end(),
                         [&](const auto& o) { return o->option.id == wanted || o->option.name == wanted; }))
            return report_error(
                usage_error("option " + in_quotes(wanted), "the name of an option in the dossier"));
    }
    for (const auto& o : (*a)->timing->options) {
        const auto asked = [&](const std::string& name) {
            return name == o->option.id || name == o->option.name;
        };
        if (!args.options.empty() && std::none_of(args.options.begin(), args.options.end(), asked)) continue;
        ++found;
        if (!o->summary) {
            say(stderr, "{}: {}\n", o->option.name, o->problem);
            list.push_back({{"name", o->option.name},
                            {"kind", word(o->option.kind)},
                            {"chosen", o->chosen},
                            {"replies", 0},
                            {"met", 0},
                            {"missed", 0},
                            {"lost", 0},
                            {"latency_s", to_json(Statistics{})},
                            {"worst_margin_s", nullptr},
                            {"enough_latency_s", nullptr},
                            {"verdict", "unknown"},
                            {"problem", o->problem}});
            bad = bad || o->chosen;
            continue;
        }
        list.push_back(option_json(o->option, o->chosen, *o->summary));
        add_study(list.back(), *o);
        rows.push_back(option_row(o->option, o->chosen, *o->summary));
        bad = bad || (o->chosen && o->verdict == Verdict::stop);
    }
    if (json)
        print_json({{"options", list}});
    else if (found == 0)
        say("no option is described: add one in Timing, or give --trigger and --option with --capture\n");
    else
        print_table(rows);
    return bad || found == 0 ? bad_answer : fine;
}

int reply_of_capture(const ReplyArguments& args, bool json) {
    if (args.trigger.empty() || args.deadline.empty() || args.options.empty())
        return report_error(
            usage_error("a capture without its question", "--trigger, --deadline and at least one --option"));
    const auto trigger = parse_edge(args.trigger);
    if (!trigger) return report_error(trigger.error());
    const auto look = parse_look(args.deadline);
    if (!look) return report_error(look.error());
    std::vector<BuildOption> options;
    for (const auto& text : args.options) {
        auto option = parse_option(text);
        if (!option) return report_error(option.error());
        options.push_back(std::move(*option));
    }
    const auto capture = read_capture(args.capture);
    if (!capture) return report_error(capture.error());
    const auto tasks = find_tasks(*capture, *trigger, *look);
    if (!tasks) return report_error(tasks.error());
    Json list = Json::array();
    std::vector<std::vector<std::string>> rows{reply_heading};
    bool one_holds = false;
    for (const auto& option : options) {
        Progress progress;
        const auto model = model_of(option);
        if (!model) return report_error(model.error());
        const auto s = simulate_replies(*tasks, *model, args.seed, progress);
        if (!s) return report_error(s.error());
        const bool only = options.size() == 1;
        list.push_back(option_json(option, only, *s));
        rows.push_back(option_row(option, only, *s));
        one_holds = one_holds || (s->replies > 0 && judge(*s) != Verdict::stop);
    }
    if (json)
        print_json({{"options", list}});
    else
        print_table(rows);
    return one_holds ? fine : bad_answer;
}

}  // namespace

void add_timing_commands(CLI::App& app, Session& session) {
    auto* noun = app.add_subcommand("timing", "the contract, and whether a reply keeps it");
    noun->require_subcommand(1);

    const auto dossier = std::make_shared<std::string>();
    auto* v = noun->add_subcommand("contract", "the intervals of a dossier");
    v->add_option("DOSSIER", *dossier)->required();
    v->callback([&session, dossier] {
        session.run = [&session, dossier] { return contract(*dossier, session.json); };
    });

    const auto r = std::make_shared<ReplyArguments>();
    v = noun->add_subcommand("reply", "does each option answer in time?");
    auto* positional = v->add_option("DOSSIER", r->dossier);
    v->add_option("--capture", r->capture, "judge a bare capture")->excludes(positional);
    v->add_option("--trigger", r->trigger, "S:rise or S:fall");
    v->add_option("--deadline", r->deadline, "a time, or next:S:rise or next:S:fall");
    v->add_option("--seed", r->seed, "of the simulation");
    v->add_option("--option", r->options,
                  "an option's name in the dossier, or poll:…, irq:…, core:…, pio:…, mixed:…, logic:…");
    v->callback([&session, r] {
        session.run = [&session, r] {
            if (r->dossier.empty() && r->capture.empty())
                return report_error(
                    usage_error("neither a dossier nor a capture", "DOSSIER or --capture FILE"));
            return r->capture.empty() ? reply_of_dossier(*r, session.json)
                                      : reply_of_capture(*r, session.json);
        };
    });
    add_timing_budgets(*noun, session);
    add_timing_derive(*noun, session);
}

}  // namespace grayrelic::cli
