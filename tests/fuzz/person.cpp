// SPDX-License-Identifier: GPL-3.0-or-later
// A person's drawer and bench, edited by hand or written by another program: what is read is written and read
// again the same.
#include "core/person/bench_text.hpp"
#include "core/person/drawer.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    if (const auto d = drawer_from_json(text, "fuzz")) {
        const auto back = drawer_from_json(drawer_to_json(*d), "again");
        if (!back || *back != *d) std::abort();
    }
    if (const auto d = drawer_from_csv(text, "fuzz")) {
        const auto back = drawer_from_csv(drawer_to_csv(*d), "again");
        if (!back || back->parts.size() != d->parts.size()) std::abort();
        for (std::size_t i = 0; i < d->parts.size(); ++i)
            if (back->parts[i].count != d->parts[i].count) std::abort();
    }
    if (const auto b = bench_from_json(text, "fuzz")) {
        const auto back = bench_from_json(bench_to_json(*b), "again");
        if (!back || back->instruments.size() != b->instruments.size()) std::abort();
        BenchNeeds needs;
        needs.highest_volts = 12;
        (void)bench_reach(*b, needs);
    }
    (void)parse_instrument(text);
    if (const auto s = parse_solder(text); s && (own_yield(*s) <= 0 || own_yield(*s) >= 1)) std::abort();
    return 0;
}
