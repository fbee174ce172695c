// SPDX-License-Identifier: GPL-3.0-or-later
// The old device's keys as a table (docs/formats/keys.md), and as lines that a person types while walking
// along its rows.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/dossier/map.hpp"

namespace grayrelic {

/// key (or legend), and where there are any: id, kind, x, y, width, height, code, release, sends, row,
/// column, diode, meaning, note. Keys without x and y are laid in a row behind each other, ten a row. Codes
/// are as `evidence` says. Refused with file and line: two keys that overlap, a position of the matrix a
/// second time, words and numbers that are none, more than 4096 keys.
[[nodiscard]] Result<std::vector<MapKey>> read_device_table(std::string_view text, const std::string& name,
                                                            const Evidence& evidence);
[[nodiscard]] std::string write_device_table(const std::vector<MapKey>& keys);

/// The keys that lie over each other by more than a twentieth of a key, as pairs of places in the list; at
/// most `most`.
[[nodiscard]] std::vector<std::pair<std::size_t, std::size_t>> overlapping(const std::vector<MapKey>& keys,
                                                                           std::size_t most = 1);

/// The codes with a modifier of the old side as one line: "shift 0x5C text:&; code 0x1F key:f1", and back.
/// Refused: a part without modifier and code, a meaning that is none, a modifier twice.
[[nodiscard]] std::string print_shifted(const std::vector<ShiftedCode>& shifted);
[[nodiscard]] Result<std::vector<ShiftedCode>> parse_shifted(std::string_view text);

/// "7 0x1C" or "ENTER 0x0D 2x1 key:enter": the legend, and in any order a code, a size in key widths, a
/// meaning. Placed right of the last key of the list; "/" begins a new row below, "+2" leaves two widths
/// free. Refused: no legend.
struct WalkLine {
    std::string legend, code, meaning;
    double width = 1, height = 1, skip = 0;
    bool new_row = false;
};
[[nodiscard]] Result<WalkLine> parse_walk_line(std::string_view text);
/// The key of such a line behind the others, with a free id and its place.
[[nodiscard]] MapKey walked_key(const std::vector<MapKey>& keys, const WalkLine& line);
/// An id from the legend that no key of the list has.
[[nodiscard]] std::string free_key_id(const std::vector<MapKey>& keys, std::string_view legend);

}  // namespace grayrelic
