// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli build plan, joints, wires, marking: in which order, what the meter should say, what a part
// says
#include <fmt/format.h>

#include <memory>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/build/assembly.hpp"
#include "core/build/hand_wires.hpp"
#include "core/build/joint_sheet.hpp"
#include "core/build/markings.hpp"
#include "core/json/json.hpp"

namespace grayrelic::cli {
namespace {

struct BuildArguments {
    std::string dossier, board, variant, marking, as;
    double below = 30;
    bool tracks = false;
};

/// The board that was asked for; else the first that has a circuit, else Wire's circuit.
Result<BuildBoard> board_of(const BuildArguments& args) {
    const auto a = analyse_dossier(args.dossier);
    if (!a) return fail(a.error());
    std::vector<std::string> ids;
    for (const auto& b : *(*a)->dossier.boards)
        if (args.board.empty() || b.id == args.board) ids.push_back(b.id);
    if (args.board.empty()) ids.emplace_back();
    for (const auto& id : ids)
        if (auto board = build_board(**a, id, args.variant)) return *board;
    return fail_usage(
        args.board.empty() ? "a dossier without a circuit" : "the board " + in_quotes(args.board),
        "a board whose circuit is known: in Wire, in a network, or as a netlist");
}

int plan(const BuildArguments& args, bool json) {
    const auto board = board_of(args);
    if (!board) return report_error(board.error());
    const auto p = plan_assembly(*board);
    if (json) {
        Json steps = Json::array();
        for (const auto& s : p.steps) {
            std::string check;
            for (const auto& c : s.checks) check += (check.empty() ? "" : " ") + c.says;
            steps.push_back({{"n", s.n},
                             {"what", s.what},
                             {"refs", s.refs},
                             {"why", s.why},
                             {"how", s.how},
                             {"technique", word(s.technique)},
                             {"check", check}});
        }
        print_json({{"board", board->id}, {"steps", steps}, {"problems", p.problems}});
        return fine;
    }
    for (const auto& s : p.steps) {
        say("{}. {}\n   {}\n   {}\n", s.n, s.what, s.why, s.how);
        for (const auto& c : s.checks) say("   [ ] {}\n", c.says);
    }
    for (const auto& problem : p.problems) say(stderr, "{}\n", problem);
    return fine;
}

int joints(const BuildArguments& args, bool json) {
    if (!(args.below > 0 && args.below <= 1000))
        return report_error(usage_error(fmt::format("--beeps-below {:g}", args.below), "ohms, at most 1000"));
    const auto board = board_of(args);
    if (!board) return report_error(board.error());
    const auto sheet = joint_sheet(*board, plan_assembly(*board), {args.below, args.tracks});
    if (json) {
        Json lines = Json::array(), unproven = Json::array();
        for (const auto& l : sheet.lines)
            lines.push_back({{"a", l.a},
                             {"b", l.b},
                             {"expect", word(l.expect)},
                             {"why", l.why},
                             {"proves", l.proves},
                             {"after", l.after},
                             {"before", l.before}});
        for (const auto& [what, why] : sheet.unproven) unproven.push_back({{"what", what}, {"why", why}});
        print_json({{"board", board->id},
                    {"joints", lines},
                    {"unproven", unproven},
                    {"count", sheet.joints},
                    {"proven", sheet.proven}});
        return fine;
    }
    std::vector<std::vector<std::string>> table{{"", "from", "to", "expect", "of", "when"}};
    for (const auto& l : sheet.lines)
        table.push_back({"[ ]", l.a, l.b, std::string(word(l.expect)), l.why,
                         l.before > 0 ? fmt::format("before step {}", l.before) : ""});
    print_table(table);
    say("{} lines prove {} joints\n", sheet.lines.size(), sheet.proven);
    for (const auto& [what, why] : sheet.unproven) say("not provable: {}: {}\n", what, why);
    return fine;
}

int wires(const BuildArguments& args, bool json) {
    const auto a = analyse_dossier(args.dossier);
    if (!a) return report_error(a.error());
    const auto board = board_of(args);
    if (!board) return report_error(board.error());
    Json list = Json::array();
    std::vector<std::vector<std::string>> table{{"", "from", "to", "net", "called", "colour"}};
    for (const auto& w : hand_wires(**a, *board)) {
        list.push_back({{"from", w.from},
                        {"to", w.to},
                        {"net", w.net},
                        {"label", w.label},
                        {"colour", w.colour},
                        {"of_cable", w.of_cable}});
        table.push_back({"[ ]", w.from, w.to, w.net, w.label, w.colour});
    }
    if (json)
        print_json({{"board", board->id}, {"wires", list}});
    else
        print_table(table);
    return fine;
}

int marking(const BuildArguments& args, bool json) {
    std::optional<MarkedAs> as;
    if (args.as == "resistor")
        as = MarkedAs::ohms;
    else if (args.as == "capacitor")
        as = MarkedAs::farads;
    else if (!args.as.empty())
        return report_error(usage_error("--as " + in_quotes(args.as), "resistor or capacitor"));
    const auto values = read_marking(args.marking, as);
    if (!values) return report_error(values.error());
    Json all = Json::array();
    for (const auto& v : *values) {
        all.push_back({{"as", v.as == MarkedAs::ohms ? "resistor" : "capacitor"},
                       {"value", v.value},
                       {"tolerance", v.tolerance ? Json(*v.tolerance) : Json()},
                       {"how", v.how},
                       {"standard", v.standard}});
        if (!json) say("{}   {}{}\n", print_marked(v), v.how, v.standard ? "" : ", not a value that is sold");
    }
    if (json) print_json({{"values", all}});
    return fine;
}

}  // namespace

void add_build_commands(CLI::App& app, Session& session) {
    auto* build = app.add_subcommand("build", "put together, proven joint by joint");
    build->require_subcommand(1);
    auto a = std::make_shared<BuildArguments>();
    const auto board_options = [a](CLI::App* verb) {
        verb->add_option("dossier", a->dossier, "a dossier")->required();
        verb->add_option("--board", a->board, "one of its boards; else the first with a circuit");
        verb->add_option("--variant", a->variant, "as one of its variants is fitted");
    };
    auto* plan_verb =
        build->add_subcommand("plan", "in which order the parts go on, why, how, and what to check");
    board_options(plan_verb);
    plan_verb->callback([&session, a] { session.run = [&session, a] { return plan(*a, session.json); }; });
    auto* joints_verb =
        build->add_subcommand("joints", "the shortest list of beeps and non-beeps that proves every joint");
    board_options(joints_verb);
    joints_verb->add_option("--beeps-below", a->below, "ohms below which the meter beeps; 30 unless said");
    joints_verb->add_flag("--tracks", a->tracks, "prove the copper of each net too, as of a home-made board");
    joints_verb->callback(
        [&session, a] { session.run = [&session, a] { return joints(*a, session.json); }; });
    auto* wires_verb =
        build->add_subcommand("wires", "the same wired by hand: from where to where, its name and colour");
    board_options(wires_verb);
    wires_verb->callback([&session, a] { session.run = [&session, a] { return wires(*a, session.json); }; });
    auto* marking_verb = build->add_subcommand("marking", "what bands, digits or letters on a part say");
    marking_verb->add_option("marking", a->marking, "such as \"brown black red gold\", 103, 4R7, 104K")
        ->required();
    marking_verb->add_option("--as", a->as, "resistor or capacitor");
    marking_verb->callback(
        [&session, a] { session.run = [&session, a] { return marking(*a, session.json); }; });
    add_build_bench(*build, session);
}

}  // namespace grayrelic::cli
