// SPDX-License-Identifier: GPL-3.0-or-later
// Units that are being put together: wrong values, joints that do not hold, bridges.
#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/base/text.hpp"
#include "core/build/unit_state.hpp"
#include "core/checks/registry.hpp"

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

}  // namespace

void check_build(const Analysis& a, Findings& out) {
    for (const auto& b : *a.dossier.builds) {
        const auto title = unit_title(a, b.id);
        const auto bench = unit_on_bench(a, b);
        if (!bench) {
            out.push_back(build_finding(
                "build-unknown", Severity::note, b, "board", "Nobody knows what " + title + " is built from",
                "Its board has no circuit.", "Say its board, and the board's circuit or netlist."));
            continue;
        }
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
