// SPDX-License-Identifier: GPL-3.0-or-later
// What was measured at the holds of a unit, judged; and what becomes of it elsewhere.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"
#include "core/diagnose/holds.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic {
namespace {

Verdict judge(const HoldPoint& p, double value) {
    if (p.yes_no) return value != 0 ? Verdict::holds : Verdict::stop;
    // Limits are shown in three digits: who reads the limit itself is within it.
    constexpr double shown = 0.002;
    if (p.least && value < *p.least - shown * std::abs(*p.least)) return Verdict::stop;
    if (p.most && value > *p.most + shown * std::abs(*p.most)) return Verdict::stop;
    return Verdict::holds;
}

/// What the bench knows already need not be said twice.
std::optional<PointState> from_bench(const Hold& hold, const HoldPoint& p, const UnitBuild& unit,
                                     const UnitOnBench* bench) {
    if (bench == nullptr) return std::nullopt;
    PointState out;
    if (hold.id == "joints") {
        const auto all = bench->joints.size();
        const auto taken = static_cast<std::size_t>(bench->proven) + static_cast<std::size_t>(bench->wrong);
        out.says = fmt::format("{} of {} lines as they should be", bench->proven, all);
        if (bench->wrong > 0)
            out.verdict = Verdict::stop;
        else if (taken == all && all > 0)
            out.verdict = Verdict::holds;
        else
            return std::nullopt;
        return out;
    }
    if (hold.id != "incoming" || !p.id.starts_with("part ")) return std::nullopt;
    const auto ref = p.id.substr(5);
    const auto* fitted = unit.find_part(ref);
    if (fitted == nullptr || (!fitted->measured && fitted->marking.empty())) return std::nullopt;
    for (const auto& part : bench->parts)
        if (part.ref == ref) {
            out.verdict = part.verdict;
            out.says = part.as_fitted + (part.says.empty() ? "" : ": " + part.says);
            out.value = fitted->measured;
            return out;
        }
    return std::nullopt;
}

PointState state_of(const Hold& hold, const HoldPoint& p, const UnitBuild& unit, const UnitOnBench* bench,
                    const std::vector<std::string>& ties) {
    if (hold.id == "back" && p.id == "ties" && !ties.empty())
        return {Verdict::stop, std::nullopt, "still on: " + ties.front()};
    if (auto known = from_bench(hold, p, unit, bench)) return *known;
    const auto* r = unit.find_reading(hold.id, p.id);
    if (r == nullptr) return {};
    auto says = print_point(p, r->value);
    if (!r->day.empty()) says += " on " + r->day;
    return {judge(p, r->value), r->value, says};
}

/// A reading as the search for a fault takes it; empty where it is none.
std::string seen_of(const HoldPoint& p, double value) {
    if (p.lead.empty()) return {};
    if (p.unit == Unit::volt && p.to.empty()) return fmt::format("volts:{}={:.4g}", p.lead, value);
    if (p.unit == Unit::ohm && !p.to.empty()) return fmt::format("ohms:{}+{}={:.4g}", p.lead, p.to, value);
    return {};
}

}  // namespace

std::string print_point(const HoldPoint& p, double value) {
    return p.yes_no ? (value != 0 ? "yes" : "no") : print_number(value, p.unit);
}

Result<double> read_point(const HoldPoint& p, std::string_view text) {
    if (!p.yes_no) return parse_number(trim(text), p.unit);
    const auto word = trim(text);
    for (const auto* yes : {"yes", "Yes", "YES", "y", "1"})
        if (word == yes) return 1.0;
    for (const auto* no : {"no", "No", "NO", "n", "0"})
        if (word == no) return 0.0;
    return fail_usage(in_quotes(text), "yes or no");
}

