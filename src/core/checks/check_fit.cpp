// SPDX-License-Identifier: GPL-3.0-or-later
// What does not fit where it goes, and boards of which no tier gives enough.
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/fit/fit_analysis.hpp"
#include "core/fit/order_advice.hpp"
#include "core/fit/reach.hpp"
#include "core/library/data_library.hpp"

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

const std::map<std::string, std::string>& packages_in(const FabricationAnalysis& board) {
    return board.circuit->packages_of;
}

/// Joints that have to be made before another part is fitted.
void judge_reach(const Analysis& a, const Fabrication& b, Findings& out) {
    const auto* board = a.board ? a.board->find(b.id) : nullptr;
    if (board == nullptr || !a.data || board->pads.empty()) return;
    std::vector<std::string> behind;
    for (const auto& c : b.connectors)
        if (c.side == StandsOn::bottom) behind.push_back(c.ref);
    const auto bodies = bodies_of(board->pads, packages_in(*board), a.data->packages, behind);
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
    const auto* board = a.board->find(b.id);
    if (board == nullptr || board->pads.empty()) {
        out.push_back(fit_finding(
            "fit-unknown", Severity::note, b, "zone:" + b.zones.front().name,
            "Nobody knows what stands below " + b.zones.front().name, "No pad of the board has a name.",
            "Bring files with attributes, a table of pads or of placements, or name pads by clicking."));
        return;
    }
    for (const auto& p : zone_parts(b, board, *a.dossier.dimensions, packages_in(*board), a.data->packages)) {
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

/// Cases and panels that the board has to lie in.
void judge_cases(const Fabrication& b, const FabricationAnalysis& board, Findings& out) {
    for (const auto& c : board.cases) {
        const auto thing = "case:" + c.id;
        if (!c.judged)
            out.push_back(
                fit_finding("fit-unknown", Severity::note, b, thing,
                            "Nobody knows whether the board lies inside " + c.title, c.problem + ".",
                            "Bring the outline again as SVG or DXF, and the board's files with an edge."));
        else if (!c.answer.inside)
            out.push_back(fit_finding(
                "does-not-fit", Severity::stop, b, thing, "The board does not lie inside " + c.title,
                fmt::format(
                    "Turned by {}\u00b0 it stands out by {:.2f} mm, at {:.2f}, {:.2f} mm of the drawing.",
                    c.answer.turn_deg, std::max(0.0, -c.answer.least_mm), to_mm(c.answer.at.x),
                    to_mm(c.answer.at.y)),
                "Change the board's edge, or say where it lies in the case."));
        else if (c.answer.least_mm < 0.2)
            out.push_back(fit_finding(
                "fits-barely", Severity::doubt, b, thing, "The board has little room inside " + c.title,
                fmt::format("At the least {:.2f} mm are left; boards and cases are each "
                            "0.1 to 0.2 mm off.",
                            c.answer.least_mm),
                "Give it 0.2 mm or more on every side."));
    }
}

void judge_soldering(const Analysis& a, const Fabrication& b, Findings& out) {
    const auto study = solder_study_of(a, b);
    if (!study) return;
    std::map<SolderTrouble, std::vector<const SolderTroubleAt*>> by;
    for (const auto& t : study->troubles)
        if (t.verdict == Verdict::stop || t.verdict == Verdict::doubt) by[t.kind].push_back(&t);
    for (const auto& [kind, list] : by) {
        const auto& first = *list.front();
        const auto more = list.size() > 1 ? fmt::format("; {} more {} so", list.size() - 1,
                                                        list.size() == 2 ? "part is" : "parts are")
                                          : std::string();
        out.push_back(fit_finding("hard-to-solder",
                                  first.verdict == Verdict::stop ? Severity::stop : Severity::doubt, b,
                                  "solder:" + std::string(word(kind)), first.says + more,
                                  first.pins.empty() ? "The package and the way of making say so."
                                                     : fmt::format("Pins {}.", fmt::join(first.pins, ", ")),
                                  first.todo));
    }
    if (study->wires > 0)
        out.push_back(fit_finding(
            "hard-to-solder", Severity::note, b, "solder:wires",
            plural(study->wires, "hole leads", "holes lead") + " from side to side without a part",
            "The way of making does not plate holes.",
            "Put a wire through each and solder it on both sides."));
}

}  // namespace

void check_fit(const Analysis& a, Findings& out) {
    for (const auto& b : *a.dossier.boards) {
        const auto* board = a.board ? a.board->find(b.id) : nullptr;
        const auto places = places_in(board);
        for (const auto& fit : b.fits) judge_fit(b, fit_of(fit, *a.dossier.dimensions, places), out);
        judge_zones(a, b, out);
        judge_reach(a, b, out);
        if (board != nullptr) judge_cases(b, *board, out);
        judge_soldering(a, b, out);
        if (b.order.tiers.empty()) continue;
        const auto advice = order_advice(order_question(a, b));
        if (!advice.order.best)
            out.push_back(fit_finding("order-too-few", Severity::doubt, b, "order",
                                      "No tier gives enough boards", advice.says + ".",
                                      "Add a larger tier, or raise the yield by easier packages."));
    }
}

}  // namespace grayrelic
