// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that follows from the ledger, the parts, the scans and the netlist of one dossier.
#pragma once

#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <optional>

#include "core/trace/compare.hpp"
#include "core/trace/next_probe.hpp"
#include "core/trace/part_checks.hpp"
#include "core/trace/scan.hpp"
#include "core/trace/structure.hpp"
#include "core/trace/suspects.hpp"
#include "core/trace/units.hpp"

namespace grayrelic {

/// The board and what is likely on it; kept while ports, parts and the set of points stay the same.
struct BoardView {
    BoardModel board;
    Likelihood prior;
    explicit BoardView(BoardModel b) : board(std::move(b)), prior(board) {}
};

struct ScanAnalysis {
    std::vector<Scan> scans;                               ///< what it was made from
    std::vector<std::optional<ScanPlacement>> placements;  ///< as the scans
    std::vector<std::string> problems;                     ///< by scan; empty where there is none
    std::vector<std::shared_ptr<const Raster>> pixels;     ///< by scan; null where it can't be read
    std::optional<double> changed_mm2;            ///< that became something else by the last click or stroke
    std::shared_ptr<const ScannedBoard> scanned;  ///< null without a front that can be read
    std::string problem;                          ///< why nothing was made of them
};

struct TraceAnalysis {
    std::shared_ptr<const BoardView> view;
    std::string unit;  ///< JobUnit::id that all this is of; empty: no reading names a unit
    NetState state;
    std::vector<UnitDifference> unit_differences;  ///< what readings of other units say otherwise
    std::vector<Suspect> suspects;
    ProbePlan plan;
    std::vector<PartIssue> issues;
    std::vector<BusRun> buses;
    std::optional<NetComparison> comparison;  ///< against Trace::reference()
    std::map<std::string, std::string>
        part_names;                            ///< matched by wiring: a part here by its name in the netlist
    std::shared_ptr<const ScanAnalysis> scan;  ///< null without scans
    ScanNets scan_nets;
    std::optional<NetComparison> scan_against_ledger;
    [[nodiscard]] const std::string& name(int point) const { return view->board.table.name(point); }
    [[nodiscard]] bool empty() const { return view == nullptr || view->board.points.empty(); }
};

using PictureReader = std::function<Result<Raster>(const std::filesystem::path&)>;

/// Fails only when cancelled.
[[nodiscard]] Result<std::shared_ptr<const TraceAnalysis>> analyse_trace(
    const Dossier& dossier, const std::filesystem::path& folder, const PartLibrary& parts,
    const PictureReader& read_picture, Progress& progress, const TraceAnalysis* before = nullptr,
    const Dossier* dossier_before = nullptr);

/// How sure a join between two points is, for drawings: by readings, by the scans, by the netlist alone.
enum class JoinEvidence { none, claimed, seen, measured };
[[nodiscard]] JoinEvidence join_evidence(const TraceAnalysis& a, const std::vector<int>& scan_net,
                                         const std::vector<int>& claimed_net, int p, int q);

}  // namespace grayrelic
