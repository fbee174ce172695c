// SPDX-License-Identifier: GPL-3.0-or-later
// A switch matrix: which key connects which row with which column, with or without a diode. Rows are strobed
// one after the other, columns are read. A diode lets current pass from the column's pull-up into the strobed
// row and no other way.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/dossier/map.hpp"

namespace grayrelic {

struct MatrixKey {
    std::string name;  ///< a legend; two keys may have the same
    std::size_t row = 0, column = 0;
    bool diode = false;
    long line = 0;     ///< of the table; 0: of none
    std::string id{};  ///< MapKey::id; may be empty
    double x = 0, y = 0, width = 1, height = 1;
    bool placed = false;  ///< x … height are known
};

struct MatrixModel {
    std::vector<std::string> rows, columns;
    std::vector<MatrixKey> keys;
    /// The first key at a position; nothing at a vacancy.
    [[nodiscard]] std::optional<std::size_t> at(std::size_t row, std::size_t column) const;
    /// Positions without a key.
    [[nodiscard]] std::size_t vacancies() const;
    /// Keys that stand where an earlier one stands: two contacts beside each other, not told apart.
    [[nodiscard]] std::vector<std::pair<std::size_t, std::size_t>> doubles() const;
    /// Legends that more than one key has.
    [[nodiscard]] std::vector<std::string> same_legends() const;
};

/// KEYS.csv: key, row, column, and diode (yes or no); also x, y, width, height in usual key widths. Lines
/// appear in the order of the file, or by number where all are numbers. Refused with file and line: a
/// position a second time, a key without row or column, more than 256 lines either way.
[[nodiscard]] Result<MatrixModel> read_matrix_table(std::string_view text, const std::string& name);
[[nodiscard]] std::string write_matrix_table(const MatrixModel& model);

/// What was pressed one after the other, and what answered: lines `key,row,column` from a guided walk, or the
/// strobes and senses of a capture decoded as "matrix". Several answers to one key are several positions of
/// it.
struct WalkPress {
    std::string key;
    std::vector<std::pair<std::string, std::string>> closed;  ///< row and column
};
struct WalkResult {
    MatrixModel model;
    std::vector<std::string>
        doubts;  ///< keys that answered at no or at several positions, positions answered twice
};
[[nodiscard]] WalkResult matrix_from_walk(const std::vector<WalkPress>& presses);
/// Lines that a meter joined while a key was held, without knowing which are rows: "A3-B7". The lines parted
/// into two sides so that every key joins one of each; nothing where no such parting exists, with the keys
/// that contradict.
struct ProbeResult {
    std::optional<MatrixModel> model;
    std::vector<std::string> contradicting;  ///< keys on a ring of odd length
    bool several = false;  ///< lines that hang together in more than one group could be swapped
};
struct ProbedKey {
    std::string key, a, b;
};
[[nodiscard]] ProbeResult matrix_from_probing(const std::vector<ProbedKey>& keys);

/// A table of what a meter joined while each key was held: key, a, b. Refused with file and line.
[[nodiscard]] Result<std::vector<ProbedKey>> read_probe_table(std::string_view text, const std::string& name);

/// Of a dossier: the keys that have a row and a column known to it. `outside`: ids of those that name a line
/// that the matrix has not.
[[nodiscard]] MatrixModel matrix_of(const DeviceMap& map, std::vector<std::string>* outside = nullptr);

}  // namespace grayrelic
