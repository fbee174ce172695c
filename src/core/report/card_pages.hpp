// SPDX-License-Identifier: GPL-3.0-or-later
// Pages of a card to print: a title, lines, a table with boxes to tick, pictures, cautions.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/analysis/analysis.hpp"
#include "core/report/svg.hpp"
#include "core/report/wiring_card.hpp"

namespace grayrelic {

class CardPages {
  public:
    static constexpr double margin = 42.0;  ///< points

    struct Column {
        double x;
        std::string heading;
        std::size_t most;  ///< characters
    };

    CardPages(const Analysis& a, Paper paper);
    void begin(const std::string& title, const std::string& about);
    void end();
    /// Breaks the page when so much does not fit any more.
    void need(double points);
    void line(const std::string& text);
    /// Broken into lines of the page's width.
    void paragraph(const std::string& text);
    void title(const std::string& text);
    void columns(std::vector<Column> columns);
    /// A row of the columns; the first cell is the box to tick.
    void row(const std::vector<std::string>& cells);
    /// `only`: of these ids; empty for all.
    void cautions(Stage stage, std::string_view step, const Port* port,
                  const std::vector<std::string>& only = {});
    void advance(double points) { y_ += points; }
    [[nodiscard]] double y() const { return y_; }
    [[nodiscard]] double width() const { return width_; }
    [[nodiscard]] Svg& page() { return *page_; }
    [[nodiscard]] Card take() { return std::move(card_); }

  private:
    void new_page();
    void heading();

    const Analysis& a_;
    Card card_;
    double width_ = 0, height_ = 0, y_ = 0;
    std::string title_, about_;
    std::vector<Column> columns_;
    std::optional<Svg> page_;
};

}  // namespace grayrelic
