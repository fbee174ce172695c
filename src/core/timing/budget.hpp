// SPDX-License-Identifier: GPL-3.0-or-later
// Budgets: small questions of time that a bridge must answer, each with its numbers, what follows, and what
// to do.
//
//   queue      events come in bursts and are taken away more slowly: how deep must the queue be?
//   watchdog   is the longest round of the loop shorter than the watchdog's shortest time?
//   latency    scan + debounce + report: from the key to the host
//   startup    is the bridge ready before the host stops looking for it?
//   press      how long must an injected press be held so that somebody else's scan sees it?
//   text       characters to a slow old mechanism: does the buffer hold, is anything lost?
//   autofire   which rates are possible when the host's own polling is the clock?
//   memory     does the memory answer within the bus cycle?
//   frame      does the work fit into one picture frame, or its blanking?
//   loop       does a software loop give the wanted rate?
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/quantity.hpp"
#include "core/base/verdict.hpp"
#include "core/dossier/timing.hpp"

namespace grayrelic {

struct BudgetField {
    std::string key;
    std::string label;
    std::string about;
    Unit unit = Unit::second;
    double usual = 0;       ///< what a new budget begins with, assumed
    bool optional = false;  ///< 0 when missing
};
struct BudgetWord {
    std::string key;
    std::string label;
    std::string about;
};
struct BudgetDescription {
    BudgetKind kind;
    std::string label;     ///< "Queue depth"
    std::string question;  ///< for people
    std::vector<BudgetField> fields;
    std::vector<BudgetWord> words;
};
[[nodiscard]] const BudgetDescription& description_of(BudgetKind kind);

struct BudgetFigure {
    std::string label;
    double value = 0;
    Unit unit = Unit::second;
    std::string note;
};

struct BudgetResult {
    Verdict verdict = Verdict::unknown;
    std::string says;                ///< one short sentence
    std::string todo;                ///< what to do when it does not hold
    double used = 0, available = 0;  ///< the figure that decides, in `unit`; available 0: there is no limit
    Unit unit = Unit::second;
    std::vector<BudgetFigure> figures;
    std::vector<double> bars;  ///< a distribution to draw, in `bar_unit`; may be empty
    Unit bar_unit = Unit::second;
    std::string bars_about;
    std::vector<std::string> assumed;  ///< labels of the numbers that nobody has measured
};

/// When the host polls, or events arrive: the times of the budget's `capture` and `event` words, found by the
/// caller; empty when it has none.
[[nodiscard]] Result<BudgetResult> evaluate_budget(const Budget& budget, const std::vector<Time>& events,
                                                   Progress& progress);

/// A thin margin: less than a tenth of what is available is Doubt.
[[nodiscard]] Verdict judge_budget(double used, double available);

/// A new one with its usual numbers, each assumed.
[[nodiscard]] Budget usual_budget(BudgetKind kind, std::string id);
/// "queue:burst=20,gap=1ms,drain=8ms" for the command line.
[[nodiscard]] Result<Budget> parse_budget(std::string_view text);

}  // namespace grayrelic
