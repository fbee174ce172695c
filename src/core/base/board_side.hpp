// SPDX-License-Identifier: GPL-3.0-or-later
// The two sides of a board: the front is the side its parts sit on as it was made.
#pragma once

#include "core/base/words.hpp"

namespace grayrelic {

enum class BoardSide { front, back };
template <>
inline constexpr std::array words_of<BoardSide>{"front", "back"};

}  // namespace grayrelic
