// SPDX-License-Identifier: GPL-3.0-or-later
// The bring-up of a unit: from bare joints to its place in the machine, hold by hold, with what each
// measurement should show. What is expected comes from the dossier: Wire's rails, the board's circuit, the
// ports' facts, the settings.
//
// A hold that has not been passed blocks what comes after it. It may be passed with a reason, which stays;
// but no power goes on a rail whose resistance was not measured, or is too low.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/quantity.hpp"
#include "core/base/verdict.hpp"
#include "core/build/unit_state.hpp"
#include "core/diagnose/exercise.hpp"

namespace grayrelic {

struct HoldPoint {
    std::string id;        ///< within its hold: "ohms V5"
    std::string what;      ///< "V5 to GND, at J2.1 and J2.2"
    std::string expected;  ///< "above 50 Ω"
    Unit unit = Unit::none;
    bool yes_no = false;  ///< a question: 1 for yes, which is what is expected
    std::optional<double> least, most;
    std::string because;   ///< where the figure comes from
    std::string lead, to;  ///< where the tips stand; empty: not at leads
};
struct Hold {
    std::string id;    ///< "rails-cold"
    std::string name;  ///< "Resistance of each rail"
    std::string why;
    bool powered = false;
    bool firm = false;  ///< never passed by a reason alone
    std::vector<HoldPoint> points;
    [[nodiscard]] const HoldPoint* find(std::string_view point) const;
};
/// In their order. A hold without points is left out where nothing on the board calls for it.
[[nodiscard]] std::vector<Hold> holds_of(const Analysis& a, const BenchBoard& board);

struct PointState {
    Verdict verdict = Verdict::unknown;
    std::optional<double> value;
    std::string says;  ///< "4.97 V on 2026-11-28"
};
struct HoldState {
    std::vector<PointState> points;
    Verdict verdict = Verdict::unknown;  ///< holds: all points do; doubt: passed with a reason
    std::string reason;                  ///< of passing all the same
    std::string blocked_by;              ///< name of the first hold before it that is not passed
    int taken = 0;
};
struct BringUp {
    std::vector<Hold> holds;
    std::vector<HoldState> states;
    std::optional<std::size_t> next;  ///< the first that is not passed
    std::vector<std::string> ties;    ///< temporary ones that are still on
    bool may_power = false;           ///< each rail was measured and is no short
};
/// `bench` (null for none) tells what was fitted and beeped.
[[nodiscard]] BringUp bring_up(std::vector<Hold> holds, const UnitBuild& unit, const UnitOnBench* bench);

/// A value with its unit, as it is written at a point: "4.97 V", "yes".
[[nodiscard]] std::string print_point(const HoldPoint& point, double value);
/// Errors say what the point takes.
[[nodiscard]] Result<double> read_point(const HoldPoint& point, std::string_view text);

/// The unit with one more reading; what it settles becomes a fact of the dossier: a resistance a reading of
/// the ledger, a setting what it is at now, an installed supply what its pin gives under load.
[[nodiscard]] Dossier with_hold_reading(const Dossier& dossier, const std::string& unit, const Hold& hold,
                                        const HoldPoint& point, double value, const std::string& day,
                                        const std::string& tool);

}  // namespace grayrelic
