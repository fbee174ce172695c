// SPDX-License-Identifier: GPL-3.0-or-later
// The page card of the demo: its circuit, the scans of its only specimen, the ledger of a first evening at
// the bench with one slip in it, and a netlist found elsewhere with two errors.
#pragma once

#include <utility>

#include "standin/board_artist.hpp"
#include "standin/hidden_board.hpp"

namespace grayrelic::standin {

/// The true circuit; the port is the dossier's J1.
[[nodiscard]] HiddenBoard page_card(const Port& j1, const PartLibrary& parts);

struct PageCard {
    Dossier dossier;  ///< with all of the trace section; scans lie at scans/front.png and scans/back.png
    PaintedScan front, back;
};
[[nodiscard]] PageCard page_card_dossier(const Dossier& with_port, const PartLibrary& parts);

}  // namespace grayrelic::standin
