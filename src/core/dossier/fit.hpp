// SPDX-License-Identifier: GPL-3.0-or-later
// What a board has to fit into, and what it costs to have it made: stacks of heights with tolerances, zones
// below the lid, tiers of a house.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/words.hpp"
#include "core/dossier/fact.hpp"

namespace grayrelic {

/// What a figure of a fit is for.
enum class FitRole {
    gives,     ///< room
    takes,     ///< room
    travel,    ///< of a button, to its stop
    actuates,  ///< travel at which the switch has closed, at the most
    endures,   ///< travel of the switch to its end; of a cable the least radius that it may be bent to
    bend,      ///< radius that is there for a cable's tightest bend
    stands,    ///< where the middle of a connector lies, along an opening
    opens      ///< where the middle of the opening lies
};
template <>
inline constexpr std::array words_of<FitRole>{"gives",   "takes", "travel", "actuates",
                                              "endures", "bend",  "stands", "opens"};

struct FitItem {
    std::string what;
    FitRole role = FitRole::takes;
    std::string dimension;  ///< Dimension::id whose value and tolerance it is; empty: `mm` is its own
    Fact<std::optional<double>> mm;
    double plus = 0, minus = 0;  ///< tolerances, both positive; of a dimension its own where these are 0
    std::string extra{};
    std::string place{};  ///< a figure of the files instead: "J1.x", "J1.y", "board.x", "board.y"
    bool operator==(const FitItem&) const = default;
};

enum class FitKind { room, button, cable, opening };
template <>
inline constexpr std::array words_of<FitKind>{"room", "button", "cable", "opening"};

struct FitCase {
    std::string id;    ///< "lid"
    std::string name;  ///< "Module below the lid"
    FitKind kind = FitKind::room;
    std::vector<FitItem> items;
    std::string extra{};
    bool operator==(const FitCase&) const = default;
};

/// A part of the board over which nothing may be higher; millimetres in the files' origin.
struct FitZone {
    std::string name;
    double x_mm = 0, y_mm = 0, width_mm = 0, height_mm = 0;
    bool back = false;           ///< over the back of the board
    std::string dimension{};     ///< Dimension::id of the most height; empty: `most` is it
    std::optional<double> most;  ///< millimetres over the board
    std::string extra{};
    bool operator==(const FitZone&) const = default;
};

/// So many boards for so much: `price` is for all of them.
struct OrderTier {
    int quantity = 0;
    double price = 0, shipping = 0;
    std::string extra{};
    double width_mm = 0, height_mm = 0;  ///< boards up to this size, either way round; 0: of any
    bool operator==(const OrderTier&) const = default;
};

/// What is charged beside a tier's price.
struct OrderExtra {
    std::string what;    ///< "cutting of slots"
    double price = 0;    ///< of the whole order
    double each = 0;     ///< of each board
    std::string rule{};  ///< charged only where the board asks for less than `below_mm`: "hole", "track"
    double below_mm = 0;
    std::string extra{};
    bool operator==(const OrderExtra&) const = default;
};

/// Stock that is of no use any more once this board is ordered.
struct ObsoleteStock {
    std::string what;
    int count = 1;
    double each = 0;  ///< what one of them cost
    std::string extra{};
    bool operator==(const ObsoleteStock&) const = default;
};

/// The inside of a case, or a panel, that the board has to lie in.
struct FitOutline {
    std::string id, title;
    std::string file;                      ///< an SVG or DXF below the dossier's folder, with /
    std::string outside;                   ///< absolute path of one not yet copied in; never written to disk
    std::optional<double> x_mm{}, y_mm{};  ///< the board's origin in it; nothing: middle on middle
    std::optional<int> turn_deg{};         ///< 0, 90, 180, 270; nothing: as it fits best
    std::string extra{};
    bool operator==(const FitOutline&) const = default;
};

struct OrderAsk {
    int want = 0;                  ///< working boards; 0: as many as the job builds
    std::optional<double> yield;   ///< share that works in the end; nothing: from the person's record
    std::optional<double> respin;  ///< chance that it is ordered again; nothing: from Plan's open questions
    std::vector<OrderTier> tiers;
    std::string extra{};
    std::vector<OrderExtra> extras{};
    std::vector<ObsoleteStock> obsolete{};
    bool operator==(const OrderAsk&) const = default;
};

}  // namespace grayrelic
