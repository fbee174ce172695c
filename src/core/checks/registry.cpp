// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/checks/registry.hpp"
#include "core/trace/trace_analysis.hpp"

#include <algorithm>

namespace grayrelic {

namespace {

/// Plan, and what is known of the relic.
std::vector<Check> of_the_old() {
    return {
        {"part-unavailable", Stage::plan, "A part of the chosen way to build is not to be had.", check_parts,
         Rests::supply | Rests::plan_analysis},
        {"order-undecided", Stage::plan,
         "Something was ordered that is not decided, or an order's days can't be right.", check_orders,
         static_cast<unsigned>(Rests::supply)},
        {"reading-without-unit", Stage::plan,
         "Readings of several boards, some without a unit; a unit that is gone but still counted; "
         "boards that differ.",
         check_units,
         Rests::units | Rests::readings | Rests::captures | Rests::trace | Rests::trace_analysis},
        {"dimension-assumed", Stage::plan, "Something is decided by a dimension that nobody has measured.",
         check_dimensions, Rests::dimensions | Rests::boards},
        {"plan-broken", Stage::plan, "The plan names what is not there, or its tasks can't be done.",
         check_plan, Rests::plan | Rests::data | Rests::ports | Rests::dimensions | Rests::timing},
        {"drawer-unreadable", Stage::plan, "The drawer's or the bench's file can't be read.", check_person,
         static_cast<unsigned>(Rests::person)},
        {"pin-unknown", Stage::port,
         "A pin that a capture uses has no name or driver, or is not in the port.", check_pins,
         Rests::ports | Rests::captures | Rests::plan | Rests::listen_analysis},
        {"supply-without-limit", Stage::port,
         "Supplies without a limit, grounds missing or too few, risky neighbours.", check_supply,
         Rests::ports | Rests::data | Rests::map},
        {"source-contradicts", Stage::port,
         "Another source says otherwise, or a verdict rests on an assumed fact.", check_sources,
         Rests::ports | Rests::data},
        {"misinsert-destroys", Stage::port,
         "A plug goes in wrong and destroys something, and no key prevents it.", check_misinsert,
         Rests::ports | Rests::data | Rests::port_analysis},
        {"transmit-to-transmit", Stage::port, "A cable joins what must not be joined, or mirrors.",
         check_cables, Rests::ports | Rests::cables | Rests::data | Rests::wire_analysis},
        {"readings-contradict", Stage::trace,
         "Readings of the ledger, pin-outs or scans contradict each other.", check_trace,
         Rests::ports | Rests::readings | Rests::trace | Rests::trace_analysis},
        {"netlist-differs", Stage::trace,
         "The board departs from the netlist it is held against, or is not proven.", check_netlist,
         Rests::trace | Rests::trace_analysis},
        {"donor-heat", Stage::trace, "A donor part has been soldered too often, or its state is not settled.",
         check_donors, static_cast<unsigned>(Rests::trace)},
        {"capture-unreadable", Stage::listen, "A capture can't be read, or an interval can't be measured.",
         check_readable, Rests::listen_analysis | Rests::timing_analysis},
        {"capture-guessed", Stage::listen, "A capture's file leaves open what its figures rest on.",
         check_guessed, static_cast<unsigned>(Rests::listen_analysis)},
        {"sample-rate-low", Stage::listen, "Pulses are too short for the rate they were sampled at.",
         check_sampling, Rests::listen_analysis | Rests::timing_analysis | Rests::person},
        {"line-chatters", Stage::listen,
         "A line chatters, twitches with others, floats, rings, or is read with a threshold too near a "
         "level.",
         check_lines, static_cast<unsigned>(Rests::listen_analysis)},
        {"decode-errors", Stage::listen, "Words were read with errors, or differ in length.", check_decoding,
         static_cast<unsigned>(Rests::listen_analysis)},
    };
}

/// What is built for it.
std::vector<Check> of_the_new() {
    return {
        {"reply-late", Stage::timing,
         "An option's reply comes after the host has looked, or only just before.", check_reply_late,
         Rests::timing | Rests::timing_analysis},
        {"network-wrong", Stage::timing, "A network of parts can't be computed, or its inputs are left open.",
         check_networks, Rests::timing_analysis | Rests::wire | Rests::boards},
        {"contract-broken", Stage::timing,
         "A capture holds what the contract does not allow, or a guard band leaves no room.", check_contract,
         Rests::timing | Rests::timing_analysis | Rests::listen_analysis},
        {"replica-differs", Stage::timing,
         "A replica's capture departs from the original's, or breaks the contract.", check_golden,
         Rests::timing | Rests::timing_analysis | Rests::listen_analysis},
        {"clock-margin", Stage::timing,
         "A serial receiver would sample outside a bit, or a rate is not explained.", check_clocks,
         static_cast<unsigned>(Rests::timing_analysis)},
        {"budget-broken", Stage::timing, "A budget of time, depth or rate does not hold.", check_budgets,
         static_cast<unsigned>(Rests::timing_analysis)},
        {"circuit-broken", Stage::wire, "The circuit's text can't be read, or lacks what every circuit has.",
         check_circuit, static_cast<unsigned>(Rests::wire_analysis)},
        {"link-fails", Stage::wire, "A line's levels, limits or drivers do not go together.", check_links,
         Rests::wire_analysis | Rests::timing_analysis},
        {"value-wrong", Stage::wire, "A part's value does not make what is wanted.", check_values,
         static_cast<unsigned>(Rests::wire_analysis)},
        {"rail-fails", Stage::wire,
         "A rail, what stands on it, or what is switched does not do what it must; something feeds back.",
         check_rails, static_cast<unsigned>(Rests::wire_analysis)},
        {"setting-kills", Stage::wire, "A setting is, or may be, where something dies of it.", check_settings,
         static_cast<unsigned>(Rests::wire_analysis)},
        {"pins-short", Stage::wire, "A module has too few pins for its signals, or the wrong ones.",
         check_module_pins, static_cast<unsigned>(Rests::wire_analysis)},
        {"hard-to-solder", Stage::wire, "A package is beyond what the person has soldered.", check_solder,
         static_cast<unsigned>(Rests::wire_analysis)},
        {"map-gap", Stage::map, "Old codes and new meanings do not cover each other.", check_map,
         Rests::map | Rests::map_analysis},
        {"watching-unsure", Stage::map,
         "A message that is watched calls a living device dead, or a dead one living.", check_messages,
         Rests::map | Rests::map_analysis},
        {"curve-wrong", Stage::map, "Movement can't become the old side's.", check_curves,
         Rests::map | Rests::map_analysis},
        {"matrix-ghosts", Stage::map, "A switch matrix shows keys that nobody pressed, or hurts its strobes.",
         check_matrix, Rests::map | Rests::map_analysis},
        {"board-differs", Stage::board,
         "Fabrication files can't be read, or their copper joins something else than is wanted.", check_board,
         static_cast<unsigned>(Rests::board_analysis)},
        {"face-mirrored", Stage::board,
         "A connector or part on the board is mirrored, of another pitch, or another.", check_board_faces,
         static_cast<unsigned>(Rests::board_analysis)},
        {"board-rule", Stage::board,
         "The board asks for more than its way of making can do, or noisy nets run beside delicate ones.",
         check_board_rules, static_cast<unsigned>(Rests::board_analysis)},
        {"does-not-fit", Stage::board,
         "Something does not fit where it goes, or no tier gives enough boards.", check_fit,
         Rests::boards | Rests::dimensions | Rests::supply | Rests::board_analysis | Rests::wire_analysis |
             Rests::data | Rests::person},
        {"boards-meet", Stage::board,
         "Boards over one another meet, cover each other's joints, or drive against each other.",
         check_stacks,
         Rests::boards | Rests::stacks | Rests::dimensions | Rests::board_analysis | Rests::data},
        {"wrong-value", Stage::build,
         "A unit has a wrong value, a joint that does not hold, a bridge, or fails a hold.", check_build,
         Rests::ports | Rests::builds | Rests::boards | Rests::units | Rests::readings |
             Rests::board_analysis | Rests::wire_analysis | Rests::data},
        {"log-open", Stage::log,
         "Trials leave two explanations, a complaint or a change by hand is open, an image is another.",
         check_log,
         Rests::log | Rests::log_analysis | Rests::units | Rests::builds | Rests::plan | Rests::boards |
             Rests::wire | Rests::wire_analysis | Rests::timing | Rests::map},
        {"rests-on-assumed", Stage::timing, "A verdict rests on a number that nobody has measured.",
         check_assumed, Rests::timing | Rests::timing_analysis},
    };
}

}  // namespace

const std::vector<Check>& checks() {
    static const auto list = [] {
        auto out = of_the_old();
        for (const auto& check : of_the_new()) out.push_back(check);
        return out;
    }();
    return list;
}

std::vector<Stage> judged_stages() {
    std::vector<Stage> out;
    for (const auto s : all_of<Stage>())
        if (std::any_of(checks().begin(), checks().end(), [&](const Check& c) { return c.stage == s; }))
            out.push_back(s);
    return out;
}

namespace {

/// What a check sees: the ground that it says it rests on, and nothing else.
Analysis only(const Analysis& a, unsigned rests) {
    Analysis seen;
    const auto& d = a.dossier;
    if (holds(rests, Rests::about)) seen.dossier.about = d.about;
    if (holds(rests, Rests::ports)) seen.dossier.ports = d.ports;
    if (holds(rests, Rests::cables)) seen.dossier.cables = d.cables;
    if (holds(rests, Rests::captures)) seen.dossier.captures = d.captures;
    if (holds(rests, Rests::readings)) seen.dossier.readings = d.readings;
    if (holds(rests, Rests::trace)) seen.dossier.trace = d.trace;
    if (holds(rests, Rests::timing)) seen.dossier.timing = d.timing;
    if (holds(rests, Rests::units)) seen.dossier.units = d.units;
    if (holds(rests, Rests::dimensions)) seen.dossier.dimensions = d.dimensions;
    if (holds(rests, Rests::supply)) seen.dossier.supply = d.supply;
    if (holds(rests, Rests::wire)) seen.dossier.wire = d.wire;
    if (holds(rests, Rests::wire_analysis)) seen.wire = a.wire;
    if (holds(rests, Rests::map)) seen.dossier.map = d.map;
    if (holds(rests, Rests::map_analysis)) seen.map = a.map;
    if (holds(rests, Rests::boards)) seen.dossier.boards = d.boards;
    if (holds(rests, Rests::stacks)) seen.dossier.stacks = d.stacks;
    if (holds(rests, Rests::builds)) seen.dossier.builds = d.builds;
    if (holds(rests, Rests::board_analysis)) seen.board = a.board;
    if (holds(rests, Rests::log)) seen.dossier.log = d.log;
    if (holds(rests, Rests::log_analysis)) seen.log = a.log;
    if (holds(rests, Rests::plan)) seen.dossier.plan = d.plan;
    if (holds(rests, Rests::data)) seen.data = a.data;
    if (holds(rests, Rests::person)) seen.person = a.person;
    if (holds(rests, Rests::plan_analysis)) seen.plan = a.plan;
    if (holds(rests, Rests::port_analysis)) seen.port = a.port;
    if (holds(rests, Rests::listen_analysis)) seen.listen = a.listen;
    if (holds(rests, Rests::timing_analysis)) seen.timing = a.timing;
    if (holds(rests, Rests::trace_analysis)) seen.trace = a.trace;
    return seen;
}

}  // namespace

void run_checks(Analysis& a, unsigned ready, MemoryRun& run) {
    const auto& list = checks();
    a.by_check.resize(list.size());
    for (std::size_t i = 0; i < list.size(); ++i) {
        const auto& check = list[i];
        if ((check.rests & ready) != check.rests) continue;
        const auto seen = only(a, check.rests);
        a.by_check[i] = a.memory->recall_here<Findings>(run, "check " + std::to_string(i),
                                                        versions_of(seen.dossier, seen, check.rests), [&] {
                                                            Findings out;
                                                            check.run(seen, out);
                                                            return out;
                                                        });
    }
    a.findings.clear();
    for (const auto& made : a.by_check)
        if (made) a.findings.insert(a.findings.end(), made->begin(), made->end());
    const auto rank = [](const Finding& f) { return std::pair(f.severity, f.stage); };
    std::stable_sort(a.findings.begin(), a.findings.end(),
                     [&](const Finding& x, const Finding& y) { return rank(x) < rank(y); });
}

}  // namespace grayrelic
