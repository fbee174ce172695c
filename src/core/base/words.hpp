// SPDX-License-Identifier: GPL-3.0-or-later
// Vocabularies: the words that files, the command line and JSON answers have for the values of an enum. The
// values of such an enum run from 0 without a gap, and their words stand once:
//
//     enum class Half { socket, plug };
//     template <>
//     inline constexpr std::array words_of<Half>{"socket", "plug"};
//
//     word(Half::plug)        "plug"
//     named<Half>("plug")     Half::plug; nothing for another word
//     one_of<Half>()          "socket or plug", for messages
#pragma once

#include <array>
#include <cstddef>
#include <optional>
#include <string>
#include <string_view>

namespace grayrelic {

template <class E>
inline constexpr std::array<const char*, 0> words_of{};

template <class E>
concept Vocabulary = (words_of<E>.size() > 0);

template <Vocabulary E>
[[nodiscard]] constexpr std::string_view word(E value) {
    return words_of<E>[static_cast<std::size_t>(value)];
}

template <Vocabulary E>
[[nodiscard]] constexpr std::optional<E> named(std::string_view text) {
    for (std::size_t i = 0; i < words_of<E>.size(); ++i)
        if (text == words_of<E>[i]) return static_cast<E>(i);
    return std::nullopt;
}

/// All values in order.
template <Vocabulary E>
[[nodiscard]] constexpr auto all_of() {
    std::array<E, words_of<E>.size()> values{};
    for (std::size_t i = 0; i < values.size(); ++i) values[i] = static_cast<E>(i);
    return values;
}

/// "late, lost or queue"
template <Vocabulary E>
[[nodiscard]] std::string one_of() {
    std::string text;
    for (std::size_t i = 0; i < words_of<E>.size(); ++i)
        text += std::string(i == 0 ? "" : i + 1 == words_of<E>.size() ? " or " : ", ") + words_of<E>[i];
    return text;
}

}  // namespace grayrelic
