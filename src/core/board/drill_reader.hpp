// SPDX-License-Identifier: GPL-3.0-or-later
// The work of read_drill(), line by line.
#pragma once

#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "core/board/drill.hpp"

namespace grayrelic {

inline constexpr std::size_t most_drill_points = 2'000'000, most_slot_points = 20'000;

class DrillReader {
  public:
    DrillReader(const std::string& name, const DrillOptions& options) : name_(name), options_(options) {}

    Result<DrillFile> read(std::string_view text);

  private:
    [[nodiscard]] Failure fault(std::string found, std::string expected) const;
    void note(std::string text);
    void said_format();
    [[nodiscard]] bool plated_of(std::uint32_t tool) const;

    Status take(std::string_view line);

    Status remark(std::string_view text);

    Status set_unit(bool inch);

    Status take_unit(const std::string& words);

    [[nodiscard]] DrillOptions::Digits digits() const;

    Result<double> number(std::string_view text);

    Result<Nm> coordinate(std::string_view text);

    /// A line as letters with numbers, and what it asks for.
    struct Order {
        std::optional<Nm> x, y, x2, y2, radius, i, j;
        std::optional<int> motion;
        int repeat = 0;
        bool slot = false, rout = false, drill = false;
    };
    Status blocks(std::string_view words, std::string_view line);
    Status take_word(Order& order, char letter, std::string_view value, std::string_view line);
    Status take_g(Order& order, int code);
    Status take_m(int code);
    Status rout(const Order& order, BoardXY from, BoardXY to);

    /// Of an arc by its radius: at most half a turn.
    static BoardXY middle_of(BoardXY from, BoardXY to, double radius, bool clockwise);

    void finish_way();

    Status take_repeat(int times, Nm dx, Nm dy);

    Status add(std::vector<BoardXY> way);

    Status take_tool(std::string_view words, std::string_view line);

    const std::string& name_;
    DrillOptions options_;
    DrillFile out_;
    long line_ = 0;
    bool began_ = false, header_ = false, ended_ = false, routing_ = false, down_ = false, way_open_ = false;
    int motion_ = 0;
    std::optional<double> unit_;
    std::optional<bool> zeros_, next_plated_;
    std::optional<DrillOptions::Digits> stated_;
    std::optional<std::uint32_t> tool_;
    BoardXY here_;
    std::vector<BoardXY> way_;
    std::size_t points_ = 0;
    std::string function_;
    Status late_;
    std::set<std::string> said_;
};

}  // namespace grayrelic
