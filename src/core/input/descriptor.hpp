// SPDX-License-Identifier: GPL-3.0-or-later
// Report descriptors of what a bridge can pretend to be, byte by byte after the Device Class Definition for
// Human Interface Devices 1.11: items as in 6.2.2, the keyboard as in appendix B.1, the pointer as in
// appendix E.10. Ours have no report id: each profile is an interface of its own.
//
//     keyboard                      the boot keyboard: 8 bytes in, one byte of lamps out
//     media                         one consumer usage at a time, 2 bytes
//     pad:buttons=8,hat=1,axes=2    buttons, padded to a byte; a hat of 4 bits with a null state, padded;
//     axes ±127 pointer:buttons=3,wheel=1     buttons, padded; x and y, relative, ±127; a wheel
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/base/words.hpp"

namespace grayrelic {

enum class ProfileKind { keyboard, media, pad, pointer };
template <>
inline constexpr std::array words_of<ProfileKind>{"keyboard", "media", "pad", "pointer"};

struct Profile {
    ProfileKind kind = ProfileKind::keyboard;
    int buttons = 0;     ///< pad: 0…128; pointer: 1…16
    bool hat = false;    ///< pad
    int axes = 0;        ///< pad: 0…8: x y z rx ry rz slider dial
    bool wheel = false;  ///< pointer
    bool operator==(const Profile&) const = default;
};
/// A pad begins with 8 buttons, a hat and 2 axes, a pointer with 3 buttons and no wheel.
[[nodiscard]] Result<Profile> parse_profile(std::string_view text);
[[nodiscard]] std::string print_profile(const Profile& profile);

[[nodiscard]] std::vector<std::uint8_t> descriptor_of(const Profile& profile);
/// Of the input report.
[[nodiscard]] std::size_t report_bytes(const Profile& profile);

}  // namespace grayrelic
