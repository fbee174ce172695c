// SPDX-License-Identifier: GPL-3.0-or-later
// What each kind of option makes of its checked values. For reply_option.cpp only; the table stands in
// option_kinds.cpp.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/text.hpp"
#include "core/timing/reply_option.hpp"

namespace grayrelic {

/// The values of an option by key, each checked for its size; those of a kind's required keys are there.
struct OptionValues {
    std::map<std::string, Time, std::less<>> times;
    std::map<std::string, double, std::less<>> numbers;
    [[nodiscard]] bool has(std::string_view key) const { return times.count(key) != 0; }
    [[nodiscard]] Time time(std::string_view key) const {
        const auto it = times.find(key);
        return it == times.end() ? Time{} : it->second;
    }
    [[nodiscard]] std::optional<double> number(std::string_view key) const {
        const auto it = numbers.find(key);
        return it == numbers.end() ? std::nullopt : std::optional(it->second);
    }
};

/// The usage error of an option whose numbers make no sense.
[[nodiscard]] Failure wrong_option(const BuildOption& option, const std::string& found,
                                   const std::string& expected);
/// Adds what is the kind's own; `measured` entry latencies are taken out of their list where the kind has
/// any.
[[nodiscard]] Status fill_model(const BuildOption& option, const OptionValues& values,
                                std::vector<Time>& measured, ReplyModel& model);

}  // namespace grayrelic
