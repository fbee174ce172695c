// SPDX-License-Identifier: GPL-3.0-or-later
// How many boards to order: the house's tiers with what is charged beside them, stock that becomes useless,
// how likely a board works, and how likely it is ordered again.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/analysis/analysis.hpp"
#include "core/board/board_analysis.hpp"
#include "core/dossier/fit.hpp"
#include "core/fit/solder_study.hpp"
#include "core/plan/board_order.hpp"
#include "core/record/learned.hpp"

namespace grayrelic {

/// The chance that at least one of several questions has the board made again. They may hang together: then
/// it is at the least that of the likeliest alone, and at the most their sum (Fréchet); counted is that they
/// have nothing to do with each other.
struct OrderAgain {
    int questions = 0;
    double chance = 0, least = 0, most = 0;
};
[[nodiscard]] OrderAgain again_of(const std::vector<double>& chances);

struct OrderExtraDue {
    OrderExtra extra;
    /// Nothing: it is charged where the board asks for less than its limit, and nobody knows whether it does.
    std::optional<bool> due;
};

struct OrderAdvice {
    int want = 0;
    double yield = 1, respin = 0;
    bool yield_known = true;              ///< else every board is taken to work, which is the best case
    std::string yield_from, respin_from;  ///< words: "from the person's record", "said"
    std::vector<OrderExtraDue> extras;
    double obsolete = 0;        ///< worth of stock that becomes useless
    std::vector<bool> applies;  ///< of each tier of the question: the board is not larger than it allows
    bool size_known = true;     ///< else tiers with a size are taken to apply
    /// Of all tiers; one that does not apply, or costs more than another for the same boards, is never the
    /// best.
    BoardOrder order;
    std::string says;
};

struct OrderQuestion {
    OrderAsk ask;
    int boards = 1;                     ///< that the job builds
    std::optional<SolderStudy> solder;  ///< nothing: no circuit
    std::optional<OrderAgain> again;    ///< of Plan's open questions; nothing: none can cost a board
    const FabricationAnalysis* board = nullptr;
    LearnedYield built{};  ///< of its units so far; counts from least_built on
};
inline constexpr int least_built = 3;
[[nodiscard]] OrderAdvice order_advice(const OrderQuestion& question);
/// The same of a board of the dossier, without Plan's questions.
[[nodiscard]] OrderQuestion order_question(const Analysis& a, const Fabrication& board);
/// Of the board's own circuit, else of Wire's; nothing where there is neither.
[[nodiscard]] std::optional<SolderStudy> solder_study_of(const Analysis& a, const Fabrication& board);

}  // namespace grayrelic
