// SPDX-License-Identifier: GPL-3.0-or-later
// What protects a contact on its own board, as a person writes it: parts joined by "+".
//
//     series 330R        a resistor in the line
//     diode              a diode in a supply's line: current flows only the way it should
//     p-channel          a P-channel transistor as such a diode, nearly without a drop
//     clamp              diodes to the board's own supply and ground
//     clamp 5V6          one that conducts to ground from this voltage on, and below −0.7 V
//     fuse 500mA         opens for good, or until it has cooled, at about twice that
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/base/result.hpp"

namespace grayrelic {

struct Protection {
    std::optional<double> series_ohm;
    bool diode = false;
    bool p_channel = false;
    bool clamp_to_supply = false;
    std::optional<double> clamp_v;
    std::optional<double> fuse_a;
    [[nodiscard]] bool any() const {
        return series_ohm || diode || p_channel || clamp_to_supply || clamp_v || fuse_a;
    }
    bool operator==(const Protection&) const = default;
};

/// Empty text is no protection. Series 1 mΩ to 10 MΩ, clamp 1 to 100 V, fuse 1 mA to 100 A; each word once.
[[nodiscard]] Result<Protection> protection_from_text(std::string_view text);
[[nodiscard]] std::string protection_text(const Protection& protection);

}  // namespace grayrelic
