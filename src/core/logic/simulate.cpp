// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/simulate.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/logic/settled.hpp"
#include "core/logic/simulate_engine.hpp"

namespace grayrelic {
namespace {

using namespace simulating;

/// The changes of all stimuli, one moment after the other. Those of waveforms are many and looked at each
/// time; the others, such as bits of frames, change seldom.
class Drivers {
  public:
    explicit Drivers(const std::vector<Stimulus>& stimuli) : stimuli_(stimuli), cursor_(stimuli.size()) {
        for (std::size_t i = 0; i < stimuli.size(); ++i)
            (stimuli[i].waveform != nullptr ? often_ : seldom_).push_back(i);
        for (const auto& s : stimuli) next_.push_back(s.size() == 0 ? Time::max() : s.time(0));
        soonest_seldom_ = soonest(seldom_);
        soonest_ = std::min(soonest(often_), soonest_seldom_);
    }
    [[nodiscard]] Time next() const { return soonest_; }
    /// What changes at next(), in the order of the stimuli; then goes on to the moment after it.
    const std::vector<Driven>& take() {
        taken_.clear();
        for (const auto i : often_) take(i);
        if (soonest_seldom_ == soonest_) {
            for (const auto i : seldom_) take(i);
            std::sort(taken_.begin(), taken_.end(),
                      [](const Driven& a, const Driven& b) { return a.stimulus < b.stimulus; });
            soonest_seldom_ = soonest(seldom_);
        }
        soonest_ = std::min(soonest(often_), soonest_seldom_);
        return taken_;
    }

  private:
    void take(std::size_t i) {
        if (next_[i] != soonest_) return;
        const auto& s = stimuli_[i];
        taken_.push_back({static_cast<unsigned>(i), s.net, s.level(cursor_[i])});
        next_[i] = ++cursor_[i] < s.size() ? s.time(cursor_[i]) : Time::max();
    }
    [[nodiscard]] Time soonest(const std::vector<std::size_t>& of) const {
        Time t = Time::max();
        for (const auto i : of) t = std::min(t, next_[i]);
        return t;
    }

    const std::vector<Stimulus>& stimuli_;
    std::vector<std::size_t> often_, seldom_, cursor_;
    std::vector<Time> next_;
    std::vector<Driven> taken_;
    Time soonest_, soonest_seldom_;
};

class Run {
  public:
    Run(const Network& network, const std::vector<Stimulus>& stimuli, const SimulationOptions& options)
        : n_(network), o_(options), engine_(network, o_), settled_(engine_, o_), drivers_(stimuli) {
        if (o_.watched)
            o_.on_change = [this, tell = o_.on_change](const LevelChange& c) {
                settled_.emitted(c);
                tell(c);
            };
        for (const auto& s : stimuli) {
            if (s.size() == 0) continue;
            first_ = std::min(first_, s.time(0));
            last_ = std::max(last_, s.time(s.size() - 1));
        }
        if (first_ == Time::max()) first_ = last_ = Time{};
        // Everything stands as it is from the beginning of time as far as anyone can see: one picosecond
        // before the first change at the latest, and at 0.
        engine_.start(stimuli, std::min(Time{}, first_ - Time::ps(1)));
    }

    Run(const Run&) = delete;
    Run& operator=(const Run&) = delete;

    Result<SimulationResult> run(Progress& progress) {
        auto& out = engine_.out_;
        const double span = static_cast<double>((last_ - first_).count());
        long counted = 0;
        while (true) {
            const Time outside = drivers_.next(), own = settled_.holds() ? Time::max() : engine_.next_event();
            const Time now = std::min(outside, own);
            if (now == Time::max() || (o_.end && now > *o_.end)) break;
            if (outside == now) {
                const auto& driven = drivers_.take();
                if (!settled_.step(driven, now, std::min(drivers_.next(), o_.end.value_or(Time::max()))))
                    for (const auto& d : driven) engine_.drive(d.net, d.level, now);
            }
            if (!settled_.holds()) {
                engine_.take_events(now);
                engine_.settle(now);
                settled_.look(now, drivers_.next());
            }
            if ((++counted & 0xFFF) == 0) {
                if (progress.cancelled()) return fail_cancelled();
                if (span > 0) progress.report(static_cast<double>((now - first_).count()) / span);
            }
            if (out.events > o_.most_events) {
                out.stopped = fmt::format(
                    "still changing after {} events, at {}: {}", print_count(out.events), print(now),
                    n_.loop.empty() ? "too much activity for one run"
                                    : "net " + n_.loop + " is in a loop that oscillates");
                break;
            }
        }
        return std::move(out);
    }

  private:
    const Network& n_;
    SimulationOptions o_;
    Engine engine_;
    Settled settled_;
    Drivers drivers_;
    Time first_ = Time::max(), last_ = Time::min();
};

Status check_stimuli(const Network& network, const std::vector<Stimulus>& stimuli) {
    for (const auto& s : stimuli) {
        if (s.net < 0 || static_cast<std::size_t>(s.net) >= network.nets.size())
            return fail_usage("a stimulus of no net", "a net of the network");
        for (std::size_t k = 1; k < s.changes.size(); ++k)
            if (s.changes[k].at <= s.changes[k - 1].at)
                return fail_usage("changes out of order on " + network.net_name(s.net),
                                  "strictly increasing times");
    }
    return {};
}

}  // namespace

char letter(Level level) {
    return "01xz"[static_cast<std::size_t>(level)];
}

std::string_view word(TimingFault::Kind k) {
    return k == TimingFault::Kind::setup ? "setup" : k == TimingFault::Kind::hold ? "hold" : "width";
}

Result<SimulationResult> simulate(const Network& network, const std::vector<Stimulus>& stimuli,
                                  const SimulationOptions& options, Progress& progress) {
    long_work("simulate");
    for (const auto& p : network.problems)
        if (p.fatal) return fail_at("", p.line, p.says, p.expected);
    if (network.parts.empty()) return fail_usage("a network without parts", "at least one part");
    if (!options.part_corners.empty() && options.part_corners.size() != network.parts.size())
        return fail_usage("corners for some of the parts", "one for each part");
    if (auto checked = check_stimuli(network, stimuli); !checked) return fail(checked.error());
    return Run(network, stimuli, options).run(progress);
}

}  // namespace grayrelic
