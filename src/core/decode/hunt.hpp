// SPDX-License-Identifier: GPL-3.0-or-later
// The button hunt: one recording at rest, then one of each press; the difference names the bit. Works on
// frames of any decoder, from several captures or from marked stretches of one.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/decode/decoder.hpp"

namespace grayrelic {

/// Frames recorded while one thing was done: "idle", "fire", "left".
struct HuntTake {
    std::string name;
    std::vector<const Frame*> frames;
};

/// How one bit behaved in one take.
enum class BitState { low, high, moves, absent };

struct HuntBit {
    std::size_t place = 0;  ///< from 0, in order of arrival
    BitState idle = BitState::absent;
    std::vector<std::string> moved_by;  ///< takes in which it differs from idle
    bool active_low = false;            ///< it rests high and goes low
};

struct HuntAnswer {
    std::string take;
    std::vector<std::size_t>
        bits;             ///< places that differ from idle; those that no other take moves come first
    bool shared = false;  ///< all of them are moved by other takes too
};

/// What looks like a counter or a checksum among the bits that move by themselves.
struct HuntHint {
    std::size_t from = 0, count = 0;  ///< places
    std::string says;                 ///< "counts up by 1", "the sum of the bytes before it"
};

struct HuntResult {
    std::size_t width = 0;     ///< bits of the usual frame
    std::size_t left_out = 0;  ///< frames with errors or of another width
    std::vector<HuntBit> bits;
    std::vector<HuntAnswer> answers;
    std::vector<std::size_t> never_moved;
    std::vector<std::size_t> restless;  ///< move while nothing is pressed
    std::vector<HuntHint> hints;
    std::string problem;  ///< why there is no answer: no idle frames, widths that differ
};

/// A press in one long recording.
struct HuntMoment {
    std::string name;  ///< empty: nothing was pressed then
    Span span;
};
/// Takes out of one recording: first the frames at rest, then those of each name, moments of one name
/// together. A frame belongs to a moment when it lies wholly inside; one that touches a moment's border
/// belongs to none, since the hand was on its way. At rest is what moments without a name hold, or without
/// such everything outside.
[[nodiscard]] std::vector<HuntTake> takes_at(const Decoding& decoding,
                                             const std::vector<HuntMoment>& moments);

/// The first take is the one at rest.
[[nodiscard]] HuntResult hunt(const std::vector<HuntTake>& takes);

/// Counters and checksums among frames, byte by byte. Places are in bits.
[[nodiscard]] std::vector<HuntHint> find_hints(const std::vector<const Frame*>& frames);

}  // namespace grayrelic
