// SPDX-License-Identifier: GPL-3.0-or-later
// How long batteries run and charge, when an orderly shutdown must begin, and what signal lines give.
//
// Hours = usable capacity / current of the mode; charging = capacity / charge current × 1.2 to 1.4. The volts
// of a battery are taken as falling in a straight line from full to empty over its capacity: a rule, said
// with the result.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/quantity.hpp"
#include "core/electrical/rail_network.hpp"
#include "core/electrical/rails_study.hpp"

namespace grayrelic {
namespace {

constexpr double charge_least = 1.2, charge_most = 1.4;

/// What stops working first when the battery stands at these volts; empty: all works.
std::string what_fails(const RailTree& tree, const RailSource& battery, double at_volts,
                       const LoadCurrents& loads, const RailSolution& usual) {
    RailCase at;
    at.off = off_in(tree, {});
    // Alone: what other plugs give is no help when they are out.
    for (const auto& s : tree.sources)
        if (s.name != battery.name) at.off.insert(s.name);
    at.volts[battery.name] = at_volts;
    const auto now = solve_rails(tree, at, loads);
    for (std::size_t i = 0; i < tree.parts.size(); ++i) {
        const auto& p = tree.parts[i];
        if (p.kind != RailPartKind::linear && p.kind != RailPartKind::switcher) continue;
        // What it does not feed by itself does not count.
        if (usual.volts.at(p.to) < 0.5 * p.volts) continue;
        const double out = now.volts.at(p.to);
        const bool short_of_input = p.dropout_v && now.volts.at(p.from) - *p.dropout_v < p.volts - 1e-9;
        if (out < p.volts * 0.999 || (p.kind == RailPartKind::linear && short_of_input))
            return p.ref + " no longer holds " + p.to;
    }
    for (const auto& l : tree.loads)
        if (l.works_v && usual.volts.at(l.rail) > 1e-3 && now.volts.at(l.rail) < *l.works_v)
            return l.name + " gets less than it works at";
    return {};
}

void find_lowest(const RailTree& tree, const RailSource& s, BatteryRun& run) {
    RailCase alone;
    for (const auto& other : tree.sources)
        if (other.name != s.name) alone.off.insert(other.name);
    const auto loads = load_currents(tree, {}, alone.off);
    const auto usual = solve_rails(tree, alone, loads);
    const double top = s.battery->full_v.value_or(s.volts);
    double works = top, fails = 0;
    if (const auto why = what_fails(tree, s, top, loads, usual); !why.empty()) {
        run.verdict = Verdict::stop;
        run.why = fmt::format("Even full, {}.", why);
        return;
    }
    if (what_fails(tree, s, 1e-3, loads, usual).empty()) {
        run.lowest_because =
            "nothing on it says what it needs: write works behind a load, dropout behind a regulator";
        return;
    }
    for (int step = 0; step < 40; ++step) {
        const double middle = (works + fails) / 2;
        auto why = what_fails(tree, s, middle, loads, usual);
        if (why.empty()) {
            works = middle;
        } else {
            fails = middle;
            run.lowest_because = std::move(why);
        }
    }
    run.lowest_v = works;
}

void find_threshold(const RailSource& s, BatteryRun& run) {
    const auto& b = *s.battery;
    if (!b.empty_v || !b.full_v) {
        run.verdict = worse(run.verdict, Verdict::doubt);
        run.why =
            "Its volts when empty and when full are not said: the threshold can't be computed. Take them "
            "from its sheet.";
        return;
    }
    const double stop = std::max(*b.empty_v, run.lowest_v.value_or(*b.empty_v));
    const double volts_per_coulomb = (*b.full_v - *b.empty_v) / b.coulomb;
    run.threshold_v = stop + b.shutdown_coulomb * volts_per_coulomb;
    if (*run.threshold_v >= *b.full_v) {
        run.verdict = worse(run.verdict, Verdict::stop);
        run.why = fmt::format("A shutdown would have to begin at {}, above full ({}).",
                              volts_text(*run.threshold_v), volts_text(*b.full_v));
    } else if (b.shutdown_coulomb <= 0) {
        run.verdict = worse(run.verdict, Verdict::doubt);
        run.why = fmt::format(
            "What an orderly shutdown takes is not said: at {} it stops at once. Write shutdown with its "
            "current and time.",
            volts_text(stop));
    } else {
        run.why = fmt::format(
            "Below {}, {} are left for the shutdown, with its volts taken as falling in a straight line: see "
            "it once on the bench.",
            volts_text(*run.threshold_v), print_number(b.shutdown_coulomb, Unit::ampere) + "s");
    }
    if (!run.lowest_v && run.verdict != Verdict::stop) {
        run.verdict = Verdict::doubt;
        run.why += fmt::format(" What still works as it falls is not known: {}.", run.lowest_because);
    }
    // A battery that can't run everything to its end gives less than its capacity.
    if (run.lowest_v && *run.lowest_v > *b.empty_v + 1e-6) {
        const double share = (*b.full_v - *run.lowest_v) / (*b.full_v - *b.empty_v);
        for (auto& m : run.modes)
            if (m.hours) *m.hours *= std::max(0.0, share);
    }
}

}  // namespace

std::vector<BatteryRun> battery_runs(const RailTree& tree) {
    std::vector<BatteryRun> out;
    for (std::size_t i = 0; i < tree.sources.size(); ++i) {
        const auto& s = tree.sources[i];
        if (!s.battery) continue;
        BatteryRun run;
        run.source = s.name;
        auto names = tree.mode_names();
        names.insert(names.begin(), std::string());
        for (const auto& mode : names) {
            RailCase at;
            at.mode = mode;
            at.off = off_in(tree, mode);
            // It runs alone: that is what it is for.
            for (const auto& other : tree.sources)
                if (other.name != s.name) at.off.insert(other.name);
            const auto now = solve_rails(tree, at, load_currents(tree, mode, at.off));
            BatteryRun::Mode m{mode, now.source_a[i], std::nullopt};
            if (m.amps > 1e-9) m.hours = s.battery->coulomb / 3600 / m.amps;
            run.modes.push_back(std::move(m));
        }
        if (s.battery->charge_a) {
            const double hours = s.battery->coulomb / 3600 / *s.battery->charge_a;
            run.charge_least_h = charge_least * hours;
            run.charge_most_h = charge_most * hours;
        }
        find_lowest(tree, s, run);
        if (run.verdict != Verdict::stop) find_threshold(s, run);
        out.push_back(std::move(run));
    }
    return out;
}

std::vector<Harvest> harvests(const RailTree& tree) {
    std::vector<Harvest> out;
    const auto loads = load_currents(tree, {});
    RailCase at;
    at.off = off_in(tree, {});
    at.corner = Corner::least;
    const auto now = solve_rails(tree, at, loads);
    for (const auto& rail : tree.rails()) {
        Harvest h;
        h.rail = rail;
        for (std::size_t i = 0; i < tree.parts.size(); ++i) {
            const auto& p = tree.parts[i];
            const auto* s = tree.find_source(p.from);
            if (p.to != rail || s == nullptr || !s->harvested) continue;
            h.lines.push_back(s->name);
            h.amps += std::max(0.0, now.part_a[i]);
        }
        if (h.lines.empty()) continue;
        h.volts = now.volts.at(rail);
        // A regulator or a load behind it says what it needs.
        for (const auto& p : tree.parts)
            if (p.from == rail && p.kind == RailPartKind::linear)
                h.needed_v = std::max(h.needed_v.value_or(0), p.volts + p.dropout_v.value_or(0));
        for (const auto& l : tree.loads)
            if (l.rail == rail && l.works_v) h.needed_v = std::max(h.needed_v.value_or(0), *l.works_v);
        if (!h.needed_v) {
            h.verdict = Verdict::doubt;
            h.why = "What is needed there is not said: write works behind its load.";
        } else if (h.volts < *h.needed_v - 1e-9) {
            h.verdict = Verdict::stop;
            h.why = fmt::format("{} lines hold it at {} only; {} is needed.", h.lines.size(),
                                volts_text(h.volts), volts_text(*h.needed_v));
        } else if (h.volts < *h.needed_v * 1.1) {
            h.verdict = Verdict::doubt;
            h.why = fmt::format(
                "{} of {} needed: less than a tenth is left, and drivers differ. Measure yours under this "
                "load.",
                volts_text(h.volts), volts_text(*h.needed_v));
        }
        out.push_back(std::move(h));
    }
    return out;
}

}  // namespace grayrelic
