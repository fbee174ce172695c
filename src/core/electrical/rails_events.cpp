// SPDX-License-Identifier: GPL-3.0-or-later
// What happens when plugs go in: inrush into capacitors, and the order in which rails are up.
//
// Inrush: a capacitor C behind a resistance R at V draws V/R at first and V/R·e^(-t/RC) after t; more than a
// limit I flows for RC·ln(V/(R·I)). A source that keeps to its limit charges in C·V/(I − load). Capacitors
// behind a regulator are charged by the regulator, at its limit.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/quantity.hpp"
#include "core/electrical/rail_network.hpp"
#include "core/electrical/rails_study.hpp"

namespace grayrelic {
namespace {

/// What a published bus standard lets a device put on its 5 V at the moment it is plugged in.
constexpr double hot_plug_farad = 10e-6;
constexpr double usual_start_s = 1e-3;

struct Reached {
    std::string rail;
    double ohm = 0, drop = 0;  ///< on the way from the beginning
};

/// Rails behind one, through drops and what conducts by itself.
std::vector<Reached> behind(const RailTree& tree, const std::string& rail, double ohm) {
    std::vector<Reached> out{{rail, ohm, 0}};
    std::set<std::string> seen{rail};
    for (std::size_t i = 0; i < out.size(); ++i)
        for (const auto& p : tree.parts) {
            if (p.from != out[i].rail) continue;
            const bool passes = p.kind == RailPartKind::drop || (p.kind == RailPartKind::switched && !p.gate);
            if (!passes || !seen.insert(p.to).second) continue;
            out.push_back({p.to, out[i].ohm + (p.kind == RailPartKind::switched ? p.ohm : 0.0),
                           out[i].drop + (p.kind == RailPartKind::drop ? p.volts : 0.0)});
        }
    return out;
}

struct Store {
    double farad = 0, ohm = 0, drop = 0;
    std::string rail;
};

/// The capacitors there as one: the nearest way counts.
Store stored(const RailTree& tree, const std::vector<Reached>& rails) {
    Store out;
    out.ohm = 1e12;
    for (const auto& r : rails)
        for (const auto& c : tree.capacitors) {
            if (c.rail != r.rail) continue;
            out.farad += c.farad;
            if (r.ohm + c.ohm < out.ohm) {
                out.ohm = r.ohm + c.ohm;
                out.drop = r.drop;
                out.rail = r.rail;
            }
        }
    return out;
}

double load_behind(const RailTree& tree, const std::vector<Reached>& rails) {
    double a = 0;
    const auto figures = rail_figures(tree, {}, 25);
    for (const auto& r : rails)
        for (const auto& l : figures.loads)
            if (l.rail == r.rail) a += l.amps;
    return a;
}

/// What charges the capacitor, and through what.
struct Charging {
    double volts = 0, ohm = 0, load = 0;
    double rise_s = 0;  ///< of a supply that comes up slowly: it charges with C·V/t
    bool through_switch = false;
};

void judge(Inrush& i, const Charging& c) {
    const bool slow = c.rise_s > 2.3 * c.ohm * i.farad && c.rise_s > 0;
    if (slow)
        i.peak_a = i.farad * c.volts / c.rise_s;
    else if (c.ohm > 0)
        i.peak_a = c.volts / c.ohm;
    if (i.limit_a && i.peak_a && *i.peak_a > *i.limit_a)
        i.over_s = slow ? c.rise_s : c.ohm * i.farad * std::log(*i.peak_a / *i.limit_a);
    if (i.limit_a && *i.limit_a > c.load) i.charge_s = 0.9 * i.farad * c.volts / (*i.limit_a - c.load);
    if (i.farad <= hot_plug_farad) return;
    const auto amperes = [](double a) { return print_number(a, Unit::ampere); };
    if (!i.peak_a) {
        i.verdict = Verdict::doubt;
        i.why = fmt::format(
            "{} is charged with no resistance on the way that is said: write ri of the source, or the "
            "lead as a switch.",
            print_number(i.farad, Unit::farad));
    } else if (i.limit_a && *i.peak_a > *i.limit_a) {
        i.verdict = Verdict::doubt;
        i.why =
            c.through_switch
                ? fmt::format(
                      "{} at first, more than {} for {}: see in its sheet which pulse it endures, or slow "
                      "its "
                      "gate.",
                      amperes(*i.peak_a), amperes(*i.limit_a), print_number(i.over_s, Unit::second))
                : fmt::format(
                      "{} at first, more than {} for {}: a source that folds back may not start. Let it rise "
                      "slowly, or charge through a resistor.",
                      amperes(*i.peak_a), amperes(*i.limit_a), print_number(i.over_s, Unit::second));
        if (*i.limit_a <= c.load)
            i.why +=
                fmt::format(" With {} of load from the start nothing is left to charge it.", amperes(c.load));
    }
}

/// How long one rail takes after what feeds it.
struct Step {
    double seconds = 0;
    bool guessed = false;
};

Step step_of(const RailTree& tree, const RailPart& p, double volts, double load) {
    Step s;
    double farad = 0, esr = 0;
    for (const auto& c : tree.capacitors)
        if (c.rail == p.to) {
            farad += c.farad;
            esr = std::max(esr, c.ohm);
        }
    switch (p.kind) {
        case RailPartKind::drop: break;
        case RailPartKind::switched:
            s.seconds = p.start_s.value_or(0) + std::log(10.0) * (p.ohm + esr) * farad;
            break;
        case RailPartKind::linear:
        case RailPartKind::switcher:
            s.guessed = !p.start_s.has_value();
            s.seconds = p.start_s.value_or(usual_start_s);
            if (p.most_a && *p.most_a > load) s.seconds += 0.9 * farad * volts / (*p.most_a - load);
            break;
    }
    return s;
}

}  // namespace

std::vector<Inrush> inrush(const RailTree& tree) {
    std::vector<Inrush> out;
    for (const auto& s : tree.sources) {
        if (s.harvested) continue;
        const auto rails = behind(tree, s.name, s.ohm);
        const auto store = stored(tree, rails);
        if (store.farad <= 0) continue;
        Inrush i;
        i.rail = store.rail;
        i.source = s.name;
        i.farad = store.farad;
        i.limit_a = s.limit_a;
        judge(i, {std::max(0.0, volts_at(s, Corner::most) - store.drop), store.ohm, load_behind(tree, rails),
                  s.rise_s.value_or(0), false});
        out.push_back(std::move(i));
    }
    for (const auto& p : tree.parts) {
        if (p.kind != RailPartKind::switched || !p.gate) continue;
        const auto rails = behind(tree, p.to, p.ohm);
        const auto store = stored(tree, rails);
        if (store.farad <= 0) continue;
        Inrush i;
        i.rail = store.rail;
        i.source = p.ref;
        i.farad = store.farad;
        i.limit_a = p.most_a;
        const auto figures = rail_figures(tree, {}, 25);
        const auto* before = figures.find_rail(p.from);
        const double volts = before == nullptr ? 0 : before->most;
        judge(i, {volts, store.ohm, load_behind(tree, rails), 0, true});
        // What stands before the switch shares its charge at once.
        double there = 0;
        for (const auto& c : tree.capacitors)
            if (c.rail == p.from) there += c.farad;
        if (there > 0) i.dip_v = volts * store.farad / (store.farad + there);
        if (i.dip_v && *i.dip_v > 0.1 * volts && there > 0) {
            i.verdict = worse(i.verdict, Verdict::doubt);
            i.why += fmt::format("{}As {} closes, {} falls by up to {}: what else stands on it may reset.",
                                 i.why.empty() ? "" : " ", p.ref, p.from, print_number(*i.dip_v, Unit::volt));
        }
        out.push_back(std::move(i));
    }
    return out;
}

std::vector<ComingUp> coming_up(const RailTree& tree) {
    const auto figures = rail_figures(tree, {}, 25);
    std::map<std::string, ComingUp> up;
    for (const auto& s : tree.sources)
        if (!s.harvested)
            up[s.name] = {s.name, s.rise_s.value_or(0), false};  // counted from when it is plugged in
    // A rail is up with the first of what feeds it.
    for (bool more = true; more;) {
        more = false;
        for (const auto& p : tree.parts) {
            const auto from = up.find(p.from);
            if (from == up.end()) continue;
            const auto* rail = figures.find_rail(p.to);
            const auto step =
                step_of(tree, p, rail == nullptr ? 0 : rail->volts, rail == nullptr ? 0 : rail->load_a);
            const ComingUp now{p.to, from->second.seconds + step.seconds,
                               from->second.guessed || step.guessed};
            const auto at = up.find(p.to);
            if (at != up.end() && at->second.seconds <= now.seconds) continue;
            up[p.to] = now;
            more = true;
        }
    }
    std::vector<ComingUp> out;
    for (const auto& rail : tree.rails())
        if (up.count(rail) > 0) out.push_back(up[rail]);
    std::stable_sort(out.begin(), out.end(),
                     [](const auto& a, const auto& b) { return a.seconds < b.seconds; });
    return out;
}

std::vector<RailOrderVerdict> judge_orders(const RailTree& tree, const std::vector<ComingUp>& up) {
    std::vector<RailOrderVerdict> out;
    const auto of = [&](const std::string& rail) -> const ComingUp* {
        const auto it = std::find_if(up.begin(), up.end(), [&](const auto& u) { return u.rail == rail; });
        return it == up.end() ? nullptr : &*it;
    };
    for (const auto& o : tree.orders) {
        RailOrderVerdict v{o.first, o.then, Verdict::holds, {}};
        const auto *first = of(o.first), *then = of(o.then);
        if (first == nullptr || then == nullptr) continue;
        const auto times =
            fmt::format("{} is up after {}, {} after {}", o.first, print_number(first->seconds, Unit::second),
                        o.then, print_number(then->seconds, Unit::second));
        if (first->seconds >= then->seconds) {
            v.verdict = first->guessed || then->guessed ? Verdict::doubt : Verdict::stop;
            v.why = fmt::format(
                "{}: the wrong way round{}.", times,
                v.verdict == Verdict::doubt
                    ? ", by times that are usual ones: write rise and start, or see it with a scope"
                    : "");
        } else if (first->guessed || then->guessed) {
            v.verdict = Verdict::doubt;
            v.why = fmt::format(
                "{}, by times that are usual ones: write rise and start, or see it with a scope.", times);
        } else {
            v.why = times + ".";
        }
        out.push_back(std::move(v));
    }
    return out;
}

}  // namespace grayrelic
