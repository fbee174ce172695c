// SPDX-License-Identifier: GPL-3.0-or-later
// A reading of the meter as a person writes it: "beep", "open", "4k7", "0.62V/OL".
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.hpp"
#include "core/dossier/trace.hpp"

namespace grayrelic {

/// Kind and values only. Impossible ones are refused: below 0 Ω, above 1 TΩ, diode drops above 10 V.
[[nodiscard]] Result<MeterReading> parse_reading(std::string_view text);
/// "beep", "open", "4.7 kΩ", "0.62 V / OL"; reads back to the same reading.
[[nodiscard]] std::string show_reading(const MeterReading& r);
/// The same in plain ASCII, for files.
[[nodiscard]] std::string write_reading(const MeterReading& r);

}  // namespace grayrelic
