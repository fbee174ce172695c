// SPDX-License-Identifier: GPL-3.0-or-later
// A person's own text with places to be filled in: {name}. A line with a place that every item has of its own
// is repeated for each item. {{ and }} stand for a brace.
#pragma once

#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"

namespace grayrelic {

using FormValues = std::map<std::string, std::string, std::less<>>;

struct FormItems {
    std::vector<std::string> keys;   ///< a line with one of them is repeated
    std::vector<FormValues> values;  ///< of each item
};

/// `groups`: kinds of items; a line repeats for the first kind of which it has a key. Refused with the form's
/// line: a place that nothing fills, texts above 64 KiB, more than 16 MiB made. `expected` names the places
/// there are.
[[nodiscard]] Result<std::string> fill_form(std::string_view form, const FormValues& all,
                                            const std::vector<FormItems>& groups,
                                            const std::string& expected);

/// A name as C takes one: letters, digits and _; upper case, or as it is.
[[nodiscard]] std::string c_name(std::string_view text, bool upper = true);

}  // namespace grayrelic
