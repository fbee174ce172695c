// SPDX-License-Identifier: GPL-3.0-or-later
// A text as a boot keyboard types it: one character after the other, each with the modifiers that it needs.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/input/layout.hpp"

namespace grayrelic {

struct TypedText {
    std::vector<std::vector<std::uint8_t>> reports;  ///< of 8 bytes each
    std::vector<std::string> unreachable;  ///< characters that the layout has not, in order, each time
    std::vector<std::size_t> ends;         ///< number of reports up to the end of each character
};

/// For every stroke: its modifiers down, the key down, the key up, the modifiers up; without modifiers only
/// the two of the key. `merge`: neighbours with the same modifiers share the reports that press and release
/// those. `caps`: the host's caps lock is on, so that shift is turned round on the keys that it rules.
[[nodiscard]] TypedText type_text(std::string_view text, const KeyboardLayout& layout, bool merge,
                                  bool caps = false);

}  // namespace grayrelic
