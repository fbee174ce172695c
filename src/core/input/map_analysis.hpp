// SPDX-License-Identifier: GPL-3.0-or-later
// Map's analysis: coverage both ways, the switch matrix with its ghosts and its scan, the curves, the
// messages that are no key. Immutable.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/dossier/dossier.hpp"
#include "core/input/coverage.hpp"
#include "core/input/ghosts.hpp"
#include "core/input/layout.hpp"
#include "core/input/matrix_model.hpp"
#include "core/input/messages.hpp"
#include "core/input/scan_budget.hpp"

namespace grayrelic {

struct MatrixStudy {
    MatrixModel model;
    std::vector<std::string> outside;  ///< MapKey::id of keys that name a line the matrix has not
    GhostCount ghosts;
    std::vector<GhostSet> worst;
    std::vector<std::vector<std::size_t>> chords;  ///< as places in model.keys
    GuardCosts guard;
    MatrixPins pins;
    ScanNumbers numbers;
    ScanBudget budget;
};

struct MapAnalysis {
    Coverage coverage;
    std::optional<MatrixStudy> matrix;  ///< nothing where the dossier has none
    std::vector<MessageStudy> messages;
    std::vector<std::string> curve_problems;  ///< of each curve, in order; empty: none
    std::vector<std::string> bits;            ///< of the capture's words, in order of arrival; may be empty
    std::vector<std::string>
        keys_without_bit;  ///< MapKey::id whose code names a bit that the capture has not
};

[[nodiscard]] MapAnalysis analyse_map(const Dossier& dossier, const LayoutLibrary& layouts);

}  // namespace grayrelic
