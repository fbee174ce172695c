// SPDX-License-Identifier: GPL-3.0-or-later
// Small text helpers shared by readers, reports and messages.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace grayrelic {

[[nodiscard]] std::string_view trim(std::string_view text);
[[nodiscard]] std::vector<std::string_view> split(std::string_view text, char separator);
/// The text in double quotes, shortened to 40 characters, with control and non-ASCII-breaking bytes shown as
/// \xNN: safe to print on a terminal whatever a hostile file holds.
[[nodiscard]] std::string in_quotes(std::string_view text);
/// The same at full length and without the quotes: for the names of files.
[[nodiscard]] std::string printable(std::string_view text);
/// Escapes & < > " ' for HTML and XML; control characters that XML forbids become U+FFFD.
[[nodiscard]] std::string escape_markup(std::string_view text);
/// True for well-formed UTF-8 (RFC 3629).
[[nodiscard]] bool is_utf8(std::string_view text);
/// Text of more than `most` bytes is cut before a character that would not fit, with … behind it.
[[nodiscard]] std::string shortened(std::string_view text, std::size_t most);
/// "1 poll", "3 polls".
[[nodiscard]] std::string plural(long long n, std::string_view one, std::string_view many);

/// RFC 4648, with padding.
[[nodiscard]] std::string to_base64(std::string_view bytes);

}  // namespace grayrelic
