// SPDX-License-Identifier: GPL-3.0-or-later
// The whole job: whether the next gate can be passed, what the thing must do, what to settle, and what ways,
// hedges and breadboards are worth. A function of an analysis whose findings are there; cheap enough to be
// asked for after every edit.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/date.hpp"
#include "core/job/questions.hpp"
#include "core/library/job_kinds.hpp"
#include "core/plan/schedule.hpp"

namespace grayrelic {

struct Blocker {
    Verdict verdict = Verdict::stop;  ///< stop, doubt, or unknown for what is only not there yet
    std::string says;
    Stage stage = Stage::plan;
    FindingPlace place;
};

struct GateState {
    JobGate gate = JobGate::breadboard;
    bool needed = true;   ///< by the kind of job
    bool behind = false;  ///< what comes after it is there already
    /// Stop: shut. Doubt: open at a risk, or passed with a reason. Unknown: not reached. Holds: open.
    Verdict verdict = Verdict::unknown;
    std::vector<Blocker> blocked_by;  ///< the worst first
    std::string passed_with;          ///< the reason for going on all the same; empty for none
};

struct MustState {
    Must must;
    bool of_kind = false;  ///< asked by the kind of job; nothing is said of it yet
    /// Holds: met. Stop: not met. Doubt: met only just, or by an assumption. Unknown: open.
    Verdict verdict = Verdict::unknown;
    std::string why;
};

struct HedgeState {
    Hedge hedge;
    std::optional<double> worth;  ///< chance × loss avoided − price; nothing while a figure is missing
    std::string arithmetic;       ///< or what is missing
};

struct WayState {
    WayThere way;
    std::optional<double> total;  ///< money + hours × worth of an hour + days × worth of a day
    std::string arithmetic;
    std::string missing;  ///< what keeps it from being compared: no licence, no money
};

/// Breadboard first, or straight to a board: of one stage's open questions.
struct BreadboardChoice {
    Stage stage = Stage::timing;
    std::vector<std::string> questions;
    double chance = 0;  ///< that one of them at least is wrong
    double hours = 0;   ///< to breadboard it
    double saves = 0, costs = 0;
    std::string arithmetic;
    [[nodiscard]] bool breadboard_first() const { return saves > costs; }
};

struct Outlook {
    const JobKind* kind = nullptr;  ///< of the analysis' data; null when none is chosen, or it is not known
    Stakes stakes;
    Questions questions;
    std::vector<GateState> ready;  ///< all six, in their order
    std::vector<MustState> musts;
    std::vector<HedgeState> hedges;
    std::vector<WayState> ways;
    std::vector<BreadboardChoice> breadboards;
    std::vector<PlanTask> tasks;  ///< of the dossier, else as proposed
    /// The same with what is in the post: a task that an order frees comes after its parcel.
    std::vector<PlanTask> dated;
    bool tasks_proposed = false;
    /// "times 1.4: 3 tasks took 21 h in place of 15": then `dated` has the hours of what is still to do times
    /// that; empty while fewer than two estimated tasks are done.
    std::string hours_learned;
    std::string task_problem;
    std::optional<JobGate> next_gate;  ///< the first that is not open; nothing when all are
    std::string sentence;              ///< "Not ready to order: two answers decide it"
    [[nodiscard]] const GateState& gate(JobGate g) const { return ready[static_cast<std::size_t>(g)]; }
};

/// `today` gives what is left of waits for what is in the post; without it they count as a whole.
[[nodiscard]] Outlook outlook(const Analysis& a, std::optional<Day> today);

/// True when the job needs the stage: by its kind, and what the person brought back or left out.
[[nodiscard]] bool stage_needed(const JobPlan& plan, const JobKind* kind, Stage stage);

/// The cautions that the kind of job names.
[[nodiscard]] std::vector<std::string> kind_cautions(const Analysis& a);

/// The pieces, for outlook().
[[nodiscard]] std::vector<MustState> judge_musts(const Analysis& a, const JobKind* kind);
[[nodiscard]] std::vector<GateState> judge_gates(const Analysis& a, const Outlook& so_far);
[[nodiscard]] std::vector<PlanTask> propose_tasks(const Analysis& a, const JobKind& kind,
                                                  const Questions& questions, std::optional<Day> today);
[[nodiscard]] std::vector<PlanTask> with_parcels(std::vector<PlanTask> tasks, const Supply& supply,
                                                 Day today);
void weigh_ways(const Analysis& a, Outlook& out, std::optional<Day> today);

/// What fits into an evening: questions first, as they stand, then tasks that wait for nothing.
struct EveningItem {
    std::string says;
    std::string how;
    double minutes = 0;
    std::string question;  ///< its id; empty for a task
};
[[nodiscard]] std::vector<EveningItem> evening(const Outlook& outlook, const Schedule* schedule,
                                               double minutes);

}  // namespace grayrelic
