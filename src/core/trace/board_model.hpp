// SPDX-License-Identifier: GPL-3.0-or-later
// All points of a board with what is known of each beforehand: which part it belongs to, what that pin does,
// and where it lies. From ports, parts with their pin-outs, spots, and whatever the ledger names.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/dossier/dossier.hpp"
#include "core/parts/part.hpp"
#include "core/trace/points.hpp"

namespace grayrelic {

struct BoardPlace {
    double x_mm = 0, y_mm = 0;
    std::optional<BoardSide> side{};  ///< nothing: a hole, on both
};

struct BoardPoint {
    std::string ref;       ///< "U2"; empty for a via or a spot
    std::string pin;       ///< "14"
    std::string function;  ///< "A3", "/OE", "+5V"; empty while nobody knows
    PinKind kind = PinKind::unknown;
    std::string part_function;  ///< PartType::function; "port" for a connector
    std::optional<BoardPlace> place;
};

/// "GND", "VSS", "0V", "AGND" and their like; "VCC", "+5V", "VDD" and theirs.
[[nodiscard]] bool names_ground(std::string_view function);
[[nodiscard]] bool names_supply(std::string_view function);

struct BoardModel {
    PointTable table;
    std::vector<BoardPoint> points;     ///< by number
    std::vector<std::string> problems;  ///< other names that could not be taken, parts nobody knows

    /// A point's number; new points are described as far as their name tells.
    int add(std::string_view name);
    [[nodiscard]] static BoardModel build(const Dossier& dossier, const PartLibrary& parts);
};

/// Where a part's pins lie on the board, seen from the front: turned about pin 1; a part on the back is
/// mirrored first. Nothing for an unknown package or a part without a place.
[[nodiscard]] std::vector<PackagePin> placed_pins(const BoardPart& part, std::string_view package);

}  // namespace grayrelic
