// SPDX-License-Identifier: GPL-3.0-or-later
// A digital line over a span of time as rectangles on whole dots. Cost follows the dots, not the edges: where
// edges are denser than dots, the column is a band. Window and pictures draw the same rectangles.
#pragma once

#include <vector>

#include "core/report/drawing.hpp"
#include "core/signal/waveform.hpp"

namespace grayrelic {

struct WaveRect {
    int x = 0, y = 0, w = 0, h = 0;
};
struct WaveShape {
    std::vector<WaveRect> lines;    ///< levels and edges, two dots thick
    std::vector<WaveRect> bands;    ///< more than two edges a column
    std::vector<WaveRect> unknown;  ///< the line was not seen
};
/// Level high lies at 0, level low at `height`; both reach a dot beyond.
[[nodiscard]] WaveShape wave_shape(const DigitalWaveform& waveform, Span window, int width, int height);
/// The same on a drawing, its corner at whole (x, y); unknown stretches in a shade.
void add_wave(Drawing& drawing, const DigitalWaveform& waveform, Span window, const Drawing::Rect& frame,
              Ink ink);

/// Marks and texts of an axis of time from (x, y) on to the right, `width` long; times in seconds at its
/// ends. A text that would touch its neighbour is left out, one at the end gives way inwards.
struct TimeAxis {
    double x = 0, y = 0, width = 0;
    double low_s = 0, high_s = 1;
    int spacing = 90;                      ///< of the marks, at the least
    bool above = false;                    ///< marks and texts over the line
    double grid_top = 0, grid_bottom = 0;  ///< hairlines from the marks over this; equal: none
};
void add_time_axis(Drawing& drawing, const TimeAxis& axis);

}  // namespace grayrelic
