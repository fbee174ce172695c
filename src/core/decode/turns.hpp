// SPDX-License-Identifier: GPL-3.0-or-later
// Who speaks when two sides talk in turn on one line: polls and the answers to them.
//
// On a one-wire line the decoder tells the sides itself, by its long rests. Characters are put together to
// messages where the pauses between them fall into two or three kinds, each far from the next: within a
// message, from a poll to its answer, and from an answer to the next poll, which alternate.
#pragma once

#include <vector>

#include "core/decode/decoder.hpp"

namespace grayrelic {

struct Turn {
    bool answer = false;
    Time start,
        end;  ///< of the message; the end is the last edge of a one-wire burst, its stop pulse included
};

/// Polls and answers in order of time; empty when nobody answers on this line, or nothing tells the sides.
[[nodiscard]] std::vector<Turn> turns_of(const Decoding& decoding);

/// The same; where only one side talks on this line, all its messages as polls.
[[nodiscard]] std::vector<Turn> talk_of(const Decoding& decoding);

/// Characters put together: where the pause after a frame is longer than `pause`, a message ends. All sides.
[[nodiscard]] std::vector<Turn> messages_of(const Decoding& decoding, Time pause);

/// The pause that parts messages: the widest step between pauses that are alike; two characters where all
/// are.
[[nodiscard]] Time message_pause(const Decoding& decoding);

}  // namespace grayrelic
