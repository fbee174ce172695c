// SPDX-License-Identifier: GPL-3.0-or-later
// Where something stands in a JSON text, so that a wrong value can be reported with its line.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace grayrelic {

/// One step into a document: a member's name, or an element's number.
struct JsonStep {
    std::string key;
    std::size_t index = 0;
    bool is_index = false;
};
using JsonPath = std::vector<JsonStep>;
/// Something stood at `from` in the text and stands at `to` in the document that is read.
struct JsonMove {
    JsonPath to, from;
};

/// The 1-based line on which the value at the path starts; of its nearest parent when it is not there. The
/// text must be well-formed JSON (it has been parsed before).
[[nodiscard]] long line_of(std::string_view text, const JsonPath& path);
/// "ports[0].pins[3].driver"
[[nodiscard]] std::string print_path(const JsonPath& path);
/// The path with the first `to` that it begins with replaced by that move's `from`, move after move.
[[nodiscard]] JsonPath moved_back(JsonPath path, const std::vector<JsonMove>& moves);
[[nodiscard]] long line_at(std::string_view text, std::size_t byte);

/// Values in one file: what a parser builds of so many stays under a gigabyte.
inline constexpr std::size_t most_json_values = 4'000'000;

struct JsonTrouble {
    std::size_t byte = 0;
    std::string found, expected;
};
/// What a parser would not say, or say only when its memory is gone: brackets nested deeper than 64, more
/// than most_json_values values, and a name that an object has twice. Of text that is no JSON it says nothing
/// certain; the parser does that.
[[nodiscard]] std::optional<JsonTrouble> json_trouble(std::string_view text);

}  // namespace grayrelic
