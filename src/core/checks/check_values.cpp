// SPDX-License-Identifier: GPL-3.0-or-later
// Values that do not make what is wanted, or can't be computed.
#include <fmt/format.h>

#include "core/checks/registry.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {

void check_values(const Analysis& a, Findings& out) {
    if (!a.wire) return;
    for (const auto& v : a.wire->values) {
        Finding f{"value-wrong",        Severity::doubt, Stage::wire, "value " + v.value.id, {}, {}, {},
                  {"value", v.value.id}};
        if (!v.problem.empty()) {
            f.says = fmt::format("{} can't be computed", v.value.name);
            f.why = v.problem;
            f.todo = "Enter what is missing, or tie it to a part that is there.";
        } else if (v.verdict == Verdict::stop || v.verdict == Verdict::doubt) {
            // What rests on an assumed number alone is not sure enough to stop.
            f.severity = v.verdict == Verdict::stop && !(v.found && !v.assumed.empty()) ? Severity::stop
                                                                                        : Severity::doubt;
            f.says = fmt::format("{}: the value is {}", v.value.name,
                                 v.verdict == Verdict::stop ? "wrong" : "doubtful");
            f.why = v.why;
            const auto* near = v.result ? v.result->find("nearest_ohm") : nullptr;
            if (near == nullptr && v.result) near = v.result->find("nearest_f");
            f.todo = near != nullptr && near->value && !near->is_list
                         ? fmt::format("Fit {}.", print_measure(*near->value, near->measure))
                         : "Try other values beside it: its figures follow at once.";
            if (v.at_hand && v.at_hand->verdict != Verdict::stop)
                f.todo += fmt::format(" Your drawer has {} of {}.", v.at_hand->count,
                                      print_measure(v.at_hand->ohm, ValueMeasure::ohms));
            if (!v.assumed.empty())
                f.todo += fmt::format(" It rests on an assumed {}.", fmt::join(v.assumed, ", "));
        } else {
            continue;
        }
        out.push_back(std::move(f));
    }
}

}  // namespace grayrelic
