// SPDX-License-Identifier: GPL-3.0-or-later
// Clock sources, as a library loads them.
#include "core/timing/clock_sources.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    fuzz::HeldFile held;
    held.bytes = fuzz::text_of(data, size);
    const auto file = clocks_from_json(held.bytes, "fuzz");
    const auto library = ClockLibrary::load(held, {fuzz::data_folder()});
    if (library.sources.size() != (file ? file->sources.size() : 0)) std::abort();
    return 0;
}
