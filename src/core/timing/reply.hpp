// SPDX-License-Identifier: GPL-3.0-or-later
// Reply simulation: recorded triggers of the host replayed through one way of building the reply.
//
// The models
//   poll   A trigger is noticed at the loop's next look. Against the host the loop's phase is uniform, so the
//   wait is
//          uniform in [0, period) for each trigger; the reply follows `work` later. Hence, while the loop is
//          never busy, the share missed is clamp((period + work − deadline) ÷ period, 0, 1).
//   irq    The handler starts after an entry latency, uniform in [latency_min, latency_max] or drawn from
//   measured
//          ones; while interrupts are held off it starts that much later. Holds come every `held_every` for
//          `held`; their phase is drawn anew after a pause of the host longer than `held_every` and carried
//          on within a burst. Stalls come at random, without memory, `stall_every` apart on average. The
//          reply follows `work` and `write` later.
//   core   As irq, on a core that is never held off.
//   pio    Synchroniser and program, uniform between their least and most: the phase of the clock.
//   logic  A path of gates: each reply takes a delay drawn from the triangle min, typ, max. A built board
//   keeps
//          nearly one delay, so the verdict rests on the slowest corner: worst_margin is that of
//          `latency_max`.
//   mixed  Firmware prepares after each burst of triggers, hardware answers as `logic`. A burst that begins
//   before
//          firmware is ready is answered with what stood there before: all of it is missed.
// Busy: from noticing until the work is done, firmware serves nothing else. A trigger in that time is served
// right after (late), never (lost), or queues, as the option declares. Late remembers one trigger, not two: a
// further one that comes while one waits takes its place, and the earlier one is lost. A queue loses what
// finds it full. A trigger that comes before the last one was noticed finds the processor not yet busy; the
// older reply is late by its own latency and takes no work of its own, unless triggers queue.
//
// The same triggers, model and seed give the same result on every machine.
#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/statistics.hpp"
#include "core/signal/capture.hpp"
#include "core/timing/reply_option.hpp"

namespace grayrelic {

/// A trigger and the moment at which the reply must stand.
struct ReplyTask {
    Time trigger;
    Time deadline;  ///< absolute
};

struct ReplyOutcome {
    std::optional<Time> reply;  ///< absolute; nothing when the trigger was lost
};

struct ReplySummary {
    long replies = 0;  ///< triggers judged
    long met = 0;
    long missed = 0;                     ///< late or lost
    long lost = 0;                       ///< of these, never answered
    Statistics latency;                  ///< of the replies that came, seconds
    std::optional<Time> worst_margin;    ///< smallest deadline − reply; for logic at the slowest corner
    std::optional<std::size_t> worst;    ///< the task it happened at
    std::optional<Time> enough_latency;  ///< a reply never slower than this would always be in time
    Spread latencies;                    ///< of the replies that came, seconds
    Spread after_look;                   ///< reply − deadline of the same, seconds
    /// Those of the tasks from `first_outcome` on: all of them, or of very many the most_outcomes around the
    /// worst. The others were simulated and counted, and are not kept.
    std::vector<ReplyOutcome> outcomes;
    std::size_t first_outcome = 0;
    /// When the task was answered; nothing when it was not, or is not among those kept.
    [[nodiscard]] std::optional<Time> reply_to(std::size_t task) const;
};
inline constexpr std::size_t most_outcomes = 200'000;

/// Adds up replies, given in the order of their tasks, one for each, and keeps those around the worst.
class ReplyTally {
  public:
    /// `slowest`: judge the margin by this latency where it is above the simulated one (the slow corner of a
    /// path). `tasks` must outlive this.
    explicit ReplyTally(std::span<const ReplyTask> tasks, std::optional<Time> slowest = std::nullopt);
    void add(std::optional<Time> reply);
    [[nodiscard]] ReplySummary summary() &&;

  private:
    void keep_around_worst();
    std::span<const ReplyTask> tasks_;
    std::optional<Time> slowest_;
    std::size_t next_ = 0;
    std::vector<double> latencies_;  // of those that came
    std::vector<bool> came_;
    std::vector<ReplyOutcome> latest_;  // of many: the last most_outcomes, task i at i % most_outcomes
    bool keep_soon_ = false;            // half of them after the worst are still to come
    ReplySummary s_;
};

/// Tasks in order of time.
[[nodiscard]] Result<ReplySummary> simulate_replies(const std::vector<ReplyTask>& tasks,
                                                    const ReplyModel& model, unsigned long seed,
                                                    Progress& progress);

/// Triggers further apart than this belong to different bursts: four times the usual gap.
[[nodiscard]] Time burst_pause(std::span<const ReplyTask> tasks);

/// When the host looks: "3.1us" after the trigger, or "next:STEP:fall", for which "STEP:fall" may stand too.
struct LookRule {
    std::optional<Time> after;
    EdgeName next;
};
[[nodiscard]] Result<LookRule> parse_look(std::string_view text);
[[nodiscard]] std::string show_look(const LookRule& rule);  ///< "at the next STEP ↓", "3.10 µs later"

/// Every trigger edge that is followed by a look, if asked for no later than `within` after it. `guard` moves
/// each deadline earlier.
[[nodiscard]] Result<std::vector<ReplyTask>> find_tasks(const Capture& capture, const EdgeName& trigger,
                                                        const LookRule& look, Time guard = {},
                                                        std::optional<Time> within = std::nullopt);
/// The same for triggers that are no edges, in order of time.
[[nodiscard]] Result<std::vector<ReplyTask>> find_tasks(const Capture& capture,
                                                        const std::vector<Time>& triggers,
                                                        const LookRule& look, Time guard = {},
                                                        std::optional<Time> within = std::nullopt);

}  // namespace grayrelic
