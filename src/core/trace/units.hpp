// SPDX-License-Identifier: GPL-3.0-or-later
// One ledger, several boards: which readings are of the one that is looked at, and what those of the others
// say otherwise. A contradiction is within one unit; between two it is a difference.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/dossier/dossier.hpp"
#include "core/trace/nets.hpp"

namespace grayrelic {

/// The unit that is looked at: the one that was chosen, else that which most readings name, of equally many
/// the first one named. Empty while no reading names a unit: then all are of the same board.
[[nodiscard]] std::string shown_unit(const Dossier& dossier);
/// Whether what was taken on `unit` counts while `shown` is looked at. What names no unit may be of any: it
/// counts.
[[nodiscard]] bool counts_for(std::string_view unit, std::string_view shown);
/// Whether readings name more than one unit, and how many name none.
struct UnitsNamed {
    std::vector<std::string> units;  ///< as they first appear
    long without = 0;                ///< readings that count and name none
};
[[nodiscard]] UnitsNamed units_named(const std::vector<MeterReading>& readings);

/// A reading of another unit that says otherwise than the nets of the one that is looked at.
struct UnitDifference {
    std::string unit;
    int row = 0;               ///< in the ledger, from 0
    Says says = Says::joined;  ///< there; here it is proven otherwise
};
inline constexpr std::size_t most_unit_differences = 500;
/// `points` must know the points of the nets; at most most_unit_differences.
[[nodiscard]] std::vector<UnitDifference> compare_units(const std::vector<MeterReading>& readings,
                                                        const NetState& nets, const PointTable& points,
                                                        double beep_below_ohm, std::string_view shown);

}  // namespace grayrelic
