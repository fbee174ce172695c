// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/pairs.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>

namespace grayrelic {
namespace {

/// The sign that a name ends in, '+' or '-', and what stands before it; 0 for none.
std::pair<std::string, char> stem_of(const std::string& name) {
    if (name.empty() || (name.back() != '+' && name.back() != '-')) return {name, 0};
    return {name.substr(0, name.size() - 1), name.back()};
}

struct PairEnd {
    std::string who;  ///< "U1.1" or "J1 TX"
    int plus = -1, minus = -1;
    bool reads = false;
};

std::vector<PairEnd> ends_of(const Circuit& c) {
    std::map<std::string, PairEnd> found;
    const auto add = [&](const NetEnd& e, bool reads) {
        if (e.family == nullptr || !(e.family->is_pair() || e.family->differential_out_v)) return;
        const auto name = e.part ? e.pin : c.contacts[*e.contact].pin.name.value;
        const auto [stem, sign] = stem_of(name);
        if (sign == 0) return;
        const auto who =
            e.part ? c.network.all[*e.part].ref + "." + stem : c.contacts[*e.contact].far_port + " " + stem;
        auto& at = found[who];
        at.who = who;
        at.reads = at.reads || reads;
        (sign == '+' ? at.plus : at.minus) = e.net;
    };
    for (const auto& d : c.drivers) add(d, false);
    for (const auto& r : c.receivers) add(r, true);
    std::vector<PairEnd> out;
    for (auto& [who, end] : found)
        if (end.plus >= 0 && end.minus >= 0) out.push_back(std::move(end));
    return out;
}

WireLine* line_at(LinkStudy& s, int net) {
    const int at = s.line_by_net[static_cast<std::size_t>(net)];
    return at < 0 ? nullptr : &s.lines[static_cast<std::size_t>(at)];
}

void add(LinkStudy& s, int net, LineFault kind, Verdict v, std::string says, std::string why,
         std::string todo) {
    auto* line = line_at(s, net);
    if (line == nullptr) return;
    line->faults.push_back({kind, v, std::move(says), std::move(why), std::move(todo)});
    line->verdict = worse(line->verdict, v);
}

/// Ends of one balanced line have their nets on the same lines, whichever way round.
bool same_lines(const LinkStudy& s, const PairEnd& a, const PairEnd& b) {
    const auto line = [&](int net) { return s.line_by_net[static_cast<std::size_t>(net)]; };
    const auto ap = line(a.plus), am = line(a.minus), bp = line(b.plus), bm = line(b.minus);
    return (ap == bp && am == bm) || (ap == bm && am == bp);
}

constexpr double least_termination = 80, most_termination = 150;

}  // namespace

void judge_pairs(const Circuit& c, LinkStudy& s) {
    const auto ends = ends_of(c);
    for (std::size_t i = 0; i < ends.size(); ++i)
        for (std::size_t k = i + 1; k < ends.size(); ++k) {
            if (!same_lines(s, ends[i], ends[k]) || ends[i].plus == ends[i].minus) continue;
            if (s.line_by_net[static_cast<std::size_t>(ends[i].plus)] ==
                s.line_by_net[static_cast<std::size_t>(ends[k].plus)])
                continue;
            add(s, ends[i].plus, LineFault::swapped_pair, Verdict::stop,
                fmt::format("The pair between {} and {} is swapped", ends[i].who, ends[k].who),
                "Plus of one end is wired to minus of the other: every bit arrives inverted, and the line "
                "rests at the wrong level.",
                "Exchange the two wires at one end.");
        }
    for (const auto& e : ends) {
        if (!e.reads) continue;
        bool terminated = false;
        for (const auto& edge : c.edges) {
            if (edge.kind != CircuitEdge::Kind::resistor) continue;
            const bool across =
                (edge.a == e.plus && edge.b == e.minus) || (edge.a == e.minus && edge.b == e.plus);
            terminated =
                terminated || (across && edge.ohm >= least_termination && edge.ohm <= most_termination);
        }
        const auto pulled = [&](int net) {
            return std::any_of(c.edges.begin(), c.edges.end(), [&](const CircuitEdge& x) {
                const int other = x.a == net ? x.b : x.b == net ? x.a : -1;
                return other >= 0 && x.kind == CircuitEdge::Kind::resistor &&
                       c.nets[static_cast<std::size_t>(other)].supply.has_value();
            });
        };
        // Both are properties of long and of unplugged lines: said, without weight.
        if (!terminated)
            add(s, e.plus, LineFault::no_termination, Verdict::holds,
                fmt::format("The pair at {} is not terminated", e.who),
                "Nothing of 80 to 150 Ω stands between its wires.",
                "Put 100 Ω to 120 Ω across it where the lead is longer than a metre or two.");
        if (!(pulled(e.plus) && pulled(e.minus)))
            add(s, e.plus, LineFault::no_idle, Verdict::holds,
                fmt::format("The pair at {} has no level at rest", e.who),
                "While nobody drives it, or with the plug out, noise decides what is read.",
                "Pull plus up and minus down, 1 kΩ to 4.7 kΩ each.");
    }
}

}  // namespace grayrelic
