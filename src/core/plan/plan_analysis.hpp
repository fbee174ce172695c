// SPDX-License-Identifier: GPL-3.0-or-later
// What follows for the job as a whole.
#pragma once

#include "core/plan/parts_list.hpp"

namespace grayrelic {

struct PlanAnalysis {
    PartsList parts;
};

}  // namespace grayrelic