BringUp bring_up(std::vector<Hold> holds, const UnitBuild& unit, const UnitOnBench* bench) {
    BringUp out;
    out.holds = std::move(holds);
    for (const auto& t : unit.ties)
        if (t.off.empty()) out.ties.push_back(t.what);
    std::string blocked;
    bool cold = true, rails = false;
    for (std::size_t i = 0; i < out.holds.size(); ++i) {
        const auto& hold = out.holds[i];
        HoldState s;
        s.verdict = Verdict::holds;
        for (const auto& p : hold.points) {
            s.points.push_back(state_of(hold, p, unit, bench, out.ties));
            const auto v = s.points.back().verdict;
            if (v != Verdict::unknown) ++s.taken;
            if (v == Verdict::stop)
                s.verdict = Verdict::stop;
            else if (v == Verdict::unknown && s.verdict != Verdict::stop)
                s.verdict = Verdict::unknown;
        }
        for (const auto& p : unit.passed)
            if (p.hold == hold.id && !p.reason.empty()) s.reason = p.reason;
        if (hold.id == "rails-cold") {
            rails = true;
            cold = s.verdict == Verdict::holds;
        }
        if (s.verdict != Verdict::holds && !s.reason.empty() && !hold.firm) s.verdict = Verdict::doubt;
        // Power on a rail that nobody measured is not a matter of reasons.
        s.blocked_by = blocked;
        if (hold.powered && !cold && s.blocked_by.empty()) s.blocked_by = "Resistance of each rail";
        const bool passed = s.verdict == Verdict::holds || s.verdict == Verdict::doubt;
        if (!passed && blocked.empty()) {
            blocked = hold.name;
            out.next = i;
        }
        out.states.push_back(std::move(s));
    }
    out.may_power = rails && cold;
    return out;
}

namespace {

/// A resistance becomes a reading of the ledger, a setting what it is at now, an installed supply what its
/// pin gives under load.
Dossier as_fact(Dossier d, const std::string& unit, const Hold& hold, const HoldPoint& point, double value,
                const std::string& day, const std::string& tool) {
    Evidence evidence;
    evidence.kind = EvidenceKind::measured;
    evidence.source = "unit " + unit + ", hold " + hold.name;
    evidence.tool = tool;
    evidence.date = day;
    if (hold.id == "rails-cold") {
        MeterReading r;
        r.a = point.lead;
        r.b = point.to;
        r.kind = MeterReadingKind::ohms;
        r.ohm = value;
        r.unit = unit;
        r.date = day;
        r.tool = tool;
        r.note = "hold " + hold.name;
        if (d.trace->unit.empty() && !d.readings->empty())
            if (const auto& other = d.readings->front().unit; !other.empty() && other != unit)
                d = edit(d, &Dossier::trace, [&](Trace& t) { t.unit = other; });
        return add_reading(d, r);
    }
    const bool setting = point.id.starts_with("setting ") || point.id.starts_with("back ");
    if (setting) {
        const auto id = point.id.substr(point.id.find(' ') + 1);
        return edit(d, &Dossier::wire, [&](Wire& w) {
            for (auto& s : w.settings)
                if (s.id == id) {
                    s.now.value = value;
                    s.now.evidence = evidence;
                }
        });
    }
    if (hold.id == "installed" && point.id.starts_with("volts ")) {
        const auto dot = point.lead.find('.');
        const auto* port = d.find_port(point.lead.substr(0, dot));
        if (port != nullptr && dot != std::string::npos)
            return edit<Port>(d, port->id, [&](Port& p) {
                for (auto& pin : p.pins)
                    if (pin.number == point.lead.substr(dot + 1)) {
                        pin.volts_active.value = Volts(value);
                        pin.volts_active.evidence = evidence;
                    }
            });
    }
    return d;
}

}  // namespace

Dossier with_hold_reading(const Dossier& dossier, const std::string& unit, const Hold& hold,
                          const HoldPoint& point, double value, const std::string& day,
                          const std::string& tool) {
    auto d = edit<UnitBuild>(dossier, unit, [&](UnitBuild& u) {
        std::erase_if(u.measured,
                      [&](const HoldReading& r) { return r.hold == hold.id && r.reading == point.id; });
        u.measured.push_back({hold.id, point.id, value, day, tool, {}});
        if (const auto seen = seen_of(point, value); !seen.empty()) {
            const auto key = seen.substr(0, seen.find('='));
            std::erase_if(u.seen, [&](const std::string& s) { return s.starts_with(key + "="); });
            if (judge(point, value) == Verdict::stop) u.seen.push_back(seen);
        }
        if (hold.id == "incoming" && point.id.starts_with("part ")) {
            const auto ref = point.id.substr(5);
            auto it =
                std::find_if(u.fitted.begin(), u.fitted.end(), [&](const auto& f) { return f.ref == ref; });
            if (it != u.fitted.end()) {
                it->measured = value;
                it->day = day;
            }
        }
    });
    return as_fact(std::move(d), unit, hold, point, value, day, tool);
}

}  // namespace grayrelic
