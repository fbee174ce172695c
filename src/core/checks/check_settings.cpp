// SPDX-License-Identifier: GPL-3.0-or-later
// Settings that kill, and pins that a module lacks.
#include <fmt/format.h>

#include "core/checks/registry.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {

void check_settings(const Analysis& a, Findings& out) {
    if (!a.wire) return;
    for (const auto& s : a.wire->settings) {
        if (s.verdict != Verdict::stop && s.verdict != Verdict::doubt) continue;
        Finding f{"setting-kills",
                  s.verdict == Verdict::stop ? Severity::stop : Severity::doubt,
                  Stage::wire,
                  "setting " + s.setting.id,
                  {},
                  {},
                  {},
                  {"setting", s.setting.id}};
        f.says = s.verdict == Verdict::stop ? fmt::format("{} is set wrong", s.setting.name)
                 : !s.problem.empty()       ? fmt::format("{} can't be judged", s.setting.name)
                                            : fmt::format("{} must be looked at", s.setting.name);
        f.why = s.problem.empty() ? s.says : s.problem;
        f.todo = s.problem.empty() ? s.todo : "Name the source that it sets, under Settings.";
        out.push_back(std::move(f));
    }
}

void check_module_pins(const Analysis& a, Findings& out) {
    if (!a.wire || a.wire->pins.places.empty()) return;
    const auto& s = a.wire->pins;
    if (!s.problem.empty()) {
        out.push_back({"pins-short",
                       Severity::doubt,
                       Stage::wire,
                       "module",
                       "The module's pins can't be given out",
                       s.problem,
                       "Choose the module under Pins.",
                       {"pin", ""}});
        return;
    }
    if (s.missing > 0)
        out.push_back({"pins-short",
                       Severity::stop,
                       Stage::wire,
                       "module " + s.module,
                       fmt::format("{} lacks {} of {} pins", s.module, s.missing, s.places.size()),
                       fmt::format("It has {} pins for signals.", s.pins),
                       s.remedies.empty() ? std::string() : s.remedies.front(),
                       {"pin", ""}});
    for (const auto& p : s.places)
        if (!p.pin.empty() && p.verdict != Verdict::holds && p.verdict != Verdict::unknown)
            out.push_back({"pins-short",
                           p.verdict == Verdict::stop ? Severity::stop : Severity::doubt,
                           Stage::wire,
                           "pin " + p.name,
                           fmt::format("{} on {} is {}", p.name, p.pin,
                                       p.verdict == Verdict::stop ? "impossible" : "not sure"),
                           p.why,
                           "Give it another pin, or leave the choice open.",
                           {"pin", p.need}});
}

}  // namespace grayrelic
