// SPDX-License-Identifier: GPL-3.0-or-later
// What the stand-in's layout program is given of a dossier: its circuit with packages, or its traced parts
// and netlist.
#pragma once

#include "core/dossier/dossier.hpp"
#include "core/library/data_library.hpp"
#include "standin/fab_maker.hpp"

namespace grayrelic::standin {

/// With `faults` the first connector is mirrored, a net is open and another one too thin: a board that should
/// not be ordered.
/// `board`: of this one of the dossier's, by the circuit that it is held against; else the dossier's own.
[[nodiscard]] Result<FabPlan> fab_plan_of(const Dossier& dossier, const DataLibrary& data, bool faults,
                                          const std::string& board = {});

}  // namespace grayrelic::standin
