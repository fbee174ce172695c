// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/network_reply.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <functional>
#include <future>
#include <span>

#include "core/base/text.hpp"
#include "core/decode/settings.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t tasks_for_mixtures = 200;

/// Changes of bits of the frames, each halfway between two of them; for all such inputs in one walk over the
/// frames.
class BitStimuli {
  public:
    void add(std::size_t place, int bit) { bits_.push_back({place, static_cast<std::size_t>(bit) - 1}); }
    void follow(const Decoding& decoding, std::vector<Stimulus>& stimuli) {
        if (bits_.empty()) return;
        for (std::size_t i = 0; i < decoding.frames.size(); ++i) {
            const auto& f = decoding.frames[i];
            const auto between = [&] {
                return i == 0 ? f.start - Time::ps(1)
                              : decoding.frames[i - 1].end + (f.start - decoding.frames[i - 1].end) / 2;
            };
            for (auto& b : bits_)
                if (b.bit < f.levels.size()) take(b, f.levels[b.bit], between, stimuli[b.place]);
        }
    }

  private:
    struct Bit {
        std::size_t place, bit;
        Level level = Level::unknown;
        Time last = Time::min();
    };
    template <class Between>
    static void take(Bit& b, char c, const Between& between, Stimulus& s) {
        const Level next = c == '1' ? Level::one : c == '0' ? Level::zero : Level::unknown;
        if (next == b.level) return;
        if (b.level == Level::unknown && s.changes.empty() && s.first == Level::unknown) {
            s.first = b.level = next;
            return;
        }
        b.last = std::max(between(), b.last + Time::ps(1));
        s.changes.push_back({b.last, b.level = next});
    }
    std::vector<Bit> bits_;
};

/// One run's answers to the tasks, by when the output took the level that the original had at the deadline.
/// Takes the output's changes as they come and keeps those of one task.
class AnswerJudge {
  public:
    using Sink = std::function<void(std::optional<Time>)>;
    AnswerJudge(const DigitalWaveform& original, std::span<const ReplyTask> tasks, Sink sink)
        : original_(original), tasks_(tasks), sink_(std::move(sink)) {}  // deadlines only rise

    void change(const LevelChange& c) {
        while (next_ < tasks_.size() && until() <= c.at && tasks_[next_].deadline < c.at) judge();
        since_trigger_.push_back(c);
    }
    /// The changes have ended, the tasks perhaps not.
    void finish() {
        while (next_ < tasks_.size()) judge();
    }

  private:
    [[nodiscard]] Time until() const {
        return next_ + 1 < tasks_.size() ? tasks_[next_ + 1].trigger : Time::max();
    }
    /// The last change before the next trigger decides, and it must stand at the deadline to be in time.
    void judge() {
        const auto& task = tasks_[next_];
        const Level wanted = original_.before(task.deadline) ? Level::one : Level::zero;
        auto c = since_trigger_.begin();
        for (; c != since_trigger_.end() && c->at <= task.trigger; ++c) level_ = c->level;
        Level level = level_;
        Time since = task.trigger;
        const auto follow = [&](Time to) {
            for (; c != since_trigger_.end() && c->at <= to; ++c) level = c->level, since = c->at;
        };
        follow(task.deadline);
        if (level != wanted) follow(until() == Time::max() ? until() : until() - Time::ps(1));
        sink_(level == wanted ? std::optional(since) : std::nullopt);
        ++next_;
        // What came up to the next trigger is the level that it finds.
        const Time from = next_ < tasks_.size() ? tasks_[next_].trigger : Time::max();
        auto keep = since_trigger_.begin();
        for (; keep != since_trigger_.end() && keep->at <= from; ++keep) level_ = keep->level;
        since_trigger_.erase(since_trigger_.begin(), keep);
    }

    LevelWalk original_;
    std::span<const ReplyTask> tasks_;
    Sink sink_;
    std::vector<LevelChange> since_trigger_;
    Level level_ = Level::unknown;  // at the trigger of the next task
    std::size_t next_ = 0;
};

/// One corner: what its replies add up to, and the run itself.
struct CornerRun {
    ReplySummary summary;
    SimulationResult result;
    std::vector<LevelChange> answer;  ///< only when asked for
};

Result<CornerRun> run_corner(const Network& network, const std::vector<Stimulus>& stimuli,
                             SimulationOptions options, int answer, const DigitalWaveform& original,
                             std::span<const ReplyTask> tasks, bool keep_answer, Progress& progress) {
    CornerRun r;
    ReplyTally tally(tasks);
    options.watched = answer;
    AnswerJudge judge(original, tasks, [&](std::optional<Time> t) { tally.add(t); });
    options.on_change = [&](const LevelChange& c) {
        judge.change(c);
        if (keep_answer) r.answer.push_back(c);
    };
    auto result = simulate(network, stimuli, options, progress);
    if (!result) return fail(result.error());
    judge.finish();
    r.result = std::move(*result);
    r.summary = std::move(tally).summary();
    return r;
}

NetworkCorner corner_of(std::string name, const ReplySummary& s) {
    return {std::move(name), Time::from_seconds(s.latency.n > 0 ? s.latency.max : 0.0), s.worst_margin,
            s.missed};
}

