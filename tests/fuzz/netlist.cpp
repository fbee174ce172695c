// SPDX-License-Identifier: GPL-3.0-or-later
// Netlists, as tables and as IPC-D-356A: what is read is written in both forms and reads back as the same
// nets. Behind a line of dashes stands another one that it is compared with.
#include "core/trace/netlist.hpp"
#include "core/trace/compare.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    const auto cut = text.find("\n---\n");
    const auto list = read_netlist(text.substr(0, cut), "fuzz");
    if (!list) return 0;
    const auto back = read_net_csv(write_net_csv(list->nets), "again");
    // Nets without points have no row of their own.
    if (!list->nets.empty() && !back) std::abort();
    (void)write_ipc_d_356a(list->nets, list->places, "fuzz");
    if (size > 4000) return 0;
    if (!compare_nets(list->nets, list->nets).equal()) std::abort();
    if (cut == std::string_view::npos) return 0;
    if (const auto other = read_netlist(text.substr(cut + 5), "other"))
        (void)compare_nets(list->nets, other->nets);
    return 0;
}
