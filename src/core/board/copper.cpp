// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/copper.hpp"

#include <algorithm>
#include <cmath>

#include "core/base/long_work.hpp"
#include "core/base/unions.hpp"

namespace grayrelic {
namespace {

/// Copper is taken away where an unplated hole goes through; only pieces that the hole meets are looked at.
void cut_by(BoardPieces& pieces, const std::vector<BoardHole>& holes) {
    std::vector<const DrillHole*> plain;
    for (const auto& h : holes)
        if (!h.hole.plated) plain.push_back(&h.hole);
    if (plain.empty()) return;
    BoardPieces out;
    for (auto& piece : pieces) {
        Rings cuts;
        for (const auto* h : plain) {
            Extent e;
            for (const auto p : h->way) e.add(p);
            if (!e.grown(static_cast<Nm>(h->diameter / 2)).meets(piece.extent)) continue;
            auto rings = h->rings();
            cuts.insert(cuts.end(), rings.begin(), rings.end());
        }
        if (cuts.empty()) {
            out.push_back(std::move(piece));
            continue;
        }
        auto left = without(rings_of({piece}), cuts);
        out.insert(out.end(), std::make_move_iterator(left.begin()), std::make_move_iterator(left.end()));
    }
    pieces = std::move(out);
}

}  // namespace

int BoardCopper::net_of_hole_at(BoardXY p) const {
    for (const auto& h : holes) {
        if (h.net < 0) continue;
        for (std::size_t i = 0; i < h.hole.way.size(); ++i)
            if (distance(p, h.hole.way[i], h.hole.way[std::min(i + 1, h.hole.way.size() - 1)]) <=
                h.hole.diameter / 2)
                return h.net;
    }
    return -1;
}

int BoardCopper::net_at(BoardXY p, std::size_t layer) const {
    if (const auto piece = index[layer].piece_at(p)) return layers[layer].net[*piece];
    return net_of_hole_at(p);
}

Result<std::shared_ptr<const BoardCopper>> copper_of(const BoardFiles& board, Progress& progress) {
    long_work("copper_of");
    auto out = std::make_shared<BoardCopper>();
    for (const auto* f : board.drills())
        for (const auto& h : f->drill->holes) out->holes.push_back({h, f->name});
    const auto files = board.coppers();
    for (const auto* f : files) {
        auto pieces = layer_pieces(*f->layer, progress);
        if (!pieces) {
            auto error = pieces.error();
            if (error.file.empty()) error.file = f->name;
            return fail(error);
        }
        CopperLayer layer{f->name, f->role, std::move(*pieces), {}};
        cut_by(layer.pieces, out->holes);
        out->layers.push_back(std::move(layer));
        progress.report(0.8 * static_cast<double>(out->layers.size()) / static_cast<double>(files.size()));
        if (progress.cancelled()) return fail_cancelled();
    }
    std::vector<std::size_t> first;
    std::size_t count = 0;
    for (auto& l : out->layers) {
        first.push_back(count);
        count += l.pieces.size();
        out->index.emplace_back(l.pieces);
    }
    Unions sets(count);
    std::vector<int> of_hole(out->holes.size(), -1);
    for (std::size_t h = 0; h < out->holes.size(); ++h) {
        auto& hole = out->holes[h];
        if (!hole.hole.plated) continue;
        for (std::size_t l = 0; l < out->layers.size(); ++l) {
            // The barrel's wall lies at the rim: what reaches it is joined.
            const auto met = out->index[l].pieces_near(hole.hole.way, hole.hole.diameter / 2 + 5'000);
            if (!met.empty()) hole.layers.push_back(static_cast<int>(l));
            for (const auto piece : met) {
                const auto id = static_cast<int>(first[l] + piece);
                if (of_hole[h] < 0)
                    of_hole[h] = id;
                else
                    sets.unite(of_hole[h], id);
            }
        }
        if (progress.cancelled()) return fail_cancelled();
    }
    std::vector<int> number(count, -1);
    const auto net_of = [&](int id) {
        auto& n = number[static_cast<std::size_t>(sets.find(id))];
        if (n < 0) n = out->nets++;
        return n;
    };
    for (std::size_t l = 0; l < out->layers.size(); ++l)
        for (std::size_t p = 0; p < out->layers[l].pieces.size(); ++p)
            out->layers[l].net.push_back(net_of(static_cast<int>(first[l] + p)));
    for (std::size_t h = 0; h < out->holes.size(); ++h)
        if (of_hole[h] >= 0) out->holes[h].net = net_of(of_hole[h]);
    progress.report(1);
    return out;
}

}  // namespace grayrelic
