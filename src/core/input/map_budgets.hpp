// SPDX-License-Identifier: GPL-3.0-or-later
// Rate: what the map knows of scan, reports and the host's poll, as budgets of Timing. They are Timing's
// budgets, not others: made here, kept and judged there.
#pragma once

#include <vector>

#include "core/dossier/dossier.hpp"
#include "core/input/layout.hpp"
#include "core/input/scan_budget.hpp"

namespace grayrelic {

/// The most reports that one event makes: 1 for a key that is held, up to 8 for a character behind an accent.
[[nodiscard]] std::size_t most_reports_an_event(const DeviceMap& map, const KeyboardLayout* layout);

/// A latency budget ("map-latency") and a queue budget ("map-queue"), or for a new device at an old host the
/// least injected press ("map-press"), from the map's numbers. Numbers of an earlier one of the same id that
/// the map does not know stay: its limit, its depth, its burst.
[[nodiscard]] std::vector<Budget> budgets_of_map(const Dossier& dossier, const KeyboardLayout* layout,
                                                 const ScanNumbers& numbers, const ScanBudget& scan,
                                                 bool has_matrix);

}  // namespace grayrelic
