// SPDX-License-Identifier: GPL-3.0-or-later
// One thing that somebody else may know, as one page to post or to print: what is asked, the facts with their
// evidence, a figure, what was tried. Nothing private is on it: no paths of this machine, no notes, no
// numbers of units.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/job/outlook.hpp"

namespace grayrelic {

/// What a sheet can be about, and how a person reads it.
struct SheetSubject {
    std::string id, title;
};
inline constexpr std::size_t most_sheet_subjects = 2000;
/// Open questions in their order, then findings, budgets and nets; a moment of a capture is asked by its
/// time.
[[nodiscard]] std::vector<SheetSubject> sheet_subjects(const Analysis& analysis, const Outlook& outlook);

/// `about`: a question's id as outlook() has it, "finding ID SUBJECT", "net POINT", "budget ID" or "moment
/// CAPTURE TIME". Fails for what is not there, naming what there is. HTML in one file.
[[nodiscard]] Result<std::string> question_sheet(const Analysis& analysis, const Outlook& outlook,
                                                 std::string_view about);

}  // namespace grayrelic
