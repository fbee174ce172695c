// SPDX-License-Identifier: GPL-3.0-or-later
// Ledgers, netlists (CSV and IPC-D-356A), part files and readings of a meter: what is read is written and
// read again the same, and whatever they say, nets, suspects and the next probe come to an end.
#include <cstdint>
#include <cstdlib>

#include "core/dossier/edits.hpp"
#include "core/trace/compare.hpp"
#include "core/trace/meter.hpp"
#include "core/trace/netlist.hpp"
#include "core/trace/next_probe.hpp"
#include "core/trace/suspects.hpp"

namespace {

using namespace grayrelic;

void derive(const Ledger& ledger) {
    Trace trace;
    trace.aliases = ledger.aliases;
    BoardModel model = BoardModel::build(put(put({}, std::move(trace)), ledger.readings), {});
    auto table = model.table;
    auto links = links_of(ledger.readings, table, 2.0);
    if (static_cast<std::size_t>(table.size()) != model.points.size()) std::abort();
    const auto state = derive_nets(table.size(), std::move(links));
    if (state.proven() < 0 || state.proven() > 1) std::abort();
    const Likelihood prior(model);
    (void)suspects(state, prior);
    (void)resting_on_one(state);
    const auto plan = plan_probes(prior, state);
    for (const auto& p : plan.next)
        if (state.net_of[static_cast<std::size_t>(p.a)] == state.net_of[static_cast<std::size_t>(p.b)])
            std::abort();
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size == 0) return 0;
    const std::string_view text(reinterpret_cast<const char*>(data) + 1, size - 1);
    switch (data[0] % 4) {
        case 0:
            if (const auto ledger = read_ledger(text, "fuzz")) {
                const auto back = read_ledger(write_ledger(ledger->readings, ledger->aliases), "again");
                if (!back || back->readings.size() != ledger->readings.size() ||
                    back->aliases != ledger->aliases)
                    std::abort();
                if (size < 2000) derive(*ledger);
            }
            break;
        case 1:
        case 2:
            if (const auto list =
                    data[0] % 4 == 1 ? read_net_csv(text, "fuzz") : read_ipc_d_356a(text, "fuzz")) {
                const auto back = read_net_csv(write_net_csv(list->nets), "again");
                // Nets without points have no row of their own.
                if (!list->nets.empty() && !back) std::abort();
                if (size < 4000 && !compare_nets(list->nets, list->nets).equal()) std::abort();
                (void)write_ipc_d_356a(list->nets, list->places, "fuzz");
            }
            break;
        default:
            (void)part_from_json(text, "fuzz");
            (void)parse_meter_answer(text);
            if (const auto r = parse_entry(text)) {
                const auto back = parse_reading(write_reading(*r));
                if (!back || back->kind != r->kind) std::abort();
            }
            (void)package_pins(text.substr(0, 40));
    }
    return 0;
}
