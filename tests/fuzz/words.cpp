// SPDX-License-Identifier: GPL-3.0-or-later
// What people type and scripts pass: quantities, times, edges, look rules, reply options. A quantity that was
// understood and printed exactly is understood again as the same.
#include <cstdlib>

#include "core/base/quantity.hpp"
#include "core/signal/capture.hpp"
#include "core/timing/reply.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    if (const auto t = parse_time(text)) {
        const auto again = parse_time(print_exact(*t));
        if (!again || *again != *t) std::abort();
    }
    for (const auto unit : {Unit::volt, Unit::hertz, Unit::ohm}) (void)parse_number(text, unit);
    (void)parse_edge(text);
    (void)parse_look(text);
    (void)parse_option(text);
    return 0;
}
