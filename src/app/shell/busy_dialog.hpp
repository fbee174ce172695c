// SPDX-License-Identifier: GPL-3.0-or-later
// Work that the person waits for: it runs on another thread while the window goes on painting, and after half
// a second a small dialog shows how far it is and offers to cancel it.
#pragma once

#include <QString>

#include <functional>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"

class QWidget;

namespace grayrelic::app {

class Document;

/// Returns when the work has ended; it sees a cancel in its Progress and must leave nothing half-done. An
/// error when it found no memory and ended early.
[[nodiscard]] Status run_with_progress(QWidget* window, const QString& what,
                                       const std::function<void(Progress&)>& work);

/// Returns when the analysis belongs to the dossier as it is now, taken up again where it was stopped; false
/// when the person would not wait (the analysis then goes on). Figures that views ask for are not waited for.
[[nodiscard]] bool wait_for_analysis(QWidget* window, const QString& what, Document& document);

}  // namespace grayrelic::app
