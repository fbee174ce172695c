// SPDX-License-Identifier: GPL-3.0-or-later
// Trials as a table: a row for each run, a column for each factor, and whether it went wrong. From a CSV file
// or from the dossier's log.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

struct TrialRow {
    long line = 0;                    ///< in the file, from 1; in the log its place, from 1
    std::string id;                   ///< TrialRun::id; empty from a file
    std::vector<std::string> values;  ///< one for each factor
    std::string outcome;
    bool bad = false;
    std::optional<double> degree;
};

struct TrialTable {
    std::string name;  ///< of the file, for messages
    std::vector<std::string> factors;
    std::vector<TrialRow> rows;
    std::vector<std::string> left_out;  ///< columns and runs that do not count, and why: for a person
    std::vector<Error> late;            ///< days that go backwards
};

struct TrialColumns {
    std::string outcome, bad;
    std::string degree;               ///< a column of numbers; empty for none
    std::vector<std::string> ignore;  ///< columns that are no factors: notes
};

inline constexpr std::size_t most_trial_rows = 2'000, most_trial_factors = 60;

/// Every column but the outcome's, the degree's and the ignored ones is a factor. A column called day or date
/// that holds nothing but days says when, and is none. Refused with its line: a column that is not there or
/// twice there, a cell that is missing, more cells than headings, a degree that is no number.
[[nodiscard]] Result<TrialTable> read_trials(std::string_view text, const std::string& name,
                                             const TrialColumns& columns);

/// Of the log: unit, revision and image as they are said, then what the setups name, in the order they first
/// come. A run without an outcome does not count, nor a factor that a counting run does not say; `left_out`
/// names both. `partly` counts as bad.
[[nodiscard]] TrialTable trials_of(const Dossier& dossier);
/// "2.1 (3fa0b1c2)": an image by version and the begin of its sum.
[[nodiscard]] std::string image_name(const ImageFile& image);

/// The log's trials as CSV: id, day, unit, image, outcome, degree_of, degree, expected, plus_minus, repeats,
/// beside, ran_s, ahead_s, note, then the factors.
[[nodiscard]] std::string trials_to_csv(const Dossier& dossier);
/// The same back. `outcome` is one of the words of TrialOutcome; other columns are factors. An id is made
/// where there is none. Refused with its line: an unknown unit or image, days that go backwards, no outcome
/// column, a run beside one that is not there.
[[nodiscard]] Result<std::vector<TrialRun>> trials_from_csv(std::string_view text, const std::string& name,
                                                            const Dossier& dossier);

}  // namespace grayrelic
