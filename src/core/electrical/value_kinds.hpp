// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of values, one function each: used by values.cpp only.
#pragma once

#include "core/electrical/values.hpp"

namespace grayrelic {

/// The inputs of one kind, complete and in range.
struct KnownInputs {
    const ValueInputs& values;
    Series series = Series::e24;
    [[nodiscard]] double at(std::string_view key) const { return values.find(key)->second; }
    [[nodiscard]] std::optional<double> maybe(std::string_view key) const {
        const auto it = values.find(key);
        return it == values.end() ? std::nullopt : std::optional(it->second);
    }
};

[[nodiscard]] Result<ValueResult> rc_delay_value(const KnownInputs& in);
[[nodiscard]] Result<ValueResult> divider_value(const KnownInputs& in);
[[nodiscard]] Result<ValueResult> pull_up_value(const KnownInputs& in);
[[nodiscard]] Result<ValueResult> led_value(const KnownInputs& in);
[[nodiscard]] Result<ValueResult> regulator_value(const KnownInputs& in);
[[nodiscard]] Result<ValueResult> battery_value(const KnownInputs& in);
[[nodiscard]] Result<ValueResult> crystal_value(const KnownInputs& in);
[[nodiscard]] Result<ValueResult> ladder_value(const KnownInputs& in);
[[nodiscard]] Result<ValueResult> switch_path_value(const KnownInputs& in);
[[nodiscard]] Result<ValueResult> filter_value(const KnownInputs& in);
[[nodiscard]] Result<ValueResult> pulse_width_value(const KnownInputs& in);

}  // namespace grayrelic
