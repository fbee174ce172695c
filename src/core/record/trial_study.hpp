// SPDX-License-Identifier: GPL-3.0-or-later
// What a table of trials says: which single change goes with failure, what can't be told apart because two
// things were always changed together, and the next run that tells most.
//
// A value explains when every bad run has it and every run with it is bad. Where no single value does, pairs
// of values of two factors are tried the same way. All is exact counting; `by_chance` says how little a small
// table proves.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/record/trial_table.hpp"

namespace grayrelic {

/// A value of a factor, by their places in the table and in what the factor's column holds.
struct FactorValue {
    std::size_t factor = 0;
    std::string value;
    bool operator==(const FactorValue&) const = default;
};

struct ValueCount {
    std::vector<FactorValue> values;  ///< one, or two of different factors
    long with = 0, bad_with = 0;      ///< runs that have all of them; bad ones among these
    long without = 0, bad_without = 0;
    bool explains = false;
    /// How often at least so many of the runs with it would be bad, were the bad ones dealt to the runs by
    /// lot: the tail of the hypergeometric distribution.
    double by_chance = 1;
    std::optional<double> degree_with,
        degree_without;  ///< medians, where degrees are known, of up to 500 runs
};

struct NextTrial {
    std::vector<std::string> values;  ///< one for each factor
    std::size_t from = 0;             ///< row that it is one change away from
    std::size_t factor = 0;           ///< what is changed
    bool other_value =
        false;  ///< the factor had one value only: any other, the text begins with "other than"
    long still = 0, not_any_more = 0;  ///< explanations that call for a bad run, and for a good one
};

struct TrialStudy {
    long runs = 0, bad = 0;
    std::vector<ValueCount> single;  ///< every value of every factor
    std::vector<ValueCount> pairs;   ///< only where no single value explains: those that some bad run has
    std::vector<std::pair<FactorValue, FactorValue>> confounded;
    long confounded_more = 0;  ///< beyond the limit of the list
    /// Rows with the same values and different outcomes.
    std::vector<std::pair<std::size_t, std::size_t>> disagree;
    std::optional<NextTrial> next;
    std::string why;  ///< what is known, and what the next run tells
    /// Those of single, else of pairs, that explain.
    [[nodiscard]] std::vector<const ValueCount*> explanations() const;
};

inline constexpr std::size_t most_confounded = 20'000, most_pairs = 20'000;

[[nodiscard]] TrialStudy study_trials(const TrialTable& table);
/// "host second machine": a factor with its value.
[[nodiscard]] std::string print(const TrialTable& table, const FactorValue& value);
[[nodiscard]] std::string print(const TrialTable& table, const ValueCount& count);

}  // namespace grayrelic
