// SPDX-License-Identifier: GPL-3.0-or-later
// What a meter answers.
#include "core/trace/meter.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    (void)parse_meter_answer(fuzz::text_of(data, size));
    return 0;
}
