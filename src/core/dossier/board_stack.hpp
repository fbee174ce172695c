// SPDX-License-Identifier: GPL-3.0-or-later
// Boards that lie over one another: one layout fitted in several ways, how the levels of a stack lie, and
// which connectors lead from one to the next.
//
// `extra` members hold fields of newer versions, as in dossier.hpp.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/words.hpp"
#include "core/dossier/fact.hpp"

namespace grayrelic {

/// A way in which a layout is fitted with parts: the role that such a board has.
struct BoardVariant {
    std::string name;                            ///< "mixer"
    std::vector<std::string> omit;               ///< parts that stay off
    std::vector<std::string> only;               ///< where not empty: only these are fitted
    std::map<std::string, std::string> jumpers;  ///< part to the pins that it joins: "JP1" to "1-2"
    std::string note;
    std::string extra{};
    bool operator==(const BoardVariant&) const = default;
    [[nodiscard]] bool fits(const std::string& ref) const;
};

struct StackLevel {
    std::string name;                   ///< within the stack: "tone"
    std::string board;                  ///< Fabrication::id
    std::string variant;                ///< BoardVariant::name; empty: all parts are fitted
    double x_mm = 0, y_mm = 0;          ///< where the origin of its files lies in the stack's
    int turn_deg = 0;                   ///< counter-clockwise, seen from above: 0, 90, 180 or 270
    bool over = false;                  ///< its front looks down
    std::string dimension{};            ///< Dimension::id of the gap; empty: `gap` is it
    Fact<std::optional<double>> gap{};  ///< millimetres between it and the level below; of the lowest none
    std::string extra{};
    bool operator==(const StackLevel&) const = default;
};

/// How two connectors of a stack meet.
enum class JoinKind {
    plugged,   ///< halves pushed into each other: both are soldered before
    soldered,  ///< a strip of pins through both boards: its upper end, or its lower one, is soldered last
    cable      ///< they lie where they like; contacts of one number are one wire
};
template <>
inline constexpr std::array words_of<JoinKind>{"plugged", "soldered", "cable"};

struct StackJoin {
    std::string lower, upper;  ///< "tone/J2": a level's name and a part
    JoinKind kind = JoinKind::plugged;
    std::string extra{};
    bool operator==(const StackJoin&) const = default;
};

struct BoardStack {
    std::string id, name;
    std::vector<StackLevel> levels;  ///< from the lowest
    std::vector<StackJoin> joins;
    std::string note;
    std::string extra;
    bool operator==(const BoardStack&) const = default;
    [[nodiscard]] const StackLevel* find_level(std::string_view name) const;
};

}  // namespace grayrelic
