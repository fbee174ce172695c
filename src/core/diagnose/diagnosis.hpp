// SPDX-License-Identifier: GPL-3.0-or-later
// Which single fault explains what was seen, and what to measure next.
//
// Every fault's symptoms and readings are predicted once. What was seen weighs the faults (Bayes, by how well
// each prediction fits); the next reading is the one that is expected to tell most per effort. Where only few
// faults are left, the readings are chosen by trying all orders.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/diagnose/fault_book.hpp"

namespace grayrelic {

struct FaultSuspect {
    std::size_t fault = 0;
    double chance = 0;
    int place = 1;                     ///< 1: the likeliest; what no reading tells apart shares one
    std::vector<std::string> against;  ///< what was seen and does not fit
};
struct NextReading {
    std::size_t reading = 0;
    std::string why;
    /// What it would show, with the chance of it and what it would leave: "open: U1.3, J2.4".
    struct Outcome {
        std::string shows;
        double chance = 0;
        int faults = 0;  ///< that stay likely
    };
    std::vector<Outcome> outcomes;
};
struct TwoFaults {
    std::size_t one = 0, two = 0;
};
struct Diagnosis {
    std::vector<FaultSuspect> suspects;  ///< the likeliest first; their chances with `healthy` make 1
    double healthy = 0;                  ///< that nothing of these is wrong
    std::optional<NextReading> next;
    bool settled = false;  ///< one fault, or ones that can't be told apart, is as good as sure
    /// What no single fault explains, and pairs that would.
    std::vector<std::string> unexplained;
    std::vector<TwoFaults> pairs;
    std::vector<std::string> unknown;  ///< what was said of leads and lines that the board does not have
};
/// `seen` in any order; of the same key the last counts. `closed`: causes found before.
[[nodiscard]] Diagnosis diagnose(const FaultBook& book, const std::vector<SaidReading>& seen,
                                 const FaultCounts& closed = {});

/// How many readings the best order of all takes from here to a fault, found by trying all orders; where more
/// than `most_in_order` things are left, what no order can be better than: each reading has only so many
/// outcomes.
struct LeastReadings {
    double readings = 0;
    bool exact = false;
};
[[nodiscard]] LeastReadings least_readings(const FaultBook& book, const std::vector<SaidReading>& seen,
                                           std::size_t fault, const FaultCounts& closed = {});

}  // namespace grayrelic
