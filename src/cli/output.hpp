// SPDX-License-Identifier: GPL-3.0-or-later
// Printing for the command line: JSON with keys in a fixed order, tables for people, errors with exit status.
#pragma once

#include <fmt/format.h>

#include <cstdio>
#include <optional>
#include <string>
#include <vector>

#include "core/analysis/finding.hpp"
#include "core/base/result.hpp"
#include "core/base/statistics.hpp"
#include "core/base/time.hpp"
#include "core/decode/decoder.hpp"
#include "core/json/json.hpp"

namespace grayrelic::cli {

inline constexpr int fine = 0;
inline constexpr int bad_answer = 1;
inline constexpr int wrong_usage = 2;
inline constexpr int unreadable = 3;

/// Prints text for people: names from a hostile file must not steer the terminal.
void put(std::FILE* where, const std::string& text);
template <class... T>
void say(fmt::format_string<T...> format, T&&... values) {
    put(stdout, fmt::format(format, std::forward<T>(values)...));
}
template <class... T>
void say(std::FILE* where, fmt::format_string<T...> format, T&&... values) {
    put(where, fmt::format(format, std::forward<T>(values)...));
}

/// Prints the one message and gives the exit status that belongs to it.
int report_error(const Error& error);
void print_json(const Json& json);

[[nodiscard]] Json to_json(const Statistics& s);
[[nodiscard]] Json to_json(std::optional<Time> t);  ///< seconds or null
[[nodiscard]] Json to_json(const FrameExtra& value);
[[nodiscard]] Json unsure_json(const std::vector<Unsure>& list);
/// "n 412  min 95.0 ns  median 158 ns  max 330 ns"
[[nodiscard]] std::string show(const Statistics& s);

/// Rows of cells, padded to columns; the first row is the heading.
void print_table(const std::vector<std::vector<std::string>>& rows);
/// Those of one stage, or of all when it is empty; the exit status is bad when one is a Stop.
/// `gates` go first into the JSON.
int print_findings(const Findings& findings, std::optional<Stage> stage, bool json, Json gates = {});
[[nodiscard]] Error usage_error(std::string found, std::string expected);

}  // namespace grayrelic::cli
