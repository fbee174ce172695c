// SPDX-License-Identifier: GPL-3.0-or-later
// What could not be read or measured is said, not passed over.
#include <fmt/format.h>

#include "core/checks/registry.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {

void check_readable(const Analysis& a, Findings& out) {
    for (const auto& c : a.listen->captures)
        if (!c->problem.empty())
            out.push_back({"capture-unreadable",
                           Severity::doubt,
                           Stage::listen,
                           "capture " + c->ref.id,
                           fmt::format("{} can't be read", c->ref.title),
                           c->problem + ".",
                           "Mend or replace the file, or remove the capture.",
                           {"capture", c->ref.id}});
    for (const auto& f : a.timing->contract)
        if (!f->problem.empty())
            out.push_back({"capture-unreadable",
                           Severity::note,
                           Stage::timing,
                           "interval " + f->interval.id,
                           fmt::format("{} has no figure", f->interval.name),
                           f->problem + ".",
                           "Choose another capture or other edges.",
                           {"interval", f->interval.id}});
}

}  // namespace grayrelic
