// SPDX-License-Identifier: GPL-3.0-or-later
// What a control becomes on the modern side, as a word that is kept, shown, exported and read back:
//
//     key:a   key:left-shift+2      a key, with modifiers; held as long as the old one is
//     text:|                        a character in the host's layout: pressed and released by the bridge
//     media:volume-up               a consumer usage
//     button:3   hat:up-right       of a pad
//     axis:x   axis:x+   axis:x-    a position on an axis; one end of it
//     pointer:left   pointer:x   pointer:wheel
//     bridge:layer                  something that the bridge does by itself
//     nothing                       deliberately nothing
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/base/words.hpp"
#include "core/input/usages.hpp"

namespace grayrelic {

enum class MeaningKind { nothing, key, text, media, button, hat, axis, pointer, bridge };
template <>
inline constexpr std::array words_of<MeaningKind>{"nothing", "key",  "text",    "media", "button",
                                                  "hat",     "axis", "pointer", "bridge"};

struct Meaning {
    MeaningKind kind = MeaningKind::nothing;
    /// key, media, button: on its page; axis and pointer's x, y, wheel: on the desktop page; pointer's
    /// buttons 1…3 on the button page.
    Usage usage{};
    std::uint8_t modifiers = 0;  ///< key: bit n is the modifier 0xE0 + n
    int direction = 0;           ///< hat: 0 up, clockwise to 7; axis: −1, +1, or 0 for the whole of it
    std::string text{};          ///< text: the character; bridge: what it does
    bool operator==(const Meaning&) const = default;
};

[[nodiscard]] Result<Meaning> parse_meaning(std::string_view text);
[[nodiscard]] std::string print_meaning(const Meaning& meaning);
/// "left shift + 2", "button 3", "hat up", "the character |": for people.
[[nodiscard]] std::string say_meaning(const Meaning& meaning);
/// It can be held as long as the control is: all but characters and what the bridge does.
[[nodiscard]] bool can_be_held(const Meaning& meaning);

/// Those whose words hold all that was typed, the nearest first: "vol", "f1", "pad 7", "up". A single
/// character is also offered as text. At most `most`.
[[nodiscard]] std::vector<Meaning> search_meanings(std::string_view typed, std::size_t most);

}  // namespace grayrelic
