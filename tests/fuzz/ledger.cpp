// SPDX-License-Identifier: GPL-3.0-or-later
// Ledgers of readings, entries as typed at the bench: what is read is written and read again the same, and
// whatever they say, nets, suspects and the next probe come to an end.
#include <algorithm>

#include "core/dossier/edits.hpp"
#include "core/trace/board_model.hpp"
#include "core/trace/ledger.hpp"
#include "core/trace/next_probe.hpp"
#include "core/trace/suspects.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

namespace {

void derive(const Ledger& ledger) {
    Trace trace;
    trace.aliases = ledger.aliases;
    BoardModel model = BoardModel::build(put(put({}, std::move(trace)), ledger.readings), {});
    auto table = model.table;
    auto links = links_of(ledger.readings, table, 2.0);
    if (static_cast<std::size_t>(table.size()) != model.points.size()) std::abort();
    const auto state = derive_nets(table.size(), std::move(links));
    std::vector<std::string> names;
    for (int p = 0; p < table.size(); ++p) {
        names.push_back(table.name(p));
        if (table.find(names.back()) != p) std::abort();
    }
    std::sort(names.begin(), names.end(), natural_less);
    (void)state.pairs_open();
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
    const auto text = fuzz::text_of(data, size);
    if (const auto r = parse_entry(text)) {
        const auto back = parse_reading(write_reading(*r));
        if (!back || back->kind != r->kind) std::abort();
        (void)show_reading(*r);
    }
    const auto ledger = read_ledger(text, "fuzz");
    if (!ledger) return 0;
    const auto back = read_ledger(write_ledger(ledger->readings, ledger->aliases), "again");
    if (!back || back->readings.size() != ledger->readings.size() || back->aliases != ledger->aliases)
        std::abort();
    if (size < 2000) derive(*ledger);
    return 0;
}
