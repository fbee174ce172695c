// SPDX-License-Identifier: GPL-3.0-or-later
// Clocks: rates that nothing or several things explain, and receivers that would sample outside a bit.
#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/checks/registry.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {

void check_clocks(const Analysis& a, Findings& out) {
    for (const auto& c : a.timing->clocks) {
        const auto& s = c->study;
        const auto add = [&](Severity severity, std::string says, std::string why, std::string todo) {
            out.push_back({"clock-margin",
                           severity,
                           Stage::timing,
                           "clock " + s.id,
                           std::move(says),
                           std::move(why),
                           std::move(todo),
                           {"clock", s.id}});
        };
        if (!c->problem.empty()) {
            add(Severity::doubt, s.name + " can't be explained", c->problem + ".",
                "Enter the measured rate.");
        } else if (c->explanation && s.believed.empty()) {
            const auto& e = *c->explanation;
            if (e.candidates.empty())
                add(Severity::note, fmt::format("Nothing explains {}", print(s.rate.value, 5)),
                    fmt::format("No chain of the era is within {:.4g} ppm.", c->within_ppm),
                    "Widen the range, measure again, or look for the crystal.");
            else if (e.alike > 1)
                add(Severity::note, fmt::format("{} chains explain {}", e.alike, s.name),
                    fmt::format("First {} {}, then {} {}.", e.candidates[0].source, e.candidates[0].chain,
                                e.candidates[1].source, e.candidates[1].chain),
                    e.advice);
        }
        if (!c->serial_problem.empty())
            add(Severity::stop, s.name + " can't be made", c->serial_problem + ".",
                "Choose a faster clock or less oversampling.");
        if (!c->serial || (c->serial->verdict != Verdict::stop && c->serial->verdict != Verdict::doubt))
            continue;
        const bool stop = c->serial->verdict == Verdict::stop;
        add(stop ? Severity::stop : Severity::doubt,
            fmt::format("{}: the receiver samples {}", s.name,
                        stop ? "outside the bit" : "near the bit's edge"),
            fmt::format("{} from {} is off by {:.0f} ppm; the last bit's margin is {:.3f} bit.",
                        print(Hertz(c->serial->achieved_hz), 5), print(s.clock.value, 4),
                        c->serial->error_ppm, c->serial->worst_margin_bit),
            fmt::format("Come within {:.0f} ppm: a finer divider, another clock, or more oversampling.",
                        c->bearable_ppm));
    }
}

}  // namespace grayrelic
