// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/line_solver.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <queue>
#include <set>

#include "core/base/quantity.hpp"

namespace grayrelic {
namespace {

const Family& family_of(const NetEnd& end) {
    return end.family != nullptr ? *end.family : unknown_family();
}

}  // namespace

LineSolver::LineSolver(const Circuit& circuit, const WireLine& line) : c_(circuit), line_(line) {}

LineSolver::Made LineSolver::make(Corner corner, const std::vector<std::size_t>& way, bool lows) const {
    Made out;
    const auto node = [&](int net) {
        const auto [at, fresh] = out.node.try_emplace(net, out.network.nodes);
        if (fresh) {
            ++out.network.nodes;
            out.network.held.emplace_back();
            if (const auto& s = c_.nets[static_cast<std::size_t>(net)].supply)
                out.network.held.back() = s->ground ? 0.0 : corner == Corner::least ? s->least : s->most;
            else if (const auto held = c_.network.nets[static_cast<std::size_t>(net)].held)
                out.network.held.back() = *held ? 5.0 : 0.0;
        }
        return at->second;
    };
    for (const int net : line_.nets) (void)node(net);
    std::set<std::size_t> seen;
    for (const int net : line_.nets)
        for (const auto i : c_.nets[static_cast<std::size_t>(net)].edges) {
            const auto& e = c_.edges[i];
            const bool on =
                e.kind == CircuitEdge::Kind::resistor || (e.kind == CircuitEdge::Kind::low_only && lows) ||
                (e.kind == CircuitEdge::Kind::switched && std::find(way.begin(), way.end(), i) != way.end());
            if (!on || !seen.insert(i).second) continue;
            const auto a = node(e.a), b = node(e.b);
            out.network.resistances.push_back({a, b, e.ohm});
        }
    out.network.into.assign(out.network.nodes, 0.0);
    return out;
}

std::optional<std::vector<std::size_t>> LineSolver::way(int from, int to) const {
    std::map<int, std::pair<int, std::size_t>> came;  // from which net, over which edge
    std::queue<int> open;
    open.push(from);
    came[from] = {from, 0};
    while (!open.empty()) {
        const int at = open.front();
        open.pop();
        if (at == to) break;
        for (const auto i : c_.nets[static_cast<std::size_t>(at)].edges) {
            const auto& e = c_.edges[i];
            const int next = e.a == at ? e.b : e.a;
            const bool in_line = std::find(line_.nets.begin(), line_.nets.end(), next) != line_.nets.end();
            if (e.kind == CircuitEdge::Kind::drop || !in_line || came.count(next) != 0) continue;
            came[next] = {at, i};
            open.push(next);
        }
    }
    if (came.count(to) == 0) return std::nullopt;
    std::vector<std::size_t> out;
    for (int at = to; at != from; at = came[at].first) out.push_back(came[at].second);
    return out;
}

void LineSolver::load(Made& made, Level level) const {
    for (const auto r : line_.receivers) {
        const auto& end = c_.receivers[r];
        const auto& f = family_of(end);
        // At a high an input draws current out of its net, at a low it gives.
        made.network.into[made.node[end.net]] += level == Level::high ? -f.input_high_a : f.input_low_a;
    }
}

void LineSolver::solve_high(const Ends& e, const std::vector<std::size_t>& way, Reach& out) const {
    auto made = make(e.together.value_or(Corner::least), way, false);
    load(made, Level::high);
    const auto from = made.node[e.driver->net], to = made.node[e.receiver->net];
    const bool by_pull = e.driver->style == DriveStyle::pulls_low || e.shifter;
    if (by_pull) {
        const auto v = solve(made.network)[to];
        if (!v) {
            out.high_problem = fmt::format("Nothing pulls {} high.", line_.name);
            return;
        }
        out.least_high = *v;
        return;
    }
    const auto& f = *e.drives;
    // The load is known once the level is: first guess the level at no load.
    auto level = f.high_at(e.driver->supply.least, 0);
    double amperes = 0;
    for (int round = 0; level && round < 3; ++round) {
        made.network.held[from] = *level;
        const auto v = solve(made.network);
        // Inputs at the driver's own net draw from it too.
        amperes = current_from(made.network, v, from) - made.network.into[from];
        level = f.high_at(e.driver->supply.least, std::max(0.0, amperes));
    }
    if (!level) {
        if (f.open_collector || !f.output_high_min_v)
            out.high_problem = fmt::format("Nothing pulls {} high.", line_.name);
        else
            out.high_problem = fmt::format("{} must give {} at a high; {} gives at most {}.",
                                           c_.name_of(*e.driver), print_number(amperes, Unit::ampere), f.id,
                                           print_number(f.most_high_a(e.driver->supply.least), Unit::ampere));
        return;
    }
    made.network.held[from] = *level;
    out.least_high = solve(made.network)[to];
}

void LineSolver::solve_low(const Ends& e, const std::vector<std::size_t>& way, Reach& out) const {
    auto made = make(e.together.value_or(Corner::most), way, true);
    load(made, Level::low);
    const auto from = made.node[e.driver->net], to = made.node[e.receiver->net];
    const auto& f = *e.drives;
    auto level = f.low_at(e.driver->supply.least, 0);
    double amperes = 0;
    for (int round = 0; level && round < 3; ++round) {
        made.network.held[from] = *level;
        const auto v = solve(made.network);
        amperes = -current_from(made.network, v, from) + made.network.into[from];
        level = f.low_at(e.driver->supply.least, std::max(0.0, amperes));
    }
    if (!level) {
        out.low_problem = fmt::format("{} must take {} at a low; {} takes at most {}.", c_.name_of(*e.driver),
                                      print_number(amperes, Unit::ampere), f.id,
                                      print_number(f.most_low_a(e.driver->supply.least), Unit::ampere));
        return;
    }
    made.network.held[from] = *level;
    out.most_low = solve(made.network)[to];
    // What an input gives comes from its own supply, and lifts the line no further than that.
    if (out.most_low) *out.most_low = std::min(*out.most_low, std::max(e.receiver->supply.most, *level));
}

void LineSolver::solve_extremes(const Ends& e, const std::vector<std::size_t>& way, Reach& out) const {
    auto made = make(e.together.value_or(Corner::most), way, false);
    const auto from = made.node[e.driver->net], to = made.node[e.receiver->net];
    const auto& f = *e.drives;
    if (e.driver->style != DriveStyle::pulls_low && !e.shifter) {
        const bool own_swing = f.swings_below_ground() || f.differential_out_v.has_value();
        made.network.held[from] =
            e.driver->highest_v.value_or(own_swing ? f.output_high_max_v : e.driver->supply.most);
    }
    const auto high = solve(made.network)[to];
    out.highest = high.value_or(e.driver->highest_v.value_or(0.0));
    auto low = make(Corner::least, way, true);
    low.network.held[low.node[e.driver->net]] =
        std::min(f.output_low_min_v, e.driver->lowest_v.value_or(0.0));
    out.lowest = solve(low.network)[low.node[e.receiver->net]].value_or(0.0);
}

std::optional<double> LineSolver::ohm_between(int a, int b) const {
    if (a == b) return 0.0;
    auto made = make(Corner::most, {}, true);
    for (auto& h : made.network.held) h.reset();
    // Supplies would carry current round the line: they are cut off.
    std::set<std::size_t> rails;
    for (const auto& [net, node] : made.node)
        if (c_.nets[static_cast<std::size_t>(net)].supply ||
            c_.network.nets[static_cast<std::size_t>(net)].held)
            rails.insert(node);
    std::erase_if(made.network.resistances,
                  [&](const auto& r) { return rails.count(r.a) != 0 || rails.count(r.b) != 0; });
    made.network.held[made.node[b]] = 0.0;
    return resistance_from(made.network, made.node[a]);
}

std::optional<double> LineSolver::pull_ohm(int net) const {
    auto made = make(Corner::most, {}, false);
    return resistance_from(made.network, made.node[net]);
}

/// An input with diodes endures more than its limit where so little flows that the diode carries it.
void LineSolver::judge_clamp(const Ends& e, const std::vector<std::size_t>& way, LineLink& link) const {
    if (!link.levels.over_limit || !e.reads->clamps) return;
    auto made = make(Corner::most, way, false);
    made.network.held[made.node[e.driver->net]] = link.levels.arriving.highest_v;
    const auto ohm = resistance_from(made.network, made.node[e.receiver->net]);
    if (!ohm || *ohm < 1) return;
    const double over = std::max(link.levels.arriving.highest_v - link.levels.limit_high_v,
                                 link.levels.limit_low_v - link.levels.arriving.lowest_v);
    link.clamp_a = over / *ohm;
    if (*link.clamp_a > harmless_clamp_a) return;
    // Judge anew without the limit: the diode carries what is left.
    auto arriving = link.levels.arriving;
    arriving.highest_v = std::min(arriving.highest_v, link.levels.limit_high_v);
    arriving.lowest_v = std::max(arriving.lowest_v, link.levels.limit_low_v);
    const bool off = link.levels.limit_high_v < e.receiver->supply.least;
    auto again = judge_levels(arriving, {e.reads, e.receiver->supply, off});
    again.why += fmt::format(" Its input diode carries {}.", print_number(*link.clamp_a, Unit::ampere));
    link.levels = std::move(again);
}

// t = R·C·ln((V∞ − V0)/(V∞ − Vth)) from the driver's low to the receiver's high threshold.
void LineSolver::judge_rise(const Ends& e, const std::vector<std::size_t>& way, LineLink& link) const {
    if (e.driver->style != DriveStyle::pulls_low && !e.shifter) return;
    auto made = make(Corner::least, way, false);
    load(made, Level::high);  // what the inputs take lowers where the line ends
    const auto to = made.node[e.receiver->net];
    link.pull_ohm = resistance_from(made.network, to);
    const auto end = solve(made.network)[to];
    if (!link.pull_ohm || !end) return;
    const double start = link.levels.arriving.low_most_v.value_or(0.4), threshold = link.levels.high_needed_v;
    if (*end > threshold && start < threshold)
        link.rise_s = *link.pull_ohm * line_.farad * std::log((*end - start) / (*end - threshold));
}

LinkVerdict LineSolver::levels(const Ends& e, const std::vector<std::size_t>& path, bool may_be_off) const {
    Reach reach;
    solve_high(e, path, reach);
    solve_low(e, path, reach);
    solve_extremes(e, path, reach);
    ArrivingLevels a;
    a.high_least_v = reach.least_high;
    a.low_most_v = reach.most_low;
    a.highest_v = reach.highest;
    a.lowest_v = reach.lowest;
    a.high_problem = reach.high_problem;
    a.low_problem = reach.low_problem;
    if (e.reads->is_pair() && e.drives->differential_out_v) {
        a.differential = true;
        a.high_least_v = *e.drives->differential_out_v;
        a.low_most_v = -*e.drives->differential_out_v;
    }
    return judge_levels(std::move(a), {e.reads, e.receiver->supply, may_be_off});
}

/// Both ends on one supply: at its least, then at its most; the worse of the two.
LinkVerdict LineSolver::levels_together(const Ends& e, const std::vector<std::size_t>& path) const {
    std::optional<LinkVerdict> out;
    for (const auto corner : {Corner::least, Corner::most}) {
        auto driver = *e.driver, receiver = *e.receiver;
        const bool least = corner == Corner::least;
        // Drops of their own keep two rails of one source apart.
        const auto& d = driver.supply;
        const auto& r = receiver.supply;
        const double spread = std::max(driver.supply_spread, receiver.supply_spread);
        driver.supply = least ? SupplyRange{d.least, std::min(d.most, d.least + driver.supply_spread)}
                              : SupplyRange{std::max(d.least, d.most - driver.supply_spread), d.most};
        const bool same_rail = d == r;
        receiver.supply = same_rail ? driver.supply
                          : least   ? SupplyRange{r.least, std::min(r.most, r.least + spread)}
                                    : SupplyRange{std::max(r.least, r.most - spread), r.most};
        // On the very same rail both have the very same voltage.
        if (same_rail)
            driver.supply = receiver.supply =
                least ? SupplyRange{d.least, d.least} : SupplyRange{d.most, d.most};
        Ends at = e;
        at.driver = &driver;
        at.receiver = &receiver;
        at.together = corner;
        auto v = levels(at, path, false);
        if (!out) {
            out = std::move(v);
            continue;
        }
        const auto less = [](const std::optional<double>& a, const std::optional<double>& b) {
            return a && b ? std::optional(std::min(*a, *b)) : std::nullopt;
        };
        const auto high = less(out->high_margin_v, v.high_margin_v),
                   low = less(out->low_margin_v, v.low_margin_v);
        const bool over = out->over_limit || v.over_limit;
        const double highest = std::max(out->arriving.highest_v, v.arriving.highest_v);
        const double lowest = std::min(out->arriving.lowest_v, v.arriving.lowest_v);
        const auto margin = [](const LinkVerdict& l) {
            return std::min(l.high_margin_v.value_or(-1e9), l.low_margin_v.value_or(-1e9));
        };
        const bool worse_now = v.verdict == out->verdict ? margin(v) < margin(*out)
                                                         : worse(v.verdict, out->verdict) == v.verdict;
        if (worse_now) out = std::move(v);
        out->high_margin_v = high;
        out->low_margin_v = low;
        out->over_limit = over;
        out->arriving.highest_v = highest;
        out->arriving.lowest_v = lowest;
    }
    return *out;
}

std::optional<LineLink> LineSolver::judge(std::size_t driver, std::size_t receiver) const {
    const auto &d = c_.drivers[driver], &r = c_.receivers[receiver];
    if ((d.part && r.part && *d.part == *r.part && d.net == r.net && d.pin == r.pin) ||
        (d.contact && r.contact && *d.contact == *r.contact))
        return std::nullopt;
    // A module's pins hear each other only by mistake of the firmware; two contacts of one side never do.
    if (d.style == DriveStyle::firmware && r.part && d.part && *r.part == *d.part) return std::nullopt;
    const auto path = way(d.net, r.net);
    if (!path) return std::nullopt;
    Ends e{&d, &r, &family_of(d), &family_of(r), false};
    for (const auto i : *path) e.shifter = e.shifter || c_.edges[i].kind == CircuitEdge::Kind::low_only;
    LineLink link;
    link.driver = driver;
    link.receiver = receiver;
    link.through_parts = !path->empty();
    link.family_unknown = d.family == nullptr || r.family == nullptr;
    // One can stand without its supply while the other drives when they are fed from different places.
    const bool same = !d.supply_origin.empty() && d.supply_origin == r.supply_origin;
    const bool may_be_off = d.supply_origin != r.supply_origin && d.style != DriveStyle::pulls_low;
    link.levels = same ? levels_together(e, *path) : levels(e, *path, may_be_off);
    judge_clamp(e, *path, link);
    judge_rise(e, *path, link);
    if (link.family_unknown && link.levels.verdict != Verdict::stop)
        link.levels.why += d.family == nullptr ? " The driver's family is not known."
                                               : " The receiver's family is not known.";
    return link;
}

}  // namespace grayrelic
