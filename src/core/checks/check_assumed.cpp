// SPDX-License-Identifier: GPL-3.0-or-later
// A verdict is worth what its weakest number is. Names each assumed number that the reply's verdict rests on.
#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/checks/registry.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {
namespace {

bool is_assumed(const Evidence& e) {
    return e.kind == EvidenceKind::assumed;
}

/// A logic path is judged at its slowest corner; all of firmware's numbers count.
bool verdict_rests_on(OptionKind kind, const std::string& key) {
    return kind != OptionKind::logic || key == "max";
}

void check_look(const Analysis& a, Findings& out) {
    const auto& q = a.dossier.timing->reply;
    if (q.trigger.empty() || !is_assumed(q.look.evidence)) return;
    const auto look = parse_look(q.look.value);
    const auto trigger = parse_edge(q.trigger);
    if (!look || !trigger) return;
    Finding f{
        "rests-on-assumed", Severity::doubt, Stage::timing, "host look", "The host's look is assumed", "", "",
        {"look", ""}};
    f.why = fmt::format("Taken as {} after {}", show_look(*look), show_edge(*trigger));
    if (const auto least = a.timing->least_allowed) f.why += fmt::format(", {} at the least", print(*least));
    f.why += "; a capture can't show it.";
    f.todo = "Confirm with a reply that is late on purpose, or read the host's program.";
    out.push_back(std::move(f));
}

}  // namespace

void check_assumed(const Analysis& a, Findings& out) {
    check_look(a, out);
    for (const auto& o : a.timing->options) {
        if (!o->chosen) continue;
        std::string names;
        long n = 0;
        for (const auto& spec : parameters_of(o->option.kind)) {
            for (const auto& p : o->option.numbers)
                if (p.key == spec.key && is_assumed(p.value.evidence))
                    names += fmt::format("{}{} {}", n++ == 0 ? "" : ", ", spec.label,
                                         print_number(p.value.value, spec.unit));
            for (const auto& p : o->option.parameters)
                if (p.key == spec.key && is_assumed(p.value.evidence) &&
                    verdict_rests_on(o->option.kind, p.key)) {
                    names += fmt::format("{}{} {}", n++ == 0 ? "" : ", ", spec.label, print(p.value.value));
                }
        }
        if (n == 0) continue;
        out.push_back(
            {"rests-on-assumed",
             Severity::doubt,
             Stage::timing,
             "option " + o->option.id,
             fmt::format("{} rests on {}", o->option.name, n == 1 ? "an assumed number" : "assumed numbers"),
             names + ".",
             "Take them from the part's data sheet at the supply used, or measure them.",
             {"option", o->option.id}});
    }
    for (const auto& figure : a.timing->contract) {
        const auto& i = figure->interval;
        if (i.kind == IntervalKind::look || !is_assumed(figure->evidence) || !figure->problem.empty())
            continue;
        out.push_back({"rests-on-assumed",
                       Severity::note,
                       Stage::timing,
                       "interval " + i.id,
                       fmt::format("{} is assumed", i.name),
                       i.capture.empty() ? "Entered by hand." : "Its meaning can't be seen in the capture.",
                       "Measure it from a capture, or name its source.",
                       {"interval", i.id}});
    }
}

}  // namespace grayrelic
