// SPDX-License-Identifier: GPL-3.0-or-later
// Readings and symptoms as a person says them, and answers at a hold.
#include "core/diagnose/bench_reading.hpp"
#include "core/diagnose/holds.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    if (const auto said = read_said(text)) {
        if (said->reading) {
            (void)said->reading->key();
            (void)print_reading(said->reading->kind, said->value);
        } else {
            (void)says(said->symptom);
        }
    }
    HoldPoint point;
    point.unit = Unit::volt;
    if (const auto value = read_point(point, text)) (void)print_point(point, *value);
    return 0;
}
