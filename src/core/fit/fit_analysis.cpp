// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fit_analysis.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/text.hpp"
#include "core/fit/reach.hpp"

namespace grayrelic {
namespace {

FitLine line_of(const FitItem& i, const std::vector<Dimension>& dimensions) {
    FitLine l;
    l.what = i.what;
    l.role = i.role;
    l.plus = i.plus;
    l.minus = i.minus;
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

FitResult fit_of(const FitCase& fit, const std::vector<Dimension>& dimensions) {
    FitResult r;
    r.id = fit.id;
    r.name = fit.name.empty() ? fit.id : fit.name;
    r.kind = fit.kind;
    for (const auto& i : fit.items) r.lines.push_back(line_of(i, dimensions));
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
    if (fit.kind != FitKind::button)
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

BoardYield board_yield(const std::vector<SolderAdvice>& solder, const PackageLibrary& packages) {
    BoardYield y;
    for (const auto& s : solder) {
        const int count = static_cast<int>(s.refs.size());
        y.parts += count;
        if (const auto p = packages.find(s.package)) y.joints += count * static_cast<int>(pads_of(*p).size());
        if (!s.known) {
            y.unknown.insert(y.unknown.end(), s.refs.begin(), s.refs.end());
            continue;
        }
        y.chance *= std::pow(s.chance, count);
        if (!s.own_record) y.without_record += count;
    }
    return y;
}

OrderAdvice order_advice(const OrderAsk& ask, int boards, const std::optional<BoardYield>& yield,
                         std::optional<double> respin, int questions) {
    OrderAdvice a;
    a.want = ask.want > 0 ? ask.want : std::max(1, boards);
    if (ask.yield) {
        a.yield = *ask.yield;
        a.yield_from = "said";
    } else if (yield && yield->parts > 0) {
        a.yield = std::max(yield->chance, 1e-6);
        a.yield_from = yield->without_record == yield->parts ? "as beginners manage"
                       : yield->without_record > 0           ? "from your record, and as beginners manage"
                                                             : "from your record";
    } else {
        a.yield_known = false;
        a.yield_from = "nobody knows: taken as certain";
    }
    if (!ask.yield && yield && !yield->unknown.empty()) {
        const int unknown = static_cast<int>(yield->unknown.size());
        a.yield_known = a.yield_known && unknown < yield->parts;
        a.yield_from += "; " +
                        plural(unknown, "part whose package nobody described counts",
                               "parts whose packages nobody described count") +
                        " as certain";
    }
    if (ask.respin) {
        a.respin = *ask.respin;
        a.respin_from = "said";
    } else if (respin) {
        a.respin = *respin;
        a.respin_from =
            "that one of Plan's " + plural(questions, "open question", "open questions") + " costs a board";
    } else {
        a.respin_from = "as no open question costs a board";
    }
    std::vector<BoardTier> tiers;
    for (const auto& t : ask.tiers) tiers.push_back({t.quantity, t.price, t.shipping});
    a.order = order_boards(tiers, a.want, a.yield, a.respin);
    if (tiers.empty())
        a.says = "no tier is entered yet";
    else if (a.order.best)
        a.says = fmt::format(
            "{}order {}: {} working with a chance of {:.0f} %, {:.2f} for each working one",
            a.yield_known ? "" : "if every board works, ", a.order.rows[*a.order.best].quantity, a.want,
            100 * a.order.rows[*a.order.best].chance_of_want, a.order.rows[*a.order.best].per_working);
    else
        a.says = fmt::format("no tier gives {} working with a chance of 90 %: the largest gives {:.0f} %",
                             a.want, 100 * a.order.rows.back().chance_of_want);
    return a;
}

}  // namespace grayrelic
