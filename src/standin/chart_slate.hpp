// SPDX-License-Identifier: GPL-3.0-or-later
// Plays the Calder 2 and its chart slate on the two-way serial line: the computer asks with one byte, the
// slate answers with six: 0x80 and three buttons, x and y in two times seven bits, low half first, and the
// exclusive or of the five bytes before. 6 MHz ceramic resonator ÷ 448 = 13,392.9 Bd, eight bits, no parity,
// one stop bit, inverted; each side's own resonator is off by a little.
#pragma once

#include <cstdint>
#include <string>

namespace grayrelic::standin {

struct ChartSlateSession {
    std::uint64_t seed = 1;
    int polls = 240;         ///< 25 ms apart
    double sample_hz = 2e6;  ///< of the capture device
    int spoilt_poll = 150;   ///< a spike on the line spoils one character of this answer; negative for none
};

/// The capture as a value change dump: TXD from the computer, RXD from the slate. Same session, same bytes.
[[nodiscard]] std::string record_chart_slate(const ChartSlateSession& session);

}  // namespace grayrelic::standin
