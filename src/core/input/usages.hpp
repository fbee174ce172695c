// SPDX-License-Identifier: GPL-3.0-or-later
// Usages by number and by name: pages and usages of the HID usage tables (HUT 1.12) that bridges need. Names
// are ours, short and in lower case; the numbers are the standard's.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>

namespace grayrelic {

namespace hid {
inline constexpr std::uint16_t desktop = 0x01, keyboard = 0x07, lamps = 0x08, buttons = 0x09, consumer = 0x0C;
/// On the keyboard page: too many keys for the report.
inline constexpr std::uint8_t rollover = 0x01;
/// The first and the last modifier: left control … right meta (HUT 1.12 section 10).
inline constexpr std::uint8_t first_modifier = 0xE0, last_modifier = 0xE7;
inline constexpr std::uint8_t left_shift = 0xE1, right_alt = 0xE6, caps_lock = 0x39, space = 0x2C;
}  // namespace hid

struct Usage {
    std::uint16_t page = 0, id = 0;
    auto operator<=>(const Usage&) const = default;
};

struct NamedUsage {
    std::uint16_t id = 0;
    const char* name = "";
};
/// Those of a page that have a name here, rising; empty for a page unknown here.
[[nodiscard]] std::span<const NamedUsage> named_usages(std::uint16_t page);
/// "a", "left-shift", "volume-up"; nothing for one without a name here.
[[nodiscard]] std::optional<std::string> name_of(Usage usage);
/// For people, always something: "key a", "button 3", "hat", "usage 0C 01A2".
[[nodiscard]] std::string print_usage(Usage usage);
/// By its name on that page.
[[nodiscard]] std::optional<std::uint16_t> find_usage(std::uint16_t page, std::string_view name);
[[nodiscard]] constexpr bool is_modifier(std::uint16_t key) {
    return key >= hid::first_modifier && key <= hid::last_modifier;
}

}  // namespace grayrelic
