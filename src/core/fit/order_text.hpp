// SPDX-License-Identifier: GPL-3.0-or-later
// Tiers, what is charged beside them, and stock that becomes useless, as a person types them.
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.hpp"
#include "core/dossier/fit.hpp"

namespace grayrelic {

/// "5 10.80 4.20 100x80": boards, price of all of them, shipping, and the largest size it is for; "5: 10.80 +
/// 4.20" is taken too.
[[nodiscard]] Result<OrderTier> parse_tier(std::string_view text);
/// "extra slots 12", "extra gold 8 + 0.50 each", "extra small holes 15 hole below 0.3": what it is, its price
/// for the order, for each board, and the limit (track, gap, ring, hole, hole-gap) below which it is charged.
[[nodiscard]] Result<OrderExtra> parse_extra(std::string_view text);
/// "useless 5 boards revision 1 3.20": how many, what, what each of them cost.
[[nodiscard]] Result<ObsoleteStock> parse_obsolete(std::string_view text);
[[nodiscard]] std::string extra_text(const OrderExtra& extra);

}  // namespace grayrelic
