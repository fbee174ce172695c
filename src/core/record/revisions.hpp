// SPDX-License-Identifier: GPL-3.0-or-later
// Complaints and what closes them, changes by hand that the files do not have yet, and stock that a revision
// makes useless.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/dossier/dossier.hpp"
#include "core/plan/parts_list.hpp"

namespace grayrelic {

struct ComplaintState {
    const Complaint* complaint = nullptr;
    /// Holds: closed by evidence. Doubt: changed, but nobody checked. Stop: a complaint without a change.
    /// Unknown: an open item or an idea.
    Verdict verdict = Verdict::unknown;
    std::string step;  ///< what comes next: "find the cause", "check it: …"
};
[[nodiscard]] std::vector<ComplaintState> complaint_states(const JobLog& log);

/// Something on a unit that was changed by hand, and whether the next files have it.
struct BodgeState {
    std::string key;  ///< "bodge:ID", "found:UNIT/FAULT"
    std::string unit, what, day;
    std::string carried;   ///< Complaint::id
    std::string left_out;  ///< why not
    [[nodiscard]] bool is_open() const { return carried.empty() && left_out.empty(); }
};
/// Bodges of the log, and faults found in Build that are the board's and not the iron's: a swapped pair, a
/// mirrored part, a jumper, a supply that is missing. The latter count as carried where a complaint of that
/// unit names the fault's key in its cause.
[[nodiscard]] std::vector<BodgeState> bodge_states(const Dossier& dossier);
/// True for a fault's key of a kind that lies in the design.
[[nodiscard]] bool is_of_design(std::string_view fault_key);

/// A part or a board that nothing uses any more.
struct UselessStock {
    std::string what;
    int count = 0;
    std::optional<double> money;  ///< what was paid, where known
    std::string why;
};
/// Parts that were ordered and that the parts list does not have any more; empty
/// boards of a revision before the last.
[[nodiscard]] std::vector<UselessStock> useless_stock(const Dossier& dossier, const PartsList& parts);

/// The highest revision that the log, the units or a complaint names; nothing where there is none.
[[nodiscard]] std::optional<int> last_revision(const Dossier& dossier);

}  // namespace grayrelic
