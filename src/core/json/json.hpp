// SPDX-License-Identifier: GPL-3.0-or-later
// The one place that brings in the JSON library, for what writes JSON. Readers use json_node.hpp, which does
// not: the library costs seconds in every file that includes it.
#pragma once

#include <nlohmann/json.hpp>

namespace grayrelic {

/// Members stay in the order in which they were put in, so that files differ well in version control.
using Json = nlohmann::ordered_json;
/// Members are sorted: for states that are compared and summed.
using SortedJson = nlohmann::json;

}  // namespace grayrelic
