// SPDX-License-Identifier: GPL-3.0-or-later
// The ledger against itself, against the parts' pin-outs, and against what the scans show.
#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic {
namespace {

std::string row_text(const Analysis& a, int row) {
    const auto& r = (*a.dossier.readings)[static_cast<std::size_t>(row)];
    return fmt::format("{} ({} to {}: {})", row + 1, r.a, r.b, show_reading(r));
}

void check_contradictions(const Analysis& a, Findings& out) {
    const auto& t = *a.trace;
    constexpr std::size_t most_listed = 12;
    for (std::size_t i = 0; i < std::min(most_listed, t.state.contradictions.size()); ++i) {
        const auto& c = t.state.contradictions[i];
        std::string because = row_text(a, c.apart);
        for (std::size_t k = 0; k < std::min<std::size_t>(4, c.chain.size()); ++k)
            because += ", " + row_text(a, c.chain[k]);
        if (c.chain.size() > 4) because += fmt::format(" and {} more", c.chain.size() - 4);
        std::string todo = "Probe the pair again.";
        if (!t.suspects.empty()) {
            const auto& s = t.suspects.front();
            const auto& r = (*a.dossier.readings)[static_cast<std::size_t>(s.row)];
            todo = fmt::format(
                "Probe {} to {} again first: reading {} is the likeliest slip; read the other way it "
                "explains {} of {}.",
                r.a, r.b, s.row + 1, s.explains, plural(s.of, "contradiction", "contradictions"));
        }
        out.push_back({"readings-contradict",
                       Severity::stop,
                       Stage::trace,
                       fmt::format("readings {}", c.apart + 1),
                       fmt::format("{} and {} are said both joined and apart", t.name(c.a), t.name(c.b)),
                       fmt::format("Readings {}.", because),
                       std::move(todo),
                       {"reading", std::to_string(c.apart)}});
    }
    if (t.state.contradictions_in_all > most_listed)
        out.push_back({"readings-contradict",
                       Severity::stop,
                       Stage::trace,
                       "readings more",
                       fmt::format("{} more contradictions", t.state.contradictions_in_all - most_listed),
                       "The first ones are listed.",
                       "Settle those first; others often go with them.",
                       {"reading", {}}});
}

void check_pinouts(const Analysis& a, Findings& out) {
    for (const auto& i : a.trace->issues) {
        const auto severity =
            i.kind == PartIssue::Kind::supply_to_ground ? Severity::stop
            : i.kind == PartIssue::Kind::outputs_joined || i.kind == PartIssue::Kind::supply_astray
                ? Severity::doubt
                : Severity::note;
        const char* id = i.kind == PartIssue::Kind::supply_to_ground ? "supply-to-ground"
                         : i.kind == PartIssue::Kind::supply_astray  ? "supply-astray"
                         : i.kind == PartIssue::Kind::outputs_joined ? "outputs-joined"
                         : i.kind == PartIssue::Kind::input_floating ? "input-floating"
                                                                     : "unconnected-joined";
        const char* todo =
            i.kind == PartIssue::Kind::input_floating
                ? "Look for a track on the other side, or tie it in the reproduction."
                : "Probe it again, and check the part's type and which way its pins are counted.";
        out.push_back({id,
                       severity,
                       Stage::trace,
                       "point " + a.trace->name(i.points.front()),
                       i.says,
                       i.why,
                       todo,
                       {"point", a.trace->name(i.points.front())}});
    }
    for (const auto& problem : a.trace->view->board.problems)
        out.push_back({"part-unknown",
                       Severity::doubt,
                       Stage::trace,
                       "parts " + problem.substr(0, problem.find(':')),
                       "Something of the board can't be used",
                       problem + ".",
                       "Correct its name, or add a file to the parts folder.",
                       {"part", problem.substr(0, problem.find(':'))}});
}

void check_scans(const Analysis& a, Findings& out) {
    const auto& t = *a.trace;
    if (!t.scan) return;
    for (std::size_t i = 0; i < t.scan->scans.size(); ++i) {
        const auto& s = t.scan->scans[i];
        if (!t.scan->problems[i].empty())
            out.push_back({"scan-unread",
                           Severity::doubt,
                           Stage::trace,
                           "scan " + s.id,
                           fmt::format("{} can't be used", s.title),
                           t.scan->problems[i] + ".",
                           "Bring the picture again, or mark two or more places whose position is known.",
                           {"scan", s.id}});
        else if (const auto& p = t.scan->placements[i]; p && p->residual_mm && *p->residual_mm > 0.25)
            out.push_back({"scan-residual",
                           Severity::doubt,
                           Stage::trace,
                           "scan " + s.id,
                           fmt::format("{} does not fit its references", s.title),
                           fmt::format("They disagree by {:.2f} mm, at worst {:.2f} mm at point {}.",
                                       *p->residual_mm, *p->worst_mm, *p->worst_reference + 1),
                           "Check that point's millimetres, or scan the board flatter.",
                           {"scan", s.id}});
    }
    if (!t.scan->scanned) return;
    double unknown = 0;
    for (const auto& l : t.scan->scanned->layers) unknown += l.unknown_mm2;
    if (unknown > 1.0) {
        long touched = 0;
        for (const auto& n : t.scan_nets.nets) touched += n.touches_unknown ? 1 : 0;
        out.push_back({"scan-unknown",
                       Severity::note,
                       Stage::trace,
                       "scan unknown",
                       "Part of the copper can't be seen",
                       fmt::format("{:.0f} mm² are charred or hidden; {} into it.", unknown,
                                   plural(touched, "net leads", "nets lead")),
                       "Probe the points around it; what the scans do not show there is not proven absent.",
                       {"scan", {}}});
    }
    if (t.scan_against_ledger) {
        const auto differ = t.scan_against_ledger->split.size() + t.scan_against_ledger->joined.size();
        // A net that leads into what can't be seen may well be joined there.
        if (!t.scan_against_ledger->split.empty())
            out.push_back(
                {"scan-contradicts",
                 Severity::doubt,
                 Stage::trace,
                 "scan ledger",
                 fmt::format("Scans and readings differ at {}",
                             plural(static_cast<long>(differ), "net", "nets")),
                 fmt::format("The scans join what readings separate at {}.",
                             t.scan_against_ledger->split.front().net),
                 "Probe it again; a hair of copper or a scratch shows in the picture as what it is not.",
                 {"scan", {}}});
    }
}

}  // namespace

void check_trace(const Analysis& a, Findings& out) {
    if (!a.trace || (a.dossier.readings->empty() && *a.dossier.trace == Trace{})) return;
    check_contradictions(a, out);
    check_pinouts(a, out);
    check_scans(a, out);
    const auto lonely = a.dossier.readings->empty() ? std::vector<Lonely>{} : resting_on_one(a.trace->state);
    long joins = 0;
    for (const auto& l : lonely) joins += l.says == Says::joined ? 1 : 0;
    if (joins > 0)
        out.push_back({"rests-on-one-reading",
                       Severity::note,
                       Stage::trace,
                       "readings alone",
                       fmt::format("{} on one reading alone", plural(joins, "join rests", "joins rest")),
                       "A slip there would not contradict anything.",
                       "Probe a second way around the nets that matter most.",
                       {"reading", std::to_string(lonely.front().row)}});
}

}  // namespace grayrelic
