// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/descriptor.hpp"

#include <fmt/format.h>

#include <charconv>
#include <optional>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

// Items: the prefix's upper six bits (HID 1.11, 6.2.2.4, 6.2.2.7 and 6.2.2.8); the lower two are the data's
// size.
constexpr std::uint8_t input = 0x80, output = 0x90, collection = 0xA0, end_collection = 0xC0;
constexpr std::uint8_t usage_page = 0x04, logical_min = 0x14, logical_max = 0x24, physical_min = 0x34,
                       physical_max = 0x44, unit = 0x64, report_size = 0x74, report_count = 0x94;
constexpr std::uint8_t usage = 0x08, usage_min = 0x18, usage_max = 0x28;
// Main items' data: bit 0 constant, bit 1 variable, bit 2 relative, bit 6 null state.
constexpr int constant = 0x01, absolute = 0x02, relative = 0x06, with_null = 0x42, array = 0x00;

class Items {
  public:
    Items& signed_item(std::uint8_t tag, int value) {
        return value >= -128 && value <= 127 ? put(tag, value, 1) : put(tag, value, 2);
    }
    Items& item(std::uint8_t tag, int value) {
        return value <= 0xFF ? put(tag, value, 1) : put(tag, value, 2);
    }
    Items& end() {
        bytes_.push_back(end_collection);
        return *this;
    }
    std::vector<std::uint8_t> bytes() { return std::move(bytes_); }

  private:
    Items& put(std::uint8_t tag, int value, int size) {
        bytes_.push_back(static_cast<std::uint8_t>(tag | size));
        for (int i = 0; i < size; ++i) bytes_.push_back(static_cast<std::uint8_t>(value >> (8 * i)));
        return *this;
    }
    std::vector<std::uint8_t> bytes_;
};

std::vector<std::uint8_t> keyboard_items() {
    Items d;
    d.item(usage_page, 0x01).item(usage, 0x06).item(collection, 0x01);
    d.item(usage_page, 0x07).item(usage_min, 0xE0).item(usage_max, 0xE7);
    d.signed_item(logical_min, 0).signed_item(logical_max, 1);
    d.item(report_size, 1).item(report_count, 8).item(input, absolute);
    d.item(report_count, 1).item(report_size, 8).item(input, constant);
    d.item(report_count, 5).item(report_size, 1);
    d.item(usage_page, 0x08).item(usage_min, 1).item(usage_max, 5).item(output, absolute);
    d.item(report_count, 1).item(report_size, 3).item(output, constant);
    d.item(report_count, 6).item(report_size, 8);
    d.signed_item(logical_min, 0).signed_item(logical_max, 0x65);
    d.item(usage_page, 0x07).item(usage_min, 0).item(usage_max, 0x65).item(input, array);
    return d.end().bytes();
}

std::vector<std::uint8_t> media_items() {
    Items d;
    d.item(usage_page, 0x0C).item(usage, 0x01).item(collection, 0x01);
    d.signed_item(logical_min, 0).signed_item(logical_max, 0x3FF);
    d.item(usage_min, 0).item(usage_max, 0x3FF);
    d.item(report_size, 16).item(report_count, 1).item(input, array);
    return d.end().bytes();
}

void button_items(Items& d, int buttons) {
    d.item(usage_page, 0x09).item(usage_min, 1).item(usage_max, buttons);
    d.signed_item(logical_min, 0).signed_item(logical_max, 1);
    d.item(report_count, buttons).item(report_size, 1).item(input, absolute);
    if (buttons % 8 != 0) d.item(report_count, 1).item(report_size, 8 - buttons % 8).item(input, constant);
}

std::vector<std::uint8_t> pad_items(const Profile& p) {
    Items d;
    d.item(usage_page, 0x01).item(usage, 0x05).item(collection, 0x01);
    if (p.buttons > 0) button_items(d, p.buttons);
    if (p.hat) {
        // Eight directions as angles, 0 to 315 degrees; anything else is the null state: the hat at rest.
        d.item(usage_page, 0x01).item(usage, 0x39);
        d.signed_item(logical_min, 0).signed_item(logical_max, 7);
        d.signed_item(physical_min, 0).signed_item(physical_max, 315).item(unit, 0x14);
        d.item(report_count, 1).item(report_size, 4).item(input, with_null);
        d.signed_item(physical_min, 0).signed_item(physical_max, 0).item(unit, 0);
        d.item(report_count, 1).item(report_size, 4).item(input, constant);
    }
    if (p.axes > 0) {
        d.item(usage_page, 0x01);
        for (int i = 0; i < p.axes; ++i) d.item(usage, 0x30 + i);
        d.signed_item(logical_min, -127).signed_item(logical_max, 127);
        d.item(report_size, 8).item(report_count, p.axes).item(input, absolute);
    }
    return d.end().bytes();
}

