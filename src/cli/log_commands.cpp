// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli log trials, coverage, complaints, units, money, release, card, find, time; diff
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <filesystem>
#include <memory>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/log_answers.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/dossier/store.hpp"
#include "core/record/dossier_diff.hpp"
#include "core/record/search.hpp"
#include "core/record/trial_study.hpp"

namespace grayrelic::cli {
namespace {

struct LogArguments {
    std::string path, other, outcome, bad, degree, out, source, day, text, unit;
    std::vector<std::string> ignore;
};

constexpr std::size_t most_table = std::size_t{4} << 20U;

Json value_json(const TrialTable& table, const FactorValue& v) {
    return {table.factors[v.factor], v.value};
}

Json count_json(const TrialTable& table, const ValueCount& c) {
    Json factor = table.factors[c.values.front().factor], value = c.values.front().value;
    if (c.values.size() > 1) {
        factor = Json::array();
        value = Json::array();
        for (const auto& v : c.values) {
            factor.push_back(table.factors[v.factor]);
            value.push_back(v.value);
        }
    }
    Json out = {{"factor", factor},
                {"value", value},
                {"bad_with", c.bad_with},
                {"with", c.with},
                {"bad_without", c.bad_without},
                {"without", c.without},
                {"explains", c.explains},
                {"by_chance", c.by_chance}};
    if (c.degree_with) out["degree_with"] = *c.degree_with;
    if (c.degree_without) out["degree_without"] = *c.degree_without;
    return out;
}

void print_study(const TrialTable& table, const TrialStudy& study) {
    say("{}, {} failed\n", plural(study.runs, "run", "runs"), study.bad);
    std::vector<std::vector<std::string>> rows{
        {"with", "failed", "of", "without: failed", "of", "explains", "by chance"}};
    for (const auto* list : {&study.single, &study.pairs})
        for (const auto& c : *list)
            if (c.bad_with > 0)
                rows.push_back({print(table, c), std::to_string(c.bad_with), std::to_string(c.with),
                                std::to_string(c.bad_without), std::to_string(c.without),
                                c.explains ? "yes" : "", fmt::format("{:.3g}", c.by_chance)});
    print_table(rows);
    for (const auto& [a, b] : study.confounded)
        say("never one without the other: {}, {}\n", print(table, a), print(table, b));
    for (const auto& l : table.left_out) say("{}\n", l);
    say("{}\n", study.why);
    if (!study.next) return;
    std::vector<std::string> setup;
    for (std::size_t f = 0; f < table.factors.size(); ++f)
        setup.push_back(table.factors[f] + " " + study.next->values[f]);
    say("next: {}\n", fmt::join(setup, ", "));
}

/// Of a CSV file, or of a dossier's log.
Result<TrialTable> table_of(const LogArguments& args) {
    std::error_code ignored;
    const bool dossier = std::filesystem::is_directory(args.path, ignored) ||
                         std::filesystem::path(args.path).filename() == dossier_file;
    if (dossier) {
        const auto d = load_dossier(dossier_folder(args.path));
        if (!d) return fail(d.error());
        auto table = trials_of(*d);
        table.name = args.path;
        return table;
    }
    if (args.outcome.empty() || args.bad.empty())
        return fail_usage("a table without --outcome and --bad",
                          "the column that says how a run went, and what stands there when it failed");
    const auto text = disk().read(args.path, most_table);
    if (!text) return fail(text.error());
    return read_trials(*text, args.path, {args.outcome, args.bad, args.degree, args.ignore});
}

int trials(const LogArguments& args, bool json) {
    const auto table = table_of(args);
    if (!table) return report_error(table.error());
    const auto study = study_trials(*table);
    for (const auto& late : table->late) say(stderr, "{}\n", late.message());
    for (const auto& [a, b] : study.disagree)
        say(stderr, "{}:{}: found {}, expected {} as in line {}: the setup is the same\n", table->name,
            table->rows[b].line, in_quotes(table->rows[b].outcome), in_quotes(table->rows[a].outcome),
            table->rows[a].line);
    const bool explained = study.bad == 0 ? study.runs > 0 : !study.explanations().empty();
    if (!json) {
        print_study(*table, study);
        return explained ? fine : bad_answer;
    }
    Json single = Json::array(), pairs = Json::array(), confounded = Json::array(), disagree = Json::array();
    for (const auto& c : study.single) single.push_back(count_json(*table, c));
    for (const auto& c : study.pairs) pairs.push_back(count_json(*table, c));
    for (const auto& [a, b] : study.confounded)
        confounded.push_back({value_json(*table, a), value_json(*table, b)});
    for (const auto& [a, b] : study.disagree) disagree.push_back({table->rows[a].line, table->rows[b].line});
    Json next;
    if (study.next)
        for (std::size_t f = 0; f < table->factors.size(); ++f)
            next[table->factors[f]] = study.next->values[f];
    print_json({{"runs", study.runs},
                {"bad", study.bad},
                {"single", single},
                {"pairs", pairs},
                {"confounded", confounded},
                {"confounded_more", study.confounded_more},
                {"disagree", disagree},
                {"left_out", table->left_out},
                {"next", next},
                {"why", study.why}});
    return explained ? fine : bad_answer;
}

int find(const LogArguments& args, bool json) {
    const auto d = load_dossier(dossier_folder(args.path));
    if (!d) return report_error(d.error());
    const auto hits = search(*d, args.text);
    Json list = Json::array();
    for (const auto& h : hits) {
        list.push_back({{"section", h.section},
                        {"stage", h.stage ? Json(word(*h.stage)) : Json()},
                        {"what", h.what},
                        {"value", h.value},
                        {"day", h.day}});
        if (!json) say("{}: {} = {}\n", h.section, h.what, h.value);
    }
    if (json) print_json({{"hits", list}});
    if (!json && hits.empty()) say("nothing holds {}\n", in_quotes(args.text));
    return hits.empty() ? bad_answer : fine;
}

int time_verb(const LogArguments& args, bool json) {
    const auto d = load_dossier(dossier_folder(args.path));
    if (!d) return report_error(d.error());
    Json list = Json::array();
    for (const auto& t : time_line(*d)) {
        list.push_back({{"day", t.day}, {"section", t.section}, {"what", t.what}, {"says", t.says}});
        if (!json) say("{}  {}{}: {}\n", t.day, t.section, t.what.empty() ? "" : " " + t.what, t.says);
    }
    if (json) print_json({{"events", list}});
    return fine;
}

int diff(const LogArguments& args, bool json) {
    const auto a = load_dossier(dossier_folder(args.path));
    if (!a) return report_error(a.error());
    const auto b = load_dossier(dossier_folder(args.other));
    if (!b) return report_error(b.error());
    const auto changes = all_changes(*a, dossier_folder(args.path), *b, dossier_folder(args.other));
    Json list = Json::array();
    std::string section;
    for (const auto& c : changes) {
        list.push_back({{"section", c.section},
                        {"what", c.what},
                        {"before", c.before ? Json(*c.before) : Json()},
                        {"after", c.after ? Json(*c.after) : Json()}});
        if (json) continue;
        if (c.section != section) say("{}\n", c.section);
        section = c.section;
        say("  {}: {}\n", c.what,
            !c.before  ? "new: " + *c.after
            : !c.after ? "gone: " + *c.before
                       : *c.before + " -> " + *c.after);
    }
    if (json)
        print_json({{"changes", list}});
    else if (changes.empty())
        say("no difference\n");
    return fine;
}

void add_log_readers(CLI::App& noun, Session& session) {
    const auto a = std::make_shared<LogArguments>();
    auto* v = noun.add_subcommand("trials",
                                  "which single changes go with failure, and the next run that tells most");
    v->add_option("table", a->path, "a CSV file with a column for each factor, or a dossier")->required();
    v->add_option("--outcome", a->outcome, "the column that says how a run went");
    v->add_option("--bad", a->bad, "what stands there when it failed");
    v->add_option("--degree", a->degree, "a column of numbers: how much");
    v->add_option("--ignore", a->ignore, "columns that are no factors");
    v->callback([&session, a] { session.run = [&session, a] { return trials(*a, session.json); }; });
    v = noun.add_subcommand("find", "everything in a dossier that holds the words");
    v->add_option("dossier", a->path)->required();
    v->add_option("text", a->text)->required();
    v->callback([&session, a] { session.run = [&session, a] { return find(*a, session.json); }; });
    v = noun.add_subcommand("time", "all that has a day, the oldest first");
    v->add_option("dossier", a->path)->required();
    v->callback([&session, a] { session.run = [&session, a] { return time_verb(*a, session.json); }; });
}

}  // namespace

void add_log_commands(CLI::App& app, Session& session) {
    auto* noun = app.add_subcommand("log", "what was learned, what changes, what to publish");
    noun->require_subcommand(1);
    add_log_readers(*noun, session);
    add_log_answers(*noun, session);
    const auto a = std::make_shared<LogArguments>();
    auto* v = app.add_subcommand("diff", "what differs between two dossiers");
    v->add_option("before", a->path)->required();
    v->add_option("after", a->other)->required();
    v->callback([&session, a] { session.run = [&session, a] { return diff(*a, session.json); }; });
}

}  // namespace grayrelic::cli
