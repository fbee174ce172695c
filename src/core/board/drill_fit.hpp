// SPDX-License-Identifier: GPL-3.0-or-later
// Drill files whose digits are cut without saying how, held against the pads; and drill files in the form of
// a layer.
#pragma once

#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "core/board/drill.hpp"
#include "core/board/gerber.hpp"

namespace grayrelic {

/// How many of a drill file's holes lie on pads, as a share; nothing where some lie off the board.
class HoleFit {
  public:
    HoleFit(const std::vector<BoardXY>& pads, const Extent& around) : around_(around) {
        // Places within a tenth of a millimetre count as one.
        for (const auto p : pads)
            for (Nm dx = -1; dx <= 1; ++dx)
                for (Nm dy = -1; dy <= 1; ++dy) known_.insert(cell(p) + BoardXY{dx, dy});
    }
    [[nodiscard]] std::optional<double> share(const DrillFile& file) const {
        std::size_t on = 0;
        for (const auto& h : file.holes) {
            if (!around_.holds(h.middle())) return std::nullopt;
            on += known_.count(cell(h.middle()));
        }
        return file.holes.empty() ? 0 : static_cast<double>(on) / static_cast<double>(file.holes.size());
    }

  private:
    static BoardXY cell(BoardXY p) { return {(p.x + 50'000) / 100'000, (p.y + 50'000) / 100'000}; }
    std::set<BoardXY> known_;
    Extent around_;
};

/// Of the ways digits can be cut, the one with which most holes lie on pads: at least half of them.
[[nodiscard]] std::optional<DrillOptions::Digits> fitting_digits(std::string_view text,
                                                                 const std::string& name,
                                                                 const DrillFile& as_it_is,
                                                                 const HoleFit& fit);
/// A drill file in the form of a layer: flashes are holes, lines are slots.
[[nodiscard]] DrillFile holes_of_layer(const GerberLayer& layer, bool plated);

}  // namespace grayrelic