std::vector<std::uint8_t> pointer_items(const Profile& p) {
    Items d;
    d.item(usage_page, 0x01).item(usage, 0x02).item(collection, 0x01);
    d.item(usage, 0x01).item(collection, 0x00);
    button_items(d, p.buttons);
    d.item(usage_page, 0x01).item(usage, 0x30).item(usage, 0x31);
    if (p.wheel) d.item(usage, 0x38);
    d.signed_item(logical_min, -127).signed_item(logical_max, 127);
    d.item(report_size, 8).item(report_count, p.wheel ? 3 : 2).item(input, relative);
    return d.end().end().bytes();
}

/// A whole number within bounds, or nothing.
std::optional<int> number_in(std::string_view text, int least, int most) {
    int value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc{} || end != text.data() + text.size() || value < least || value > most)
        return std::nullopt;
    return value;
}

constexpr const char* profile_forms =
    "keyboard, media, pad:buttons=0..128,hat=0|1,axes=0..8 or pointer:buttons=1..16,wheel=0|1";

Status set_pad(Profile& p, std::string_view key, std::string_view value) {
    const auto buttons = number_in(value, 0, 128), axes = number_in(value, 0, 8),
               flag = number_in(value, 0, 1);
    if (key == "buttons" && buttons)
        p.buttons = *buttons;
    else if (key == "hat" && flag)
        p.hat = *flag == 1;
    else if (key == "axes" && axes)
        p.axes = *axes;
    else
        return fail_usage(in_quotes(std::string(key) + "=" + std::string(value)), profile_forms);
    return {};
}

Status set_pointer(Profile& p, std::string_view key, std::string_view value) {
    const auto buttons = number_in(value, 1, 16), flag = number_in(value, 0, 1);
    if (key == "buttons" && buttons)
        p.buttons = *buttons;
    else if (key == "wheel" && flag)
        p.wheel = *flag == 1;
    else
        return fail_usage(in_quotes(std::string(key) + "=" + std::string(value)), profile_forms);
    return {};
}

}  // namespace

Result<Profile> parse_profile(std::string_view text) {
    const auto colon = text.find(':');
    const auto kind = named<ProfileKind>(trim(text.substr(0, colon)));
    if (!kind) return fail_usage(in_quotes(text), profile_forms);
    Profile p{*kind};
    if (*kind == ProfileKind::pad) p = {*kind, 8, true, 2, false};
    if (*kind == ProfileKind::pointer) p.buttons = 3;
    if (colon == std::string_view::npos) return p;
    for (const auto part : split(text.substr(colon + 1), ',')) {
        const auto equals = part.find('=');
        const auto key = trim(part.substr(0, equals));
        const auto value =
            equals == std::string_view::npos ? std::string_view{} : trim(part.substr(equals + 1));
        auto done = *kind == ProfileKind::pad       ? set_pad(p, key, value)
                    : *kind == ProfileKind::pointer ? set_pointer(p, key, value)
                                                    : Status(fail_usage(in_quotes(text), profile_forms));
        if (!done) return fail(done.error());
    }
    if (*kind == ProfileKind::pad && p.buttons == 0 && !p.hat && p.axes == 0)
        return fail_usage(in_quotes(text), "a pad with buttons, a hat or axes");
    return p;
}

std::string print_profile(const Profile& p) {
    switch (p.kind) {
        case ProfileKind::pad:
            return fmt::format("pad:buttons={},hat={},axes={}", p.buttons, p.hat ? 1 : 0, p.axes);
        case ProfileKind::pointer:
            return fmt::format("pointer:buttons={},wheel={}", p.buttons, p.wheel ? 1 : 0);
        default: return std::string(word(p.kind));
    }
}

std::vector<std::uint8_t> descriptor_of(const Profile& p) {
    switch (p.kind) {
        case ProfileKind::media: return media_items();
        case ProfileKind::pad: return pad_items(p);
        case ProfileKind::pointer: return pointer_items(p);
        case ProfileKind::keyboard: break;
    }
    return keyboard_items();
}

std::size_t report_bytes(const Profile& p) {
    const auto buttons = static_cast<std::size_t>((p.buttons + 7) / 8);
    switch (p.kind) {
        case ProfileKind::media: return 2;
        case ProfileKind::pad: return buttons + (p.hat ? 1U : 0U) + static_cast<std::size_t>(p.axes);
        case ProfileKind::pointer: return buttons + (p.wheel ? 3U : 2U);
        case ProfileKind::keyboard: break;
    }
    return 8;
}

}  // namespace grayrelic
