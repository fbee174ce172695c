// SPDX-License-Identifier: GPL-3.0-or-later
// The two sides of a board: the front is the side its parts sit on as it was made.
#pragma once

#include <string_view>

namespace grayrelic {

enum class BoardSide { front, back };
[[nodiscard]] constexpr std::string_view word(BoardSide s) {
    return s == BoardSide::front ? "front" : "back";
}

}  // namespace grayrelic
