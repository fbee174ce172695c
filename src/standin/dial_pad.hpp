// SPDX-License-Identifier: GPL-3.0-or-later
// Plays the Calder 2 and its dial pad on the control port, and a capture device that samples the four lines.
//
// Every second picture frame (40 ms) the computer pulses HOLD high, then gives 20 STEP clocks: STEP rests
// high, falls, and shifts the pad on its rise. The pad answers on REPLY: buttons a to g (low = pressed),
// identity bits i2 i1 i0, ten bits of dial position. On every third poll BANK is high and the second set of
// switches stands in the dial's place. Times follow from the master clock, 17.734475 MHz ÷ 14 for a tick.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace grayrelic::standin {

struct DialPadSession {
    std::uint64_t seed = 1;
    double seconds = 3.0;
    std::optional<int> pressed;  ///< button 0 (a) to 6 (g), held for the middle third of the session
    bool lively = false;         ///< buttons and dial move by chance, and the line shows rare glitches
    double sample_hz = 100e6;    ///< of the capture device
    /// A bridge's first board in the pad's place: a fast register, with its serial input tied low by mistake.
    bool replica = false;
};

/// The capture as a value change dump. The same session gives the same bytes.
[[nodiscard]] std::string record_dial_pad(const DialPadSession& session);

struct NamedCapture {
    std::string file;
    DialPadSession session;
};
/// The demo's captures: idle, each button in turn, one minute, and the bridge's first board in the idle
/// pad's place. The recording of button e was made with the capture device left at 500 kHz: the honest
/// mistake.
[[nodiscard]] std::vector<NamedCapture> dial_pad_captures(std::uint64_t seed);

}  // namespace grayrelic::standin
