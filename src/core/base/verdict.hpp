// SPDX-License-Identifier: GPL-3.0-or-later
// What the program says about a thing: it fails or harms, it is doubtful, it holds, or nobody knows.
#pragma once

#include <string_view>

namespace grayrelic {

enum class Verdict { stop, doubt, holds, unknown };
[[nodiscard]] std::string_view word(Verdict v);
/// The one that weighs more: stop, then doubt, then unknown, then holds.
[[nodiscard]] Verdict worse(Verdict a, Verdict b);

}  // namespace grayrelic
