// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/checks/registry.hpp"

#include <algorithm>
#include <array>

namespace grayrelic {

const std::vector<Check>& checks() {
    static const std::vector<Check> list = {
        {"pin-unknown", "A pin that a capture uses has no name or driver, or is not in the port.",
         check_pins},
        {"supply-without-limit", "Supplies without a limit, grounds missing or too few, risky neighbours.",
         check_supply},
        {"source-contradicts", "Another source says otherwise, or a verdict rests on an assumed fact.",
         check_sources},
        {"misinsert-destroys", "A plug goes in wrong and destroys something, and no key prevents it.",
         check_misinsert},
        {"transmit-to-transmit", "A cable joins what must not be joined, or mirrors.", check_cables},
        {"readings-contradict", "Readings of the ledger, pin-outs or scans contradict each other.",
         check_trace},
        {"netlist-differs", "The board departs from the netlist it is held against, or is not proven.",
         check_netlist},
        {"donor-heat", "A donor part has been soldered too often, or its state is not settled.",
         check_donors},
        {"capture-unreadable", "A capture can't be read, or an interval can't be measured.", check_readable},
        {"capture-guessed", "A capture's file leaves open what its figures rest on.", check_guessed},
        {"sample-rate-low", "Pulses are too short for the rate they were sampled at.", check_sampling},
        {"line-chatters",
         "A line chatters, twitches with others, floats, rings, or is read with a threshold too near a "
         "level.",
         check_lines},
        {"decode-errors", "Words were read with errors, or differ in length.", check_decoding},
        {"reply-late", "An option's reply comes after the host has looked, or only just before.",
         check_reply_late},
        {"network-wrong", "A network of parts can't be computed, or its inputs are left open.",
         check_networks},
        {"contract-broken",
         "A capture holds what the contract does not allow, or a guard band leaves no room.", check_contract},
        {"replica-differs", "A replica's capture departs from the original's, or breaks the contract.",
         check_golden},
        {"clock-margin", "A serial receiver would sample outside a bit, or a rate is not explained.",
         check_clocks},
        {"budget-broken", "A budget of time, depth or rate does not hold.", check_budgets},
        {"rests-on-assumed", "A verdict rests on a number that nobody has measured.", check_assumed},
    };
    return list;
}

Findings run_checks(const Analysis& analysis) {
    Findings out;
    for (const auto& check : checks()) check.run(analysis, out);
    constexpr std::array<std::string_view, 4> stages{"port", "trace", "listen", "timing"};
    const auto rank = [&](const Finding& f) {
        const auto stage = std::find(stages.begin(), stages.end(), f.stage) - stages.begin();
        return std::pair(static_cast<int>(f.severity), stage);
    };
    std::stable_sort(out.begin(), out.end(),
                     [&](const Finding& a, const Finding& b) { return rank(a) < rank(b); });
    return out;
}

}  // namespace grayrelic
