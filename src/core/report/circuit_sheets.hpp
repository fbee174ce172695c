// SPDX-License-Identifier: GPL-3.0-or-later
// The recovered circuit as sheets that draw themselves: each part with what it talks to, connectors, rails
// and small parts. A wire that readings prove is solid; one that only a scan or a netlist says is dashed.
#pragma once

#include <string>
#include <vector>

#include "core/report/svg.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic {

struct CircuitSheet {
    std::string id;  ///< "U2", "rails", "small parts"
    std::string title;
    Svg picture;  ///< A4, landscape, in points
    int wires = 0, unproven = 0;
};

[[nodiscard]] std::vector<CircuitSheet> circuit_sheets(const TraceAnalysis& trace, const Dossier& dossier,
                                                       const PartLibrary& parts);
/// The recovered nets with the best name each: a rail's, a connector's, else of a pin. One with each net
/// proven only.
[[nodiscard]] std::vector<Net> recovered_nets(const TraceAnalysis& trace);

}  // namespace grayrelic
