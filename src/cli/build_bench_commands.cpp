// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli build gates, diagnose, symptoms, practice, rework: what the meter should say, and what is
// wrong when it says something else
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <filesystem>
#include <memory>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/build/rework.hpp"
#include "core/diagnose/diagnosis.hpp"
#include "core/diagnose/holds.hpp"
#include "core/json/json.hpp"
#include "core/port/connector_library.hpp"
#include "standin/fault_game.hpp"

namespace grayrelic::cli {
namespace {

struct BenchArguments {
    std::string dossier, board, variant, unit, skill, part;
    std::vector<std::string> seen;
    std::uint64_t seed = 1;
    bool by_itself = false;
    double hour = 0;
};

struct Bench {
    std::shared_ptr<const Analysis> analysis;
    std::shared_ptr<const BenchBoard> board;
};

/// The board that was asked for, or that a unit is; else the first that has a circuit, else Wire's circuit.
Result<Bench> bench_of(BenchArguments& args) {
    auto a = analyse_dossier(args.dossier);
    if (!a) return fail(a.error());
    if (!args.unit.empty()) {
        const UnitBuild* unit = nullptr;
        for (const auto& b : *(*a)->dossier.builds)
            if (b.id == args.unit) unit = &b;
        if (unit == nullptr) return fail_usage("the unit " + in_quotes(args.unit), "a unit of builds");
        args.board = unit->board;
        args.variant = unit->variant;
    }
    std::vector<std::string> ids;
    for (const auto& b : *(*a)->dossier.boards)
        if (args.board.empty() || b.id == args.board) ids.push_back(b.id);
    if (args.board.empty()) ids.emplace_back();
    for (const auto& id : ids)
        if (auto board = bench_board(**a, id, args.variant))
            return Bench{*a, std::make_shared<const BenchBoard>(std::move(*board))};
    return fail_usage(
        args.board.empty() ? "a dossier without a circuit" : "the board " + in_quotes(args.board),
        "a board whose circuit is known: in Wire, in a network, or as a netlist");
}

const UnitBuild* unit_of(const Analysis& a, const std::string& id) {
    for (const auto& b : *a.dossier.builds)
        if (b.id == id) return &b;
    return nullptr;
}

int gates(BenchArguments& args, bool json) {
    const auto bench = bench_of(args);
    if (!bench) return report_error(bench.error());
    const auto& a = *bench->analysis;
    UnitBuild unit;
    unit.board = args.board;
    unit.variant = args.variant;
    if (const auto* known = unit_of(a, args.unit)) unit = *known;
    const auto on_bench = unit_on_bench(a, unit);
    const auto up = bring_up(holds_of(a, *bench->board), unit, on_bench ? &*on_bench : nullptr);
    Json holds = Json::array();
    bool bad = false;
    for (std::size_t i = 0; i < up.holds.size(); ++i) {
        const auto& hold = up.holds[i];
        const auto& state = up.states[i];
        bad = bad || state.verdict == Verdict::stop;
        Json readings = Json::array();
        if (!json)
            say("{}{}\n", hold.name, args.unit.empty() ? "" : fmt::format(": {}", word(state.verdict)));
        for (std::size_t k = 0; k < hold.points.size(); ++k) {
            const auto& p = hold.points[k];
            readings.push_back({{"id", p.id},
                                {"what", p.what},
                                {"expected", p.expected},
                                {"min", p.least ? Json(*p.least) : Json()},
                                {"max", p.most ? Json(*p.most) : Json()},
                                {"unit", symbol(p.unit)},
                                {"because", p.because},
                                {"value", state.points[k].value ? Json(*state.points[k].value) : Json()},
                                {"verdict", word(state.points[k].verdict)}});
            if (!json)
                say("   [{}] {}: {}{}\n", state.points[k].verdict == Verdict::holds ? "x" : " ", p.what,
                    p.expected, state.points[k].says.empty() ? "" : "; " + state.points[k].says);
        }
        holds.push_back({{"id", hold.id},
                         {"name", hold.name},
                         {"powered", hold.powered},
                         {"verdict", word(state.verdict)},
                         {"reason", state.reason},
                         {"blocked_by", state.blocked_by},
                         {"readings", readings}});
    }
    if (json)
        print_json({{"board", bench->board->id},
                    {"gates", holds},
                    {"may_power", up.may_power},
                    {"ties", up.ties},
                    {"problem", bench->board->problem}});
    else if (!bench->board->problem.empty())
        say(stderr, "no power-up: {}\n", bench->board->problem);
    return bad ? bad_answer : fine;
}

Result<std::shared_ptr<const FaultBook>> book_of(const Bench& bench, bool looks = true) {
    Progress progress;
    return make_fault_book(bench.board, progress, looks);
}

Result<std::vector<SaidReading>> read_seen(const std::vector<std::string>& texts) {
    std::vector<SaidReading> out;
    for (const auto& text : texts) {
        auto said = read_said(text);
        if (!said) return fail(said.error());
        out.push_back(std::move(*said));
    }
    return out;
}

int diagnose_verb(BenchArguments& args, bool json) {
    const auto bench = bench_of(args);
    if (!bench) return report_error(bench.error());
    if (const auto* unit = unit_of(*bench->analysis, args.unit))
        args.seen.insert(args.seen.begin(), unit->seen.begin(), unit->seen.end());
    const auto seen = read_seen(args.seen);
    if (!seen) return report_error(seen.error());
    const auto book = book_of(*bench);
    if (!book) return report_error(book.error());
    const auto d = diagnose(**book, *seen, found_before(bench->analysis->dossier));
    if (!d.unknown.empty())
        return report_error(usage_error(in_quotes(d.unknown.front()),
                                        "a lead, a part or a line of the board " + bench->board->title));
    Json suspects = Json::array(), pairs = Json::array();
    for (const auto& s : d.suspects) {
        const auto& f = (*book)->faults[s.fault];
        if (suspects.size() >= 20 || (s.chance < 0.001 && suspects.size() >= 3)) break;
        suspects.push_back({{"fault", f.key()},
                            {"chance", s.chance},
                            {"says", f.says()},
                            {"place", s.place},
                            {"against", s.against}});
        if (!json && suspects.size() <= 10)
            say("{:5.1f} %  {}{}\n", s.chance * 100, f.says(),
                s.against.empty() ? "" : fmt::format("   (but {})", fmt::join(s.against, ", ")));
    }
    for (const auto& p : d.pairs)
        pairs.push_back({(*book)->faults[p.one].key(), (*book)->faults[p.two].key()});
    Json next;
    if (d.next) {
        const auto& r = (*book)->readings[d.next->reading];
        Json outcomes = Json::array();
        for (const auto& o : d.next->outcomes)
            outcomes.push_back({{"shows", o.shows}, {"chance", o.chance}, {"left", o.faults}});
        next = {{"measure", r.key()}, {"why", d.next->why}, {"outcomes", outcomes}};
        if (!json) say("next: {}\n      {}\n", r.key(), d.next->why);
    }
    if (!json && !d.unexplained.empty()) say("no single fault explains {}\n", fmt::join(d.unexplained, ", "));
    if (!json)
        for (const auto& p : d.pairs)
            say("these two would: {}; {}\n", (*book)->faults[p.one].says(), (*book)->faults[p.two].says());
    const auto apart = not_simulated(*bench->board);
    if (!json && !apart.empty()) say("not simulated, so not excluded: {}\n", fmt::join(apart, ", "));
    if (!json && !d.suspects.empty() && d.healthy >= d.suspects.front().chance)
        say("as likely as any: nothing of these is wrong; the joint sheet finds what nobody sees\n");
    if (json)
        print_json({{"board", bench->board->id},
                    {"not_simulated", apart},
                    {"suspects", suspects},
                    {"healthy", d.healthy},
                    {"next", next},
                    {"settled", d.settled},
                    {"unexplained", d.unexplained},
                    {"pairs", pairs},
                    {"problem", bench->board->problem}});
    else if (!bench->board->problem.empty())
        say(stderr, "only what a meter shows without power: {}\n", bench->board->problem);
    return fine;
}

int symptoms(BenchArguments& args, bool json) {
    const auto bench = bench_of(args);
    if (!bench) return report_error(bench.error());
    const auto book = book_of(*bench);
    if (!book) return report_error(book.error());
    Json rows = Json::array();
    for (const auto& row : symptom_table(**book, found_before(bench->analysis->dossier))) {
        std::vector<std::string> seen, faults, keys, said;
        for (const auto& s : row.seen) {
            seen.push_back(says(s));
            keys.push_back(s.key + "=" + s.value);
        }
        for (const auto f : row.faults) {
            faults.push_back((*book)->faults[f].key());
            if (said.size() < 6) said.push_back((*book)->faults[f].says());
        }
        rows.push_back({{"seen", keys}, {"says", seen}, {"likeliest", faults}});
        if (!json)
            say("{}\n   likeliest: {}{}\n",
                seen.empty() ? "nothing, although something is wrong"
                             : fmt::format("{}", fmt::join(seen, "; ")),
                fmt::join(said, "; "),
                faults.size() > said.size() ? fmt::format("; {} more", faults.size() - said.size()) : "");
    }
    if (json) print_json({{"board", bench->board->id}, {"rows", rows}});
    return fine;
}

int practice(BenchArguments& args, bool json) {
    if (args.skill != "fault") return report_error(usage_error("--skill " + in_quotes(args.skill), "fault"));
    if (!args.by_itself)
        return report_error(
            usage_error("practice without --auto", "--auto: the program plays by its own advice"));
    if (args.dossier.empty()) {
        // The demo boards in turn, beside the data.
        const auto demos = data_folder().parent_path() / "demos";
        if (args.seed % 2 == 0) {
            args.dossier = (demos / "calder-dial-pad.relic").string();
        } else {
            args.dossier = (demos / "calder-sound-tile.relic").string();
            args.board = "tile";
        }
    }
    const auto bench = bench_of(args);
    if (!bench) return report_error(bench.error());
    const auto book = book_of(*bench, false);
    if (!book) return report_error(book.error());
    const auto game = standin::play_fault(**book, args.seed);
    if (!game) return report_error(game.error());
    if (json) {
        print_json({{"hidden", game->hidden},
                    {"found", game->found},
                    {"rank", game->rank},
                    {"measurements", game->measurements},
                    {"best_measurements", game->best.readings},
                    {"best_exact", game->best.exact},
                    {"path", game->path}});
        return game->rank == 1 ? fine : bad_answer;
    }
    for (const auto& step : game->path) say("{}\n", step);
    say("hidden {}; found {} after {}, at best {:.3g}{}\n", game->hidden, game->found, game->measurements,
        game->best.readings, game->best.exact ? "" : " or more");
    return game->rank == 1 ? fine : bad_answer;
}

int rework(BenchArguments& args, bool json) {
    if (!(args.hour >= 0 && args.hour <= 10'000))
        return report_error(
            usage_error(fmt::format("--hour {:g}", args.hour), "money for an hour, 0 to 10000"));
    const auto bench = bench_of(args);
    if (!bench) return report_error(bench.error());
    const auto board = build_board(*bench->analysis, bench->board->id, args.variant);
    const auto ways = rework_ways(*bench->analysis, *board, args.part, args.hour);
    if (!ways) return report_error(ways.error());
    Json rows = Json::array();
    for (const auto& w : ways->ways) {
        rows.push_back({{"way", word(w.kind)},
                        {"minutes", w.minutes},
                        {"money", w.money},
                        {"chance", w.chance},
                        {"expected_minutes", w.expected_minutes},
                        {"expected_money", w.expected_money},
                        {"why", w.why}});
        if (!json)
            say("{:12} {:4.0f} min, works at {:.0f} %; expected {:.0f} min and {:.2f}   {}\n", word(w.kind),
                w.minutes, w.chance * 100, w.expected_minutes, w.expected_money, w.why);
    }
    if (json)
        print_json(
            {{"ways", rows}, {"best", word(ways->ways[ways->best].kind)}, {"rests_on", ways->rests_on}});
    else
        say("best: {}\n{}\n", word(ways->ways[ways->best].kind), fmt::join(ways->rests_on, "\n"));
    return fine;
}

}  // namespace

void add_build_bench(CLI::App& build, Session& session) {
    auto a = std::make_shared<BenchArguments>();
    const auto options = [a](CLI::App* verb, bool required) {
        auto* dossier = verb->add_option("dossier", a->dossier, "a dossier");
        if (required) dossier->required();
        verb->add_option("--board", a->board, "one of its boards; else the first with a circuit");
        verb->add_option("--variant", a->variant, "as one of its variants is fitted");
    };
    const auto verb = [&](const char* name, const char* says, int (*does)(BenchArguments&, bool),
                          bool required) {
        auto* out = build.add_subcommand(name, says);
        options(out, required);
        out->callback(
            [&session, a, does] { session.run = [&session, a, does] { return does(*a, session.json); }; });
        return out;
    };
    verb("gates", "the holds of a bring-up, and what each measurement should show", gates, true)
        ->add_option("--unit", a->unit, "with what was measured on one of its units");
    auto* find = verb("diagnose", "which single fault explains what was seen, and what to measure next",
                      diagnose_verb, true);
    find->add_option("--seen", a->seen,
                     "a reading or a symptom: beep:U1.3+J2.4=open, volts:U2.16=0.1, ohms:R1.1+R1.2=4k7, "
                     "look:D1=turned, HOLD>REPLY=low");
    find->add_option("--unit", a->unit, "with what was seen on one of its units");
    verb("symptoms", "the symptom table: what is seen, and what is likeliest then", symptoms, true);
    auto* play = verb("practice", "a lesson played by the program's own advice", practice, false);
    play->add_option("--skill", a->skill, "fault: a hidden fault on a demo board")->required();
    play->add_option("--seed", a->seed, "which case; 1 unless said");
    play->add_flag("--auto", a->by_itself, "the program plays");
    auto* again =
        verb("rework", "repair, start over, or wire by hand: the expected cost of each", rework, true);
    again->add_option("--part", a->part, "the part to be replaced, or the lead to be mended")->required();
    again->add_option("--hour", a->hour, "what an hour is worth; 0 unless said");
}

}  // namespace grayrelic::cli
