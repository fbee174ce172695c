// SPDX-License-Identifier: GPL-3.0-or-later
// Finds out how a table of samples is written: the delimiter, the decimal mark, headings and units, which
// column is time and in what unit, or the sample rate. Looks at the beginning of the file only.
//
// Fields follow RFC 4180 (quotes, doubled quotes). Known besides: tab and ";" as delimiters, a decimal comma
// where the delimiter is not a comma, comment lines ("#", "//", "%"), lines of metadata before the heading, a
// row of units below it, a byte-order mark, Windows line ends, a delimiter at the end of every row.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

/// What the person knows better than the file.
struct CsvOptions {
    std::optional<double> rate_hz;  ///< samples a second: rows are evenly spaced
    std::optional<int> time_power;  ///< the time column counts 10^this seconds: −9 for nanoseconds
    std::optional<double>
        threshold;                  ///< where an analogue column changes its level, in the column's own unit
    std::optional<char> delimiter;  ///< , ; tab or blank
    std::optional<char> decimal;    ///< . or ,
    std::optional<std::size_t> time_column;  ///< from 1; 0 for none, which then wants a rate
    std::optional<long> first_row;           ///< line number of the first row of values
};

struct CsvLimits {
    std::size_t columns = 4'096;
    std::size_t line_length = 1U << 20U;  ///< bytes
};

struct CsvDialect {
    char delimiter = ',';
    char decimal = '.';
    std::vector<std::string> names;   ///< of all columns, time included; "ch1" and so on without a heading
    std::size_t columns = 0;          ///< in a row; one more than names when every row ends with a delimiter
    std::optional<std::size_t> time;  ///< the column of times or sample numbers
    int time_power = 0;               ///< 10^this seconds is one of the time column's units
    double stated_hz = 0.0;           ///< the rate of a line above the rows, also where times stand in them
    double rate_hz = 0.0;             ///< above 0: samples a second; rows are evenly spaced unless numbered
    bool numbered = false;            ///< with a rate: the time column holds sample numbers
    std::uint64_t data = 0;           ///< where the first row begins, in bytes
    long line = 1;                    ///< its line number
    long heading = 0;                 ///< the line the names came from; 0 for none
    std::vector<Remark> remarks;
};

/// `text` is the beginning of the file, whole lines unless it is all of it. `name` stands in messages.
[[nodiscard]] Result<CsvDialect> find_csv_dialect(std::string_view text, const std::string& name,
                                                  const CsvOptions& options, const CsvLimits& limits = {});

// --- shared with the reader

/// Splits a row; false when it has more than `most` fields. Quotes are taken off, doubled quotes stay.
bool split_csv_row(std::string_view line, char delimiter, std::size_t most,
                   std::vector<std::string_view>& fields);
/// '0', '1', 'x' or 'z'; 0 for what is no digital value. An empty field is 'x'.
[[nodiscard]] char digital_csv_value(std::string_view field);
/// Lines that hold no data wherever they stand: empty, or comments.
[[nodiscard]] bool is_csv_comment(std::string_view line);

}  // namespace grayrelic
