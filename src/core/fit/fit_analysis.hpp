// SPDX-License-Identifier: GPL-3.0-or-later
// Whether a board fits where it goes, and what it costs: the dossier's stacks with the dimensions that they
// name, parts below the lid. Cheap: sums over what is known
// already.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/board/board_analysis.hpp"
#include "core/dossier/dossier.hpp"
#include "core/fit/stack.hpp"
#include "core/parts/package.hpp"

namespace grayrelic {

/// A line of a fit with its figure, wherever that comes from.
struct FitLine {
    std::string what;
    FitRole role = FitRole::takes;
    std::optional<double> mm;
    double plus = 0, minus = 0;
    Evidence evidence;
    bool from_dimension = false;
    bool from_files = false;
    std::string problem;  ///< the dimension is not in the dossier, or has no value
    /// The value at which the verdict turns to Stop, all others as they are; nothing where it has no value or
    /// the fit is not a sum.
    std::optional<double> turns_at;
};

struct FitResult {
    std::string id, name;
    FitKind kind = FitKind::room;
    std::vector<FitLine> lines;
    StackRoom room;          ///< of a button the gap at rest
    ButtonRoom button;       ///< of a button; of an opening the play to the nearer side
    double tightest_mm = 0;  ///< of a cable: what is left of the bend's radius, at the least
    Verdict verdict = Verdict::unknown;
    std::vector<std::string> missing;  ///< figures that nobody has: what is to be measured
    std::vector<std::string> assumed;  ///< lines that nobody measured
    std::string says;                  ///< a sentence with the figure that decides
};
/// A figure of the files: "J1.x", "J1.y" (the middle of its contacts, from the left and the lower edge),
/// "board.x", "board.y" (its size); nothing where the files do not have it.
using PlaceOf = std::function<std::optional<double>(const std::string&)>;
[[nodiscard]] PlaceOf places_in(const FabricationAnalysis* board);
[[nodiscard]] FitResult fit_of(const FitCase& fit, const std::vector<Dimension>& dimensions,
                               const PlaceOf& places = nullptr);

/// A part that stands below something.
struct ZonePart {
    std::string zone, ref, package;
    std::optional<double> most_mm;    ///< nothing: nobody has said how much room there is
    std::optional<double> height_mm;  ///< nothing: its package is not described
    Verdict verdict = Verdict::unknown;
};
/// Parts whose contacts' box meets a zone, on its side of the board. `packages_of`: part to package.
[[nodiscard]] std::vector<ZonePart> zone_parts(const Fabrication& board, const FabricationAnalysis* analysis,
                                               const std::vector<Dimension>& dimensions,
                                               const std::map<std::string, std::string>& packages_of,
                                               const PackageLibrary& packages);

}  // namespace grayrelic
