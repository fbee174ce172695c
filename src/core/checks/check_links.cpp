// SPDX-License-Identifier: GPL-3.0-or-later
// Lines between the two connectors: levels, limits, drivers against each other, floating inputs, slow rises.
#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "core/base/quantity.hpp"
#include "core/checks/line_findings.hpp"
#include "core/checks/registry.hpp"
#include "core/electrical/series.hpp"
#include "core/timing/timing_analysis.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
Severity severity_of_link(Verdict v) {
    return v == Verdict::stop ? Severity::stop : Severity::doubt;
}

std::string id_of(LineFault kind) {
    switch (kind) {
        case LineFault::contention:
        case LineFault::may_contend: return "two-drivers";
        case LineFault::swapped_pair: return "pair-swapped";
        case LineFault::no_termination: return "pair-not-terminated";
        case LineFault::no_idle: return "pair-without-idle";
        case LineFault::too_large: return "line-too-large";
        default: return "floats";
    }
}

namespace {

/// What a person would do about the levels, in words; fixes with values stand at the line.
std::string remedy(const LinkVerdict& v) {
    if (v.over_limit)
        return "Divide it, put a resistor before the input, or a buffer that endures it. The line offers "
               "values.";
    if (!v.high_margin_v && !v.arriving.high_problem.empty())
        return "Pull the line up, or fit a driver that gives enough. The line offers values.";
    if (v.high_margin_v && *v.high_margin_v < thin_margin_v)
        return "Fit a receiver with lower thresholds, or a buffer at its supply. The line offers some.";
    return "Fit a driver that pulls lower, or a buffer. The line offers some.";
}

}  // namespace

void find_levels(const Circuit& c, const LinkStudy& study, const WireLine& line, bool says_of_pull,
                 Findings& out) {
    const LineLink* worst = nullptr;
    long failing = 0;
    for (const auto i : line.links) {
        const auto& link = study.links[i];
        const auto v = link.levels.verdict;
        if (v == Verdict::holds) continue;
        // A missing pull is said once, for the line.
        if (says_of_pull && !link.levels.high_margin_v && !link.levels.over_limit) continue;
        ++failing;
        if (worst == nullptr || (worse(worst->levels.verdict, v) == v && worst->levels.verdict != v))
            worst = &link;
    }
    if (worst == nullptr) return;
    const auto& l = worst->levels;
    const auto what = l.over_limit ? "is too much for"
                      : (l.high_margin_v && *l.high_margin_v < 0) || !l.high_margin_v
                          ? "may never read high at"
                      : l.low_margin_v && *l.low_margin_v < 0 ? "may never read low at"
                                                              : "has little margin at";
    const auto& unknown =
        worst->family_unknown ? " The family is not known: judged as the most fragile." : "";
    out.push_back({worst->family_unknown ? "link-unknown" : "link-fails",
                   severity_of_link(l.verdict),
                   Stage::wire,
                   "line " + line.name,
                   fmt::format("{} {} {}", line.name, what, c.name_of(c.receivers[worst->receiver])),
                   fmt::format("From {}. {}{}{}", c.name_of(c.drivers[worst->driver]), l.why, unknown,
                               failing > 1 ? fmt::format(" {} more on this line.", failing - 1) : ""),
                   worst->family_unknown
                       ? "Find out the family, or measure the levels under load. " + remedy(l)
                       : remedy(l),
                   {"line", line.name}});
}

