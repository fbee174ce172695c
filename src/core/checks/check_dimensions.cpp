// SPDX-License-Identifier: GPL-3.0-or-later
// Dimensions that something is decided by: measured, or only thought to be so.
#include <fmt/format.h>

#include <set>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"

namespace grayrelic {

void check_dimensions(const Analysis& a, Findings& out) {
    // What a fit adds up is judged there, with the figure at which it turns.
    std::set<std::string> in_fits;
    for (const auto& b : *a.dossier.boards)
        for (const auto& fit : b.fits)
            for (const auto& i : fit.items) in_fits.insert(i.dimension);
    for (const auto& d : *a.dossier.dimensions) {
        if (d.decides.empty() || in_fits.count(d.id) > 0) continue;
        const bool missing = !d.mm.value;
        if (!missing && d.mm.evidence.kind != EvidenceKind::assumed) continue;
        const auto name = d.name.empty() ? d.id : d.name;
        Finding f{"dimension-assumed", Severity::doubt, Stage::plan, "dimension " + d.id, {}, {}, {},
                  {"dimension", d.id}};
        f.says = fmt::format("{} is {}", name, missing ? "not known" : "assumed");
        f.why = missing ? fmt::format("{} is decided by it.", d.decides)
                        : fmt::format("{} is decided by it; {} mm{} rests on no measurement.", d.decides,
                                      *d.mm.value,
                                      d.mm.uncertainty ? fmt::format(" ± {} mm", *d.mm.uncertainty) : "");
        f.todo = "Measure it with a caliper, and enter the value with its tolerance.";
        out.push_back(std::move(f));
    }
}

}  // namespace grayrelic
