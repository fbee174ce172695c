// SPDX-License-Identifier: GPL-3.0-or-later
// Packed samples of every width, order and rate.
#include "core/capture/raw_reader.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 2) return 0;
    const MemorySource source(fuzz::text_of(data, size, 2));
    Progress progress;
    const RawOptions options{1 << (data[0] % 6), 1e3 * (1 + data[1]), (data[0] & 64U) != 0,
                             (data[0] & 128U) != 0};
    if (const auto c = read_raw(source, "fuzz", options, progress)) fuzz::check_edges(*c);
    return 0;
}
