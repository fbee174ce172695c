// SPDX-License-Identifier: GPL-3.0-or-later
// A job of several boards: which is drawn, ordered, here.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/dossier/dossier.hpp"

namespace grayrelic {

/// How many of one state of a board's files were ordered at a time.
struct BoardBatch {
    std::string order;  ///< Order::id
    int count = 0;
    std::string ordered, expected, arrived;  ///< days; empty while it has not happened
    std::string file, sha256;                ///< what was sent; empty: not noted
    /// What was sent is not what the dossier has now; nothing: nobody noted what was sent, or it can't be
    /// read.
    std::optional<bool> older;
};
struct BoardState {
    std::string id, title;
    bool drawn = false;                 ///< there are files
    std::vector<BoardBatch> batches;    ///< in the dossier's order
    [[nodiscard]] int ordered() const;  ///< on their way
    [[nodiscard]] int here() const;
    [[nodiscard]] int older_here() const;  ///< of a state of the files that is not the present one
    /// "not drawn yet", "drawn, not ordered", "5 ordered 2026-11-20, expected 2026-12-04", "5 here"
    std::string says;
};
/// `sha_now`: of the board's archive, by Fabrication::id; one that is missing can't be compared. A line of an
/// order is a board's where its part is "board " and the board's title, or its id.
[[nodiscard]] std::vector<BoardState> board_states(const Dossier& dossier,
                                                   const std::map<std::string, std::string>& sha_now);

}  // namespace grayrelic
