// SPDX-License-Identifier: GPL-3.0-or-later
// What the nouns share: each adds its verbs to the application; a verb sets `run`, which gives the exit
// status.
#pragma once

#include <CLI/CLI.hpp>

#include <functional>

namespace grayrelic::cli {

struct Session {
    bool json = false;
    std::function<int()> run;
};

void add_capture_commands(CLI::App& app, Session& session);
/// shapes, find, identify, compare
void add_capture_study(CLI::App& noun, Session& session);
void add_capture_hunt(CLI::App& noun, Session& session);
void add_capture_follow(CLI::App& noun, Session& session);
void add_timing_commands(CLI::App& app, Session& session);
void add_timing_budgets(CLI::App& noun, Session& session);
void add_timing_derive(CLI::App& noun, Session& session);
void add_clock_commands(CLI::App& app, Session& session);
void add_logic_commands(CLI::App& app, Session& session);
void add_trace_commands(CLI::App& app, Session& session);
/// What a dossier's scans show; `out`: where outline and pads go, or empty.
[[nodiscard]] int trace_scan(const std::string& path, const std::string& out, bool json);
void add_port_commands(CLI::App& app, Session& session);
void add_plan_commands(CLI::App& app, Session& session);
void add_wire_commands(CLI::App& app, Session& session);
/// lines, netlist, card
void add_wire_circuit(CLI::App& noun, Session& session);
/// rails, pins
void add_wire_rails(CLI::App& noun, Session& session);
/// link, value
void add_wire_values(CLI::App& noun, Session& session);
void add_map_commands(CLI::App& app, Session& session);
void add_build_commands(CLI::App& app, Session& session);
/// gates, diagnose, symptoms, practice, rework
void add_build_bench(CLI::App& noun, Session& session);
void add_board_commands(CLI::App& app, Session& session);
void add_board_fit_commands(CLI::App& board, Session& session);
void add_board_stack_commands(CLI::App& board, Session& session);
void add_board_parts_commands(CLI::App& board, Session& session);
void add_log_commands(CLI::App& app, Session& session);
void add_dossier_commands(CLI::App& app, Session& session);

}  // namespace grayrelic::cli
