// SPDX-License-Identifier: GPL-3.0-or-later
// Part files, as a library loads them, with their logic, and the packages that they name.
#include <algorithm>

#include "core/logic/part_logic.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    fuzz::HeldFile held;
    held.bytes = fuzz::text_of(data, size);
    (void)package_pins(fuzz::text_of(data, std::min<std::size_t>(size, 40)));
    const auto part = part_from_json(held.bytes, "fuzz");
    const auto library = PartLibrary::load(held, {fuzz::data_folder()});
    if (library.parts.size() != (part ? 1U : 0U)) std::abort();
    if (!part) return 0;
    for (const auto& pin : part->pins) {
        if (part->find_pin(pin.number) == nullptr || pin_kind(word(pin.kind)) != pin.kind) std::abort();
        (void)bus_bit(pin.name);
        (void)drives(pin.kind);
    }
    (void)library.find(part->id)->is_passive();
    (void)package_pins(part->package);
    const auto logic = LogicLibrary::from(library);
    if (const auto* l = logic.find(part->id)) {
        for (const auto& d : l->delays) (void)l->find_delays(d.family);
        for (const auto& o : l->outputs)
            if (!l->output_index(o.pin)) std::abort();
    }
    return 0;
}
