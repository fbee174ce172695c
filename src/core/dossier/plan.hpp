// SPDX-License-Identifier: GPL-3.0-or-later
// The plan of a job: what kind it is, what it must do, what is asked, its tasks, and the ways to get there.
// What follows from it is core/plan.
//
// `extra` members hold fields of newer versions, as in dossier.hpp.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/stage.hpp"
#include "core/base/words.hpp"
#include "core/dossier/fact.hpp"

namespace grayrelic {

/// Moments after which being wrong is dearer, in their order.
enum class JobGate { breadboard, order, solder, power, plug, publish };
template <>
inline constexpr std::array words_of<JobGate>{"breadboard", "order", "solder", "power", "plug", "publish"};
/// What a person reads: "Plug in".
[[nodiscard]] constexpr std::string_view label(JobGate g) {
    constexpr std::array labels{"Breadboard", "Order", "Solder", "Power", "Plug in", "Publish"};
    static_assert(labels.size() == words_of<JobGate>.size());
    return labels[static_cast<std::size_t>(g)];
}

/// Who asks, and who answers.
enum class HostSide { not_said, relic, modern, neither };
template <>
inline constexpr std::array words_of<HostSide>{"not-said", "relic", "modern", "neither"};

enum class Reversible { not_said, yes, no };
template <>
inline constexpr std::array words_of<Reversible>{"not-said", "yes", "no"};

/// What is lost when the answer is not what it was taken for.
enum class AtStake {
    little,  ///< some time at the bench
    respin,  ///< the board is made again: its money, its days
    relic,   ///< something that can't be bought again dies, and the board is made again
};
template <>
inline constexpr std::array words_of<AtStake>{"little", "respin", "relic"};

/// What a must hangs on. Without one it is met when a person says so, with evidence.
enum class MustTie { none, dimension, pin, interval, reply };
template <>
inline constexpr std::array words_of<MustTie>{"none", "dimension", "pin", "interval", "reply"};

/// What the thing has to do or to fit.
struct Must {
    std::string id;
    std::string says;
    MustTie tie = MustTie::none;
    std::string thing;                  ///< Dimension::id, "PORT/PIN", ContractInterval::id
    std::optional<double> least, most;  ///< of a dimension, in mm
    Fact<std::optional<bool>> met;      ///< a trial, a mock-up: as found; assumed counts as open
    std::string waived;                 ///< why it need not be; empty: it must
    std::string extra;
    bool operator==(const Must&) const = default;
};

/// A question typed by hand, or what a person says of one that the program found or a kind of job asks; then
/// `id` is that one's, and what is missing is as it was found.
struct PlanQuestion {
    std::string id;
    std::string says;
    std::optional<Stage> stage;
    std::optional<double> chance;  ///< of being wrong, 0 to 1
    std::optional<AtStake> at_stake;
    std::optional<double> money, days;  ///< in place of the job's own respin
    std::optional<double> minutes;      ///< to settle it
    std::string how;                    ///< the cheapest way to settle it
    std::string tried;                  ///< what was tried already
    Fact<std::string> answer;           ///< empty: open. An assumed answer leaves it open
    std::string extra;
    bool operator==(const PlanQuestion&) const = default;
};

/// Somebody goes on although a gate is shut.
struct GateOverride {
    JobGate gate = JobGate::breadboard;
    std::string reason;
    std::string date;
    std::string extra{};
    bool operator==(const GateOverride&) const = default;
};

inline constexpr double most_task_hours = 100'000, most_wait_days = 10'000;

/// Hours of work, then a wait in days: what comes after it comes after its wait.
struct PlanTask {
    std::string id;  ///< what it is called
    double least_h = 1, likely_h = 1, most_h = 1;
    std::vector<std::string> after;
    double wait_least_d = 0, wait_most_d = 0;
    std::optional<Stage> stage;
    std::string done;  ///< the day its work was done; empty: still to do
    std::string extra{};
    bool operator==(const PlanTask&) const = default;
};

enum class WayKind { build, buy, adapt };
template <>
inline constexpr std::array words_of<WayKind>{"build", "buy", "adapt"};

/// A way to get the thing: built, bought, or made from a design found elsewhere.
struct WayThere {
    std::string id;
    std::string says;
    WayKind kind = WayKind::adapt;
    std::string link;  ///< as text
    std::string licence;
    std::string change;  ///< what would have to change
    std::optional<double> money, hours, days;
    std::string extra;
    bool operator==(const WayThere&) const = default;
};

/// Something small that makes being wrong cheaper: a second board in the same parcel, an alternate footprint.
struct Hedge {
    std::string id;
    std::string says;
    std::string question;          ///< whose chance it hangs on: a question's id; empty: `chance`
    std::optional<double> chance;  ///< 0 to 1
    std::optional<double> price;
    std::optional<double> avoids_money, avoids_days;  ///< nothing: what the question would cost
    std::string extra;
    bool operator==(const Hedge&) const = default;
};

struct JobPlan {
    std::string kind;  ///< JobKind::id; empty: not said
    HostSide host = HostSide::not_said;
    Reversible reversible = Reversible::not_said;
    std::string deadline;                ///< a day; empty for none
    std::optional<double> respin_money;  ///< of making the board again; nothing: from the parts list
    std::optional<double> respin_days;
    std::vector<Stage> wanted, unwanted;  ///< stages that the kind does not say: brought back, left out
    std::vector<Must> musts;
    std::vector<PlanQuestion> questions;
    std::vector<GateOverride> overrides;
    std::vector<PlanTask> tasks;  ///< empty: as proposed
    std::vector<WayThere> ways;
    std::vector<Hedge> hedges;
    std::string extra;
    bool operator==(const JobPlan&) const = default;
};

/// Tasks that wait for each other in a circle, each after the next and the last after the first; empty when
/// there is none. A name that no task has is passed over.
[[nodiscard]] std::vector<std::string> circle_in(const std::vector<PlanTask>& tasks);

}  // namespace grayrelic
