// SPDX-License-Identifier: GPL-3.0-or-later
// What a host makes of its keyboard's keys: one JSON file a layout in data/layouts, the person's own beside
// them; docs/formats/layouts.md. A key gives up to four characters: plain, with shift, with the right alt
// key, with both.
#pragma once

#include <array>
#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

struct LayoutKey {
    std::uint8_t usage = 0;            ///< on the keyboard page
    std::array<std::string, 4> types;  ///< one UTF-8 character each; empty: nothing
    std::array<bool, 4> dead{};        ///< it is an accent that waits for the next character
    bool caps = false;                 ///< caps lock turns shift round
};

/// An accent and what becomes of it with the next character.
struct Accented {
    std::string accent, letter, result;
};

/// One way to type a character.
struct Stroke {
    std::uint8_t key = 0;
    bool shift = false, alt = false;  ///< alt: the right one
    bool operator==(const Stroke&) const = default;
};

struct KeyboardLayout {
    std::string id;
    std::string name;
    std::string source;
    std::vector<LayoutKey> keys;
    std::vector<Accented> accents;
    [[nodiscard]] const LayoutKey* find(std::uint8_t usage) const;
    /// The strokes that type a character: one, or an accent and its letter or the space bar; empty when there
    /// is no way. With fewer modifiers first. Line feed is enter, tab the tab key.
    [[nodiscard]] std::vector<Stroke> strokes_for(std::string_view character) const;
    /// All characters that can be typed, each once: those with one stroke in the order of the keys, then
    /// accented ones.
    [[nodiscard]] std::vector<std::string> characters() const;
    /// The accented character, the accent alone before a space; nothing where the two do not meet.
    [[nodiscard]] std::optional<std::string> accented(std::string_view accent, std::string_view letter) const;
};
[[nodiscard]] Result<KeyboardLayout> layout_from_json(std::string_view text, const std::string& file);

struct LayoutLibrary {
    std::vector<KeyboardLayout> layouts;
    std::vector<Error> problems;
    [[nodiscard]] static LayoutLibrary load(FileSystem& files,
                                            const std::vector<std::filesystem::path>& folders);
    [[nodiscard]] const KeyboardLayout* find(std::string_view id) const;  ///< null when unknown
    [[nodiscard]] std::string ids() const;                                ///< "de, fr, uk, us"
};

/// The characters of a text, each as it stands; what is no UTF-8 is left out.
[[nodiscard]] std::vector<std::string> characters_of(std::string_view text);

}  // namespace grayrelic
