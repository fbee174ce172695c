// SPDX-License-Identifier: GPL-3.0-or-later
// Kept copies of captures: what unpacks is packed and unpacked again with as many edges.
#include "core/capture/capture_pack.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto c = unpack_capture(fuzz::text_of(data, size));
    if (!c) return 0;
    fuzz::check_edges(*c);
    const auto again = unpack_capture(pack_capture(*c));
    if (!again || again->edge_count() != c->edge_count()) std::abort();
    return 0;
}
