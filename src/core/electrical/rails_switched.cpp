// SPDX-License-Identifier: GPL-3.0-or-later
// Loads behind a switch: does the transistor conduct and open at the gate volts there are, by how much does
// it lift the load's ground, what feeds the load through its lines while it is off, and how long until it has
// reset.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/quantity.hpp"
#include "core/electrical/rail_network.hpp"
#include "core/electrical/rails_study.hpp"

namespace grayrelic {
namespace {

/// A gate this far from its source is taken as off where the threshold is not said.
constexpr double surely_off_v = 0.3;
constexpr double most_gate_v = 20;
constexpr double much_lift_v = 0.4;

std::set<std::string> rails_behind(const RailTree& tree, const std::string& rail) {
    std::set<std::string> out{rail};
    for (bool more = true; more;) {
        more = false;
        for (const auto& p : tree.parts)
            if (out.count(p.from) > 0) more |= out.insert(p.to).second;
    }
    return out;
}

class SwitchedWork {
  public:
    explicit SwitchedWork(const RailTree& tree)
        : tree_(tree), on_(rail_figures(tree, {}, 25)), loads_(load_currents(tree, {})) {}
    SwitchedLoad of_switch(const RailPart& p);
    SwitchedLoad of_source(const RailSource& s);

  private:
    void judge_gate(const RailPart& p, SwitchedLoad& out) const;
    void judge_lift(const RailPart& p, SwitchedLoad& out) const;
    void judge_off(const std::string& rail, const std::set<std::string>& off, SwitchedLoad& out) const;
    void judge_reset(const std::string& rail, SwitchedLoad& out) const;

