// SPDX-License-Identifier: GPL-3.0-or-later
// Does each option's reply come in time? Only the chosen option's failures are Stop or Doubt.
#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/checks/registry.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {
namespace {

std::string remedy(const Analysis& a, const OptionAnalysis& late) {
    for (const auto& other : a.timing->options)
        if (other->option.id != late.option.id && other->verdict == Verdict::holds)
            return fmt::format("Choose {}, which is in time, or bring the slowest reply under {}.",
                               other->option.name, print(*late.summary->enough_latency));
    return fmt::format(
        "Bring the slowest reply under {}: less work, no holds, or a part that answers by itself.",
        print(*late.summary->enough_latency));
}

}  // namespace

void check_reply_late(const Analysis& a, Findings& out) {
    for (const auto& o : a.timing->options) {
        Finding f;
        f.id = "reply-late";
        f.stage = Stage::timing;
        f.subject = "option " + o->option.id;
        f.place = {"option", o->option.id};
        if (!o->summary) {
            if (!o->chosen) continue;
            f.severity = Severity::doubt;
            f.says = fmt::format("{} can't be judged", o->option.name);
            f.why = o->problem;
            f.todo = "Mend this, so that the reply can be simulated.";
            out.push_back(std::move(f));
            continue;
        }
        const auto& s = *o->summary;
        if (o->verdict != Verdict::stop && o->verdict != Verdict::doubt) continue;
        const bool late = o->verdict == Verdict::stop;
        f.severity = !o->chosen ? Severity::note : late ? Severity::stop : Severity::doubt;
        f.says = fmt::format("{} {}", o->option.name,
                             !late                              ? "answers only just in time"
                             : o->network && s.lost == s.missed ? "gives other replies"
                                                                : "answers too late");
        if (!o->chosen) f.says += " (not chosen)";
        f.why = fmt::format("Needs {}, slowest {}", print(*s.enough_latency),
                            print(Time::from_seconds(s.latency.max)));
        if (s.missed > 0)
            f.why += fmt::format(": {} of {} replies missed",
                                 print_share(static_cast<double>(s.missed) / static_cast<double>(s.replies)),
                                 print_count(s.replies));
        if (s.lost > 0) f.why += fmt::format(", {} of them lost while busy", print_count(s.lost));
        if (s.missed == 0 && s.worst_margin)
            f.why += fmt::format("; smallest margin {}", print(*s.worst_margin));
        f.why += ".";
        f.todo = remedy(a, *o);
        if (s.worst && a.timing->tasks) f.place.at = (*a.timing->tasks)[*s.worst].trigger;
        out.push_back(std::move(f));
    }
    if (a.timing->options.empty() || !a.dossier.timing->chosen.empty()) return;
    out.push_back({"reply-late",
                   Severity::doubt,
                   Stage::timing,
                   "options",
                   "No option is chosen",
                   fmt::format("{} ways to build the reply are described.", a.timing->options.size()),
                   "Choose one; only its failures then count.",
                   {"option", a.timing->options.front()->option.id}});
}

}  // namespace grayrelic
