// SPDX-License-Identifier: GPL-3.0-or-later
// Colours and codes of parts.
#include "core/build/markings.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    for (const auto as :
         {std::optional<MarkedAs>{}, std::optional(MarkedAs::ohms), std::optional(MarkedAs::farads)})
        if (const auto values = read_marking(text, as))
            for (const auto& v : *values) (void)print_marked(v);
    return 0;
}
