// SPDX-License-Identifier: GPL-3.0-or-later
// What the reader of scans makes of boards whose copper is known.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/trace/scan.hpp"
#include "tests/unseen/boards.hpp"

namespace grayrelic::unseen {

struct BoardCase {
    std::uint64_t seed = 0;
    std::string look;
    std::vector<std::string> troubles;  ///< none: clean
    double step = 0, dpi = 600;
    LayoutWish wish;
};
/// Drawn from the whole space; `pale`: steps of 2 to 10 levels.
[[nodiscard]] BoardCase board_case(std::uint64_t seed, bool disturbed, bool pale = false);

/// As the reader takes it, placed by its references.
[[nodiscard]] ScanPicture picture_of(const BoardPicture& p, int side);

struct BoardVerdict {
    int joins = 0;        ///< of pads by copper that is wide enough: pads less groups
    int found = 0;        ///< of these
    int false_joins = 0;  ///< groups of the truth that a net of the reader's has too many
    int all_joins = 0;    ///< by any copper
    int boards = 0;
    double seconds = 0;
    int clicks = 0;
    std::string told;  ///< what went wrong
};
/// `clicks`: at most so many, by the rule of click_boards.hpp.
[[nodiscard]] BoardVerdict judge(const BoardCase& c, int clicks = 0);

/// Sums by look, by disturbance and by resolution.
class BoardTable {
  public:
    void add(const BoardCase& c, const BoardVerdict& v);
    [[nodiscard]] std::string text() const;
    [[nodiscard]] BoardVerdict sum() const { return rows_.empty() ? BoardVerdict{} : rows_.at("all"); }

  private:
    std::map<std::string, BoardVerdict> rows_;
};

}  // namespace grayrelic::unseen
