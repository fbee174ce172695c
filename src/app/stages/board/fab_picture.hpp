// SPDX-License-Identifier: GPL-3.0-or-later
// A side of a board painted into a picture at any scale, beside the window: only what is in sight, and no
// corner finer than a pixel.
#pragma once

#include <QImage>
#include <QRectF>

#include <memory>

#include "app/paint/theme.hpp"
#include "core/board/board_analysis.hpp"

namespace grayrelic::app {

struct FabView {
    std::shared_ptr<const FabricationAnalysis> board;
    std::shared_ptr<const std::vector<Driver>> drivers;  ///< of the copper nets
    bool back = false;
    double scale = 1;  ///< pixels of the view to the millimetre
    QPointF origin;    ///< where 0, 0 of the plane lies; x right (mirrored for the back), y down
    QSize size;        ///< of the view
    double ratio = 1;  ///< device pixels to a pixel of the view
    int net = -1;      ///< that is shown strongly
    bool dark = false;
    [[nodiscard]] QPointF to_view(BoardXY p) const {
        return origin + QPointF(back ? -to_mm(p.x) : to_mm(p.x), -to_mm(p.y)) * scale;
    }
    bool operator==(const FabView&) const = default;
};

/// May be called from any thread; empty when cancelled.
[[nodiscard]] QImage paint_fabrication(const FabView& view, const Theme& colours, const Progress& progress);
/// All of the board in the plane's millimetres, for fitting.
[[nodiscard]] QRectF plane_of(const FabricationAnalysis& board, bool back);

}  // namespace grayrelic::app
