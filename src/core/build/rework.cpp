// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/build/rework.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

/// A try's own chance to lose the pad or the leg of a joint that is lifted, by how the part is soldered. A
/// judgement: nobody counted here yet.
constexpr double lost_through = 0.02, lost_surface = 0.01, lost_fine = 0.04, lost_belly = 0.15;
constexpr double minutes_through = 1.5, minutes_surface = 0.5, minutes_set_up = 15, minutes_a_wire = 6,
                 hand_wire_holds = 0.97, usual_minutes = 1.0, joint_holds = 0.998;

std::size_t joints_of(const BuildBoard& board) {
    std::size_t n = 0;
    for (const auto& net : board.nets) n += net.points.size();
    return n;
}

const BuildPart* part_at(const BuildBoard& board, std::string_view ref) {
    for (const auto& p : board.parts)
        if (p.ref == ref) return &p;
    return nullptr;
}

double price_of(const Analysis& a, const std::string& part) {
    for (const auto& p : a.dossier.supply->parts)
        if (p.part == part && !p.prices.empty()) return p.prices.front().each;
    return 0;
}

/// What one more board costs: the cheapest step, shipping among it.
double board_price(const Analysis& a, const std::string& id) {
    double least = 0;
    for (const auto& b : *a.dossier.boards) {
        if (b.id != id) continue;
        for (const auto& t : b.order.tiers)
            if (const double whole = t.price + t.shipping; least == 0 || whole < least) least = whole;
    }
    return least;
}

}  // namespace

Result<ReworkWays> rework_ways(const Analysis& a, const BuildBoard& board, const std::string& place,
                               double hour) {
    const std::string ref(ref_in(place));
    const auto* part = part_at(board, ref);
    if (part == nullptr)
        return fail_usage(in_quotes(place), "a part of " + board.title + ", or one of its leads");
    const bool lead = place.size() > ref.size();
    const auto n = lead ? std::size_t{1} : std::max<std::size_t>(part->pins.size(), 1);
    const auto record = work_record(a.dossier);
    const double per_joint = record.minutes_per_joint.value_or(usual_minutes);
    const double lost = part->belly                             ? lost_belly
                        : part->surface && part->pitch_mm < 0.8 ? lost_fine
                        : part->surface                         ? lost_surface
                                                                : lost_through;
    ReworkWays out;
    const double price = lead ? 0 : price_of(a, part->part);

    ReworkWay over;
    over.kind = ReworkKind::start_over;
    const auto joints = joints_of(board);
    over.minutes = static_cast<double>(joints) * per_joint;
    over.money = board_price(a, board.id);
    for (const auto& p : board.parts) over.money += price_of(a, p.part);
    over.chance = std::pow(joint_holds, static_cast<double>(joints));
    // Another try where it fails again: a geometric series.
    over.expected_minutes = over.minutes / over.chance;
    over.expected_money = over.money / over.chance + over.expected_minutes / 60 * hour;
    over.why = fmt::format("{} joints anew, each holds at {:.1f} %", joints, joint_holds * 100);

    const auto finish = [&](ReworkWay& w) {
        w.expected_minutes = w.minutes + (1 - w.chance) * over.expected_minutes;
        w.expected_money = w.money + w.minutes / 60 * hour + (1 - w.chance) * over.expected_money;
    };
    ReworkWay repair;
    repair.kind = ReworkKind::repair;
    const double lifted = lead ? 0 : static_cast<double>(n);
    repair.minutes = minutes_set_up + lifted * (part->surface ? minutes_surface : minutes_through) +
                     static_cast<double>(n) * per_joint;
    repair.money = price;
    repair.chance = std::pow(1 - lost, lifted) * std::pow(joint_holds, static_cast<double>(n));
    repair.why = lead ? "one joint heated again"
                      : fmt::format("{} to lift, each loses its pad or leg at {:.0f} %",
                                    plural(static_cast<long long>(n), "joint", "joints"), lost * 100);
    finish(repair);

    ReworkWay hand;
    hand.kind = ReworkKind::by_hand;
    hand.minutes = minutes_set_up + static_cast<double>(n) * minutes_a_wire;
    hand.money = price;
    hand.chance = std::pow(hand_wire_holds, static_cast<double>(n));
    hand.why = fmt::format("{} around it, each holds at {:.0f} %",
                           plural(static_cast<long long>(n), "wire", "wires"), hand_wire_holds * 100);
    finish(hand);

    out.ways = {repair, hand, over};
    const auto worth = [&](const ReworkWay& w) { return std::pair(w.expected_money, w.expected_minutes); };
    for (std::size_t i = 1; i < out.ways.size(); ++i)
        if (worth(out.ways[i]) < worth(out.ways[out.best])) out.best = i;
    out.rests_on.push_back(
        record.minutes_per_joint
            ? fmt::format("{:.2g} min a joint, from {:.0f} joints written down", per_joint, record.joints)
            : fmt::format("{:.2g} min a joint, assumed: no work was written down yet", per_joint));
    out.rests_on.push_back("chances of lost pads are a judgement, not counted here");
    if (over.money == 0) out.rests_on.push_back("no prices of boards and parts are known: only hours count");
    return out;
}

WorkRecord work_record(const Dossier& dossier) {
    WorkRecord out;
    double etch = 0;
    for (const auto& b : *dossier.builds)
        for (const auto& w : b.work) {
            if (w.kind == WorkKind::solder && w.count && *w.count > 0 && w.minutes > 0) {
                out.minutes += w.minutes;
                out.joints += *w.count;
            }
            if (w.kind == WorkKind::etch && w.minutes > 0) {
                etch += w.minutes;
                ++out.baths;
                out.etch_least = std::min(out.etch_least.value_or(w.minutes), w.minutes);
                out.etch_most = std::max(out.etch_most.value_or(w.minutes), w.minutes);
            }
        }
    if (out.joints > 0) out.minutes_per_joint = out.minutes / out.joints;
    if (out.baths > 0) out.etch_minutes = etch / out.baths;
    return out;
}

std::optional<double> minutes_for(const BuildBoard& board, const WorkRecord& record) {
    if (!record.minutes_per_joint) return std::nullopt;
    return static_cast<double>(joints_of(board)) * *record.minutes_per_joint;
}

}  // namespace grayrelic
