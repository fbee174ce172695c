// SPDX-License-Identifier: GPL-3.0-or-later
// Value change dumps: read in pieces of a size that the input chooses, the same as whole; what was read is
// written and reads back equal in its extent and edges.
#include <cstdlib>

#include "core/capture/vcd_reader.hpp"
#include "core/capture/vcd_writer.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 1) return 0;
    const std::string_view text(reinterpret_cast<const char*>(data) + 1, size - 1);
    Progress progress;
    VcdLimits limits;
    limits.signals = 4096;
    limits.vector_width = 256;
    const auto whole = read_vcd(text, "fuzz", progress, limits);
    limits.piece_bytes = 1 + data[0] * 3U;
    if (text.size() / limits.piece_bytes < 12) {
        const auto cut = read_vcd(text, "fuzz", progress, limits);
        if (cut.has_value() != whole.has_value()) std::abort();
        if (!cut && cut.error().message() != whole.error().message()) std::abort();
        if (cut && (cut->edge_count() != whole->edge_count() || cut->extent != whole->extent)) std::abort();
    }
    if (!whole) return 0;
    std::string out;
    const auto written = write_vcd(
        *whole, {},
        [&](std::string_view more) {
            out += more;
            return Status{};
        },
        progress);
    if (!written) std::abort();
    limits.piece_bytes = 1U << 20U;
    const auto back = read_vcd(std::string_view(out), "written", progress, limits);
    if (!back || back->edge_count() != whole->edge_count() || back->extent != whole->extent) std::abort();
    return 0;
}
