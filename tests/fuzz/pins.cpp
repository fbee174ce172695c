// SPDX-License-Identifier: GPL-3.0-or-later
// Pin tables and pins as typed on the drawing: what is read is written and read again the same; two tables
// are compared.
#include "core/dossier/pin_fields.hpp"
#include "core/port/pin_compare.hpp"
#include "core/port/pin_entry.hpp"
#include "core/port/pin_table.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    if (const auto table = read_pin_table(text, "fuzz")) {
        const auto back = read_pin_table(write_pin_table(table->pins), "again");
        if (!back || back->pins.size() != table->pins.size()) std::abort();
        if (table->pins.size() < 100) {
            const auto same = compare_tables(table->pins, back->pins);
            if (same.contradict != 0) std::abort();
        }
    }
    (void)pin_with_entry({}, text, {});
    return 0;
}
