// SPDX-License-Identifier: GPL-3.0-or-later
// The continuity ledger as text: one reading as a person types it, and the whole ledger as CSV.
//
// A reading is "beep", "open", a resistance ("4k7", "0.3", "OL" for over the range), or a diode drop in
// volts, one way ("0.62V", red probe at the first point) or both ("0.62V/OL"). Format:
// docs/formats/ledger.md.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/dossier/reading_text.hpp"
#include "core/dossier/trace.hpp"

namespace grayrelic {

/// What a reading says about its two points.
enum class Says { joined, apart };
[[nodiscard]] Says says(const MeterReading& r, double beep_below_ohm);

/// One line as typed at the bench: "J1.3 U2.14 beep", "U2.1 U2.20 4k7 after cleaning". The word "b" is short
/// for beep, "o" for open.
[[nodiscard]] Result<MeterReading> parse_entry(std::string_view line);

struct Ledger {
    std::vector<MeterReading> readings;  ///< in the file's order
    std::vector<PointAlias> aliases;
};

inline constexpr std::size_t most_readings = 200'000;

/// Columns a, b, reading; also tool, date, note, set_aside and unit. A row whose reading is "alias" says that
/// a is another name of b. The first fault refuses the whole file, with line and column.
[[nodiscard]] Result<Ledger> read_ledger(std::string_view text, const std::string& name);
[[nodiscard]] std::string write_ledger(const std::vector<MeterReading>& readings,
                                       const std::vector<PointAlias>& aliases = {});

}  // namespace grayrelic
