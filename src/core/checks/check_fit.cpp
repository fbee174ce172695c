// SPDX-License-Identifier: GPL-3.0-or-later
// What does not fit where it goes, and boards of which no tier gives enough.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/fit/fit_analysis.hpp"
#include "core/fit/reach.hpp"
#include "core/library/data_library.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

Finding fit_finding(const char* id, Severity severity, const Fabrication& b, const std::string& thing,
                    std::string says, std::string why, std::string todo) {
    return {id,
            severity,
            Stage::board,
            "board " + b.id + " " + thing,
            std::move(says),
            std::move(why),
            std::move(todo),
            {"board", b.id + "/" + thing}};
}

/// Which of the lines could be changed with the most effect: the widest tolerance.
std::string widest(const FitResult& r) {
    const FitLine* most = nullptr;
    for (const auto& l : r.lines)
        if (l.mm && (most == nullptr || l.plus + l.minus > most->plus + most->minus)) most = &l;
    return most == nullptr || most->plus + most->minus <= 0 ? std::string() : most->what;
}

void judge_fit(const Fabrication& b, const FitResult& r, Findings& out) {
    const auto thing = "fit:" + r.id;
    if (r.verdict == Verdict::unknown) {
        out.push_back(fit_finding("fit-unknown", Severity::note, b, thing,
                                  r.name + ": nobody knows whether it fits", r.says + ".",
                                  "Measure " + r.missing.front() + " with a caliper and enter it."));
        return;
    }
    if (r.verdict == Verdict::stop)
        out.push_back(
            fit_finding("does-not-fit", Severity::stop, b, thing, r.name + " does not fit", r.says + ".",
                        r.kind == FitKind::button
                            ? "Change the stem, the board's height or the switch."
                            : "Lower what takes room, raise what gives it, or choose another part."));
    else if (r.verdict == Verdict::doubt) {
        const auto most = widest(r);
        out.push_back(fit_finding(
            "fits-barely", Severity::doubt, b, thing, r.name + " does not fit in every case", r.says + ".",
            most.empty()
                ? "Give it more room."
                : "Give it more room, or measure the one at hand: " + most + " has the widest tolerance."));
    }
    for (const auto& l : r.lines) {
        if (!l.mm || l.evidence.kind != EvidenceKind::assumed || r.verdict == Verdict::stop) continue;
        out.push_back(fit_finding("fit-assumed", Severity::doubt, b, thing + "/" + l.what,
                                  fmt::format("{} rests on an assumed figure: {}", r.name, l.what),
                                  l.turns_at
                                      ? fmt::format("Assumed {:g} mm; {} {:.2f} mm it does not fit.", *l.mm,
                                                    l.role == FitRole::gives ? "at" : "from", *l.turns_at)
                                      : fmt::format("Assumed {:g} mm.", *l.mm),
                                  "Measure it before the board is ordered."));
    }
}

std::map<std::string, std::string> packages_in(const Analysis& a) {
    std::map<std::string, std::string> out;
    if (a.wire)
        for (const auto& s : a.wire->solder)
            for (const auto& ref : s.refs) out[ref] = s.package;
    return out;
}

/// Joints that have to be made before another part is fitted.
void judge_reach(const Analysis& a, const Fabrication& b, Findings& out) {
    const auto* board = a.board ? a.board->find(b.id) : nullptr;
    if (board == nullptr || !a.data || board->pads.empty()) return;
    std::vector<std::string> behind;
    for (const auto& c : b.connectors)
        if (c.side == StandsOn::bottom) behind.push_back(c.ref);
    const auto bodies = bodies_of(board->pads, packages_in(a), a.data->packages, behind);
    std::map<std::string, std::vector<std::string>> below;
    for (const auto& c : covered_joints(board->pads, bodies)) below[c.by].push_back(c.ref + "." + c.pin);
    for (const auto& [by, joints] : below) {
        std::string few;
        for (std::size_t i = 0; i < std::min<std::size_t>(joints.size(), 4); ++i)
            few += (i == 0 ? "" : " ") + joints[i];
        if (joints.size() > 4) few += fmt::format(" and {} more", joints.size() - 4);
        out.push_back(fit_finding(
            "joints-covered", Severity::note, b, "zone:covered/" + by,
            fmt::format("{} under {}",
                        plural(static_cast<long long>(joints.size()), "joint lies", "joints lie"), by),
            fmt::format("{}: nobody reaches them once {} is fitted.", few, by),
            "Solder and check them before."));
    }
}

void judge_zones(const Analysis& a, const Fabrication& b, Findings& out) {
    if (b.zones.empty() || !a.board || !a.data) return;
    const auto packages = packages_in(a);
    const auto* board = a.board->find(b.id);
    if (board == nullptr || board->pads.empty()) {
        out.push_back(fit_finding(
            "fit-unknown", Severity::note, b, "zone:" + b.zones.front().name,
            "Nobody knows what stands below " + b.zones.front().name, "No pad of the board has a name.",
            "Bring files with attributes, a table of pads or of placements, or name pads by clicking."));
        return;
    }
    for (const auto& p :
         zone_parts(b, a.board->find(b.id), *a.dossier.dimensions, packages, a.data->packages)) {
        const auto thing = "zone:" + p.zone + "/" + p.ref;
        if (p.verdict == Verdict::stop || p.verdict == Verdict::doubt)
            out.push_back(fit_finding(
                p.verdict == Verdict::stop ? "part-too-high" : "fits-barely",
                p.verdict == Verdict::stop ? Severity::stop : Severity::doubt, b, thing,
                fmt::format("{} {} below {}", p.ref,
                            p.verdict == Verdict::stop ? "is too high" : "has less than half a millimetre",
                            p.zone),
                fmt::format("{} stands {:g} mm over the board, {:g} mm are there.", p.package, *p.height_mm,
                            *p.most_mm),
                "Move it, or choose a lower package."));
        else if (p.verdict == Verdict::unknown)
            out.push_back(fit_finding(
                "fit-unknown", Severity::note, b, thing,
                fmt::format("Nobody knows whether {} fits below {}", p.ref, p.zone),
                p.most_mm ? "Its package is not described." : "Nobody has said how much room there is.",
                p.most_mm ? "Say its package in Wire, or measure its height."
                          : "Measure the room over the board there."));
    }
}

}  // namespace

void check_fit(const Analysis& a, Findings& out) {
    for (const auto& b : *a.dossier.boards) {
        for (const auto& fit : b.fits) judge_fit(b, fit_of(fit, *a.dossier.dimensions), out);
        judge_zones(a, b, out);
        judge_reach(a, b, out);
        if (b.order.tiers.empty()) continue;
        std::optional<BoardYield> yield;
        if (a.wire && a.data) yield = board_yield(a.wire->solder, a.data->packages);
        const auto advice = order_advice(b.order, a.dossier.supply->boards, yield, std::nullopt);
        if (!advice.order.best)
            out.push_back(fit_finding("order-too-few", Severity::doubt, b, "order",
                                      "No tier gives enough boards", advice.says + ".",
                                      "Add a larger tier, or raise the yield by easier packages."));
    }
}

}  // namespace grayrelic
