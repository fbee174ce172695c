// SPDX-License-Identifier: GPL-3.0-or-later
// Which reading is likely the slip, when readings contradict each other.
//
// A joining reading is suspected when without it the contradicted points fall apart; a separating one when
// everything else joins its points. Of those that explain equally much, the one that leaves the more likely
// board (likelihood.hpp) comes first.
#pragma once

#include <string>
#include <vector>

#include "core/trace/likelihood.hpp"
#include "core/trace/nets.hpp"

namespace grayrelic {

struct Suspect {
    int row = 0;               ///< of the ledger, from 0
    Says said = Says::joined;  ///< as it stands in the ledger
    int explains = 0;          ///< contradictions that vanish when it is read the other way
    int of = 0;                ///< contradictions of this net in all
    double weight = 0;         ///< higher is likelier; only the order means something
    std::string why;
};

/// Best first, at most this many; empty without contradictions.
[[nodiscard]] std::vector<Suspect> suspects(const NetState& state, const Likelihood& prior,
                                            std::size_t most = 10);

}  // namespace grayrelic
