// SPDX-License-Identifier: GPL-3.0-or-later
// The report as a PDF document: A4, its contents with page numbers, a line with name and page at each foot.
// Needs a running QGuiApplication, as render/pdf.hpp says; may run on any thread.
#pragma once

#include <string>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"

namespace grayrelic::render {

/// From the HTML that html_report() makes; figures stay scalable.
[[nodiscard]] Result<std::string> report_pdf(const std::string& html, const std::string& title,
                                             Progress& progress);

}  // namespace grayrelic::render
