// SPDX-License-Identifier: GPL-3.0-or-later
// The recovered nets against the netlist that the board is held against. A difference that stands among the
// deviations, with its reason, is a Note.
#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic {
namespace {

/// The deviation that speaks of this point or net; its reason, or nothing.
const Deviation* deviation_for(const Trace& t, const std::vector<std::string>& names) {
    for (const auto& d : t.deviations)
        if (std::find(names.begin(), names.end(), d.subject) != names.end()) return &d;
    return nullptr;
}

void add(const Analysis& a, Findings& out, const char* id, std::string says, std::string why,
         std::string todo, const std::vector<std::string>& names) {
    auto severity = Severity::doubt;
    if (const auto* d = deviation_for(*a.dossier.trace, names)) {
        severity = Severity::note;
        why += fmt::format(" On purpose: {}", d->reason.empty() ? d->says : d->reason);
        todo = "Nothing; it stands among the deviations.";
    }
    const auto place = names.empty() ? std::string() : names.front();
    out.push_back({id,
                   severity,
                   Stage::trace,
                   "net " + place,
                   std::move(says),
                   std::move(why),
                   std::move(todo),
                   {"difference", place}});
}

std::string list(const std::vector<std::string>& words, std::size_t most = 4) {
    std::string out;
    for (std::size_t i = 0; i < std::min(most, words.size()); ++i) out += (i == 0 ? "" : ", ") + words[i];
    return words.size() > most ? fmt::format("{} and {} more", out, words.size() - most) : out;
}

/// Do these points fall apart without the reading that most likely is wrong?
bool only_by_the_slip(const Analysis& a, const std::vector<std::string>& points) {
    const auto& suspects = a.trace->suspects;
    if (suspects.empty() || suspects.front().said != Says::joined || points.empty()) return false;
    std::map<std::string, std::string> parent;
    const auto root = [&](std::string p) {
        while (parent.count(p) != 0 && parent[p] != p) p = parent[p];
        return p;
    };
    const auto& readings = *a.dossier.readings;
    for (std::size_t i = 0; i < readings.size(); ++i) {
        if (static_cast<int>(i) == suspects.front().row ||
            says(readings[i], a.dossier.trace->beep_below_ohm) != Says::joined)
            continue;
        const auto x = root(readings[i].a), y = root(readings[i].b);
        parent.try_emplace(x, x);
        parent.try_emplace(y, y);
        parent[x] = y;
    }
    return std::any_of(points.begin(), points.end(),
                       [&](const std::string& p) { return root(p) != root(points.front()); });
}

}  // namespace

void check_netlist(const Analysis& a, Findings& out) {
    if (!a.trace || !a.trace->comparison) return;
    const auto& c = *a.trace->comparison;
    const auto* reference = a.dossier.trace->reference();
    for (const auto& s : c.split) {
        auto names = s.points;
        names.push_back(s.net);
        add(a, out, "net-split", fmt::format("{} is in pieces on the board", s.net),
            fmt::format("{} joins {}; readings separate them.", reference->name, list(s.points)),
            "Probe it again. If the board is right, the netlist is wrong: list it as a deviation or correct "
            "it.",
            names);
    }
    for (const auto& j : c.joined) {
        // What only the likeliest slip joins is said with the contradiction that it makes.
        if (only_by_the_slip(a, j.points)) continue;
        auto names = j.nets;
        names.insert(names.end(), j.points.begin(), j.points.end());
        add(a, out, "nets-joined", fmt::format("{} are one net on the board", list(j.nets)),
            fmt::format("Readings join {}; {} keeps them apart.", list(j.points), reference->name),
            "Probe it again, and look for a bridge of solder.", names);
    }
    for (const auto& s : c.swapped) {
        if (s.harmless) continue;
        add(a, out, "pins-swapped", fmt::format("{} and {} have exchanged their nets", s.a, s.b),
            fmt::format("{} has {} in {} and {} in {}.", reference->name, s.a, s.net_a, s.b, s.net_b),
            "Follow the board, unless it was repaired.", {s.a, s.b});
    }
    for (const auto& t : c.turned)
        add(a, out, "part-mirrored", fmt::format("{} is {} in {}", t.ref, t.how, reference->name),
            fmt::format("Counted the other way all its pins fit; as it stands {} do not.", t.pins),
            "Do not order from this netlist before it is corrected.", {t.ref});
    if (!c.unproven.empty())
        out.push_back({"netlist-unproven",
                       Severity::doubt,
                       Stage::trace,
                       "net unproven",
                       fmt::format("{} of {} {} not proven",
                                   plural(static_cast<long>(c.unproven.size()), "net", "nets"),
                                   reference->name, c.unproven.size() == 1 ? "is" : "are"),
                       fmt::format("Nobody has probed whether {} hold together; {} agree so far.", list([&] {
                                       std::vector<std::string> names;
                                       for (const auto& u : c.unproven) names.push_back(u.net);
                                       return names;
                                   }()),
                                   plural(c.same, "net does", "nets")),
                       fmt::format("Go on probing: about {} probes are left.",
                                   print_count(static_cast<long long>(a.trace->plan.remaining))),
                       {"probe", {}}});
    if (!c.extra.empty() || !c.missing.empty()) {
        std::vector<std::string> names;
        for (const auto& p : c.missing) names.push_back(p.point);
        if (!names.empty())
            out.push_back({"points-missing",
                           Severity::note,
                           Stage::trace,
                           "net points",
                           fmt::format("{} of {} unknown on the board",
                                       plural(static_cast<long>(names.size()), "point is", "points are"),
                                       reference->name),
                           fmt::format("No part or reading has {}.", list(names)),
                           "Add the parts that are missing here.",
                           {"difference", names.front()}});
    }
}

}  // namespace grayrelic
