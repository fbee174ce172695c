// SPDX-License-Identifier: GPL-3.0-or-later
// A dump that arrives in pieces is what the reader makes of it whole; and a stop condition is met or not, but
// ends.
#include <algorithm>

#include "core/capture/growing_capture.hpp"
#include "core/capture/vcd_reader.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 2) return 0;
    const auto text = fuzz::text_of(data, size, 1);
    GrowingCapture growing("fuzz", 1'000'000);
    StopWhen when;
    if ((data[0] & 1U) != 0) when.edges = 1 + data[0];
    if ((data[0] & 2U) != 0) when.length = Time::us(data[0]);
    if ((data[0] & 4U) != 0) {
        when.found.emplace();
        when.found->pause = Time::us(1);
    }
    StopWatch watch(when);
    Status fed;
    for (std::size_t at = 0; fed && at < text.size();) {
        const auto n =
            std::min<std::size_t>(text.size() - at, 1 + static_cast<unsigned char>(text[at]) % 37U);
        fed = growing.feed(text.substr(at, n));
        at += n;
        if (growing.has_signals()) {
            (void)watch.reached(growing);
            fuzz::check_edges(growing.last(Time::us(100), 50));
        }
    }
    if (fed) fed = growing.finish();
    Progress progress;
    const auto whole = read_vcd(text, "fuzz", progress);
    if (fed.has_value() != whole.has_value()) std::abort();
    if (!fed) return 0;
    if (growing.edge_count() < whole->edge_count() / std::max<std::size_t>(1, whole->signals.size()))
        std::abort();
    fuzz::check_edges(growing.take());
    return 0;
}
