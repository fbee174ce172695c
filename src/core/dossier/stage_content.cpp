// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/stage_content.hpp"

namespace grayrelic {

bool has_content(const Dossier& d, Stage stage) {
    switch (stage) {
        case Stage::plan:
            return !d.units->empty() || !d.dimensions->empty() || *d.supply != Supply{} ||
                   *d.plan != JobPlan{};
        case Stage::port: return !d.ports->empty() || !d.cables->empty();
        case Stage::trace: {
            const auto& t = *d.trace;
            return !d.readings->empty() || !t.parts.empty() || !t.scans.empty() || !t.netlists.empty() ||
                   !t.donors.empty() || !t.deviations.empty();
        }
        case Stage::listen: return !d.captures->empty();
        case Stage::timing: {
            const auto& t = *d.timing;
            return !t.reply.trigger.empty() || !t.options.empty() || !t.intervals.empty() ||
                   !t.clocks.empty() || !t.networks.empty() || !t.budgets.empty() || !t.golden.empty();
        }
        case Stage::wire: return !bridge_text(*d.wire, *d.timing).text.empty() || *d.wire != Wire{};
        case Stage::map: return *d.map != DeviceMap{};
        case Stage::board: return !d.boards->empty() || !d.stacks->empty();
        case Stage::build: return !d.builds->empty();
        case Stage::log: return *d.log != JobLog{};
        default: return false;
    }
}

}  // namespace grayrelic
