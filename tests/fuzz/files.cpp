// SPDX-License-Identifier: GPL-3.0-or-later
// Waveforms, packed samples, compressed files, dumps in pieces, kept copies, and the words of searches and
// packets: everything ends, within its bounds, and what is read has edges in order.
#include <cstdint>
#include <cstdlib>

#include "core/capture/capture_cache.hpp"
#include "core/capture/capture_pack.hpp"
#include "core/capture/expand.hpp"
#include "core/capture/growing_capture.hpp"
#include "core/capture/raw_reader.hpp"
#include "core/capture/wav_file.hpp"
#include "core/decode/find_frames.hpp"
#include "core/decode/packets.hpp"
#include "core/signal/find.hpp"

namespace {

using namespace grayrelic;

void check(const Capture& c) {
    for (const auto& s : c.signals) {
        if (!s.digital) continue;
        const auto edges = s.digital->edges();
        for (std::size_t i = 1; i < edges.size(); ++i)
            if (edges[i] <= edges[i - 1]) std::abort();
    }
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 2) return 0;
    const std::string_view text(reinterpret_cast<const char*>(data) + 1, size - 1);
    const MemorySource source(text);
    Progress progress;
    switch (data[0] % 6) {
        case 0: {
            WavLimits few;
            few.samples = 2'000'000;
            if (const auto c = read_wav(source, "fuzz", progress,
                                        data[1] % 2 == 0 ? std::optional(0.1) : std::nullopt, few))
                check(*c);
            break;
        }
        case 1:
            if (const auto c = read_raw(
                    source, "fuzz",
                    {1 << (data[1] % 6), 1e3 * (1 + data[1]), data[1] % 3 == 0, data[1] % 5 == 0}, progress))
                check(*c);
            break;
        case 2:
            if (const auto whole = expand(source, "fuzz", progress, 1U << 20U);
                whole && whole->size() > 1U << 20U)
                std::abort();
            break;
        case 4: {
            // Fed in pieces it is what the reader makes of it whole: both refuse, or both have as many edges.
            GrowingCapture growing("fuzz", 1'000'000);
            Status fed;
            for (std::size_t at = 0; fed && at < text.size();) {
                const auto n =
                    std::min<std::size_t>(text.size() - at, 1 + static_cast<unsigned char>(text[at]) % 37U);
                fed = growing.feed(text.substr(at, n));
                at += n;
            }
            if (fed) fed = growing.finish();
            const auto whole = read_vcd(text, "fuzz", progress);
            if (fed.has_value() != whole.has_value()) std::abort();
            if (fed &&
                growing.edge_count() < whole->edge_count() / std::max<std::size_t>(1, whole->signals.size()))
                std::abort();
            if (fed) check(growing.take());
            break;
        }
        case 5:
            if (const auto c = unpack_capture(text)) {
                check(*c);
                const auto again = unpack_capture(pack_capture(*c));
                if (!again || again->edge_count() != c->edge_count()) std::abort();
            }
            break;
        default:
            (void)parse_frame_query(text);
            if (const auto rule = parse_packet_rule(text)) {
                const auto again = parse_packet_rule(print_packet_rule(*rule));
                if (!again || !(*again == *rule)) std::abort();
            }
            (void)parse_order(text);
            (void)parse_levels(text);
    }
    return 0;
}
