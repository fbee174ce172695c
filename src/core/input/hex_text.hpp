// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes as people write them down: "05 01", "0501", "0x05, 0x01", "05h 01h", "\x05\x01", in braces, with
// comments
// (// # /* */), behind an offset and a colon, with a column of characters behind a bar.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"

namespace grayrelic {

struct HexLine {
    long line = 0;         ///< in the text, from 1
    std::string before{};  ///< what stands before the first byte and ends with a colon or is a time: "0.008"
    std::vector<std::uint8_t> bytes{};
};

/// The bytes line by line, lines without any left out. Refused with file and line: what is no byte, half a
/// byte, no byte at all, more than `most`.
[[nodiscard]] Result<std::vector<HexLine>> read_hex_lines(std::string_view text, const std::string& name,
                                                          std::size_t most = 1U << 20U);
[[nodiscard]] Result<std::vector<std::uint8_t>> read_hex(std::string_view text, const std::string& name,
                                                         std::size_t most = 1U << 20U);
/// Bytes as they are, or as hexadecimal text, whichever the content is: text consists of printing characters.
[[nodiscard]] Result<std::vector<std::uint8_t>> read_bytes(std::string_view content, const std::string& name,
                                                           std::size_t most = 1U << 20U);
/// "05 01 A1".
[[nodiscard]] std::string print_hex(const std::vector<std::uint8_t>& bytes);

}  // namespace grayrelic
