// SPDX-License-Identifier: GPL-3.0-or-later
// Units that are being put together: wrong values, joints that do not hold, bridges.
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/build/unit_state.hpp"
#include "core/checks/registry.hpp"
#include "core/diagnose/holds.hpp"

namespace grayrelic {
namespace {

Finding build_finding(const char* id, Severity severity, const UnitBuild& b, const std::string& thing,
                      std::string says, std::string why, std::string todo) {
    return {id,
            severity,
            Stage::build,
            "unit " + b.id + " " + thing,
            std::move(says),
            std::move(why),
            std::move(todo),
            {"build", b.id + "/" + thing}};
}

std::string unit_title(const Analysis& a, const std::string& id) {
    const auto* unit = a.dossier.find_unit(id);
    return unit == nullptr || unit->name.empty() ? id : unit->name;
}

/// What was measured at the holds, where anything was.
void check_holds(const Analysis& a, const UnitBuild& b, const UnitOnBench& bench, Findings& out) {
    const auto title = unit_title(a, b.id);
    const bool begun = !b.measured.empty() || !b.passed.empty();
    const auto board = begun ? bench_board(a, b.board, b.variant) : std::nullopt;
    if (board) {
        const auto up = bring_up(holds_of(a, *board), b, &bench);
        for (std::size_t i = 0; i < up.holds.size(); ++i) {
            const auto& hold = up.holds[i];
            const auto& state = up.states[i];
            for (std::size_t k = 0; k < hold.points.size(); ++k) {
                const auto& p = hold.points[k];
                // Parts and joints have findings of their own.
                if (state.points[k].verdict != Verdict::stop || !state.points[k].value ||
                    hold.id == "incoming" || hold.id == "joints")
                    continue;
                const bool passed = state.verdict == Verdict::doubt;
                out.push_back(build_finding(
                    "hold-failed", passed ? Severity::doubt : Severity::stop, b,
                    "hold:" + hold.id + "/" + p.id,
                    fmt::format("{} on {}: {}", p.what, title, print_point(p, *state.points[k].value)),
                    fmt::format("{} is expected ({}){}", p.expected,
                                p.because.empty() ? hold.name : p.because,
                                passed ? ". Passed all the same: " + state.reason + "." : "."),
                    hold.powered || hold.firm
                        ? "No power, and nothing plugged in, before the cause is found: Find the fault."
                        : "Find the cause before the next step."));
            }
            const bool powered = std::any_of(b.measured.begin(), b.measured.end(),
                                             [&](const HoldReading& r) { return r.hold == hold.id; });
            if (hold.powered && powered && !up.may_power) {
                out.push_back(build_finding(
                    "power-unproven", Severity::stop, b, "hold:" + hold.id,
                    fmt::format("{} was under power before its rails were measured", title),
                    "A rail has no reading of its resistance to ground, or one that is too low.",
                    "Power off. Measure each rail first; a short does not get better by current."));
                break;
            }
        }
    }
    for (const auto& t : b.ties)
        if (t.off.empty()) {
            const bool installed = std::any_of(b.measured.begin(), b.measured.end(),
                                               [](const HoldReading& r) { return r.hold == "installed"; });
            out.push_back(build_finding("tie-left", installed ? Severity::doubt : Severity::note, b,
                                        "hold:back/ties", fmt::format("Still on {}: {}", title, t.what),
                                        "It was put on for a while only.", "Take it off, and say so."));
        }
}

}  // namespace

void check_build(const Analysis& a, Findings& out) {
    if (!a.data) return;
    for (const auto& b : *a.dossier.builds) {
        const auto title = unit_title(a, b.id);
        const auto bench = unit_on_bench(a, b);
        if (!bench) {
            out.push_back(build_finding(
                "build-unknown", Severity::note, b, "board", "Nobody knows what " + title + " is built from",
                "Its board has no circuit.", "Say its board, and the board's circuit or netlist."));
            continue;
        }
        check_holds(a, b, *bench, out);
        for (const auto& p : bench->parts) {
            if (p.verdict != Verdict::stop && p.verdict != Verdict::doubt) continue;
            out.push_back(
                build_finding("wrong-value", p.verdict == Verdict::stop ? Severity::stop : Severity::doubt, b,
                              "part:" + p.ref, fmt::format("{} on {}: {}", p.ref, title, p.says),
                              p.as_fitted + (p.consequence.empty() ? "." : ". " + p.consequence + "."),
                              p.verdict == Verdict::stop ? "Take it out before power is on."
                                                         : "Measure it, beside the board."));
        }
        for (const auto& j : bench->joints) {
            if (j.verdict != Verdict::stop) continue;
            const bool bridge = j.line.expect == JointExpect::open;
            out.push_back(build_finding(
                bridge ? "solder-bridge" : "joint-open", Severity::stop, b,
                "joint:" + j.line.a + "+" + j.line.b,
                bridge ? fmt::format("{} and {} are bridged on {}", j.line.a, j.line.b, title)
                       : fmt::format("No beep from {} to {} on {}", j.line.a, j.line.b, title),
                bridge
                    ? j.line.why + "."
                    : fmt::format("One of these joints does not hold: {}.", fmt::join(j.line.proves, ", ")),
                bridge ? "Look between them with a loupe, draw the solder off, beep again; no power before."
                       : "Heat each again with flux, and beep again."));
        }
        if (!bench->due.empty())
            out.push_back(build_finding("joints-due", Severity::doubt, b,
                                        "joint:" + bench->joints[bench->due.front()].line.a + "+" +
                                            bench->joints[bench->due.front()].line.b,
                                        fmt::format("{} on {} before step {}",
                                                    plural(static_cast<long long>(bench->due.size()),
                                                           "line is to be beeped", "lines are to be beeped"),
                                                    title, *bench->next_step),
                                        "The next part covers these joints.",
                                        "Take these lines of the joint sheet first."));
    }
}

}  // namespace grayrelic
