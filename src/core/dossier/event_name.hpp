// SPDX-License-Identifier: GPL-3.0-or-later
// The name of something that happens in a capture: an edge of a signal, or a moment of a decoded frame.
//   STEP:rise  STEP:fall  STEP:any
//   STEP:rise after 150us: only those before which the line stayed for at least so long
//   frame:start  frame:end  frame:bit1 (the first bit)  frame:error (the start of a frame with errors)
//   poll:start  poll:end  answer:start  answer:end: of the two sides that talk in turn, see timing/turns.hpp
#pragma once

#include <string>
#include <string_view>

#include "core/signal/capture.hpp"

namespace grayrelic {

struct EventName {
    enum class Moment { edge, start, end, bit, error, poll_start, poll_end, answer_start, answer_end };
    Moment moment = Moment::edge;
    EdgeName edge;  ///< when moment is edge
    Time after;     ///< when moment is edge: the line stayed at the other level for this long; 0 for all
    int bit = 0;    ///< when moment is bit: from 1, at most 64
    bool operator==(const EventName&) const = default;
};

[[nodiscard]] Result<EventName> parse_event(std::string_view text);
[[nodiscard]] std::string show_event(const EventName& event);  ///< "STEP ↑", "frame's start", "frame's bit 3"

}  // namespace grayrelic
