// SPDX-License-Identifier: GPL-3.0-or-later
// The report's pieces of HTML: escaped text, marks, evidence, tables.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/analysis/finding.hpp"
#include "core/base/time.hpp"
#include "core/dossier/fact.hpp"

namespace grayrelic::html {

[[nodiscard]] std::string e(std::string_view text);  ///< escaped
/// The shape of a verdict or severity, by its word, so that it never rests on colour alone.
[[nodiscard]] std::string mark(std::string_view word);
[[nodiscard]] std::string mark(Verdict v);
/// "measured: logic probe, 2026-01-02"; an assumed one is set in italics.
[[nodiscard]] std::string evidence(const Evidence& ev);
[[nodiscard]] std::string time(const std::optional<Time>& t);  ///< escaped; a dot for none
[[nodiscard]] std::string number(double value, int decimals);
[[nodiscard]] std::string sub(std::string_view html);  ///< set in the secondary colour
[[nodiscard]] std::string h3(std::string_view text);   ///< escaped
[[nodiscard]] std::string paragraph(std::string_view html, bool secondary = false);

struct Column {
    std::string_view heading;
    bool figure = false;  ///< to the right, in the figures' face
};

/// Cells are HTML: what comes from outside goes through e(). A column without a word is left out.
class Table {
  public:
    explicit Table(std::vector<Column> columns) : columns_(std::move(columns)) {}
    void row(std::vector<std::string> cells);
    [[nodiscard]] bool empty() const { return rows_.empty(); }
    [[nodiscard]] std::string html() const;  ///< nothing without rows

  private:
    std::vector<Column> columns_;
    std::vector<std::vector<std::string>> rows_;
};

/// A list is cut at so many rows in the report, and says so.
inline constexpr std::size_t most_rows = 2000;
/// "and 3,000 more, in the dossier"
[[nodiscard]] std::string more_rows(std::size_t all);

}  // namespace grayrelic::html
