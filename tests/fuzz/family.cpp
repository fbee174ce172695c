// SPDX-License-Identifier: GPL-3.0-or-later
// Logic families files.
#include "core/electrical/family.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    (void)family_from_json(fuzz::text_of(data, size), "fuzz");
    return 0;
}
