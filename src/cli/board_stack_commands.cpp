// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli board stack, state, solder: boards together, where each is, and whether it can be soldered
#include <fmt/format.h>

#include <memory>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/fit/board_states.hpp"
#include "core/fit/order_advice.hpp"
#include "core/fit/stack_analysis.hpp"
#include "core/json/json.hpp"

namespace grayrelic::cli {
namespace {

struct StackArguments {
    std::string dossier, id;
};

std::string clash_end(const StackResult& r, std::size_t level, const std::string& part) {
    return r.boards[level].name + (part.empty() ? "" : "/" + part);
}

Json stack_json(const StackResult& r, const BoardStack& s) {
    Json joins = Json::array(), faults = Json::array(), clashes = Json::array(), covered = Json::array();
    for (const auto& j : r.nets.joins) {
        const auto& join = s.joins[j.join];
        joins.push_back({{"lower", join.lower},
                         {"upper", join.upper},
                         {"kind", word(join.kind)},
                         {"contacts", j.contacts.size()},
                         {"used", j.used},
                         {"free", j.free},
                         {"grounds", j.grounds},
                         {"supplies", j.supplies},
                         {"by_place", j.by_place},
                         {"problem", j.problem},
                         {"soldering", j.strip.says}});
    }
    for (const auto& f : r.nets.faults)
        faults.push_back(
            {{"kind", word(f.kind)}, {"verdict", word(f.verdict)}, {"thing", f.thing}, {"says", f.says}});
    for (const auto& c : r.geometry.clashes)
        clashes.push_back({{"lower", clash_end(r, c.lower, c.lower_part)},
                           {"upper", clash_end(r, c.upper, c.upper_part)},
                           {"needs_mm", c.needs_mm},
                           {"room_mm", c.room_mm ? Json(*c.room_mm) : Json()},
                           {"verdict", word(c.verdict)}});
    for (const auto& c : r.geometry.covered)
        covered.push_back({{"joint", r.boards[c.level].name + "/" + c.ref + "." + c.pin},
                           {"by", r.boards[c.by].name},
                           {"way_mm", c.way_mm},
                           {"room_mm", c.room_mm ? Json(*c.room_mm) : Json()}});
    return {{"id", r.id},
            {"verdict", word(r.verdict)},
            {"says", r.says},
            {"height_mm", r.height_mm ? Json(*r.height_mm) : Json()},
            {"problems", r.problems},
            {"joins", joins},
            {"faults", faults},
            {"clashes", clashes},
            {"covered", covered}};
}

int stack(const StackArguments& args, bool json) {
    const auto a = analyse_dossier(args.dossier);
    if (!a) return report_error(a.error());
    const auto& stacks = *(*a)->dossier.stacks;
    Json all = Json::array();
    auto worst = Verdict::holds;
    bool found = false;
    for (const auto& s : stacks) {
        if (!args.id.empty() && s.id != args.id) continue;
        found = true;
        const auto r = stack_of(**a, s);
        worst = worse(worst, r.verdict);
        if (json) {
            all.push_back(stack_json(r, s));
            continue;
        }
        say("{}: {}: {}\n", r.name, word(r.verdict), r.says);
        for (const auto& p : r.problems) say("  {}\n", p);
        for (const auto& j : r.nets.joins)
            say("  {} to {}, {}: {}{}\n", s.joins[j.join].lower, s.joins[j.join].upper,
                word(s.joins[j.join].kind), pin_budget(j), j.strip.says.empty() ? "" : "; " + j.strip.says);
        for (const auto& f : r.nets.faults) say("  {}: {}\n", word(f.verdict), f.says);
        for (const auto& c : r.geometry.clashes)
            say("  {}: {} and {} need {:.1f} mm\n", word(c.verdict), clash_end(r, c.lower, c.lower_part),
                clash_end(r, c.upper, c.upper_part), c.needs_mm);
        for (const auto& c : r.geometry.covered)
            say("  before: {}/{}.{} under {}\n", r.boards[c.level].name, c.ref, c.pin, r.boards[c.by].name);
    }
    if (!found)
        return report_error(
            usage_error(args.id.empty() ? "a dossier without a stack" : "the stack " + in_quotes(args.id),
                        "a dossier whose boards lie over one another"));
    if (json) print_json({{"stacks", all}});
    return worst == Verdict::stop ? bad_answer : fine;
}

int state(const StackArguments& args, bool json) {
    const auto a = analyse_dossier(args.dossier);
    if (!a) return report_error(a.error());
    Json all = Json::array();
    std::vector<std::vector<std::string>> table{{"board", "state"}};
    for (const auto& s : board_states((*a)->dossier, {})) {
        all.push_back({{"id", s.id},
                       {"title", s.title},
                       {"drawn", s.drawn},
                       {"ordered", s.ordered()},
                       {"here", s.here()},
                       {"says", s.says}});
        table.push_back({s.title, s.says});
    }
    if (json)
        print_json({{"boards", all}});
    else
        print_table(table);
    return fine;
}

int solder(const StackArguments& args, bool json) {
    const auto a = analyse_dossier(args.dossier);
    if (!a) return report_error(a.error());
    Json all = Json::array();
    bool stops = false;
    for (const auto& b : *(*a)->dossier.boards) {
        if (!args.id.empty() && b.id != args.id) continue;
        const auto study = solder_study_of(**a, b);
        if (!study) {
            all.push_back({{"id", b.id}, {"known", false}});
            if (!json) say("{}: no circuit is known for it\n", b.id);
            continue;
        }
        Json troubles = Json::array();
        for (const auto& t : study->troubles) {
            stops = stops || t.verdict == Verdict::stop;
            troubles.push_back({{"kind", word(t.kind)},
                                {"verdict", word(t.verdict)},
                                {"ref", t.ref},
                                {"pins", t.pins},
                                {"says", t.says},
                                {"todo", t.todo}});
        }
        all.push_back({{"id", b.id},
                       {"known", true},
                       {"parts", study->parts.size()},
                       {"joints", study->joints},
                       {"twice", study->twice},
                       {"wires", study->wires},
                       {"chance", study->chance},
                       {"unknown", study->unknown},
                       {"troubles", troubles}});
        if (json) continue;
        say("{}: {} parts, {} joints, all well in {:.0f} % of the boards\n", b.id, study->parts.size(),
            study->joints, 100 * study->chance);
        for (const auto& t : study->troubles) say("  {}: {}. {}\n", word(t.verdict), t.says, t.todo);
    }
    if (json) print_json({{"boards", all}});
    return stops ? bad_answer : fine;
}

}  // namespace

void add_board_stack_commands(CLI::App& board, Session& session) {
    auto a = std::make_shared<StackArguments>();
    auto* stack_verb = board.add_subcommand("stack", "boards over one another: what meets, joins, conflicts");
    stack_verb->add_option("dossier", a->dossier, "a dossier")->required();
    stack_verb->add_option("--stack", a->id, "one of its stacks; else all");
    stack_verb->callback([&session, a] { session.run = [&session, a] { return stack(*a, session.json); }; });

    auto* state_verb = board.add_subcommand("state", "which board of a job is drawn, ordered, here");
    state_verb->add_option("dossier", a->dossier, "a dossier")->required();
    state_verb->callback([&session, a] { session.run = [&session, a] { return state(*a, session.json); }; });

    auto* solder_verb = board.add_subcommand("solder", "can this person solder the boards");
    solder_verb->add_option("dossier", a->dossier, "a dossier")->required();
    solder_verb->add_option("--board", a->id, "one of its boards; else all");
    solder_verb->callback(
        [&session, a] { session.run = [&session, a] { return solder(*a, session.json); }; });
}

}  // namespace grayrelic::cli
