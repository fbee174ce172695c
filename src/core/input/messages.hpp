// SPDX-License-Identifier: GPL-3.0-or-later
// Messages that are no key, and what watching one of them costs: how soon a dead device is noticed, how often
// a living one is called dead.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/dossier/map.hpp"

namespace grayrelic {

struct MessageStudy {
    std::string id;
    bool watched = false;
    std::optional<double> notice_s;  ///< at most, from its death: (misses + 1) × period
    std::optional<double>
        false_alarms_day;  ///< where misses fall apart from each other: 86400 ÷ period × share^misses
    std::optional<int> misses_needed;  ///< for at most one false alarm in a hundred days
    Verdict verdict = Verdict::unknown;
    std::string says, todo;
};
[[nodiscard]] MessageStudy study_message(const MapMessage& message);

}  // namespace grayrelic
