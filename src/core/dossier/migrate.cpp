// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/migrate.hpp"

#include <array>

namespace grayrelic {
namespace {

struct Step {  // from version n to n + 1; the first is n = 1
    void (*up)(SortedJson&);
    void (*down)(SortedJson&);
    std::vector<JsonMove> moves;
};

void readings_out_of_trace(SortedJson& d) {
    const auto trace = d.find("trace");
    if (trace == d.end() || !trace->is_object() || !trace->contains("readings")) return;
    d["readings"] = std::move((*trace)["readings"]);
    trace->erase("readings");
}

/// Version 1 wrote the trace with its readings, an empty list too, or neither.
void readings_into_trace(SortedJson& d) {
    const bool traced = d.contains("trace");
    if (!traced && !d.contains("readings")) return;
    if (!traced) d["trace"] = {{"beep_below_ohm", 2.0}};
    d["trace"]["readings"] = d.contains("readings") ? std::move(d["readings"]) : SortedJson::array();
    d.erase("readings");
}

const std::array<Step, dossier_version - 1>& steps() {
    static const std::array<Step, dossier_version - 1> all{{
        {readings_out_of_trace,
         readings_into_trace,
         {{{{"readings", 0, false}}, {{"trace", 0, false}, {"readings", 0, false}}}}},
    }};
    return all;
}

}  // namespace

void migrate(SortedJson& dossier, int from) {
    for (int v = from; v < dossier_version; ++v) steps()[static_cast<std::size_t>(v - 1)].up(dossier);
    dossier["version"] = dossier_version;
}

void migrate_back(SortedJson& dossier, int to) {
    for (int v = dossier_version; v > to; --v) steps()[static_cast<std::size_t>(v - 2)].down(dossier);
    dossier["version"] = to;
}

std::vector<JsonMove> migration_moves(int from) {
    std::vector<JsonMove> out;
    for (int v = from; v < dossier_version; ++v) {
        const auto& moves = steps()[static_cast<std::size_t>(v - 1)].moves;
        out.insert(out.begin(), moves.begin(),
                   moves.end());  // the latest first: messages go back step by step
    }
    return out;
}

}  // namespace grayrelic
