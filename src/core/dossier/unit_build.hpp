// SPDX-License-Identifier: GPL-3.0-or-later
// How far a unit has been put together: which parts are on, and what was read or measured on them. What the
// meter said of its joints are readings of that unit, as in Trace.
//
// `extra` members hold fields of newer versions, as in dossier.hpp.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/words.hpp"
#include "core/dossier/fact.hpp"

namespace grayrelic {

struct FittedPart {
    std::string ref;
    std::string marking;  ///< as it is printed or painted on it: "brown black red gold"; may be empty
    std::optional<double> measured;  ///< ohms or farads
    std::string day, note;
    std::string extra{};
    bool operator==(const FittedPart&) const = default;
};

/// What was measured, or answered, at a hold of its bring-up.
struct HoldReading {
    std::string hold;     ///< Hold::id
    std::string reading;  ///< HoldPoint::id within it: "volts V5"
    double value = 0;     ///< in the point's unit; 1 and 0 for yes and no
    std::string day, tool, note;
    std::string extra{};
    bool operator==(const HoldReading&) const = default;
};
/// A hold that was passed although something in it did not hold or was not measured.
struct HoldPassed {
    std::string hold, reason, day;
    std::string extra{};
    bool operator==(const HoldPassed&) const = default;
};
/// A wire, a resistor, a source that stands in for something for a while, and must come off.
struct TemporaryTie {
    std::string what, day;
    std::string off;  ///< the day it came off; empty: it is still on
    std::string extra{};
    bool operator==(const TemporaryTie&) const = default;
};
/// A fault that was found.
struct FoundFault {
    std::string fault;  ///< BenchFault::key(): "open: U1.3", or in own words
    std::string day, note;
    std::string extra{};
    bool operator==(const FoundFault&) const = default;
};
enum class WorkKind { solder, etch, drill, reflow, hot_air, test, other };
template <>
inline constexpr std::array words_of<WorkKind>{"solder",  "etch", "drill", "reflow",
                                               "hot-air", "test", "other"};
/// Work that was done on it, and how long it took.
struct WorkDone {
    WorkKind kind = WorkKind::solder;
    double minutes = 0;
    std::optional<double> count;    ///< joints, holes
    std::optional<double> degrees;  ///< Celsius, of a bath or of air
    std::string day, note;
    std::string extra{};
    bool operator==(const WorkDone&) const = default;
};

enum class HandStepKind { glue, insert, bolt, cut, other };
template <>
inline constexpr std::array words_of<HandStepKind>{"glue", "insert", "bolt", "cut", "other"};
/// Work on a board that is no part of its circuit: a foot to be glued, an opening to be cut. Of all units of
/// one board in one variant; ticked as a part is, by what it says.
struct HandStep {
    HandStepKind kind = HandStepKind::other;
    std::string what;    ///< "the cut-out for the knob"
    std::string before;  ///< the part that it comes before; empty: at the end
    std::string extra{};
    bool operator==(const HandStep&) const = default;
};

struct UnitBuild {
    std::string id;              ///< JobUnit::id
    std::string board, variant;  ///< Fabrication::id, "" for Wire's circuit; BoardVariant::name
    std::vector<FittedPart> fitted;
    std::string note;
    std::string extra;
    std::vector<HoldReading> measured{};  ///< of a point the last counts
    std::vector<HoldPassed> passed{};
    std::vector<TemporaryTie> ties{};
    std::vector<std::string> seen{};  ///< what a fault showed so far: "volts:U2.16=0.1 V", "a>REPLY=low"
    std::vector<FoundFault> found{};
    std::vector<WorkDone> work{};
    std::vector<HandStep> steps{};
    bool operator==(const UnitBuild&) const = default;
    [[nodiscard]] const HoldReading* find_reading(std::string_view hold, std::string_view reading) const {
        const HoldReading* last = nullptr;
        for (const auto& r : measured)
            if (r.hold == hold && r.reading == reading) last = &r;
        return last;
    }
    [[nodiscard]] const FittedPart* find_part(std::string_view ref) const {
        for (const auto& p : fitted)
            if (p.ref == ref) return &p;
        return nullptr;
    }
};

}  // namespace grayrelic
