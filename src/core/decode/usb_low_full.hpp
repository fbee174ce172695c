// SPDX-License-Identifier: GPL-3.0-or-later
// USB low and full speed as signalled on the two data lines (Universal Serial Bus Specification 1.1, chapters
// 7 and 8): NRZI with bit stuffing, SYNC, packet identifier, address and endpoint with CRC5, data with CRC16,
// handshakes, bus reset.
//
// One frame a packet: `pid` by name ("SETUP", "DATA0", "ACK", …; "RESET" for a bus reset), `address` and
// `endpoint` of tokens, `frame` of SOF, `data` as a list of bytes in hexadecimal. `levels` are the decoded
// bits behind SYNC in order of arrival, stuffed bits left out; `value` is the packet identifier's byte.
// Errors: "sync", "pid" (the check nibble is not its complement), "stuffing", "crc", "length" (not whole
// bytes), "no-answer" (the packet asks for an answer and none came within the bus turn-around of 18 bit
// times). Counts: "keep_alive" (low speed: an end of packet alone), "resets".
//
// J, the idle state, is plus high at full speed and minus high at low speed. `speed` left to the program is
// the idle state's, and the bit time of the shortest states confirms it.
#pragma once

#include <cstdint>
#include <memory>
#include <span>
#include <string_view>

#include "core/decode/decoder.hpp"

namespace grayrelic {

[[nodiscard]] std::unique_ptr<Decoder> make_usb_low_full();

/// CRC5 of tokens (x⁵ + x² + 1, clause 8.3.5.1) over `bits` bits, least significant first.
[[nodiscard]] std::uint8_t usb_crc5(std::uint32_t value, int bits);
/// CRC16 of data (x¹⁶ + x¹⁵ + x² + 1, clause 8.3.5.2).
[[nodiscard]] std::uint16_t usb_crc16(std::span<const std::uint8_t> data);
/// "SETUP" for 0xD, by the low nibble; "reserved" for what is none.
[[nodiscard]] std::string_view usb_pid_name(unsigned nibble);

}  // namespace grayrelic