namespace {

/// The shortest time that a line must settle in, by the contract's intervals that begin or end on it.
std::optional<Time> shortest_of(const TimingAnalysis& t, const std::string& signal) {
    std::optional<Time> out;
    for (const auto& f : t.contract) {
        if (!f->min) continue;
        const auto on = [&](const std::string& event) { return event.substr(0, event.find(':')) == signal; };
        const bool same = on(f->interval.from) && on(f->interval.to);
        if (!same || (f->interval.kind != IntervalKind::width && f->interval.kind != IntervalKind::period))
            continue;
        if (!out || *f->min < *out) out = *f->min;
    }
    return out;
}

/// Of the time that a line has, at most so much may go into its rise.
constexpr double fair_share = 0.3;

void rise_of(const WireAnalysis& w, const TimingAnalysis& t, const WireLine& line, Findings& out) {
    const LineLink* slowest = nullptr;
    for (const auto i : line.links)
        if (const auto& l = w.study.links[i];
            l.rise_s && (slowest == nullptr || *l.rise_s > *slowest->rise_s))
            slowest = &l;
    if (slowest == nullptr) return;
    const auto room = shortest_of(t, line.name);
    const auto allowed = room ? std::optional(*room) : t.least_allowed;
    if (!allowed || *slowest->rise_s < fair_share * allowed->seconds()) return;
    // The capacitance is an estimate: within twice the time it may still do.
    const bool stop = *slowest->rise_s > 2 * allowed->seconds();
    const double enough = *slowest->pull_ohm * fair_share * allowed->seconds() / *slowest->rise_s;
    out.push_back(
        {"rise-slow",
         stop ? Severity::stop : Severity::doubt,
         Stage::wire,
         "line " + line.name,
         fmt::format("{} rises too slowly", line.name),
         fmt::format("{} behind {} with an estimated {}: {} has {}.",
                     print_number(*slowest->rise_s, Unit::second),
                     print_number(*slowest->pull_ohm, Unit::ohm), print_number(line.farad, Unit::farad),
                     room ? "the line" : "a reply", print(*allowed)),
         fmt::format("Fit at most {}, or measure the rise with a scope first.",
                     print_number(at_most(enough, Series::e12), Unit::ohm, 2)),
         {"line", line.name}});
}

/// Lines that only a module drives: what it does not drive at reset, others read as they like.
void boot(const WireAnalysis& w, const std::vector<const WireLine*>& lines, Findings& out) {
    if (lines.empty()) return;
    std::vector<std::string> names, heard;
    for (const auto* l : lines) {
        names.push_back(l->name);
        const bool relic = std::any_of(l->receivers.begin(), l->receivers.end(),
                                       [&](auto r) { return w.circuit.receivers[r].contact.has_value(); });
        if (relic) heard.push_back(l->name);
    }
    constexpr std::size_t most_named = 8;
    auto shown = heard.empty() ? names : heard;
    const auto more =
        shown.size() > most_named ? fmt::format(" and {} more", shown.size() - most_named) : std::string();
    if (shown.size() > most_named) shown.resize(most_named);
    const auto text = fmt::format("{}{}", fmt::join(shown, ", "), more);
    out.push_back(
        {"floats-at-boot",
         heard.empty() ? Severity::note : Severity::doubt,
         Stage::wire,
         "line " + shown.front(),
         fmt::format("{} {} until the firmware runs", text, shown.size() == 1 ? "floats" : "float"),
         heard.empty() ? "At reset the module's pins are inputs; what reads these lines reads whatever comes."
                       : "At reset the module's pins are inputs; the relic reads whatever comes.",
         heard.empty() ? "Nothing, where nobody acts on them before; else 10 kΩ to the resting level."
                       : "Pull each to its resting level: 10 kΩ; the line offers values.",
         {"line", shown.front()}});
}

}  // namespace

void check_links(const Analysis& a, Findings& out) {
    if (!a.wire) return;
    const auto& w = *a.wire;
    std::vector<std::string> open;
    std::vector<const WireLine*> at_boot;
    for (const auto& line : w.study.lines) {
        const bool pull = std::any_of(line.faults.begin(), line.faults.end(),
                                      [](const auto& f) { return f.kind == LineFault::no_pull; });
        for (const auto& f : line.faults) {
            if (f.kind == LineFault::floats_at_boot) {
                at_boot.push_back(&line);
                continue;
            }
            out.push_back({id_of(f.kind),
                           f.verdict == Verdict::holds ? Severity::note : severity_of_link(f.verdict),
                           Stage::wire,
                           "line " + line.name,
                           f.says,
                           f.why,
                           f.todo,
                           {"line", line.name}});
        }
        find_levels(w.circuit, w.study, line, pull, out);
        rise_of(w, *a.timing, line, out);
        // What only a cable drives floats while the plug is out.
        bool all_outside = !line.drivers.empty() && !line.receivers.empty();
        for (const auto d : line.drivers)
            all_outside = all_outside && w.circuit.drivers[d].contact.has_value();
        // A bridge that the relic alone feeds is off with the plug out.
        const bool inside = std::any_of(line.receivers.begin(), line.receivers.end(), [&](auto r) {
            const auto& end = w.circuit.receivers[r];
            return end.part && std::any_of(line.drivers.begin(), line.drivers.end(), [&](auto d) {
                       return w.circuit.drivers[d].supply_origin != end.supply_origin;
                   });
        });
        const bool pulled = std::any_of(line.nets.begin(), line.nets.end(), [&](int n) {
            const auto& edges = w.circuit.nets[static_cast<std::size_t>(n)].edges;
            return std::any_of(edges.begin(), edges.end(), [&](auto e) {
                const auto& edge = w.circuit.edges[e];
                return edge.kind == CircuitEdge::Kind::resistor &&
                       (w.circuit.nets[static_cast<std::size_t>(edge.a)].supply ||
                        w.circuit.nets[static_cast<std::size_t>(edge.b)].supply);
            });
        });
        if (all_outside && inside && !pulled) open.push_back(line.name);
    }
    boot(w, at_boot, out);
    if (!open.empty())
        out.push_back(
            {"floats-unplugged",
             Severity::note,
             Stage::wire,
             "plug out",
             fmt::format("With the plug out, {} float{}", fmt::join(open, ", "), open.size() == 1 ? "s" : ""),
             "The bridge may still be powered from the other side then.",
             "Pull each to its resting level with 100 kΩ, if the bridge runs without the relic.",
             {"line", open.front()}});
}

}  // namespace grayrelic
