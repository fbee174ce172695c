// SPDX-License-Identifier: GPL-3.0-or-later
// Boards over one another: what meets, what drives against what, which joints are covered.
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <map>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/fit/stack_analysis.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_joints_named = 6;

class StackJudge {
  public:
    StackJudge(const Analysis& a, const BoardStack& stack, Findings& out)
        : stack_(stack), r_(stack_of(a, stack)), out_(out) {}

    void judge() {
        for (const auto& p : r_.problems)
            add("stack-unknown", Severity::doubt, "problem/" + p, r_.name + ": " + p,
                "The stack can't be judged whole.", "Enter it, or mend the name.");
        if (stack_.levels.size() < 2) return;
        gaps();
        clashes();
        faults();
        joins();
        covered();
    }

  private:
    void add(const char* id, Severity severity, const std::string& thing, std::string says, std::string why,
             std::string todo) {
        out_.push_back({id,
                        severity,
                        Stage::board,
                        "stack " + r_.id + " " + thing,
                        std::move(says),
                        std::move(why),
                        std::move(todo),
                        {"stack", r_.id + "/" + thing}});
    }
    const std::string& level(std::size_t i) const { return r_.boards[i].name; }

    void gaps() {
        for (const auto& g : r_.gaps)
            add("stack-unknown", Severity::note, "gap/" + g,
                "Nobody knows how far " + g + " is from the level below",
                "Parts that face each other there can't be judged; all joints under it count as covered.",
                "Measure the height of the connectors, pushed together, with a caliper.");
        for (const auto& g : r_.assumed)
            add("fit-assumed", Severity::doubt, "gap/" + g, r_.name + " rests on an assumed gap below " + g,
                "Nobody has measured it.",
                "Measure the connectors, pushed together, before the boards are ordered.");
        for (const auto& g : r_.geometry.guessed)
            add("stack-unknown", Severity::note, "edge/" + g, "The edge of " + g + " is not known",
                "The box of its pads is taken for it.", "Bring files with an outline.");
        if (!r_.geometry.unknown.empty())
            add("stack-unknown", Severity::note, "heights",
                fmt::format("Nobody knows how high {} {}", r_.geometry.unknown.front(),
                            r_.geometry.unknown.size() == 1
                                ? "is"
                                : fmt::format("and {} more are", r_.geometry.unknown.size() - 1)),
                "Their packages are not described: " + few(r_.geometry.unknown) + ".",
                "Say their packages in the circuit, or measure them.");
    }

    static std::string few(const std::vector<std::string>& all) {
        const std::vector<std::string> some(
            all.begin(), all.begin() + static_cast<std::ptrdiff_t>(std::min(all.size(), most_joints_named)));
        return fmt::format(
            "{}{}", fmt::join(some, ", "),
            all.size() > some.size() ? fmt::format(" and {} more", all.size() - some.size()) : "");
    }

    void clashes() {
        for (const auto& c : r_.geometry.clashes) {
            const auto low =
                c.lower_part.empty() ? "the board " + level(c.lower) : level(c.lower) + "/" + c.lower_part;
            const auto up =
                c.upper_part.empty() ? "the board " + level(c.upper) : level(c.upper) + "/" + c.upper_part;
            const auto thing = "clash/" + low + "+" + up;
            const auto needs =
                fmt::format("{:.1f} mm{}", c.needs_mm,
                            c.leads ? fmt::format(" with {:.1f} mm of trimmed leads over it", lead_mm) : "");
            if (c.verdict == Verdict::unknown)
                add("stack-unknown", Severity::note, thing,
                    fmt::format("Nobody knows whether {} meets {}", low, up),
                    "They need " + needs + "; the gap is not known.", "Measure the gap.");
            else
                add("boards-meet", c.verdict == Verdict::stop ? Severity::stop : Severity::doubt, thing,
                    fmt::format("{} {} {}", low,
                                c.verdict == Verdict::stop ? "meets" : "comes within half a millimetre of",
                                up),
                    fmt::format("They need {}, {:.1f} mm are there.", needs, *c.room_mm),
                    "Use higher connectors or a lower package, or move one of them.");
        }
    }

    void faults() {
        for (const auto& f : r_.nets.faults) {
            const char* id = f.kind == StackFault::conflict || f.kind == StackFault::may_conflict
                                 ? "stack-conflict"
                             : f.kind == StackFault::undriven ? "stack-undriven"
                                                              : "stack-contacts";
            const auto severity = f.verdict == Verdict::stop    ? Severity::stop
                                  : f.verdict == Verdict::doubt ? Severity::doubt
                                                                : Severity::note;
            add(id, severity, std::string(word(f.kind)) + "/" + f.thing, f.says,
                "As the levels of " + r_.name + " are fitted.", f.todo);
        }
    }

    void joins() {
        for (const auto& j : r_.nets.joins) {
            const auto& join = stack_.joins[j.join];
            const auto thing = "join/" + join.lower;
            if (!j.problem.empty())
                add("stack-contacts", Severity::stop, thing, join.lower + " does not meet " + join.upper,
                    j.problem + ".", "Mend the name, or where the level lies.");
            else if (join.kind == JoinKind::soldered && j.strip.verdict == Verdict::stop)
                add("joints-covered", Severity::stop, thing,
                    fmt::format("The strip from {} to {} can't be soldered", join.lower, join.upper),
                    j.strip.says + ".",
                    "Use connectors that are pushed together, or move what stands over it.");
        }
    }

    void covered() {
        std::map<std::pair<std::size_t, std::size_t>, std::vector<std::string>> by;
        for (const auto& c : r_.geometry.covered) by[{c.level, c.by}].push_back(c.ref + "." + c.pin);
        for (const auto& [pair, joints] : by)
            add("joints-covered", Severity::note, "covered/" + level(pair.first) + "+" + level(pair.second),
                fmt::format("{} of {} under {}",
                            plural(static_cast<long long>(joints.size()), "joint", "joints"),
                            level(pair.first), level(pair.second)),
                few(joints) + ": nobody reaches them once the two are together.",
                "Solder and beep them before.");
    }

    const BoardStack& stack_;
    StackResult r_;
    Findings& out_;
};

}  // namespace

void check_stacks(const Analysis& a, Findings& out) {
    for (const auto& s : *a.dossier.stacks) StackJudge(a, s, out).judge();
}

}  // namespace grayrelic
