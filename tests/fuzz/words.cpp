// SPDX-License-Identifier: GPL-3.0-or-later
// What people type and scripts pass: quantities, times, edges, events, look rules, reply options. What was
// understood and printed exactly is understood again as the same.
#include "core/base/quantity.hpp"
#include "core/dossier/event_name.hpp"
#include "core/signal/capture.hpp"
#include "core/timing/reply.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    if (const auto t = parse_time(text)) {
        const auto again = parse_time(print_exact(*t));
        if (!again || *again != *t) std::abort();
        (void)print(*t);
    }
    for (const auto unit : {Unit::volt, Unit::hertz, Unit::ohm}) {
        const auto v = parse_number(text, unit);
        if (!v) continue;
        const auto again = parse_number(print_exact(*v, unit), unit);
        if (!again || *again != *v) std::abort();
        (void)print_number(*v, unit);
    }
    if (const auto edge = parse_edge(text)) {
        const auto again = parse_edge(print_edge(*edge));
        if (!again || !(*again == *edge)) std::abort();
        (void)show_edge(*edge);
    }
    if (const auto event = parse_event(text)) (void)show_event(*event);
    if (const auto look = parse_look(text)) (void)show_look(*look);
    if (const auto option = parse_option(text)) (void)model_of(*option);
    return 0;
}
