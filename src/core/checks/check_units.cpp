// SPDX-License-Identifier: GPL-3.0-or-later
// Which board a reading was taken on.
#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic {
namespace {

std::string name_of(const Dossier& d, const std::string& id) {
    const auto* unit = d.find_unit(id);
    return unit == nullptr || unit->name.empty() ? in_quotes(id) : unit->name;
}

void without_unit(const Dossier& d, Findings& out) {
    const auto named = units_named(*d.readings);
    if (named.units.size() < 2 || named.without == 0) return;
    std::string list;
    for (const auto& u : named.units) list += (list.empty() ? "" : ", ") + name_of(d, u);
    out.push_back(
        {"reading-without-unit",
         Severity::doubt,
         Stage::plan,
         "readings",
         fmt::format("{} no unit", plural(named.without, "reading names", "readings name")),
         fmt::format("The ledger holds readings of {}. One without a unit is taken for each of them, "
                     "and a contradiction may only mean another board.",
                     list),
         "Say in Trace, Probe which unit each was taken on, or take them anew.",
         {"unit", {}}});
}

/// Words that no unit has.
void unknown_units(const Dossier& d, Findings& out) {
    std::set<std::string> unknown;
    long many = 0;
    const auto look = [&](const std::string& unit) {
        if (unit.empty() || d.find_unit(unit) != nullptr) return;
        ++many;
        unknown.insert(unit);
    };
    for (const auto& r : *d.readings) look(r.unit);
    for (const auto& c : *d.captures) look(c.unit);
    for (const auto& s : d.trace->scans) look(s.unit);
    if (unknown.empty()) return;
    std::string list;
    for (const auto& u : unknown) list += (list.empty() ? "" : ", ") + in_quotes(u);
    out.push_back(
        {"unit-unknown",
         Severity::note,
         Stage::plan,
         "units",
         fmt::format("{} not on record", plural(static_cast<long>(unknown.size()), "unit is", "units are")),
         fmt::format("{} named by {}: {}.", unknown.size() == 1 ? "It is" : "They are",
                     plural(many, "reading, capture or scan", "readings, captures and scans"), list),
         "Enter it in Plan, Units, or correct the name.",
         {"unit", *unknown.begin()}});
}

void retired(const Analysis& a, Findings& out) {
    if (!a.trace || a.trace->unit.empty()) return;
    const auto* unit = a.dossier.find_unit(a.trace->unit);
    if (unit == nullptr || !is_retired(unit->state)) return;
    out.push_back({"unit-retired",
                   Severity::doubt,
                   Stage::plan,
                   "unit " + unit->id,
                   fmt::format("{} is {}, and still the board that is looked at",
                               name_of(a.dossier, unit->id), word(unit->state)),
                   "What its readings prove stands, but no further probe can be taken on it.",
                   "Choose another unit in Trace, Probe, or change its state.",
                   {"unit", unit->id}});
}

void boards_differ(const Analysis& a, Findings& out) {
    if (!a.trace || a.trace->unit_differences.empty()) return;
    const auto& list = a.trace->unit_differences;
    const auto& readings = *a.dossier.readings;
    std::string first;
    for (std::size_t i = 0; i < std::min<std::size_t>(list.size(), 3); ++i) {
        const auto& r = readings[static_cast<std::size_t>(list[i].row)];
        first += fmt::format("{}{} to {} {} on {}", i == 0 ? "" : "; ", r.a, r.b,
                             list[i].says == Says::joined ? "joined" : "apart", name_of(a.dossier, r.unit));
    }
    out.push_back(
        {"units-differ",
         Severity::note,
         Stage::plan,
         "units differ",
         fmt::format("Boards differ at {}", plural(static_cast<long>(list.size()), "reading", "readings")),
         fmt::format("{} is looked at, and proven otherwise there: {}{}.", name_of(a.dossier, a.trace->unit),
                     first, list.size() > 3 ? "; and more" : ""),
         "Look whether they are of one revision; a bodge or a fault shows like this too.",
         {"unit", readings[static_cast<std::size_t>(list.front().row)].unit}});
}

}  // namespace

void check_units(const Analysis& a, Findings& out) {
    without_unit(a.dossier, out);
    unknown_units(a.dossier, out);
    retired(a, out);
    boards_differ(a, out);
}

}  // namespace grayrelic
