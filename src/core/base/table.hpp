// SPDX-License-Identifier: GPL-3.0-or-later
// Tables as people keep them: CSV (RFC 4180) with comma, semicolon or tab, comments after #, and headings in
// any order and wording. What the columns mean is the caller's matter.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"

namespace grayrelic {

struct TableRow {
    long line = 0;  ///< in the file, from 1
    std::vector<std::string> cells;
};

struct Table {
    std::string name;  ///< of the file, for messages
    std::vector<TableRow> rows;
};

struct TableLimits {
    std::size_t bytes = 4U << 20U;
    std::size_t rows = 5000;
    std::size_t columns = 200;
};

/// Rows without the empty ones and the comments. Refused with file and line: no UTF-8, nothing in it, too
/// large, a quote that never ends. `what` is what was expected, such as "a table of pins".
[[nodiscard]] Result<Table> read_table(std::string_view text, const std::string& name, std::string_view what,
                                       const TableLimits& limits = {});
/// A heading as a key: lower case, with _ for spaces and dashes.
[[nodiscard]] std::string heading_key(std::string_view cell);
/// The row's cells as such keys.
[[nodiscard]] std::vector<std::string> heading_keys(const TableRow& heading);
/// The cell below a heading, trimmed, as it was before table_cell() defused it; empty where there is none.
[[nodiscard]] std::string cell_below(const std::vector<std::string>& keys, const TableRow& row,
                                     std::string_view key);
/// What a spreadsheet would compute; never to be taken for text, nor written so that it computes.
[[nodiscard]] bool is_formula(std::string_view cell);
/// The cell as it is written: quoted where it must be, formulas defused.
[[nodiscard]] std::string table_cell(std::string text, char delimiter = ',');

}  // namespace grayrelic
