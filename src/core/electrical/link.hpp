// SPDX-License-Identifier: GPL-3.0-or-later
// One line from a driver to a receiver, at the corners of both supplies: what the driver surely gives against
// what the receiver needs, and the most it may give against what the receiver endures.
//
//     high margin = VOH(min), at the driver's lowest supply  − VIH(min), at the receiver's highest supply
//     low margin  = VIL(max), at the receiver's lowest supply − VOL(max)
//     over limit  : the highest the driver may give, at its highest supply, above what an input endures at
//                   the receiver's lowest supply (0 V while it is off), or the lowest below it
//
// Outputs are taken at the smallest load that is specified and covers what the receiver takes.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/base/verdict.hpp"
#include "core/electrical/family.hpp"

namespace grayrelic {

/// Less than this is too little: Doubt.
inline constexpr double thin_margin_v = 0.2;

struct SupplyRange {
    double least = 0, most = 0;
    bool operator==(const SupplyRange&) const = default;
};

/// What arrives at a receiver.
struct ArrivingLevels {
    std::optional<double> high_least_v;  ///< nothing: no high is made, or nobody knows
    std::optional<double> low_most_v;
    double highest_v = 0, lowest_v = 0;  ///< that may ever stand there
    bool differential = false;           ///< high and low are between two wires
    /// What is meant when a level is missing: "an open collector …: nothing pulls it high".
    std::string high_problem, low_problem;
    bool high_unknown = false;  ///< the missing high is not known, rather than not made
    bool low_unknown = false;
};

struct Receiver {
    const Family* family = nullptr;
    SupplyRange supply;
    bool may_be_off = false;  ///< it can stand without its supply while the line is driven
};

struct LinkVerdict {
    ArrivingLevels arriving;
    double high_needed_v = 0, low_needed_v = 0;         ///< VIH at its worst, VIL at its worst
    double limit_high_v = 0, limit_low_v = 0;           ///< that the input endures
    std::optional<double> high_margin_v, low_margin_v;  ///< nothing where no level is known
    bool over_limit = false;
    Verdict verdict = Verdict::unknown;
    std::string why;  ///< the numbers that decide, for a person
};

/// What a driver gives into these currents, of all that it feeds together.
[[nodiscard]] ArrivingLevels driven_levels(const Family& driver, SupplyRange supply, double high_a,
                                           double low_a);
[[nodiscard]] LinkVerdict judge_levels(ArrivingLevels arriving, const Receiver& to);
/// A driver straight at a receiver.
[[nodiscard]] LinkVerdict judge_link(const Family& driver, SupplyRange supply, const Receiver& to);

/// "hct@5V", "lvc@3V3": a family's id and its supply.
struct NamedSupply {
    std::string family;
    double volts = 0;
};
[[nodiscard]] Result<NamedSupply> parse_named_supply(std::string_view text);
/// V·(1 − t) to V·(1 + t).
[[nodiscard]] SupplyRange around(double volts, double tolerance);
/// "5%", "5 %" or "0.05": a share from 0 to below 1.
[[nodiscard]] Result<double> parse_tolerance(std::string_view text);

}  // namespace grayrelic
