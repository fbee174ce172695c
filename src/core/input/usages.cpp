// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/usages.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>

namespace grayrelic {
namespace {

constexpr std::array keyboard_names{NamedUsage{0x04, "a"},
                                    NamedUsage{0x05, "b"},
                                    NamedUsage{0x06, "c"},
                                    NamedUsage{0x07, "d"},
                                    NamedUsage{0x08, "e"},
                                    NamedUsage{0x09, "f"},
                                    NamedUsage{0x0A, "g"},
                                    NamedUsage{0x0B, "h"},
                                    NamedUsage{0x0C, "i"},
                                    NamedUsage{0x0D, "j"},
                                    NamedUsage{0x0E, "k"},
                                    NamedUsage{0x0F, "l"},
                                    NamedUsage{0x10, "m"},
                                    NamedUsage{0x11, "n"},
                                    NamedUsage{0x12, "o"},
                                    NamedUsage{0x13, "p"},
                                    NamedUsage{0x14, "q"},
                                    NamedUsage{0x15, "r"},
                                    NamedUsage{0x16, "s"},
                                    NamedUsage{0x17, "t"},
                                    NamedUsage{0x18, "u"},
                                    NamedUsage{0x19, "v"},
                                    NamedUsage{0x1A, "w"},
                                    NamedUsage{0x1B, "x"},
                                    NamedUsage{0x1C, "y"},
                                    NamedUsage{0x1D, "z"},
                                    NamedUsage{0x1E, "1"},
                                    NamedUsage{0x1F, "2"},
                                    NamedUsage{0x20, "3"},
                                    NamedUsage{0x21, "4"},
                                    NamedUsage{0x22, "5"},
                                    NamedUsage{0x23, "6"},
                                    NamedUsage{0x24, "7"},
                                    NamedUsage{0x25, "8"},
                                    NamedUsage{0x26, "9"},
                                    NamedUsage{0x27, "0"},
                                    NamedUsage{0x28, "enter"},
                                    NamedUsage{0x29, "escape"},
                                    NamedUsage{0x2A, "backspace"},
                                    NamedUsage{0x2B, "tab"},
                                    NamedUsage{0x2C, "space"},
                                    NamedUsage{0x2D, "minus"},
                                    NamedUsage{0x2E, "equals"},
                                    NamedUsage{0x2F, "left-bracket"},
                                    NamedUsage{0x30, "right-bracket"},
                                    NamedUsage{0x31, "backslash"},
                                    NamedUsage{0x32, "hash"},
                                    NamedUsage{0x33, "semicolon"},
                                    NamedUsage{0x34, "quote"},
                                    NamedUsage{0x35, "grave"},
                                    NamedUsage{0x36, "comma"},
                                    NamedUsage{0x37, "dot"},
                                    NamedUsage{0x38, "slash"},
                                    NamedUsage{0x39, "caps-lock"},
                                    NamedUsage{0x3A, "f1"},
                                    NamedUsage{0x3B, "f2"},
                                    NamedUsage{0x3C, "f3"},
                                    NamedUsage{0x3D, "f4"},
                                    NamedUsage{0x3E, "f5"},
                                    NamedUsage{0x3F, "f6"},
                                    NamedUsage{0x40, "f7"},
                                    NamedUsage{0x41, "f8"},
                                    NamedUsage{0x42, "f9"},
                                    NamedUsage{0x43, "f10"},
                                    NamedUsage{0x44, "f11"},
                                    NamedUsage{0x45, "f12"},
                                    NamedUsage{0x46, "print-screen"},
                                    NamedUsage{0x47, "scroll-lock"},
                                    NamedUsage{0x48, "pause"},
                                    NamedUsage{0x49, "insert"},
                                    NamedUsage{0x4A, "home"},
                                    NamedUsage{0x4B, "page-up"},
                                    NamedUsage{0x4C, "delete"},
                                    NamedUsage{0x4D, "end"},
                                    NamedUsage{0x4E, "page-down"},
                                    NamedUsage{0x4F, "right"},
                                    NamedUsage{0x50, "left"},
                                    NamedUsage{0x51, "down"},
                                    NamedUsage{0x52, "up"},
                                    NamedUsage{0x53, "num-lock"},
                                    NamedUsage{0x54, "pad-slash"},
                                    NamedUsage{0x55, "pad-times"},
                                    NamedUsage{0x56, "pad-minus"},
                                    NamedUsage{0x57, "pad-plus"},
                                    NamedUsage{0x58, "pad-enter"},
                                    NamedUsage{0x59, "pad-1"},
                                    NamedUsage{0x5A, "pad-2"},
                                    NamedUsage{0x5B, "pad-3"},
                                    NamedUsage{0x5C, "pad-4"},
                                    NamedUsage{0x5D, "pad-5"},
                                    NamedUsage{0x5E, "pad-6"},
                                    NamedUsage{0x5F, "pad-7"},
                                    NamedUsage{0x60, "pad-8"},
                                    NamedUsage{0x61, "pad-9"},
                                    NamedUsage{0x62, "pad-0"},
                                    NamedUsage{0x63, "pad-dot"},
                                    NamedUsage{0x64, "angle"},
                                    NamedUsage{0x65, "menu"},
                                    NamedUsage{0x66, "power"},
                                    NamedUsage{0x67, "pad-equals"},
                                    NamedUsage{0x68, "f13"},
                                    NamedUsage{0x69, "f14"},
                                    NamedUsage{0x6A, "f15"},
                                    NamedUsage{0x6B, "f16"},
                                    NamedUsage{0x6C, "f17"},
                                    NamedUsage{0x6D, "f18"},
                                    NamedUsage{0x6E, "f19"},
                                    NamedUsage{0x6F, "f20"},
                                    NamedUsage{0x70, "f21"},
                                    NamedUsage{0x71, "f22"},
                                    NamedUsage{0x72, "f23"},
                                    NamedUsage{0x73, "f24"},
                                    NamedUsage{0x75, "help"},
                                    NamedUsage{0x78, "stop-key"},
                                    NamedUsage{0x7A, "undo"},
                                    NamedUsage{0x85, "pad-comma"},
                                    NamedUsage{0x9C, "clear"},
                                    NamedUsage{0xB0, "pad-00"},
                                    NamedUsage{0xB1, "pad-000"},
                                    NamedUsage{0xE0, "left-control"},
                                    NamedUsage{0xE1, "left-shift"},
                                    NamedUsage{0xE2, "left-alt"},
                                    NamedUsage{0xE3, "left-meta"},
                                    NamedUsage{0xE4, "right-control"},
                                    NamedUsage{0xE5, "right-shift"},
                                    NamedUsage{0xE6, "right-alt"},
                                    NamedUsage{0xE7, "right-meta"}};

constexpr std::array consumer_names{NamedUsage{0x30, "power"},          NamedUsage{0x32, "sleep"},
                                    NamedUsage{0x6F, "brightness-up"},  NamedUsage{0x70, "brightness-down"},
                                    NamedUsage{0xB0, "play"},           NamedUsage{0xB1, "pause"},
                                    NamedUsage{0xB2, "record"},         NamedUsage{0xB3, "fast-forward"},
                                    NamedUsage{0xB4, "rewind"},         NamedUsage{0xB5, "next-track"},
                                    NamedUsage{0xB6, "previous-track"}, NamedUsage{0xB7, "stop"},
                                    NamedUsage{0xB8, "eject"},          NamedUsage{0xCD, "play-pause"},
                                    NamedUsage{0xE2, "mute"},           NamedUsage{0xE9, "volume-up"},
                                    NamedUsage{0xEA, "volume-down"}};

constexpr std::array desktop_names{
    NamedUsage{0x01, "pointer"},  NamedUsage{0x02, "mouse"},    NamedUsage{0x04, "joystick"},
    NamedUsage{0x05, "game-pad"}, NamedUsage{0x06, "keyboard"}, NamedUsage{0x07, "keypad"},
    NamedUsage{0x30, "x"},        NamedUsage{0x31, "y"},        NamedUsage{0x32, "z"},
    NamedUsage{0x33, "rx"},       NamedUsage{0x34, "ry"},       NamedUsage{0x35, "rz"},
    NamedUsage{0x36, "slider"},   NamedUsage{0x37, "dial"},     NamedUsage{0x38, "wheel"},
    NamedUsage{0x39, "hat"}};

constexpr std::array lamp_names{NamedUsage{0x01, "num-lock"}, NamedUsage{0x02, "caps-lock"},
                                NamedUsage{0x03, "scroll-lock"}, NamedUsage{0x04, "compose"},
                                NamedUsage{0x05, "kana"}};

}  // namespace

std::span<const NamedUsage> named_usages(std::uint16_t page) {
    switch (page) {
        case hid::keyboard: return keyboard_names;
        case hid::consumer: return consumer_names;
        case hid::desktop: return desktop_names;
        case hid::lamps: return lamp_names;
        default: return {};
    }
}

std::optional<std::string> name_of(Usage usage) {
    const auto names = named_usages(usage.page);
    const auto it = std::find_if(names.begin(), names.end(), [&](const auto& n) { return n.id == usage.id; });
    if (it != names.end()) return it->name;
    if (usage.page == hid::buttons && usage.id > 0) return fmt::format("{}", usage.id);
    return std::nullopt;
}

std::string print_usage(Usage usage) {
    const auto name = name_of(usage);
    if (!name) return fmt::format("usage {:02X} {:04X}", usage.page, usage.id);
    switch (usage.page) {
        case hid::keyboard: return "key " + *name;
        case hid::lamps: return "lamp " + *name;
        case hid::buttons: return "button " + *name;
        default: return *name;
    }
}

std::optional<std::uint16_t> find_usage(std::uint16_t page, std::string_view name) {
    for (const auto& n : named_usages(page))
        if (name == n.name) return n.id;
    if (page == hid::buttons) {
        unsigned number = 0;
        const auto [end, error] = std::from_chars(name.data(), name.data() + name.size(), number);
        if (error == std::errc{} && end == name.data() + name.size() && number > 0 && number <= 0xFFFF)
            return static_cast<std::uint16_t>(number);
    }
    return std::nullopt;
}

}  // namespace grayrelic
