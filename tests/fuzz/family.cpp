// SPDX-License-Identifier: GPL-3.0-or-later
// Logic families, as a library loads them.
#include "core/electrical/family.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    fuzz::HeldFile held;
    held.bytes = fuzz::text_of(data, size);
    const auto family = family_from_json(held.bytes, "fuzz");
    const auto library = FamilyLibrary::load(held, {fuzz::data_folder()});
    if (library.families.size() != (family ? 1U : 0U) || library.problems.size() != (family ? 0U : 1U))
        std::abort();
    if (family) (void)library.find(family->id)->input_limit_v(5.0);
    return 0;
}
