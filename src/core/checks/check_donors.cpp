// SPDX-License-Identifier: GPL-3.0-or-later
// Parts from donor boards: how often they have been heated, and what is not settled before they go in.
#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"

namespace grayrelic {

/// A part that was soldered in, taken out and soldered in again has had three; more is asking for lifted bond
/// wires and cracked packages. Judgement from practice, not a limit of a standard.
constexpr int usual_heat_limit = 3;

void check_donors(const Analysis& a, Findings& out) {
    const auto& donors = a.dossier.trace->donors;
    for (const auto& d : donors) {
        const int limit = d.heat_limit > 0 ? d.heat_limit : usual_heat_limit;
        if (d.verdict == "dead")
            out.push_back({"donor-dead",
                           Severity::stop,
                           Stage::trace,
                           "donor " + d.id,
                           fmt::format("{} is dead", d.part),
                           "Its verdict says so.",
                           fmt::format("Find another for {}.", d.to.empty() ? "its place" : d.to),
                           {"donor", d.id}});
        // The transfer itself is one more.
        else if (d.heat_cycles + 1 > limit)
            out.push_back({"donor-heat",
                           Severity::doubt,
                           Stage::trace,
                           "donor " + d.id,
                           fmt::format("{} has been soldered too often", d.part),
                           fmt::format("{} so far and one to come; given are {}.",
                                       plural(d.heat_cycles, "time", "times"), limit),
                           "Fit a socket for it, and spare it the iron.",
                           {"donor", d.id}});
        else if (d.verdict.empty() || d.verdict == "doubtful")
            out.push_back({"donor-unsettled",
                           Severity::note,
                           Stage::trace,
                           "donor " + d.id,
                           fmt::format("{} is not known to work", d.part),
                           d.condition.empty() ? "Nobody has tested it yet." : d.condition + ".",
                           "Test it in the donor board before it comes out.",
                           {"donor", d.id}});
        for (const auto& o : donors)
            if (&o != &d && d.order > 0 && o.order == d.order && o.id > d.id)
                out.push_back({"donor-order",
                               Severity::note,
                               Stage::trace,
                               "donor " + d.id,
                               fmt::format("{} and {} have the same place in the order", d.part, o.part),
                               fmt::format("Both are number {}.", d.order),
                               "Give each its own.",
                               {"donor", d.id}});
    }
}

}  // namespace grayrelic
