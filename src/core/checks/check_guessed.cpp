// SPDX-License-Identifier: GPL-3.0-or-later
// What a reader had to guess, such as the unit of a table's times, is a doubt about every figure measured
// from it; what it merely decided is a note.
#include <fmt/format.h>

#include "core/checks/registry.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic {

void check_guessed(const Analysis& a, Findings& out) {
    for (const auto& c : a.listen->captures) {
        if (!c->capture) continue;
        const auto& remarks = c->capture->remarks;
        for (std::size_t i = 0; i < remarks.size(); ++i)
            out.push_back({"capture-guessed",
                           remarks[i].guessed ? Severity::doubt : Severity::note,
                           Stage::listen,
                           fmt::format("capture {} remark {}", c->ref.id, i + 1),
                           fmt::format("{} does not say all", c->ref.title),
                           remarks[i].says + ".",
                           "Compare one pulse with what is known, or state it in the file's heading.",
                           {"capture", c->ref.id}});
    }
}

}  // namespace grayrelic
