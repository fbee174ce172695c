// SPDX-License-Identifier: GPL-3.0-or-later
// What is put together: the parts of a board in one of its variants, with what their packages and the board's
// files say of them.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/analysis/analysis.hpp"
#include "core/board/board_circuit.hpp"
#include "core/dossier/unit_build.hpp"
#include "core/fit/reach.hpp"
#include "core/parts/package.hpp"

namespace grayrelic {

struct BuildPart {
    std::string ref;
    std::string part;                 ///< "resistor 4k7", as a parts list calls it
    std::string package;              ///< empty: nobody said
    std::optional<double> height_mm;  ///< nothing: its package is not described
    double pitch_mm = 0;
    bool surface = false;
    bool belly = false;     ///< a pad below its body
    bool back = false;      ///< it stands on the back of the board
    std::string way_round;  ///< how its first pin is known, where turning it matters
    SolderClass how = SolderClass::easy;
    std::vector<std::string> pins;  ///< numbers, in the order of its package
    bool operator==(const BuildPart&) const = default;
};

/// Two pads of different nets that lie side by side: solder may bridge them.
struct PadNeighbours {
    std::string a, b;  ///< "U1.3"
    double mm = 0;     ///< between the middles of the pads
    bool operator==(const PadNeighbours&) const = default;
};

/// What was drawn for a part that has a value.
struct DrawnValue {
    double value = 0;  ///< ohms or farads
    bool farads = false;
    double tolerance = 0.05;
    bool operator==(const DrawnValue&) const = default;
};

struct BuildBoard {
    std::string id, title, variant;
    bool of_wire = false;                 ///< its circuit is Wire's: what Wire computes holds for its parts
    std::vector<BuildPart> parts;         ///< fitted ones, by name
    std::vector<Net> nets;                ///< of the fitted parts, jumpers closed
    std::map<std::string, double> volts;  ///< of supplies, ground 0, by the net's name
    std::map<std::string, PinAction> pins;
    std::vector<PadNeighbours> neighbours;
    std::vector<CoveredJoint> covered;  ///< joints below another part
    std::map<std::string, double>
        ohms;  ///< of two-ended parts that conduct: resistors, fuses, closed jumpers
    std::map<std::string, DrawnValue> values;
    std::vector<std::string> problems;  ///< what the dossier does not say
    std::vector<HandStep> hand{};       ///< mechanical work, of the units of this board
};
/// A board of the dossier, by its id; "" is Wire's circuit without a board. Nothing where there is no
/// circuit.
[[nodiscard]] std::optional<BuildBoard> build_board(const Analysis& a, const std::string& board,
                                                    const std::string& variant = {});

}  // namespace grayrelic
