// SPDX-License-Identifier: GPL-3.0-or-later
// Compressed files: never more than the bound, and their head is the beginning of the whole.
#include "core/capture/expand.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const MemorySource source(fuzz::text_of(data, size));
    Progress progress;
    constexpr std::size_t most = 1U << 20U;
    const auto whole = expand(source, "fuzz", progress, most);
    if (whole && whole->size() > most) std::abort();
    const auto head = expand_head(source, "fuzz", 1000);
    if (head && head->size() > 1000) std::abort();
    if (whole && (!head || !whole->starts_with(*head))) std::abort();
    return 0;
}
