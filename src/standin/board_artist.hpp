// SPDX-License-Identifier: GPL-3.0-or-later
// Boards drawn as copper, and scans of them as a flatbed would give: with tilt, noise, uneven light and a
// charred spot. The nets of what was drawn are known, so reading a scan can be checked against the truth.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/parts/part.hpp"
#include "core/trace/scan.hpp"

namespace grayrelic::standin {

struct ArtPad {
    double x = 0, y = 0, across = 1.5, hole = 0.8;  ///< mm
};
struct ArtFinger {
    BoardSide side = BoardSide::front;
    double x = 0, y = 0, width = 1.6, height = 7.0;  ///< middle and size, mm
};
struct ArtTrack {
    BoardSide side = BoardSide::front;
    double x1 = 0, y1 = 0, x2 = 0, y2 = 0, width = 0.35;
};

/// Places in mm from the board's upper left corner, seen from the front.
struct BoardArt {
    double width = 0, height = 0;
    std::vector<ArtPad> pads;
    std::vector<ArtFinger> fingers;
    std::vector<ArtTrack> tracks;
    std::vector<Net> nets;  ///< what the copper joins
    int unrouted = 0;       ///< wires that found no way; their nets stay in pieces
};

/// Pads where the parts' pins lie, four corner holes, and tracks on both sides found by a search on a grid of
/// 0.635 mm. Of several attempts, each with those first that found no way before, the best.
[[nodiscard]] BoardArt draw_board(double width_mm, double height_mm, const std::vector<BoardPart>& parts,
                                  const PartLibrary& library, const std::vector<Net>& nets, int attempts = 1);

struct CharredSpot {
    double x = 0, y = 0, radius = 0;  ///< mm; radius 0 for none
};

struct ScanStyle {
    double dpi = 600;
    double turn_deg = 0;
    double margin_mm = 4;
    double noise = 0;      ///< standard deviation of each colour, of 255
    double uneven = 0;     ///< difference of brightness from one corner to the other, of 255
    double blur_px = 0.7;  ///< of the optics
    CharredSpot charred;
    std::uint64_t seed = 1;
};

struct PaintedScan {
    Raster pixels;
    std::vector<ScanReference> references;  ///< the four corner holes
};

/// The back is painted as a scanner sees it: mirrored.
[[nodiscard]] PaintedScan paint_scan(const BoardArt& art, BoardSide side, const ScanStyle& style);

}  // namespace grayrelic::standin
