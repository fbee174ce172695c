// SPDX-License-Identifier: GPL-3.0-or-later
// Heights with tolerances added up: what is left at nominal, in the worst case, and by the root of the sum of
// squares. Worst case asks whether it always fits; the root whether it nearly always does when the parts'
// deviations are independent.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/base/verdict.hpp"

namespace grayrelic {

struct StackItem {
    std::string what;
    double mm = 0;               ///< positive or 0
    double plus = 0, minus = 0;  ///< how much more or less it can be; both positive
    bool gives = false;          ///< room; else it takes it
    long line = 0;
};

struct StackRoom {
    double nominal_mm = 0;
    double worst_min_mm = 0, worst_max_mm = 0;
    double rss_min_mm = 0, rss_max_mm = 0;  ///< about the middle of each tolerance band
    Verdict verdict = Verdict::unknown;     ///< stop: nominal ≤ 0; doubt: worst_min ≤ 0
};
[[nodiscard]] StackRoom room_of(const std::vector<StackItem>& items);

/// Columns what, mm, plus, minus, sign (+ gives room, − takes it); plus and minus without sign. Refused with
/// its line: a length or a tolerance below zero, no line that gives room (a stack without a lid).
[[nodiscard]] Result<std::vector<StackItem>> read_stack(std::string_view text, const std::string& name);

/// A button over a switch.
struct ButtonTravel {
    StackRoom gap;  ///< between stem and switch at rest
    double travel_mm = 0, travel_plus = 0, travel_minus = 0;
    double actuates_mm = 0, actuates_plus = 0;
    double endures_mm = 0, endures_minus = 0;
};
struct ButtonRoom {
    double preload_mm = 0;  ///< least gap at rest: below 0 the switch is pressed all the time
    double spare_mm = 0;    ///< travel left when the latest switch has closed, at the least
    double crush_mm = 0;    ///< travel of the switch left when the button is at its stop, at the least
    Verdict verdict = Verdict::unknown;  ///< stop where one is below 0 at nominal, doubt in the worst case
};
[[nodiscard]] ButtonRoom room_of(const ButtonTravel& button);

}  // namespace grayrelic
