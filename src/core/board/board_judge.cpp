// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about the edge, mask, print and necks; and what the sum of them asks for.
#include "core/board/board_judge.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/text.hpp"
#include "core/base/unions.hpp"

namespace grayrelic {
namespace {

constexpr Nm cell_nm = 1'000'000;
constexpr std::size_t most_violations = 20'000;

}  // namespace

BoardJudge::BoardJudge(const BoardFiles& board, const BoardCopper& copper, const BoardOutline& outline,
                       const BoardProcess& process, Progress& progress)
    : board_(board), copper_(copper), outline_(outline), process_(process), progress_(progress) {
    for (const auto* f : board.coppers()) {
        std::multimap<BoardXY, std::size_t> by_cell;
        for (std::size_t i = 0; i < f->layer->objects.size(); ++i) {
            const auto& o = f->layer->objects[i];
            if (o.kind != GerberObject::Kind::flash || !o.dark) continue;
            const auto c = cell(o.to);
            for (Nm dx = -1; dx <= 1; ++dx)
                for (Nm dy = -1; dy <= 1; ++dy) by_cell.emplace(c + BoardXY{dx, dy}, i);
        }
        flashes_.push_back(std::move(by_cell));
    }
}

BoardXY BoardJudge::cell(BoardXY p) {
    const auto down = [](Nm v) { return v >= 0 ? v / cell_nm : -((-v + cell_nm - 1) / cell_nm); };
    return {down(p.x), down(p.y)};
}

void BoardJudge::add(BoardRule rule, double nm, double limit_nm, BoardXY at, const std::string& file,
                     std::string what) {
    if (out_.violations.size() >= most_violations) return;
    out_.violations.push_back({rule, nm / 1e6, limit_nm / 1e6, at, file, std::move(what)});
}

BoardPieces BoardJudge::pieces_of(FileRole role) {
    const auto* f = board_.find(role);
    if (f == nullptr || !f->layer) return {};
    auto pieces = layer_pieces(*f->layer, progress_);
    if (!pieces) out_.not_looked_at.push_back(f->name + ": " + pieces.error().message());
    return pieces ? std::move(*pieces) : BoardPieces{};
}

void BoardJudge::edges() {
    const double limit = process_.edge_mm * 1e6;
    const auto rings = outline_.rings();
    for (std::size_t l = 0; l < copper_.layers.size(); ++l) {
        std::set<std::uint32_t> near;
        for (const auto& ring : rings)
            for (std::size_t i = 0; i < ring.size(); ++i) {
                Extent box;
                box.add(ring[i]);
                box.add(ring[(i + 1) % ring.size()]);
                copper_.index[l].near(box.grown(static_cast<Nm>(std::ceil(limit))), [&](const PieceEdge& e) {
                    near.insert(e.piece);
                    return true;
                });
            }
        // Those pieces and the edge's rings together, each copper against each ring.
        BoardPieces both;
        for (const auto piece : near) {
            // Copper beside the board is cut away with what is left of the sheet.
            const auto& p = copper_.layers[l].pieces[piece];
            if (std::any_of(p.outer.begin(), p.outer.end(),
                            [&](BoardXY s) { return in_ring(outline_.outer, s); }))
                both.push_back(p);
        }
        const auto coppers = static_cast<std::uint32_t>(both.size());
        for (const auto& ring : rings) both.push_back({ring, {}, extent_of(ring)});
        const EdgeIndex index(both);
        for (const auto& c : close_places(
                 both, index, limit,
                 [&](std::uint32_t x, std::uint32_t y) { return (x < coppers) != (y < coppers); }, progress_))
            add(BoardRule::edge, c.distance, limit, c.at, copper_.layers[l].file,
                c.distance <= 0 ? "copper that reaches over the board's edge"
                                : fmt::format("copper {:.3f} mm from the board's edge", c.distance / 1e6));
    }
    hole_edges();
}

void BoardJudge::hole_edges() {
    const double limit = process_.edge_mm * 1e6;
    const auto rings = outline_.rings();
    for (const auto& h : copper_.holes) {
        const auto middle = h.hole.way.front();
        if (!in_ring(outline_.outer, middle)) continue;
        if (std::any_of(outline_.cutouts.begin(), outline_.cutouts.end(),
                        [&](const Ring& c) { return in_ring(c, middle); }))
            continue;
        Approach best{1e300, {}};
        for (const auto& ring : rings)
            for (std::size_t i = 0; i < ring.size(); ++i)
                for (std::size_t k = 0; k < h.hole.way.size(); ++k) {
                    const auto near =
                        approach(h.hole.way[k], h.hole.way[std::min(k + 1, h.hole.way.size() - 1)], ring[i],
                                 ring[(i + 1) % ring.size()]);
                    if (near.distance < best.distance) best = near;
                }
        const double wall = best.distance - h.hole.diameter / 2;
        if (wall < limit - rule_grace_nm)
            add(BoardRule::edge, std::max(0.0, wall), limit, best.at, h.file,
                wall <= 0 ? "a hole that breaks through the board's edge"
                          : fmt::format("a hole {:.3f} mm from the board's edge", wall / 1e6));
    }
}

void BoardJudge::mask_slivers() {
    if (!process_.mask_sliver_mm) return;
    const double limit = *process_.mask_sliver_mm * 1e6;
    for (const auto role : {FileRole::mask_top, FileRole::mask_bottom}) {
        const auto pieces = pieces_of(role);
        if (pieces.empty()) continue;
        const EdgeIndex index(pieces);
        for (const auto& c : close_places(
                 pieces, index, limit, [](auto, auto) { return true; }, progress_))
            add(BoardRule::mask_sliver, c.distance, limit, c.at, board_.find(role)->name,
                fmt::format("{:.3f} mm of mask between two openings", c.distance / 1e6));
    }
}

void BoardJudge::silk() {
    if (!process_.silk_on_pad) return;
    for (const auto& [print, mask, copper] :
         {std::tuple(FileRole::silk_top, FileRole::mask_top, FileRole::copper_top),
          std::tuple(FileRole::silk_bottom, FileRole::mask_bottom, FileRole::copper_bottom)}) {
        const auto openings = pieces_of(mask);
        const auto silk = pieces_of(print);
        if (openings.empty() || silk.empty()) continue;
        const EdgeIndex index(silk);
        std::size_t layer = copper_.layers.size();
        for (std::size_t l = 0; l < copper_.layers.size(); ++l)
            if (copper_.layers[l].role == copper) layer = l;
        for (const auto& opening : openings) {
            std::set<std::uint32_t> near;
            index.near(opening.extent, [&](const PieceEdge& e) {
                near.insert(e.piece);
                return true;
            });
            if (const auto over = index.piece_at(opening.outer.front())) near.insert(*over);
            Rings common;
            for (const auto s : near) {
                auto both = overlap(rings_of({opening}), rings_of({silk[s]}));
                common.insert(common.end(), both.begin(), both.end());
            }
            Extent box;
            double area = 0;
            for (const auto& r : common) {
                // Only where a pad lies bare below.
                const bool bare =
                    layer == copper_.layers.size() || std::any_of(r.begin(), r.end(), [&](BoardXY p) {
                        return copper_.index[layer].piece_at(p).has_value();
                    });
                if (!bare) continue;
                box.add(extent_of(r));
                area += std::abs(signed_area(r));
            }
            if (area < 1e8) continue;  // a ten-thousandth of a square millimetre
            const double across = static_cast<double>(std::min(box.width(), box.height()));
            if (across <= 2 * rule_grace_nm) continue;
            add(BoardRule::silk_on_pad, across, 0, {(box.left + box.right) / 2, (box.bottom + box.top) / 2},
                board_.find(print)->name,
                fmt::format("print over a bare pad, {:.2f} mm of it", across / 1e6));
        }
    }
}

void BoardJudge::necks() {
    const double limit = process_.track_mm * 1e6;
    const auto files = board_.coppers();
    for (std::size_t l = 0; l < files.size(); ++l) {
        const auto& layer = *files[l]->layer;
        std::set<std::uint32_t> pours;
        for (const auto& o : layer.objects)
            if (o.kind == GerberObject::Kind::region && o.dark)
                for (const auto& ring : layer.regions[o.region])
                    for (const auto p : ring)
                        if (const auto piece = copper_.index[l].piece_at(p)) {
                            pours.insert(*piece);
                            break;
                        }
        for (const auto piece : pours) {
            if (progress_.cancelled()) return;
            // What does not come back when the pour is made narrower and wide again, and lay between what is
            // left of it.
            const auto rings = rings_of({copper_.layers[l].pieces[piece]});
            const double half = limit / 2 - rule_grace_nm;
            const auto narrow = grown(rings, -half);
            if (narrow.size() < 2) continue;
            const EdgeIndex index(narrow);
            for (const auto& lost : without(rings, rings_of(grown(rings_of(narrow), half + 1'000)))) {
                auto around = lost.outer;
                around.push_back(lost.outer.front());
                if (index.pieces_near(around, half + 20'000).size() < 2) continue;
                BoardXY at{(lost.extent.left + lost.extent.right) / 2,
                           (lost.extent.bottom + lost.extent.top) / 2};
                if (!lost.contains(at))
                    at = {(lost.outer[0].x + lost.outer[lost.outer.size() / 2].x) / 2,
                          (lost.outer[0].y + lost.outer[lost.outer.size() / 2].y) / 2};
                const double across = 2 * to_edge_near(l, piece, {at}, limit, 0);
                if (across > 0 && across < limit - rule_grace_nm)
                    add(BoardRule::neck, across, limit, at, files[l]->name,
                        fmt::format("a neck of a pour, {:.2f} mm across", across / 1e6));
            }
        }
    }
}

void BoardJudge::sum_up() {
    std::stable_sort(out_.violations.begin(), out_.violations.end(),
                     [](const RuleViolation& a, const RuleViolation& b) {
                         return std::tuple(static_cast<int>(a.rule), a.mm, a.at.x, a.at.y) <
                                std::tuple(static_cast<int>(b.rule), b.mm, b.at.x, b.at.y);
                     });
    std::map<BoardRule, int> count;
    for (const auto& v : out_.violations) {
        if (v.decides()) out_.makeable = false;
        if (v.rule != BoardRule::hole || v.limit_mm > 0) ++count[v.rule];
    }
    const auto say = [&](BoardRule rule, const char* one, const char* many, const std::string& rest) {
        if (const auto it = count.find(rule); it != count.end())
            out_.to_do.push_back(plural(it->second, one, many) + rest);
    };
    say(BoardRule::track, "track", "tracks", fmt::format(": at least {:.2f} mm wide", process_.track_mm));
    say(BoardRule::gap, "gap", "gaps", fmt::format(": at least {:.2f} mm", process_.gap_mm));
    say(BoardRule::ring, "pad", "pads",
        fmt::format(": the hole and {:.2f} mm more across, or a narrower hole", 2 * process_.ring_mm));
    say(BoardRule::hole, "hole", "holes", fmt::format(": at least {:.2f} mm", process_.hole_mm));
    say(BoardRule::hole_gap, "pair of holes", "pairs of holes",
        fmt::format(": at least {:.2f} mm between their walls", process_.hole_gap_mm));
    say(BoardRule::edge, "place at the edge", "places at the edge",
        fmt::format(": at least {:.2f} mm away, unless it is an edge connector's finger", process_.edge_mm));
    say(BoardRule::mask_sliver, "strip of mask", "strips of mask",
        ": leave the mask out between those pads, or smaller openings");
    say(BoardRule::silk_on_pad, "pad", "pads", ": move the print off, or the house will cut it");
    say(BoardRule::size, "size", "sizes", ": make the board smaller or split it");
    if (through_ > 0)
        out_.to_do.push_back(fmt::format(
            "{}: a wire through each, soldered on both sides, or copper on one side only with jumpers",
            plural(through_, "hole joins the sides", "holes join the sides")));
    const auto layers = static_cast<int>(copper_.layers.size());
    if (layers > process_.copper_layers) {
        out_.makeable = false;
        out_.to_do.push_back(fmt::format("{} copper layers, of {} at most", layers, process_.copper_layers));
    }
}

Result<RuleReport> BoardJudge::judge() {
    tracks();
    progress_.report(0.2);
    gaps();
    progress_.report(0.4);
    rings();
    holes();
    progress_.report(0.6);
    if (outline_.known())
        edges();
    else
        out_.not_looked_at.emplace_back("no outline that closes: nothing is said about the edge");
    mask_slivers();
    progress_.report(0.7);
    silk();
    progress_.report(0.8);
    size();
    necks();
    if (copper_.layers.empty()) out_.not_looked_at.emplace_back("no copper layer");
    if (copper_.holes.empty())
        out_.not_looked_at.emplace_back("no drill file: nothing is said about holes and rings");
    if (progress_.cancelled()) return fail_cancelled();
    sum_up();
    progress_.report(1);
    return std::move(out_);
}

}  // namespace grayrelic
