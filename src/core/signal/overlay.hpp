// SPDX-License-Identifier: GPL-3.0-or-later
// All transactions of a shape laid over one another, aligned on an edge: how often each line is high at each
// moment, and how far each of its edges spreads.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

struct OverlayRequest {
    std::vector<std::string> signals;
    std::vector<Span> spans;        ///< the transactions
    std::optional<EdgeName> align;  ///< its first edge in each span; nothing: the span's start
    Time before, after;             ///< window around that moment
    std::size_t columns = 800;
    std::size_t stride = 1;  ///< every so many spans only: a first picture
};

/// The n-th edge of a line after the window's start, over all spans.
struct EdgeSpread {
    bool rises = false;
    long n = 0;
    double mean_s = 0, sd_s = 0;  ///< from the aligned moment
    double min_s = 0, max_s = 0;
    std::size_t min_span = 0, max_span = 0;  ///< index of the span with the earliest and the latest
};

struct OverlayLine {
    std::string signal;
    std::vector<float> high;         ///< by column, share of spans in which the line is high, 0 to 1
    std::vector<float> edges;        ///< by column, edges a span
    std::vector<EdgeSpread> spread;  ///< at most most_spread
};
inline constexpr std::size_t most_spread = 400;

struct Overlay {
    std::size_t spans = 0;    ///< laid over one another
    std::size_t without = 0;  ///< spans that lack the edge to align on
    std::vector<OverlayLine> lines;
};

[[nodiscard]] Result<Overlay> make_overlay(const Capture& capture, const OverlayRequest& request,
                                           Progress& progress);

}  // namespace grayrelic
