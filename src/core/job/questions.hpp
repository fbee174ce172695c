// SPDX-License-Identifier: GPL-3.0-or-later
// What is not known yet, in the order of what being wrong costs for each minute of work:
//
//     loss = chance × (respin + days × worth of a day + worth of what dies)
//
// Gathered from findings, pins, undecided parts, what the kind of job always asks, and what was typed. The
// chances by grade of evidence, and what is taken where money or days are not known, are decision 0029.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/analysis/analysis.hpp"

namespace grayrelic {

/// How far an answer can be trusted.
enum class Grade { contradicted, missing, assumed, unproven, deduced, documented, measured };
template <>
inline constexpr std::array words_of<Grade>{"contradicted", "missing",    "assumed", "unproven",
                                            "deduced",      "documented", "measured"};
/// Of an answer of that grade being wrong.
[[nodiscard]] double chance_of(Grade grade);
[[nodiscard]] Grade grade_of(EvidenceKind kind);

/// What making the board again costs, and what a day and what dies are worth.
struct Stakes {
    double respin_money = 25, respin_days = 14;
    bool money_taken = true, days_taken = true;  ///< nobody said: taken, as the decision says
    double day_worth = 1, hour_worth = 0;
    bool day_taken = true, hour_taken = true;
    std::string dies;             ///< what can't be bought again: the unit's name, or "the relic"
    std::optional<double> worth;  ///< of it; nothing: before all money
    std::string currency;
};
[[nodiscard]] Stakes stakes_of(const Analysis& a);

struct OpenQuestion {
    std::string id;  ///< stable, for what a person says of it: "pin J1/6", "kind who-drives"
    std::string says;
    std::string why;
    std::string how;    ///< the cheapest way to settle it
    std::string tried;  ///< as the person says
    Stage stage = Stage::plan;
    FindingPlace place;
    Grade grade = Grade::missing;
    double chance = 0.5;
    AtStake at_stake = AtStake::little;
    double money = 0, days = 0;  ///< of being wrong
    bool before_all = false;     ///< something without a worth dies of it
    double minutes = 10;
    std::optional<InstrumentKind> settled_with;  ///< what `how` takes
    double loss = 0;                             ///< without what has no worth
    std::string arithmetic;                      ///< how the loss comes about
    std::string assumed;                         ///< the answer it has, which is only assumed; empty for none
    [[nodiscard]] double per_minute() const { return loss / minutes; }
    /// Being wrong costs a board or more, and nobody knows: nothing is ordered before it is settled.
    [[nodiscard]] bool decides() const { return at_stake != AtStake::little && chance >= 0.5; }
};

struct SettledQuestion {
    std::string id, says;
    Fact<std::string> answer;
};

struct Questions {
    std::vector<OpenQuestion> open;  ///< the first to settle first
    std::vector<SettledQuestion> settled;
    [[nodiscard]] const OpenQuestion* find(std::string_view id) const;
};

[[nodiscard]] Questions gather_questions(const Analysis& a);
/// The cost in words: "kills Calder 2, 25 € and 14 days".
[[nodiscard]] std::string wrong_cost(const OpenQuestion& q, const Stakes& stakes);

}  // namespace grayrelic
