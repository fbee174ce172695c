// SPDX-License-Identifier: GPL-3.0-or-later
// The one list of checks. A check is a pure function of the analysis; adding one is a file and a line in the
// list.
#pragma once

#include <string_view>
#include <vector>

#include "core/analysis/analysis.hpp"

namespace grayrelic {

struct Check {
    std::string_view id;
    Stage stage;             ///< whose matter it is; a finding may stand in another one
    std::string_view about;  ///< what it looks for, one sentence
    void (*run)(const Analysis& analysis, Findings& out);
    unsigned rests;  ///< a set of Rests: all that it reads. It is given nothing else, so this can't be wrong.
};

[[nodiscard]] const std::vector<Check>& checks();
/// The stages that a check looks at, in their order.
[[nodiscard]] std::vector<Stage> judged_stages();
/// Makes the findings of those checks whose ground is `ready` (a set of Rests), where that has changed; the
/// others keep theirs. Then sorts all of them: the worst first; of equal weight in the order of stages and
/// checks.
void run_checks(Analysis& analysis, unsigned ready, MemoryRun& run);

void check_reply_late(const Analysis& a, Findings& out);
void check_assumed(const Analysis& a, Findings& out);
void check_sampling(const Analysis& a, Findings& out);
void check_lines(const Analysis& a, Findings& out);
void check_decoding(const Analysis& a, Findings& out);
void check_pins(const Analysis& a, Findings& out);
void check_readable(const Analysis& a, Findings& out);
void check_guessed(const Analysis& a, Findings& out);
void check_supply(const Analysis& a, Findings& out);
void check_sources(const Analysis& a, Findings& out);
void check_misinsert(const Analysis& a, Findings& out);
void check_cables(const Analysis& a, Findings& out);
void check_trace(const Analysis& a, Findings& out);
void check_netlist(const Analysis& a, Findings& out);
void check_donors(const Analysis& a, Findings& out);
void check_contract(const Analysis& a, Findings& out);
void check_golden(const Analysis& a, Findings& out);
void check_clocks(const Analysis& a, Findings& out);
void check_networks(const Analysis& a, Findings& out);
void check_budgets(const Analysis& a, Findings& out);
void check_units(const Analysis& a, Findings& out);
void check_dimensions(const Analysis& a, Findings& out);
void check_parts(const Analysis& a, Findings& out);
void check_orders(const Analysis& a, Findings& out);
void check_plan(const Analysis& a, Findings& out);
void check_circuit(const Analysis& a, Findings& out);
void check_links(const Analysis& a, Findings& out);
void check_values(const Analysis& a, Findings& out);
void check_rails(const Analysis& a, Findings& out);
void check_settings(const Analysis& a, Findings& out);
void check_module_pins(const Analysis& a, Findings& out);
void check_solder(const Analysis& a, Findings& out);
void check_map(const Analysis& a, Findings& out);
void check_messages(const Analysis& a, Findings& out);
void check_curves(const Analysis& a, Findings& out);
void check_matrix(const Analysis& a, Findings& out);
void check_board(const Analysis& a, Findings& out);
void check_board_faces(const Analysis& a, Findings& out);
void check_board_rules(const Analysis& a, Findings& out);
void check_stacks(const Analysis& a, Findings& out);
void check_build(const Analysis& a, Findings& out);
void check_log(const Analysis& a, Findings& out);
void check_fit(const Analysis& a, Findings& out);
void check_person(const Analysis& a, Findings& out);

}  // namespace grayrelic
