// SPDX-License-Identifier: GPL-3.0-or-later
// What the thing costs, for one and for many, and when it pays.
//
//     begun(q) = least whole number ≥ q ÷ yield          boards begun for q that work
//     batches  = least whole number ≥ begun ÷ batch
//     cost(q)  = once + batches · per batch + begun · per piece
//
// With the worth of an hour, hours a board count as money: per piece + hours · worth. Else they are counted
// apart.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/dossier/dossier.hpp"

namespace grayrelic {

struct CostInputs {
    std::optional<double> parts_each;    ///< parts of one board, from the parts list
    std::optional<double> boards_batch;  ///< empty boards of one batch, from Board's tiers
    double yield = 1;                    ///< above 0, at most 1
    bool yield_known = false;
    std::string yield_from;
    std::optional<double> hours_each;  ///< from Build's log
};

struct CostEntry {
    std::string says;
    CostKind kind = CostKind::other;
    CostPer per = CostPer::once;
    double money = 0;
    std::string from;  ///< where the figure comes from: "entered, 2026-03-01", "parts list"
};

struct CostRow {
    int quantity = 0;  ///< that work
    int begun = 0, batches = 0;
    double cost = 0, each = 0;
    std::optional<double> profit;  ///< all of them sold at the price
    std::optional<double> hours;
};

/// From which quantity on something holds.
struct BreakEven {
    std::optional<int> first;  ///< the least; nothing: never up to most_quantity
    std::optional<int>
        for_good;  ///< from here on it never fails again, where a further batch may cost once more
};
inline constexpr int most_quantity = 100'000;

struct CostStudy {
    std::vector<CostEntry> entries;
    double once = 0, per_batch = 0, per_piece = 0;
    int batch = 1;
    double yield = 1;
    std::string yield_from;
    std::optional<double> hours_each;
    bool hours_in_money = false;
    std::vector<CostRow> rows;              ///< for 1, 2, 5, 10 … and as many as the job builds
    BreakEven pays;                         ///< q · price ≥ cost(q); without a price nothing
    BreakEven below_original, below_ready;  ///< cost(q) ÷ q ≤ what one costs
    std::string says;
    std::vector<std::string> missing;
};

/// Entered lines stand; what is computed is added where no line of its kind and way of counting was entered.
[[nodiscard]] CostStudy study_costs(const Economics& money, const CostInputs& inputs, int boards);
[[nodiscard]] CostRow cost_of(const CostStudy& study, int quantity, std::optional<double> price);

}  // namespace grayrelic
