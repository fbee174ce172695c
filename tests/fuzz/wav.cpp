// SPDX-License-Identifier: GPL-3.0-or-later
// WAV files: read within few samples, written, and read again with as many channels.
#include "core/capture/wav_file.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 2) return 0;
    const MemorySource source(fuzz::text_of(data, size, 1));
    Progress progress;
    WavLimits few;
    few.samples = 2'000'000;
    const auto c =
        read_wav(source, "fuzz", progress, data[0] % 2 == 0 ? std::optional(0.1) : std::nullopt, few);
    if (!c) return 0;
    fuzz::check_edges(*c);
    fuzz::HeldFile held;
    if (!write_wav(*c, "fuzz.wav", progress, held, few)) return 0;
    const auto back = read_wav(MemorySource(held.bytes), "written", progress, 0.1, few);
    if (!back || back->signals.size() < c->signals.size()) std::abort();
    return 0;
}
