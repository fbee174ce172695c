// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/network_reply.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <future>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t tasks_for_mixtures = 200;

/// Changes of one bit of the frames, each halfway between two of them.
Stimulus bit_stimulus(int net, int bit, const Decoding& decoding) {
    Stimulus s;
    s.net = net;
    Level level = Level::unknown;
    Time last = Time::min();
    for (std::size_t i = 0; i < decoding.frames.size(); ++i) {
        const auto& f = decoding.frames[i];
        if (f.levels.size() < static_cast<std::size_t>(bit)) continue;
        const char c = f.levels[static_cast<std::size_t>(bit) - 1];
        const Level next = c == '1' ? Level::one : c == '0' ? Level::zero : Level::unknown;
        if (level == Level::unknown && s.changes.empty() && s.first == Level::unknown) {
            s.first = level = next;
            continue;
        }
        if (next == level) continue;
        Time at = i == 0 ? f.start - Time::ps(1)
                         : decoding.frames[i - 1].end + (f.start - decoding.frames[i - 1].end) / 2;
        at = std::max(at, last + Time::ps(1));
        s.changes.push_back({at, level = next});
        last = at;
    }
    return s;
}

/// One run's answers to the tasks, by when the output took the level that the original had at the deadline.
std::vector<ReplyOutcome> outcomes_of(const std::vector<LevelChange>& answer, const DigitalWaveform& original,
                                      const std::vector<ReplyTask>& tasks, std::size_t count) {
    std::vector<ReplyOutcome> out(count);
    std::size_t at = 0;  // changes before the trigger
    for (std::size_t i = 0; i < count; ++i) {
        const auto& task = tasks[i];
        const Time next = i + 1 < tasks.size() ? tasks[i + 1].trigger : Time::max();
        const Level wanted = original.level_before(task.deadline) ? Level::one : Level::zero;
        while (at < answer.size() && answer[at].at <= task.trigger) ++at;
        // The last change before the next trigger decides, and it must stand at the deadline to be in time.
        Level level = at == 0 ? Level::unknown : answer[at - 1].level;
        Time since = task.trigger;
        std::size_t k = at;
        for (; k < answer.size() && answer[k].at <= task.deadline; ++k) {
            level = answer[k].level;
            since = answer[k].at;
        }
        if (level == wanted) {
            out[i].reply = since;
            continue;
        }
        for (; k < answer.size() && answer[k].at < next; ++k) {
            level = answer[k].level;
            since = answer[k].at;
        }
        if (level == wanted) out[i].reply = since;
    }
    return out;
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
    for (const auto& in : network.inputs) {
        const auto& name = network.net_name(in.net);
        if (in.from == NetworkInput::From::level) continue;
        if (in.from == NetworkInput::From::bit) {
            if (decoding == nullptr)
                return fail_usage("input " + in_quotes(name) + " from a bit of frames",
                                  "a capture that is decoded");
            out.push_back(bit_stimulus(in.net, in.bit, *decoding));
            continue;
        }
        const auto waveform = capture.find_digital(name);
        if (!waveform)
            return fail_usage("input " + in_quotes(name) + ", which the capture has not",
                              "a signal's name, or \"= 0\", \"= 1\" or \"= bitN\" after it");
        out.push_back(stimulus_of(in.net, **waveform));
    }
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
    int answer = network.outputs.empty() ? -1 : network.outputs.front();
    for (const int o : network.outputs)
        if (network.net_name(o) == short_name(original_answer)) answer = o;
    if (answer < 0) return fail_usage("a network without an output", "output NET");
    r.answer = network.net_name(answer);
    const auto run = [&](SimulationOptions options,
                         std::size_t count) -> Result<std::pair<ReplySummary, SimulationResult>> {
        if (count < tasks.size()) options.end = tasks[count].trigger;
        auto result = simulate(network, *stimuli, options, progress);
        if (!result) return fail(result.error());
        const std::vector<ReplyTask> some(tasks.begin(), tasks.begin() + static_cast<std::ptrdiff_t>(count));
        auto outcomes = outcomes_of(result->nets[static_cast<std::size_t>(answer)], **original, tasks, count);
        return std::pair(summarise_replies(some, std::move(outcomes)), std::move(*result));
    };
    // The three corners side by side; each knows nothing of the others.
    using Done = Result<std::pair<ReplySummary, SimulationResult>>;
    const auto corner_run = [&](Corner corner) {
        SimulationOptions options;
        options.corner = corner;
        return run(options, tasks.size());
    };
    auto typical = std::async(std::launch::async, corner_run, Corner::typical),
         fast = std::async(std::launch::async, corner_run, Corner::fast);
    Done slow = corner_run(Corner::slow);
    Done others[] = {typical.get(), fast.get()};
    bool first = true;
    for (const auto corner : {Corner::slow, Corner::typical, Corner::fast}) {
        auto& done = corner == Corner::slow ? slow : others[corner == Corner::typical ? 0 : 1];
        if (!done) return fail(done.error());
        auto& [summary, result] = *done;
        r.corners.insert(r.corners.begin(), corner_of(std::string(word(corner)), summary));
        if (corner == Corner::slow) {
            r.waveform = waveform_of(result.nets[static_cast<std::size_t>(answer)], capture.extent.to);
            r.faults = std::move(result.faults);
            r.clashes = std::move(result.clashes);
            r.stopped = std::move(result.stopped);
            for (const auto& task : tasks) {
                ++r.compared;
                if (r.waveform.known_before(task.deadline) &&
                    r.waveform.level_before(task.deadline) == (*original)->level_before(task.deadline))
                    continue;
                ++r.differ;
                if (!r.first_difference) r.first_difference = task.deadline;
            }
        }
        if (first || worse(summary, r.summary)) r.summary = std::move(summary);
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
        auto done = run(options, count);
        if (!done) return fail(done.error());
        r.corners.push_back(corner_of(name, done->first));
    }
    return r;
}

}  // namespace grayrelic
