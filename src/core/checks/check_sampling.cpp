// SPDX-License-Identifier: GPL-3.0-or-later
// A pulse of under three samples is not to be trusted, and a reply faster than the sampling can't be
// measured.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/checks/registry.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {
namespace {

/// A few short pulses among very many are glitches of the line; more than this share means the rate is too
/// low.
constexpr double rare = 0.01;

std::string rate(Time period) {
    return print(Hertz(1.0 / period.seconds()));
}

/// The line with the shortest pulses, where many are too short; a few on a line are a note of their own.
const SamplingReport::Line* slow_or_glitches(const CaptureAnalysis& c, Findings& out) {
    const SamplingReport::Line* worst = nullptr;
    const SamplingReport::Line* first_glitch = nullptr;
    std::string glitches;
    long glitch_count = 0;
    for (const auto& line : c.sampling->lines) {
        if (line.too_short == 0) continue;
        if (static_cast<double>(line.too_short) > rare * static_cast<double>(line.pulses)) {
            if (worst == nullptr || line.shortest < worst->shortest) worst = &line;
            continue;
        }
        glitch_count += line.too_short;
        glitches += (glitches.empty() ? "" : ", ") + short_name(line.signal);
        if (first_glitch == nullptr) first_glitch = &line;
    }
    if (glitch_count > 0)
        out.push_back(
            {"sample-rate-low",
             Severity::note,
             Stage::listen,
             "capture " + c.ref.id + " glitches",
             fmt::format("{} very short {} on {}", print_count(glitch_count),
                         glitch_count == 1 ? "pulse" : "pulses", glitches),
             fmt::format("In {}, under three samples at {}: glitches, or pulses too short to measure.",
                         c.ref.title, rate(*c.sample_period)),
             "Look at one; a filter or a faster capture tells which.",
             {"capture", c.ref.id, first_glitch->at}});
    return worst;
}

/// What the bench's fastest instrument does about that rate; nothing while nobody said how fast one is.
std::string on_the_bench(const Person& person, double hertz) {
    const auto best = person.bench.best_rate();
    if (!best) return {};
    return best->value() >= hertz ? fmt::format("; your bench reaches {}", print(*best))
                                  : fmt::format("; your bench reaches only {}", print(*best));
}

/// Asynchronous serial is read in the middle of each bit: that takes four samples a bit.
void slow_for_serial(const CaptureAnalysis& c, Time period, bool told, const Person& person, Findings& out) {
    constexpr double wanted = 4.0;
    const auto judge = [&](const std::shared_ptr<const Decoding>& d) {
        if (told || !d || d->kind != "async-serial" || d->frames.empty()) return;
        const auto found = d->settings.find("baud");
        const auto* baud = found == d->settings.end() ? nullptr : std::get_if<double>(&found->second);
        if (baud == nullptr || !(*baud > 0)) return;
        const double samples = 1.0 / *baud / period.seconds();
        if (samples >= wanted * 0.99) return;
        told = true;
        out.push_back({"sample-rate-low",
                       Severity::doubt,
                       Stage::listen,
                       "capture " + c.ref.id,
                       fmt::format("{} was sampled too slowly", c.ref.title),
                       fmt::format("A bit of {} takes {:.1f} samples at {}; a serial line needs four.",
                                   print_number(*baud, Unit::baud), samples, rate(period)),
                       fmt::format("Record it again at {} or more{}.", print(Hertz(wanted * *baud)),
                                   on_the_bench(person, wanted * *baud)),
                       {"capture", c.ref.id, d->frames.front().start}});
    };
    judge(c.decoding);
    judge(c.characters);
    for (const auto& also : c.also) judge(also.decoding);
}

}  // namespace

void check_sampling(const Analysis& a, Findings& out) {
    for (const auto& c : a.listen->captures) {
        if (!c->sampling || !c->sample_period) continue;
        const auto* worst = slow_or_glitches(*c, out);
        const Time period = *c->sample_period;
        // A grid that nobody stated, as wide as the shortest pulse, may be a line's own clock; only lines of
        // different kinds that share it have it from the sampling.
        const auto busy = std::count_if(c->sampling->lines.begin(), c->sampling->lines.end(),
                                        [](const auto& line) { return line.pulses >= 16; });
        if (c->sample_period_found && busy < 3 && worst != nullptr && worst->shortest < period + period / 2)
            worst = nullptr;
        slow_for_serial(*c, period, worst != nullptr, *a.person, out);
        if (worst != nullptr) {
            Finding f{"sample-rate-low",
                      Severity::doubt,
                      Stage::listen,
                      "capture " + c->ref.id,
                      fmt::format("{} was sampled too slowly", c->ref.title),
                      "",
                      "",
                      {"capture", c->ref.id, worst->at}};
            f.why = fmt::format(
                "{}: pulses down to {} are {:.1f} samples at {}; three are needed. Edges are uncertain by "
                "{}.",
                short_name(worst->signal), print(worst->shortest),
                worst->shortest.seconds() / period.seconds(), rate(period), print(period));
            f.todo = fmt::format("Record it again at {} or more{}.", rate(worst->shortest / 4),
                                 on_the_bench(*a.person, 4 / worst->shortest.seconds()));
            out.push_back(std::move(f));
        }
    }
    for (const auto& figure : a.timing->contract) {
        if (figure->n == 0 || !figure->max || figure->interval.kind != IntervalKind::response) continue;
        if (figure->sampling * 3 <= *figure->max) continue;
        out.push_back({"sample-rate-low",
                       Severity::doubt,
                       Stage::timing,
                       "interval " + figure->interval.id,
                       fmt::format("{} is shorter than the sampling can tell", figure->interval.name),
                       fmt::format("At most {}, each ± {}.", print(*figure->max), print(figure->sampling)),
                       "Measure it from a faster capture.",
                       {"interval", figure->interval.id}});
    }
}

}  // namespace grayrelic
