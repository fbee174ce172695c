// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fit_analysis.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/fit/reach.hpp"

namespace grayrelic {
namespace {

FitLine line_of(const FitItem& i, const std::vector<Dimension>& dimensions, const PlaceOf& places) {
    FitLine l;
    l.what = i.what;
    l.role = i.role;
    l.plus = i.plus;
    l.minus = i.minus;
    if (!i.place.empty()) {
        l.from_files = true;
        l.what = l.what.empty() ? i.place : l.what;
        l.mm = places ? places(i.place) : std::nullopt;
        l.evidence.kind = EvidenceKind::documented;
        l.evidence.source = "the fabrication files";
        if (!l.mm) l.problem = "the files do not have " + i.place;
        return l;
    }
    if (i.dimension.empty()) {
        l.mm = i.mm.value;
        l.evidence = i.mm.evidence;
        if (l.plus == 0 && l.minus == 0 && i.mm.uncertainty) l.plus = l.minus = *i.mm.uncertainty;
        if (!l.mm) l.problem = "nobody has measured it";
        return l;
    }
    l.from_dimension = true;
    const auto d = std::find_if(dimensions.begin(), dimensions.end(),
                                [&](const Dimension& x) { return x.id == i.dimension; });
    if (d == dimensions.end()) {
        l.problem = "the dimension " + i.dimension + " is not in Plan";
        if (l.what.empty()) l.what = i.dimension;
        return l;
    }
    if (l.what.empty()) l.what = d->name.empty() ? d->id : d->name;
    l.mm = d->mm.value;
    l.evidence = d->mm.evidence;
    if (l.plus == 0 && l.minus == 0 && d->mm.uncertainty) l.plus = l.minus = *d->mm.uncertainty;
    if (!l.mm) l.problem = "nobody has measured it";
    return l;
}

const FitLine* line_with(const std::vector<FitLine>& lines, FitRole role) {
    for (const auto& l : lines)
        if (l.role == role) return &l;
    return nullptr;
}

std::vector<StackItem> stack_of(const std::vector<FitLine>& lines) {
    std::vector<StackItem> out;
    for (const auto& l : lines)
        if (l.mm && (l.role == FitRole::gives || l.role == FitRole::takes))
            out.push_back({l.what, *l.mm, l.plus, l.minus, l.role == FitRole::gives});
    return out;
}

std::string figure(double mm) {
    return fmt::format("{}{:.2f}", mm < 0 ? "−" : "", std::abs(mm));
}

void judge_button(FitResult& r) {
    ButtonTravel b;
    b.gap = r.room;
    for (const auto& [role, name] : {std::pair{FitRole::travel, "the button's travel"},
                                     {FitRole::actuates, "the travel at which the switch closes"},
                                     {FitRole::endures, "the switch's whole travel"}})
        if (const auto* l = line_with(r.lines, role); l == nullptr || !l->mm) r.missing.emplace_back(name);
    if (!r.missing.empty()) return;
    const auto* travel = line_with(r.lines, FitRole::travel);
    const auto* actuates = line_with(r.lines, FitRole::actuates);
    const auto* endures = line_with(r.lines, FitRole::endures);
    b.travel_mm = *travel->mm;
    b.travel_plus = travel->plus;
    b.travel_minus = travel->minus;
    b.actuates_mm = *actuates->mm;
    b.actuates_plus = actuates->plus;
    b.endures_mm = *endures->mm;
    b.endures_minus = endures->minus;
    r.button = room_of(b);
    r.verdict = r.button.verdict;
    const std::pair<double, std::string> worst =
        std::min({std::pair<double, std::string>{r.button.preload_mm, "gap at rest"},
                  {r.button.spare_mm, "travel beyond the switch's closing"},
                  {r.button.crush_mm, "travel left before the switch is crushed"}});
    r.says = fmt::format("{}: at the least {} mm {}",
                         r.verdict == Verdict::holds ? "never pressed at rest, always closed at the stop"
                                                     : "not in every case",
                         figure(worst.first), worst.second);
}

/// A body behind an opening: how far it may stand off the opening's middle, on the side where less is left.
void judge_opening(FitResult& r) {
    double off = 0, tolerance = 0;
    bool stands = false, opens = false;
    for (const auto& l : r.lines) {
        if (l.role != FitRole::stands && l.role != FitRole::opens) continue;
        (l.role == FitRole::stands ? stands : opens) = true;
        if (!l.mm) continue;
        off += l.role == FitRole::stands ? *l.mm : -*l.mm;
        tolerance += std::max(l.plus, l.minus);
    }
    if (!stands) r.missing.emplace_back("where the connector stands");
    if (!opens) r.missing.emplace_back("where the opening's middle lies");
    if (!r.missing.empty()) return;
    const double play = r.room.nominal_mm / 2 - std::abs(off);
    const double worst = r.room.worst_min_mm / 2 - std::abs(off) - tolerance;
    r.button.preload_mm = play;
    r.tightest_mm = worst;
    r.verdict = play <= 0 ? Verdict::stop : worst <= 0 ? Verdict::doubt : Verdict::holds;
    r.says = fmt::format(
        "the connector stands {} mm off the opening's middle; {} mm of play are left on the "
        "nearer side, {} in the worst case",
        figure(std::abs(off)), figure(play), figure(worst));
}

void judge_cable(FitResult& r) {
    const auto* there = line_with(r.lines, FitRole::bend);
    const auto* least = line_with(r.lines, FitRole::endures);
    r.says = fmt::format("{} mm of cable are left, {} in the worst case", figure(r.room.nominal_mm),
                         figure(r.room.worst_min_mm));
    if ((there == nullptr) != (least == nullptr))
        r.missing.emplace_back(there == nullptr ? "the radius that is there for the bend"
                                                : "the least radius that the cable may be bent to");
    if (there == nullptr || least == nullptr || !there->mm || !least->mm) return;
    r.tightest_mm = *there->mm - there->minus - *least->mm - least->plus;
    r.says += fmt::format("; the bend has {:.1f} mm and needs {:.1f}", *there->mm, *least->mm);
    // A bend may be as tight as the cable allows.
    const auto bent = *there->mm < *least->mm ? Verdict::stop
                      : r.tightest_mm < 0     ? Verdict::doubt
                                              : Verdict::holds;
    if (r.verdict != Verdict::unknown) r.verdict = worse(r.verdict, bent);
}

}  // namespace

PlaceOf places_in(const FabricationAnalysis* board) {
    if (board == nullptr || !board->read) return nullptr;
    return [board](const std::string& name) -> std::optional<double> {
        const auto dot = name.rfind('.');
        if (dot == std::string::npos || dot + 2 != name.size()) return std::nullopt;
        const bool x = name.back() == 'x';
        if (!x && name.back() != 'y') return std::nullopt;
        const auto ref = name.substr(0, dot);
        const auto& outline = board->read->outline;
        if (!outline.known()) return std::nullopt;
        const auto edge = extent_of(outline.outer);
        if (ref == "board") return to_mm(x ? edge.width() : edge.height());
        const auto parts = standing_parts(board->pads);
        const auto it = parts.find(ref);
        if (it == parts.end()) return std::nullopt;
        const auto& b = it->second.box;
        return x ? to_mm((b.left + b.right) / 2 - edge.left) : to_mm((b.bottom + b.top) / 2 - edge.bottom);
    };
}

FitResult fit_of(const FitCase& fit, const std::vector<Dimension>& dimensions, const PlaceOf& places) {
    FitResult r;
    r.id = fit.id;
    r.name = fit.name.empty() ? fit.id : fit.name;
    r.kind = fit.kind;
    for (const auto& i : fit.items) r.lines.push_back(line_of(i, dimensions, places));
    for (const auto& l : r.lines) {
        if (!l.mm)
            r.missing.push_back(l.what.empty() ? "a line without a name" : l.what);
        else if (l.evidence.kind == EvidenceKind::assumed)
            r.assumed.push_back(l.what);
    }
    const bool lid = line_with(r.lines, FitRole::gives) != nullptr;
    if (!lid) r.missing.emplace_back("what gives room, such as the lid");
    if (fit.kind != FitKind::button && line_with(r.lines, FitRole::takes) == nullptr)
        r.missing.emplace_back("what takes it");
    r.room = room_of(stack_of(r.lines));
    if (r.missing.empty()) r.verdict = r.room.verdict;
    if (fit.kind == FitKind::button)
        judge_button(r);
    else if (fit.kind == FitKind::cable)
        judge_cable(r);
    else if (fit.kind == FitKind::opening)
        judge_opening(r);
    else
        r.says =
            fmt::format("{} mm are left, {} to {} in the worst case, {} to {} by root-sum-square",
                        figure(r.room.nominal_mm), figure(r.room.worst_min_mm), figure(r.room.worst_max_mm),
                        figure(r.room.rss_min_mm), figure(r.room.rss_max_mm));
    if (!r.missing.empty()) {
        r.verdict = Verdict::unknown;
        r.says = fmt::format("can't be told: {} {} missing", fmt::join(r.missing, ", "),
                             r.missing.size() == 1 ? "is" : "are");
        return r;
    }
    if (fit.kind == FitKind::room || fit.kind == FitKind::cable)
        for (auto& l : r.lines)
            if (l.mm && (l.role == FitRole::gives || l.role == FitRole::takes))
                l.turns_at = l.role == FitRole::gives ? *l.mm - r.room.nominal_mm : *l.mm + r.room.nominal_mm;
    return r;
}

namespace {

/// As little as there can be.
std::optional<double> room_over(const FitZone& z, const std::vector<Dimension>& dimensions) {
    if (z.dimension.empty()) return z.most;
    for (const auto& d : dimensions)
        if (d.id == z.dimension && d.mm.value) return *d.mm.value - d.mm.uncertainty.value_or(0);
    return z.most;
}

Verdict judged(std::optional<double> height, std::optional<double> most) {
    constexpr double spare = 0.5;
    if (!height || !most) return Verdict::unknown;
    return *height > *most ? Verdict::stop : *height > *most - spare ? Verdict::doubt : Verdict::holds;
}

/// A part with pads on both sides stands on the front, unless its connector is said to stand behind.
bool stands_behind(const Fabrication& board, const std::string& ref, const StandingPart& s) {
    const auto* said = board.find_connector(ref);
    return said != nullptr && said->side != StandsOn::pads ? said->side == StandsOn::bottom : s.behind();
}

}  // namespace

std::vector<ZonePart> zone_parts(const Fabrication& board, const FabricationAnalysis* analysis,
                                 const std::vector<Dimension>& dimensions,
                                 const std::map<std::string, std::string>& packages_of,
                                 const PackageLibrary& packages) {
    std::vector<ZonePart> out;
    if (analysis == nullptr) return out;
    const auto parts = standing_parts(analysis->pads);
    for (const auto& z : board.zones) {
        const Extent over{from_mm(z.x_mm), from_mm(z.y_mm), from_mm(z.x_mm + z.width_mm),
                          from_mm(z.y_mm + z.height_mm)};
        const auto most = room_over(z, dimensions);
        for (const auto& [ref, s] : parts) {
            if (stands_behind(board, ref, s) != z.back) continue;
            const auto it = packages_of.find(ref);
            const auto package = it == packages_of.end() ? std::nullopt : packages.find(it->second);
            const double pad =
                package ? std::max(package->shape->pad_length, package->shape->pad_width) / 2 : 0.0;
            if (!s.box.grown(from_mm(pad)).meets(over)) continue;
            ZonePart p{z.name, ref, it == packages_of.end() ? std::string() : it->second, most, {}, {}};
            if (package) p.height_mm = package->shape->height;
            p.verdict = judged(p.height_mm, p.most_mm);
            out.push_back(std::move(p));
        }
    }
    return out;
}

}  // namespace grayrelic
