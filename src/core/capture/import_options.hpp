// SPDX-License-Identifier: GPL-3.0-or-later
// How a file is to be understood where it does not say so itself, or says it wrong, as words that a dossier
// keeps with the capture.
//
//   separator    , ; tab space            unit         s ms us ns ps, of the time column
//   decimal      . ,                      rate         "24 MHz": rows or samples are evenly spaced
//   first_row    line of the first row    threshold    where analogue values change the level
//   time_column  its number, or none      raw          1 2 4 8 16 32 lines in a packed sample, with raw_order
//                                                      (lsb, msb) and raw_bytes (little, big)
#pragma once

#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/capture/capture_file.hpp"

namespace grayrelic {

using ReadAs = std::map<std::string, std::string>;

/// Unknown words and values out of range are usage errors that name the word.
[[nodiscard]] Result<CaptureOptions> capture_options(const ReadAs& words);
/// The units of time that `unit` takes, coarse to fine.
[[nodiscard]] const std::vector<std::pair<std::string, int>>& time_units();

}  // namespace grayrelic
