// SPDX-License-Identifier: GPL-3.0-or-later
// Work that the person waits for: it runs on another thread while the window goes on painting, and after half
// a second a small dialog shows how far it is and offers to cancel it.
#pragma once

#include <QString>

#include <functional>

#include "core/base/progress.hpp"

class QWidget;

namespace grayrelic::app {

/// Returns when the work has ended; it sees a cancel in its Progress and must leave nothing half-done.
void run_with_progress(QWidget* window, const QString& what, const std::function<void(Progress&)>& work);

}  // namespace grayrelic::app