    const RailTree& tree_;
    RailModeFigures on_;
    LoadCurrents loads_;
};

void SwitchedWork::judge_gate(const RailPart& p, SwitchedLoad& out) const {
    const auto& g = *p.gate;
    const auto* from = on_.find_rail(p.from);
    const double least = from->least, most = from->most;
    // The gate is pulled below its rail to conduct (P) or raised above what it feeds (N).
    const double off_v = g.off_v.value_or(g.low_side ? 0.0 : most);
    const bool raised = g.low_side || g.on_v > most;
    if (g.low_side) {
        out.gate_on_v = g.on_v;
        out.gate_off_v = off_v;
    } else if (raised) {
        out.gate_on_v = g.on_v - most;
        out.gate_off_v = off_v;  // what it feeds is then at ground
    } else {
        out.gate_on_v = least - g.on_v;
        out.gate_off_v = most - off_v;
    }
    const double on = *out.gate_on_v, off = *out.gate_off_v;
    if (on > most_gate_v) {
        out.conducts = Verdict::stop;
        out.conducts_why = fmt::format(
            "{} between gate and source: most endure 20 V. Divide it, or clamp it.", volts_text(on));
    } else if (g.rated_v && on >= *g.rated_v - 1e-9) {
        out.conducts = Verdict::holds;
        out.conducts_why = fmt::format("{} between gate and source; its resistance is rated at {}.",
                                       volts_text(on), volts_text(*g.rated_v));
    } else if (on <= g.threshold_most.value_or(surely_off_v)) {
        out.conducts = Verdict::stop;
        out.conducts_why = fmt::format(
            "{} between gate and source, and it may begin to conduct at {} only: take one whose resistance "
            "is rated at {} or less.",
            volts_text(on), volts_text(g.threshold_most.value_or(surely_off_v)),
            volts_text(std::max(0.0, on)));
    } else {
        out.conducts = Verdict::doubt;
        out.conducts_why = g.rated_v
                               ? fmt::format(
                                     "{} between gate and source; its resistance is rated at {}: it will be "
                                     "more, by how much its sheet does not say. Measure the drop under load.",
                                     volts_text(on), volts_text(*g.rated_v))
                               : fmt::format(
                                     "{} between gate and source; at which volts its resistance is rated is "
                                     "not said: write at from its sheet.",
                                     volts_text(on));
    }
    const double opens_at = g.threshold_least.value_or(surely_off_v);
    if (off < opens_at - 1e-9 && off <= surely_off_v + 1e-9) {
        out.opens = Verdict::holds;
        out.opens_why =
            fmt::format("{} between gate and source while it is off.", volts_text(std::max(0.0, off)));
    } else if (!g.threshold_least) {
        out.opens = off > 1.0 ? Verdict::stop : Verdict::doubt;
        out.opens_why = fmt::format(
            "{} stays between gate and source: it {} conduct. Write vth from its sheet, and pull the gate up "
            "to {}.",
            volts_text(off), off > 1.0 ? "will" : "may", g.low_side ? "nothing but ground" : p.from);
    } else if (off >= opens_at) {
        out.opens = Verdict::stop;
        out.opens_why =
            g.low_side
                ? fmt::format("{} stays at the gate while it should be off, and {} makes it conduct.",
                              volts_text(off), volts_text(opens_at))
                : fmt::format(
                      "The gate rises to {} only while {} is {}: {} stay, and {} make it conduct. It never "
                      "opens; drive the gate through a small N-channel transistor with a pull-up to {}.",
                      volts_text(off_v), p.from, volts_text(most), volts_text(off), volts_text(opens_at),
                      p.from);
    } else {
        out.opens = Verdict::doubt;
        out.opens_why = fmt::format("{} stays between gate and source; it begins to conduct at {}.",
                                    volts_text(off), volts_text(opens_at));
    }
}

void SwitchedWork::judge_lift(const RailPart& p, SwitchedLoad& out) const {
    if (!p.gate || !p.gate->low_side) return;
    const auto it =
        std::find_if(on_.parts.begin(), on_.parts.end(), [&](const auto& f) { return f.ref == p.ref; });
    out.lift_v = it->amps * p.ohm;
    const auto behind = rails_behind(tree_, p.to);
    bool said = false;
    for (const auto& l : tree_.lines) {
        if (behind.count(l.to) == 0 && behind.count(l.from) == 0) continue;
        if (!l.low_most_v || !l.needs_low_v) continue;
        said = true;
        const double margin = *l.needs_low_v - *l.low_most_v - *out.lift_v;
        if (margin >= 0) continue;
        out.lift = Verdict::stop;
        out.lift_why = fmt::format(
            "{}: its low of {} is {} too high once the load's ground is lifted by {}. Switch the supply's "
            "side instead.",
            l.name, volts_text(*l.low_most_v), volts_text(-margin), volts_text(*out.lift_v));
        return;
    }
    if (said) {
        out.lift_why = fmt::format("The load's ground is lifted by {}; its lines still read low.",
                                   volts_text(*out.lift_v));
    } else if (*out.lift_v > much_lift_v) {
        out.lift = Verdict::doubt;
        out.lift_why = fmt::format(
            "The load's ground is lifted by {}, and what its lines need is not said: write low and needs "
            "behind each line.",
            volts_text(*out.lift_v));
    } else {
        out.lift_why = fmt::format("The load's ground is lifted by {}.", volts_text(*out.lift_v));
    }
}

void SwitchedWork::judge_off(const std::string& rail, const std::set<std::string>& off,
                             SwitchedLoad& out) const {
    RailCase at;
    at.off = off;
    at.lines = true;
    at.corner = Corner::most;
    const auto behind = rails_behind(tree_, rail);
    // A chip that starves takes next to nothing: only what is a resistance holds its rail down.
    auto starved = loads_;
    for (std::size_t i = 0; i < tree_.loads.size(); ++i)
        if (behind.count(tree_.loads[i].rail) > 0) starved.amps[i] = 0;
    const auto now = solve_rails(tree_, at, starved);
    out.off_v = now.volts.at(rail);
    for (std::size_t i = 0; i < tree_.lines.size(); ++i) {
        const auto& l = tree_.lines[i];
        if (behind.count(l.to) == 0) continue;
        // Where nothing takes current the line still holds the rail up.
        const double here = now.volts.at(l.to);
        const bool holds = here > 0.05 && now.volts.at(l.from) - l.clamp_v >= here - 1e-6;
        if (now.line_a[i] < least_back_a && !holds) continue;
        out.fed_by.push_back(l.name);
        out.fed_a += now.line_a[i];
    }
}

void SwitchedWork::judge_reset(const std::string& rail, SwitchedLoad& out) const {
    double farad = 0, ohm = 0, reset = 0;
    bool said = false;
    const auto* before = on_.find_rail(rail);
    for (const auto& c : tree_.capacitors)
        if (c.rail == rail) farad += c.farad;
    double amps = 0;
    for (const auto& l : on_.loads)
        if (l.rail == rail) amps += l.amps;
    for (const auto& l : tree_.loads)
        if (l.rail == rail && l.reset_v) {
            reset = said ? std::min(reset, *l.reset_v) : *l.reset_v;
            said = true;
        }
    if (amps > 0) ohm = before->volts / amps;
    const auto lines = fmt::format("{}", fmt::join(out.fed_by, ", "));
    if (!said) {
        if (out.off_v > surely_off_v) {
            out.resets = Verdict::doubt;
            out.resets_why = fmt::format(
                "{} keeps it at {} while it is off: it may never reset. Write reset behind its load; let its "
                "lines go low or open before it is switched off.",
                lines, volts_text(out.off_v));
        } else {
            out.resets_why =
                fmt::format("Nothing feeds it while it is off ({}).", volts_text(std::max(0.0, out.off_v)));
        }
        return;
    }
    if (out.off_v >= reset) {
        out.resets = Verdict::stop;
        out.resets_why = fmt::format(
            "{} keeps it at {} while it is off, and it has reset below {} only: let the lines go low or open "
            "first, or put a switch into them.",
            lines.empty() ? std::string("What is on it") : lines, volts_text(out.off_v), volts_text(reset));
        return;
    }
    if (farad <= 0 || ohm <= 0) {
        out.resets = Verdict::doubt;
        out.resets_why = fmt::format(
            "How long it takes to fall below {} needs its {}: write it, or see the fall with a scope.",
            volts_text(reset), farad <= 0 ? "capacitor" : "load");
        return;
    }
    out.reset_s = ohm * farad * std::log((before->most - out.off_v) / (reset - out.off_v));
    out.resets_why = fmt::format(
        "Leave it off for {} at least: {} fall to {} through the load as a resistance of {}. A chip draws "
        "less when it starves: see it once with a scope.",
        print_number(*out.reset_s, Unit::second), volts_text(before->most), volts_text(reset),
        print_number(ohm, Unit::ohm));
}

SwitchedLoad SwitchedWork::of_switch(const RailPart& p) {
    SwitchedLoad out;
    out.ref = p.ref;
    out.rail = p.to;
    if (p.gate) judge_gate(p, out);
    judge_lift(p, out);
    judge_off(p.to, {p.ref}, out);
    judge_reset(p.to, out);
    return out;
}

SwitchedLoad SwitchedWork::of_source(const RailSource& s) {
    SwitchedLoad out;
    out.ref = s.name;
    out.rail = s.name;
    judge_off(s.name, {s.name}, out);
    judge_reset(s.name, out);
    return out;
}

}  // namespace

std::vector<SwitchedLoad> switched_loads(const RailTree& tree) {
    std::set<std::string> opened;
    for (const auto& m : tree.modes) opened.insert(m.off.begin(), m.off.end());
    SwitchedWork work(tree);
    std::vector<SwitchedLoad> out;
    for (const auto& p : tree.parts)
        if (p.kind == RailPartKind::switched && (p.gate || opened.count(p.ref) > 0))
            out.push_back(work.of_switch(p));
    for (const auto& s : tree.sources) {
        const bool fed =
            std::any_of(tree.lines.begin(), tree.lines.end(), [&](const auto& l) { return l.to == s.name; });
        if (fed || opened.count(s.name) > 0) out.push_back(work.of_source(s));
    }
    return out;
}

}  // namespace grayrelic
