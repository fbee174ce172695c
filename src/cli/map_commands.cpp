// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli map matrix, pointer; the other verbs stand beside it.
#include "cli/map_commands.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <memory>

#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/input/ghosts.hpp"
#include "core/input/map_analysis.hpp"
#include "core/input/pointer.hpp"
#include "core/input/scan_budget.hpp"

namespace grayrelic::cli {

Result<std::string> read_input(const std::string& path, std::size_t most) {
    return disk().read(path, most);
}

namespace {

struct MatrixQuestion {
    std::string path, foil, farad, pull, debounce, drive;
};

struct MatrixAnswer {
    MatrixModel model;
    ScanNumbers numbers;
    std::string drive;
    std::vector<std::vector<std::size_t>> chords;
};

/// KEYS.csv, or what a meter joined while each key was held: key, a, b.
Result<MatrixModel> model_of(const std::string& text, const std::string& path) {
    const auto head = text.substr(0, text.find('\n'));
    const auto table = read_table(head, path, "a table of keys");
    const auto keys = table ? heading_keys(table->rows.front()) : std::vector<std::string>{};
    const auto has = [&](const char* key) { return std::find(keys.begin(), keys.end(), key) != keys.end(); };
    if (has("row") || !has("a") || !has("b")) return read_matrix_table(text, path);
    const auto probes = read_probe_table(text, path);
    if (!probes) return fail(probes.error());
    auto found = matrix_from_probing(*probes);
    if (!found.model)
        return fail_at(path, 0,
                       fmt::format("{} between lines of one side", fmt::join(found.contradicting, ", ")),
                       "keys that each join a row with a column: probe these again");
    return std::move(*found.model);
}

Result<MatrixAnswer> matrix_asked(const MatrixQuestion& q) {
    MatrixAnswer a;
    a.drive = q.drive;
    std::error_code code;
    if (!std::filesystem::is_directory(q.path, code)) {
        const auto text = read_input(q.path, 16U << 20U);
        if (!text) return fail(text.error());
        auto model = model_of(*text, q.path);
        if (!model) return fail(model.error());
        a.model = std::move(*model);
        a.numbers = scan_numbers({});
        return a;
    }
    const auto analysis = analyse_dossier(q.path);
    if (!analysis) return fail(analysis.error());
    const auto* map = (*analysis)->map.get();
    if (map == nullptr || !map->matrix)
        return fail_at(q.path, 0, "no matrix", "a dossier with a matrix under Map");
    a.model = map->matrix->model;
    a.numbers = map->matrix->numbers;
    a.chords = map->matrix->chords;
    if (a.drive.empty()) a.drive = (*analysis)->dossier.map->matrix.drive;
    return a;
}

Status take_number(const std::string& text, const char* option, const char* key, Unit unit, double& into,
                   std::vector<std::string>& assumed) {
    if (text.empty()) return {};
    const auto value = parse_number(text, unit);
    if (!value || !(*value > 0))
        return fail(usage_error(std::string(option) + " " + in_quotes(text),
                                value ? "more than 0" : value.error().expected));
    into = *value;
    std::erase(assumed, std::string(key));
    return {};
}

Status take_options(const MatrixQuestion& q, ScanNumbers& n) {
    if (auto s = take_number(q.foil, "--r-foil", "foil_ohm", Unit::ohm, n.foil_ohm, n.assumed); !s) return s;
    if (auto s = take_number(q.farad, "--c", "farad", Unit::farad, n.farad, n.assumed); !s) return s;
    if (auto s = take_number(q.pull, "--pull", "pull_ohm", Unit::ohm, n.pull_ohm, n.assumed); !s) return s;
    if (auto s = take_number(q.debounce, "--debounce", "debounce", Unit::none, n.debounce, n.assumed); !s)
        return s;
    if (!q.drive.empty() && q.drive != "push-pull" && q.drive != "open-drain")
        return fail(usage_error("--drive " + in_quotes(q.drive), "push-pull or open-drain"));
    return {};
}

std::string name_at(const MatrixModel& m, std::size_t key) {
    return m.keys[key].name;
}

Json worst_json(const MatrixModel& m, const std::vector<GhostSet>& worst) {
    Json out = Json::array();
    for (const auto& g : worst) {
        Json held = Json::array();
        for (const auto k : g.held) held.push_back(name_at(m, k));
        out.push_back({{"keys", std::move(held)},
                       {"fakes", name_at(m, g.faked)},
                       {"likelihood", g.likelihood},
                       {"why", g.why}});
    }
    return out;
}

Json matrix_json(const MatrixAnswer& a, const GhostCount& ghosts, const MatrixPins& pins, const ScanBudget& b,
                 const GuardCosts& guard, const std::vector<GhostSet>& worst) {
    Json longer = Json::object();
    for (const auto& [keys, n] : ghosts.by_keys) longer[std::to_string(keys)] = n;
    Json doubles = Json::array();
    for (const auto& [first, second] : a.model.doubles())
        doubles.push_back({name_at(a.model, first), name_at(a.model, second)});
    return {{"keys", a.model.keys.size()},
            {"rows", a.model.rows.size()},
            {"columns", a.model.columns.size()},
            {"vacancies", a.model.vacancies()},
            {"doubles", std::move(doubles)},
            {"same_legends", a.model.same_legends()},
            {"pins",
             {{"direct", pins.direct},
              {"folded", pins.folded},
              {"register", pins.registers},
              {"strobe_register", pins.strobe_register},
              {"decoder", pins.decoder},
              {"expander", pins.expander}}},
            {"ghost_sets", ghosts.sets},
            {"longer_ghost_sets", ghosts.longer},
            {"longer_by_keys", std::move(longer)},
            {"counted_to_keys", ghosts.counted_to == 0 ? Json() : Json(ghosts.counted_to)},
            {"worst", worst_json(a.model, worst)},
            {"guard",
             {{"triples", guard.triples},
              {"triples_wrong", guard.triples_wrong},
              {"chords", guard.chords},
              {"chords_wrong", guard.chords_wrong},
              {"chords_blocked", guard.chords_blocked},
              {"diodes", guard.diodes}}},
            {"settle_s", b.settle_s},
            {"scan_s", b.scan_s},
            {"latency_s", b.latency_s},
            {"low_v", b.low_v},
            {"fight_a", b.fight_a},
            {"fight", word(b.fight)},
            {"assumed", a.numbers.assumed}};
}

void print_matrix(const MatrixAnswer& a, const GhostCount& ghosts, const MatrixPins& pins,
                  const ScanBudget& b, const GuardCosts& guard, const std::vector<GhostSet>& worst) {
    const auto& m = a.model;
    say("{} keys on {} rows and {} columns, {} vacant\n", m.keys.size(), m.rows.size(), m.columns.size(),
        m.vacancies());
    for (const auto& legend : m.same_legends())
        say("the legend {} stands on several keys\n", in_quotes(legend));
    say("pins: {} as built, {} folded to {} × {}, {} with shift registers, {} with a decoder\n", pins.direct,
        pins.folded, pins.folded_rows, pins.folded_columns, pins.registers, pins.decoder);
    say("ghosts: {} sets of three keys fake a fourth ({} of {} triples); {} longer sets{}\n",
        print_count(std::ssize(m.keys) == 0 ? 0 : static_cast<long long>(ghosts.sets)),
        print_count(static_cast<long long>(guard.triples_wrong)),
        print_count(static_cast<long long>(guard.triples)),
        print_count(static_cast<long long>(ghosts.longer)),
        ghosts.counted_to == 0 ? std::string() : fmt::format(", counted up to {} keys", ghosts.counted_to));
    for (const auto& g : worst)
        say("  {} + {} + {} fake {}: {}\n", name_at(m, g.held[0]), name_at(m, g.held[1]),
            name_at(m, g.held[2]), name_at(m, g.faked), g.why);
    say("scan: {} ({} a strobe), {} from key to report\n", print_number(b.scan_s, Unit::second),
        print_number(b.settle_s, Unit::second), print_number(b.latency_s, Unit::second));
    say("{}\n", b.fight_says);
    if (!a.numbers.assumed.empty()) say("assumed: {}\n", fmt::join(a.numbers.assumed, ", "));
}

int map_matrix(const MatrixQuestion& q, bool json) {
    auto a = matrix_asked(q);
    if (!a) return report_error(a.error());
    if (const auto taken = take_options(q, a->numbers); !taken) return report_error(taken.error());
    Progress progress;
    const auto ghosts = count_ghosts(a->model, progress);
    if (!ghosts) return report_error(ghosts.error());
    const auto worst = rank_ghosts(a->model, {a->chords, 10});
    const auto pins = pins_of(a->model.rows.size(), a->model.columns.size(), a->model.keys.size());
    const auto budget = scan_budget(a->model, a->numbers, a->drive);
    const auto guard = guard_costs(a->model, a->chords, *ghosts);
    if (json)
        print_json(matrix_json(*a, *ghosts, pins, budget, guard, worst));
    else
        print_matrix(*a, *ghosts, pins, budget, guard, worst);
    const bool stop = !a->drive.empty() && budget.fight == Verdict::stop;
    return stop ? bad_answer : fine;
}

struct PointerQuestion {
    std::string path, counts_per_step, dead = "0", limit = "127", table, exponent = "1";
};

Result<MoveCurve> curve_asked(const PointerQuestion& q) {
    MoveCurve c;
    const auto take = [](const std::string& text, const char* option, double least, double most,
                         bool whole) -> Result<double> {
        const auto v = parse_number(text, Unit::none);
        if (!v || !(*v >= least && *v <= most) || (whole && *v != static_cast<double>(static_cast<long>(*v))))
            return fail(usage_error(
                std::string(option) + " " + in_quotes(text),
                fmt::format("{} from {:g} to {:g}", whole ? "a whole number" : "a number", least, most)));
        return *v;
    };
    const auto g = take(q.counts_per_step, "--counts-per-step", 1e-6, 1e6, false);
    if (!g) return fail(g.error());
    const auto dead = take(q.dead, "--dead", 0, 1e6, true);
    if (!dead) return fail(dead.error());
    const auto limit = take(q.limit, "--limit", 1, 1e6, true);
    if (!limit) return fail(limit.error());
    const auto exponent = take(q.exponent, "--exponent", 0.05, 20, false);
    if (!exponent) return fail(exponent.error());
    c.counts_per_step = *g;
    c.dead = static_cast<long>(*dead);
    c.limit = static_cast<long>(*limit);
    c.exponent = *exponent;
    if (!q.table.empty()) {
        const auto text = read_input(q.table, 4U << 20U);
        if (!text) return fail(text.error());
        auto table = read_curve_table(*text, q.table);
        if (!table) return fail(table.error());
        c.table = std::move(*table);
    }
    if (const auto problem = problem_of(c); !problem.empty())
        return fail(usage_error(problem, "a curve that rises, with a limit above its dead zone"));
    return c;
}

int map_pointer(const PointerQuestion& q, bool json) {
    const auto curve = curve_asked(q);
    if (!curve) return report_error(curve.error());
    const auto text = read_input(q.path, 64U << 20U);
    if (!text) return report_error(text.error());
    const auto counts = read_moves(*text, q.path);
    if (!counts) return report_error(counts.error());
    Progress progress;
    const auto r = move_through(*curve, *counts, progress);
    if (!r) return report_error(r.error());
    // Whole numbers as such: counts are.
    const auto carried = r->carried == static_cast<double>(static_cast<long long>(r->carried))
                             ? Json(static_cast<long long>(r->carried))
                             : Json(r->carried);
    if (json) {
        print_json({{"out", r->out},
                    {"carried", carried},
                    {"lost", static_cast<long long>(r->lost)},
                    {"saturated", r->saturated},
                    {"most_waiting", r->most_waiting},
                    {"longest_wait_polls", r->longest_wait}});
    } else {
        for (const auto out : r->out) say("{}\n", out);
        say("carried {} counts, lost 0; the limit held {} of {} polls back\n", r->carried, r->saturated,
            r->out.size());
    }
    return fine;
}

}  // namespace

void add_map_commands(CLI::App& app, Session& session) {
    auto* noun = app.add_subcommand("map", "old codes and new meanings");
    noun->require_subcommand(1);
    const auto m = std::make_shared<MatrixQuestion>();
    auto* v = noun->add_subcommand("matrix", "a switch matrix: ghosts, pins, scan");
    v->add_option("file", m->path, "KEYS.csv (key,row,column,diode) or a dossier")->required();
    v->add_option("--r-foil", m->foil, "of a row and a column through a closed key");
    v->add_option("--c", m->farad, "of a column with its lead");
    v->add_option("--pull", m->pull, "the pull-up");
    v->add_option("--debounce", m->debounce, "scans in a row that must agree");
    v->add_option("--drive", m->drive, "of the strobes: push-pull or open-drain");
    v->callback([&session, m] { session.run = [&session, m] { return map_matrix(*m, session.json); }; });
    const auto p = std::make_shared<PointerQuestion>();
    v = noun->add_subcommand("pointer", "a pointer's counts as positions of an old stick");
    v->add_option("moves", p->path, "MOVES.csv: counts a poll")->required();
    v->add_option("--counts-per-step", p->counts_per_step, "counts that one step is worth")->required();
    v->add_option("--dead", p->dead, "positions up to this move nothing");
    v->add_option("--limit", p->limit, "the largest position");
    v->add_option("--curve", p->table, "a measured curve: out,speed");
    v->add_option("--exponent", p->exponent, "of the old side's curve where there is no table");
    v->callback([&session, p] { session.run = [&session, p] { return map_pointer(*p, session.json); }; });
    add_map_reports(*noun, session);
    add_map_tables(*noun, session);
}

}  // namespace grayrelic::cli
