// SPDX-License-Identifier: GPL-3.0-or-later
// Answers of a bench meter over SCPI (IEEE 488.2 numbers; 9.9E37 means over the range).
#pragma once

#include <string_view>

#include "core/base/result.hpp"
#include "core/dossier/trace.hpp"

namespace grayrelic {

/// A resistance in ohms, as MEAS:RES? answers.
[[nodiscard]] Result<MeterReading> parse_meter_answer(std::string_view line);

}  // namespace grayrelic
