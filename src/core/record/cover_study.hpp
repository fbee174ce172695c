// SPDX-License-Identifier: GPL-3.0-or-later
// What works with what: titles, keys, devices and modes against the functions that they use. Several glitches
// often have one function behind them that is missing.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/base/verdict.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

struct ItemState {
    const CoverItem* item = nullptr;
    /// The last seen at one's own bench; else the last that others said; not_said: nobody tried.
    TrialOutcome outcome = TrialOutcome::not_said;
    std::string source;                       ///< who said so; empty: one's own bench
    std::vector<std::string> says_otherwise;  ///< sources with another outcome: "somebody: fails"
};

struct FunctionState {
    std::string name;
    std::vector<std::string> works_in;     ///< ids of items that work and use it: it works
    std::vector<std::string> glitches_in;  ///< ids of items that do not, and use it
    std::vector<std::string> untried_in;
    bool missing_one = false;  ///< used by all that glitch, by none that works
};

struct CoverStudy {
    std::vector<ItemState> items;
    std::vector<FunctionState> functions;  ///< in the order they first come
    std::vector<std::string> common;       ///< each alone is behind every glitch
    /// Where none is: the least sets of functions that are behind all of them together.
    std::vector<std::vector<std::string>> together;
    std::vector<std::string> unexplained;  ///< items that glitch though all they use works elsewhere
    std::string next;                      ///< the untried item that tells most
    std::string why;
    /// A least list of items that shows each function once: to try after a change.
    std::vector<std::string> shows_all;
};

[[nodiscard]] CoverStudy study_cover(const std::vector<CoverItem>& items);

/// Columns item, kind, outcome, uses, spares ("a|b"), source, note; an item again for another source. Refused
/// with its line: an unknown word, no item.
[[nodiscard]] Result<std::vector<CoverItem>> cover_from_csv(std::string_view text, const std::string& name);
[[nodiscard]] std::string cover_to_csv(const std::vector<CoverItem>& items);
/// With what somebody else found out, under the name of the source: one's own words stay. An item that is not
/// there is added. The same said twice by one source is once.
[[nodiscard]] std::vector<CoverItem> merge_cover(std::vector<CoverItem> items,
                                                 const std::vector<CoverItem>& more,
                                                 const std::string& source, const std::string& day);

}  // namespace grayrelic
