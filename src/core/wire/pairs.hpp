// SPDX-License-Identifier: GPL-3.0-or-later
// Balanced lines: which two nets are a pair, and whether it is the right way round, terminated, and at rest
// while nobody drives it. A pair is known by the signs that its pins' names end in: "1+" and "1-", "TX+" and
// "TX-".
#pragma once

#include "core/wire/links.hpp"

namespace grayrelic {

/// Adds what is wrong to the lines of the study.
void judge_pairs(const Circuit& circuit, LinkStudy& study);

}  // namespace grayrelic
