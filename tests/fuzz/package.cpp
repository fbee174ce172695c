// SPDX-License-Identifier: GPL-3.0-or-later
// Package files and packages' names; parts of a person's own as typed.
#include "core/parts/package.hpp"
#include "core/parts/own_part.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    fuzz::HeldFile held;
    held.bytes = fuzz::text_of(data, size);
    const auto shape = package_from_json(held.bytes, "fuzz");
    const auto library = PackageLibrary::load(held, {fuzz::data_folder()});
    if (library.shapes.size() != (shape ? 1U : 0U)) std::abort();
    for (const auto& s : library.shapes)
        for (const auto& z : s.sizes) {
            const auto found = library.find(z.id);
            if (!found) std::abort();
            if (pads_of(*found).size() != static_cast<std::size_t>(z.pins) + (s.belly ? 1U : 0U))
                std::abort();
        }
    (void)library.find(std::string_view(held.bytes).substr(0, 40));
    if (const auto own = own_part(held.bytes)) {
        // What is kept is read again as the same.
        const auto again = part_from_json(own->json, "again");
        if (!again || again->pins != own->part.pins) std::abort();
    }
    return 0;
}