bool worse(const ReplySummary& a, const ReplySummary& b) {
    if (a.missed != b.missed) return a.missed > b.missed;
    return a.worst_margin.value_or(Time::min()) < b.worst_margin.value_or(Time::min());
}

}  // namespace

Result<std::vector<Stimulus>> stimuli_from(const Network& network, const Capture& capture,
                                           const Decoding* decoding) {
    std::vector<Stimulus> out;
    BitStimuli bits;
    for (const auto& in : network.inputs) {
        const auto& name = network.net_name(in.net);
        if (in.from == NetworkInput::From::level) continue;
        if (in.from == NetworkInput::From::bit) {
            if (decoding == nullptr)
                return fail_usage("input " + in_quotes(name) + " from a bit of frames",
                                  "a capture that is decoded");
            bits.add(out.size(), in.bit);
            out.emplace_back().net = in.net;
            continue;
        }
        const auto waveform = capture.find_digital(name);
        if (!waveform)
            return fail_usage("input " + in_quotes(name) + ", which the capture has not",
                              "a signal's name, or \"= 0\", \"= 1\" or \"= bitN\" after it");
        out.push_back(stimulus_of(in.net, **waveform));
    }
    if (decoding != nullptr) bits.follow(*decoding, out);
    return out;
}

Result<NetworkReply> reply_of_network(const Network& network, const Capture& capture,
                                      const Decoding* decoding, const std::vector<ReplyTask>& tasks,
                                      const std::string& original_answer, Progress& progress) {
    const auto original = capture.find_digital(original_answer);
    if (!original) return fail(original.error());
    const auto stimuli = stimuli_from(network, capture, decoding);
    if (!stimuli) return fail(stimuli.error());
    NetworkReply r;
    if (network.outputs.empty()) return fail_usage("a network without an output", "output NET");
    int answer = network.outputs.front();
    for (const int o : network.outputs)
        if (network.net_name(o) == short_name(original_answer)) answer = o;
    r.answer = network.net_name(answer);
    // The three corners side by side; each knows nothing of the others.
    const auto corner_run = [&](Corner corner) {
        SimulationOptions options;
        options.corner = corner;
        // The typical corner lies between the other two and decides nothing.
        const auto count = std::min(tasks.size(), corner == Corner::typical ? most_outcomes : tasks.size());
        if (count < tasks.size()) options.end = tasks[count].trigger;
        return run_corner(network, *stimuli, options, answer, **original, std::span(tasks).first(count),
                          corner == Corner::slow, progress);
    };
    auto typical = std::async(std::launch::async, corner_run, Corner::typical),
         fast = std::async(std::launch::async, corner_run, Corner::fast);
    Result<CornerRun> slow = corner_run(Corner::slow);
    Result<CornerRun> others[] = {typical.get(), fast.get()};
    bool first = true;
    for (const auto corner : {Corner::slow, Corner::typical, Corner::fast}) {
        auto& done = corner == Corner::slow ? slow : others[corner == Corner::typical ? 0 : 1];
        if (!done) return fail(done.error());
        auto& [summary, result, changes] = *done;
        r.corners.insert(r.corners.begin(), corner_of(std::string(word(corner)), summary));
        if (corner == Corner::slow) {
            r.waveform = waveform_of(changes, capture.extent.to);
            changes = {};
            r.faults = std::move(result.faults);
            r.clashes = std::move(result.clashes);
            r.stopped = std::move(result.stopped);
            LevelWalk ours(r.waveform), theirs(**original);
            const bool all_known = r.waveform.unknown().empty();
            for (const auto& task : tasks) {
                ++r.compared;
                if (ours.before(task.deadline) == theirs.before(task.deadline) &&
                    (all_known || r.waveform.known_before(task.deadline)))
                    continue;
                ++r.differ;
                if (!r.first_difference) r.first_difference = task.deadline;
            }
        }
        const bool whole = summary.replies == static_cast<long>(tasks.size());
        if (first || (whole && worse(summary, r.summary))) r.summary = std::move(summary);
        first = false;
    }
    // A fast part beside a slow one can be worse than all slow: set-up and hold between them.
    const auto parts = network.parts.size();
    if (parts < 2 || parts > most_mixed_parts) return r;
    const auto count = std::min(tasks.size(), tasks_for_mixtures);
    for (unsigned mix = 1; mix + 1 < (1U << parts); ++mix) {
        SimulationOptions options;
        std::string name;
        for (std::size_t p = 0; p < parts; ++p) {
            const bool quick = ((mix >> p) & 1U) != 0;
            options.part_corners.push_back(quick ? Corner::fast : Corner::slow);
            name += fmt::format("{}{} {}", name.empty() ? "" : ", ", network.parts[p].ref,
                                quick ? "fast" : "slow");
        }
        if (count < tasks.size()) options.end = tasks[count].trigger;
        auto done = run_corner(network, *stimuli, options, answer, **original, std::span(tasks).first(count),
                               false, progress);
        if (!done) return fail(done.error());
        r.corners.push_back(corner_of(name, done->summary));
    }
    return r;
}

}  // namespace grayrelic
