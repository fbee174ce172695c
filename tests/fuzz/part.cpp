// SPDX-License-Identifier: GPL-3.0-or-later
// Part files, with their logic, and the packages that they name.
#include "core/logic/part_logic.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    if (const auto part = part_from_json(text, "fuzz")) {
        if (!part->logic.empty()) (void)part_logic(*part);
        for (const auto& pin : part->pins) {
            (void)part->find_pin(pin.number);
            (void)bus_bit(pin.name);
            (void)drives(pin.kind);
        }
        (void)part->is_passive();
        (void)package_pins(part->package);
    }
    (void)package_pins(text.substr(0, 40));
    return 0;
}
