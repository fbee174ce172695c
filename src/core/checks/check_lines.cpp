// SPDX-License-Identifier: GPL-3.0-or-later
// What ails the lines of a capture: chatter, twitches, a line that nobody drives, ringing, a threshold too
// near a level. Guesses from how the lines move; each says how to tell.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic {
namespace {

constexpr double strong_overshoot =
    0.25;  ///< share of the swing; inputs clamp at about as much above their supply
constexpr double least_clearance = 0.2;  ///< between threshold and level
constexpr double together = 0.7;         ///< share of twitches that come with other lines' edges

class Lines {
  public:
    Lines(const CaptureAnalysis& c, Findings& out) : c_(c), out_(out) {}

    void run() {
        std::vector<const LineHealth*> twitching;
        for (const auto& h : c_.health) {
            if (h.perhaps_floating)
                floating(h);
            else if (h.chatter() > 0)
                chatter(h);
            if (h.twitches > 0) {
                if (static_cast<double>(h.twitches_with_others) >= together * static_cast<double>(h.twitches))
                    twitching.push_back(&h);
                else
                    twitches(h);
            }
            if (h.analogue) analogue(h);
        }
        if (twitching.size() > 1)
            ground(twitching);
        else if (twitching.size() == 1)
            crosstalk(*twitching.front());
    }

  private:
    void add(const char* id, Severity severity, const LineHealth& h, Time at, std::string says,
             std::string why, std::string todo) {
        out_.push_back({id,
                        severity,
                        Stage::listen,
                        "capture " + c_.ref.id + " " + short_name(h.signal),
                        std::move(says),
                        std::move(why),
                        std::move(todo),
                        {"capture", c_.ref.id, at}});
    }

    void chatter(const LineHealth& h) {
        const bool rises = h.chatter_after_rise > 4 * h.chatter_after_fall,
                   falls = h.chatter_after_fall > 4 * h.chatter_after_rise;
        add("line-chatters", Severity::doubt, h, h.chatter_at,
            fmt::format("{} chatters at its {}", short_name(h.signal),
                        rises   ? "rises"
                        : falls ? "falls"
                                : "edges"),
            fmt::format("{} of {} changes in {} have brief pulses behind them, for up to {}.",
                        print_count(h.chatter()), print_count(h.changes), c_.ref.title,
                        print(h.chatter_longest)),
            rises ? "A slow rise looks like this: try a smaller pull-up, or a threshold with hysteresis. The "
                    "chatter filter hides it."
            : falls
                ? "A slow fall looks like this. Look at it with an oscilloscope. The chatter filter hides it."
                : "A contact that bounces, ringing, or a poor ground look like this: shorten the ground lead "
                  "and record again. The chatter filter hides it.");
    }
    void floating(const LineHealth& h) {
        add("line-floating", Severity::doubt, h, h.chatter_at,
            fmt::format("Perhaps nobody drives {}", short_name(h.signal)),
            fmt::format("In {} its changes come in bunches and keep to half periods of {} Hz: an open input "
                        "that picks up the mains does so.",
                        c_.ref.title, h.mains_hz),
            "See whether its probe has contact; else give it a pull-up of 10 kΩ and record again.");
    }
    void crosstalk(const LineHealth& h) {
        add("line-twitches", Severity::doubt, h, h.twitch_at,
            fmt::format("{} twitches when {} switches", short_name(h.signal), short_name(h.twitches_with)),
            fmt::format("{} of its {} brief pulses in {} come with an edge of another line.",
                        print_count(h.twitches_with_others), print_count(h.twitches), c_.ref.title),
            "Part the two leads, or put a ground between them, and record again.");
    }
    void ground(const std::vector<const LineHealth*>& all) {
        std::string names;
        long n = 0;
        for (const auto* h : all)
            names += (names.empty() ? "" : ", ") + short_name(h->signal), n += h->twitches;
        add("line-twitches", Severity::doubt, *all.front(), all.front()->twitch_at,
            fmt::format("{} lines twitch when others switch", all.size()),
            fmt::format("{} brief pulses on {} in {} come with edges of other lines: a missing or long "
                        "ground does so to all lines at once.",
                        print_count(n), names, c_.ref.title),
            "See whether the capture device's ground has contact, close to the signals; then record again.");
    }
    void twitches(const LineHealth& h) {
        // What is under three samples is said by the check of the sampling.
        if (c_.sampling)
            for (const auto& line : c_.sampling->lines)
                if (line.signal == h.signal && line.too_short >= h.twitches) return;
        add("line-twitches", Severity::note, h, h.twitch_at,
            fmt::format("{} twitches by itself", short_name(h.signal)),
            fmt::format("{} of brief pulses in {} after which it is as before, with no other line.",
                        plural(h.twitches, "case", "cases"), c_.ref.title),
            "Look at one: interference from outside, or something that is not captured.");
    }
    void analogue(const LineHealth& h) {
        const auto& a = *h.analogue;
        if (a.overshoot > strong_overshoot)
            add("line-rings", Severity::doubt, h, a.overshoot_at,
                fmt::format("{} overshoots by {}", short_name(h.signal), print_share(a.overshoot)),
                a.ringing_hz > 0 ? fmt::format("Median of its edges in {}; it then rings at {}.",
                                               c_.ref.title, print(Hertz(a.ringing_hz)))
                                 : fmt::format("Median of its edges in {}.", c_.ref.title),
                "A probe with a long ground lead shows this where there is none: shorten it first. If it "
                "stays, a series resistor of 33 to 100 Ω at the driver.");
        if (a.high > a.low && a.least_clearance < least_clearance)
            add("threshold-off", Severity::doubt, h, {},
                fmt::format("The threshold of {} is close to a level", short_name(h.signal)),
                fmt::format(
                    "Only {} of the swing from {:.3g} to {:.3g} lies between it and the nearer level.",
                    print_share(std::max(0.0, a.least_clearance)), a.low, a.high),
                "State one half way between the two levels.");
    }

    const CaptureAnalysis& c_;
    Findings& out_;
};

}  // namespace

void check_lines(const Analysis& a, Findings& out) {
    for (const auto& c : a.listen->captures) Lines(*c, out).run();
}

}  // namespace grayrelic
