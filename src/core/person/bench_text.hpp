// SPDX-License-Identifier: GPL-3.0-or-later
// The bench as a person types it, and what its instruments reach.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/person/bench.hpp"

namespace grayrelic {

/// "analyser 24 MHz 8 inputs 5 V small blue one": its kind, then limits in any order; what is none of them is
/// its name. Volts are the most that its inputs take; Hz are an analyser's samples a second, a scope's
/// bandwidth. "1.4 V threshold" is where high begins.
[[nodiscard]] Result<Instrument> parse_instrument(std::string_view text);
/// "soic 120 2": a package, how many were soldered, how many of them came out badly.
[[nodiscard]] Result<SolderRecord> parse_solder(std::string_view text);

/// What a job asks of the bench.
struct BenchNeeds {
    double highest_volts = 0;      ///< the furthest from zero that a pin is said to reach
    std::string where;             ///< "J1.5 +12V"
    std::optional<Time> shortest;  ///< pulse in the captures
    std::string shortest_where;    ///< "STEP in minute"
    bool may_be_a_glitch = false;  ///< it was under three samples
};
/// One sentence each: instruments that a line would hurt, whose samples are too few (a pulse needs four), and
/// what is missing. Empty where nothing is known of either.
[[nodiscard]] std::vector<std::string> bench_reach(const Bench& bench, const BenchNeeds& needs);

}  // namespace grayrelic
