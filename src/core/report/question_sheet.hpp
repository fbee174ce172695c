// SPDX-License-Identifier: GPL-3.0-or-later
// One thing that somebody else may know, as one page to post or to print: what is asked, the facts with their
// evidence, a figure, what was tried. Nothing private is on it: no paths of this machine, no notes, no
// numbers of units.
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.hpp"
#include "core/job/outlook.hpp"

namespace grayrelic {

/// `about`: a question's id as outlook() has it, "finding ID SUBJECT", "net POINT", "budget ID" or "moment
/// CAPTURE TIME". Fails for what is not there, naming what there is. HTML in one file.
[[nodiscard]] Result<std::string> question_sheet(const Analysis& analysis, const Outlook& outlook,
                                                 std::string_view about);

}  // namespace grayrelic
