// SPDX-License-Identifier: GPL-3.0-or-later
// Sheets of SVG as one PDF document. Needs a running QGuiApplication; a program without one makes it with
// HeadlessGui, which needs no screen.
#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "core/base/result.hpp"
#include "core/report/wiring_card.hpp"

class QGuiApplication;

namespace grayrelic::render {

class HeadlessGui {
  public:
    HeadlessGui();
    ~HeadlessGui();
    HeadlessGui(const HeadlessGui&) = delete;
    HeadlessGui& operator=(const HeadlessGui&) = delete;

  private:
    std::unique_ptr<QGuiApplication> application_;
};

/// The bytes of the document, one page for each sheet.
[[nodiscard]] Result<std::string> card_pdf(const Card& card, const std::string& title);

/// Writes OUT.pdf, or OUT.svg (OUT.png) with OUT-2.svg and so on for further sheets; the ending tells. Gives
/// the files.
[[nodiscard]] Result<std::vector<std::filesystem::path>> write_card(const Card& card,
                                                                    const std::filesystem::path& out,
                                                                    const std::string& title);

}  // namespace grayrelic::render
