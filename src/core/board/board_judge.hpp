// SPDX-License-Identifier: GPL-3.0-or-later
// The work of judge_board(), one function for each rule.
#pragma once

#include <map>

#include "core/board/board_rules.hpp"

namespace grayrelic {

class BoardJudge {
  public:
    BoardJudge(const BoardFiles& board, const BoardCopper& copper, const BoardOutline& outline,
               const BoardProcess& process, Progress& progress);
    [[nodiscard]] Result<RuleReport> judge();

  private:
    void tracks();
    void gaps();
    void rings();
    void holes();
    void walls();
    void edges();
    void hole_edges();
    void mask_slivers();
    void silk();
    void size();
    void necks();
    void sum_up();
    void add(BoardRule rule, double nm, double limit_nm, BoardXY at, const std::string& file,
             std::string what);
    [[nodiscard]] static BoardXY cell(BoardXY p);
    [[nodiscard]] static double to_edge(const Rings& rings, const std::vector<BoardXY>& way);
    [[nodiscard]] double to_edge_near(std::size_t layer, std::uint32_t piece, const std::vector<BoardXY>& way,
                                      double reach, double radius) const;
    /// The pieces of another layer, mask or print; empty where it is absent.
    [[nodiscard]] BoardPieces pieces_of(FileRole role);

    const BoardFiles& board_;
    const BoardCopper& copper_;
    const BoardOutline& outline_;
    const BoardProcess& process_;
    Progress& progress_;
    RuleReport out_;
    std::vector<std::multimap<BoardXY, std::size_t>>
        flashes_;  ///< of each copper layer: by cell, also of the cells around
    int through_ = 0;
};

}  // namespace grayrelic
