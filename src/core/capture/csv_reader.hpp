// SPDX-License-Identifier: GPL-3.0-or-later
// Reads a table of samples (CSV in its dialects, see csv_dialect.hpp) into a Capture: one signal a column.
//
// Columns of 0/1, H/L, high/low, x and z are digital. Any other column of numbers is analogue and is read as
// digital where it crosses a threshold: half way between its lowest and highest value unless the options say
// otherwise, with 10 % of that span as hysteresis on each side; the time of the crossing is interpolated.
// What was decided this way stands in the capture's remarks. Refused, with file and line: rows of another
// width, a time that goes back, fields that are no values, lines and tables beyond the limits. Memory: 8
// bytes an edge and about 3 MB, whatever the number of rows.
#pragma once

#include <filesystem>

#include "core/base/byte_source.hpp"
#include "core/base/progress.hpp"
#include "core/capture/csv_dialect.hpp"

namespace grayrelic {

[[nodiscard]] Result<Capture> read_csv(const ByteSource& source, const std::string& name, Progress& progress,
                                       const CsvOptions& options = {}, const CsvLimits& limits = {});
[[nodiscard]] Result<Capture> read_csv(std::string_view text, const std::string& name, Progress& progress,
                                       const CsvOptions& options = {}, const CsvLimits& limits = {});

}  // namespace grayrelic
