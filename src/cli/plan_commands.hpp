// SPDX-License-Identifier: GPL-3.0-or-later
// What check shares with plan.
#pragma once

#include "core/job/outlook.hpp"
#include "core/json/json.hpp"

namespace grayrelic::cli {

/// The six gates in their order: gate, verdict, blocked_by, and more.
[[nodiscard]] Json gates_json(const Outlook& outlook);

}  // namespace grayrelic::cli
