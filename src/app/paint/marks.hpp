// SPDX-License-Identifier: GPL-3.0-or-later
// The small signs that stand on every screen: verdicts by shape and colour, evidence as four steps, who
// drives.
#pragma once

#include <QRectF>

#include <QIcon>

#include <optional>

#include "core/analysis/finding.hpp"
#include "core/dossier/dossier.hpp"

class QPainter;
class QString;

namespace grayrelic::app {

/// Stop = filled square, doubt = filled diamond, holds = filled disc, unknown = open ring; about 10 px.
void draw_verdict(QPainter& painter, QPointF middle, Verdict verdict);
/// The same for a cell of a table.
[[nodiscard]] QIcon verdict_icon(Verdict verdict);
/// As draw_verdict; a note is a short bar.
void draw_severity(QPainter& painter, QPointF middle, Severity severity);
/// Four steps, filled up to how strong the evidence is; 26 × 10 px with its left middle at the point.
void draw_evidence(QPainter& painter, QPointF left_middle, std::optional<EvidenceKind> kind);
/// An arrow to the right for relic-driven, to the left for bridge-driven, both heads for both; 16 px wide.
void draw_driver(QPainter& painter, QPointF middle, Driver driver);
/// Text with its end cut and "…" when it is wider than the box; returns true when it was cut.
bool draw_text(QPainter& painter, const QRectF& box, int flags, const QString& text);

[[nodiscard]] QString to_q(const std::string& s);
[[nodiscard]] QString to_q(std::string_view s);

}  // namespace grayrelic::app
