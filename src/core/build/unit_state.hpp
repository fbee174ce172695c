// SPDX-License-Identifier: GPL-3.0-or-later
// A unit on the bench: the plan of its board, which parts are on, whether what is printed on them is what was
// drawn, and which joints its meter readings have proven.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/build/assembly.hpp"
#include "core/build/joint_sheet.hpp"
#include "core/build/markings.hpp"
#include "core/dossier/unit_build.hpp"

namespace grayrelic {

struct PartOnUnit {
    std::string ref;
    int step = 0;
    bool fitted = false;
    std::string as_fitted;               ///< "47 kΩ ± 5 %"; empty: nothing was read or measured
    Verdict verdict = Verdict::unknown;  ///< of the value against what was drawn
    std::string says;                    ///< "ten times what was drawn"
    std::string consequence;             ///< what Wire computes of it; empty: no value rests on it
};
struct JointOnUnit {
    JointLine line;
    std::optional<bool> beeped;          ///< of the unit's last reading between the two; nothing: not taken
    Verdict verdict = Verdict::unknown;  ///< holds: as expected; stop: not
};
struct UnitOnBench {
    std::string unit;
    BuildBoard board;
    AssemblyPlan plan;
    JointSheet sheet;
    std::vector<PartOnUnit> parts;    ///< in the plan's order
    std::vector<JointOnUnit> joints;  ///< as the sheet's lines
    int fitted = 0, proven = 0, wrong = 0;
    std::optional<int> next_step;  ///< the first with a part that is not on
    /// Lines that are to be taken before the next step covers them.
    std::vector<std::size_t> due;
};
/// Nothing where the board has no circuit.
[[nodiscard]] std::optional<UnitOnBench> unit_on_bench(const Analysis& a, const UnitBuild& build);

/// A value as it was read or measured against what was drawn. `tolerance` of the drawn one.
struct ValueOnPart {
    Verdict verdict = Verdict::unknown;
    double value = 0;
    std::string says;
};
[[nodiscard]] ValueOnPart judge_fitted(const FittedPart& fitted, double drawn, bool farads, double tolerance);

}  // namespace grayrelic
