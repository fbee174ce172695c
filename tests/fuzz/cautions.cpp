// SPDX-License-Identifier: GPL-3.0-or-later
// Cautions files.
#include "core/library/cautions.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    (void)cautions_from_json(fuzz::text_of(data, size), "fuzz");
    return 0;
}
