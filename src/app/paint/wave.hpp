// SPDX-License-Identifier: GPL-3.0-or-later
// One digital line drawn over a span of time. Cost follows the pixels, not the edges: where edges are denser
// than pixels, the column is a filled band.
#pragma once

#include <QColor>
#include <QRectF>

#include "core/signal/waveform.hpp"

class QPainter;

namespace grayrelic::app {

/// The box's top is the high level, its bottom the low one. Unknown stretches are hatched.
void draw_wave(QPainter& painter, const DigitalWaveform& waveform, Span window, const QRectF& box,
               const QColor& colour);

}  // namespace grayrelic::app
