// SPDX-License-Identifier: GPL-3.0-or-later
// Tasks as a person types and edits them.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/dossier/plan.hpp"

namespace grayrelic {

/// "firmware 2-6-10 h after breadboard + parts, 7-21 d": what is done; hours as likely or least-likely-most;
/// what it comes after; days of wait behind its work. Hours are 1 where none are said.
[[nodiscard]] Result<PlanTask> parse_task(std::string_view text);

enum class TaskField { name, least, likely, most, after, wait_least, wait_most, done };
/// Changes one field, as typed. A new name is taken over by what comes after it. Hours and waits that were
/// equal stay so; others must stay in order. Says what is wrong, and changes nothing then.
[[nodiscard]] std::string set_task_field(std::vector<PlanTask>& tasks, std::size_t row, TaskField field,
                                         const std::string& text);
/// What came after it comes after what it came after.
void remove_task(std::vector<PlanTask>& tasks, const std::string& name);

}  // namespace grayrelic
