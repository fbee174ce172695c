// SPDX-License-Identifier: GPL-3.0-or-later
// Pin tables as CSV: in from files and from what a spreadsheet puts on the clipboard, out for both.
//
// Columns by their heading, in any order: pin, name, driver, family, volts_max, idle, note, and every other
// key of pin_fields(); common other headings are understood. Without a heading the columns are in that order.
// Delimiters are comma, semicolon and tab. A row may carry evidence, source, tool and date. Nothing is taken
// by half: the first fault refuses the whole table, with row and column. Format: docs/formats/pins.md.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/dossier/port.hpp"
#include "core/port/connector.hpp"

namespace grayrelic {

struct PinTableOptions {
    const Connector* connector = nullptr;  ///< pins must be among its contacts
    std::string numbering;
    Evidence evidence;  ///< of facts whose row does not say
};

struct PinTable {
    std::vector<Pin> pins;              ///< in the table's order
    std::vector<std::string> left_out;  ///< headings that mean nothing here
};

inline constexpr std::size_t most_pin_table_bytes = 4U << 20U;
inline constexpr std::size_t most_pin_table_rows = 5000;

[[nodiscard]] Result<PinTable> read_pin_table(std::string_view text, const std::string& name,
                                              const PinTableOptions& options = {});
/// The columns of the command line's contract first, others where a pin has them. Reads back to the same
/// values; of the evidence, each row carries that of its name.
[[nodiscard]] std::string write_pin_table(const std::vector<Pin>& pins, char delimiter = ',');

}  // namespace grayrelic
