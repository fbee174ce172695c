// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes into packets: frames of one decoder, put together by length, by delimiter, by sync bits or by pauses,
// with a checksum. A link behind a decoder: it takes its frames and gives frames of its own.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/decode/decoder.hpp"

namespace grayrelic {

enum class Checksum { none, sum, sum_complement, exclusive_or, crc8, crc16 };
[[nodiscard]] std::string_view word(Checksum c);
[[nodiscard]] std::optional<Checksum> checksum_of(std::string_view word);
/// Of all bytes before it: the sum modulo 256; what makes the sum 0; the bits in odd number; CRC-8 (x⁸ + x² +
/// x + 1, from 0) and CRC-16 (x¹⁶ + x¹⁵ + x² + 1 reflected, from 0xFFFF, low byte first; two bytes).
[[nodiscard]] std::vector<std::uint8_t> checksum_bytes(Checksum kind, std::span<const std::uint8_t> bytes);

struct PacketRule {
    enum class Cut {
        pause,      ///< a pause of `gap` ends a packet
        length,     ///< so many bytes each; a pause ends one early
        delimiter,  ///< this byte is the last of each
        sync,       ///< a byte with these bits is the first of each
    };
    Cut cut = Cut::pause;
    std::size_t length = 0;
    std::uint8_t delimiter = 0x0D;
    std::uint8_t sync_mask = 0x80, sync_bits = 0x80;
    std::optional<Time> gap;             ///< nothing: three characters
    Checksum checksum = Checksum::none;  ///< the packet's last byte or two
    bool operator==(const PacketRule&) const = default;
};
/// "pause", "length:6", "delimiter:0D", "sync:80/80", each with "+xor" and its like for the checksum and
/// "@2ms" for the pause; and back.
[[nodiscard]] Result<PacketRule> parse_packet_rule(std::string_view text);
[[nodiscard]] std::string print_packet_rule(const PacketRule& rule);

/// Frames hold bytes (values under 256). `levels` of a packet are its bits, each byte most significant first,
/// so that fields have one place whatever the line's order; `bytes` is the packet in hexadecimal; `number`
/// counts. Errors: "character" (one of its characters has an error), "short", "checksum".
[[nodiscard]] Decoding packets_of(const Decoding& bytes, const PacketRule& rule);

/// The rule that explains the frames best: pause lengths, equal lengths, a last byte or first bits that never
/// change, and a checksum that always fits. Nothing with fewer than three packets.
[[nodiscard]] std::optional<PacketRule> find_packet_rule(const Decoding& bytes);

}  // namespace grayrelic
