// SPDX-License-Identifier: GPL-3.0-or-later
// Searches among decoded words: errors, values, patterns of bits.
#pragma once

#include "core/decode/decoder.hpp"
#include "core/signal/find.hpp"

namespace grayrelic {

struct FrameQuery {
    bool with_errors = false;  ///< only words with an error
    std::string error;         ///< of this kind; empty for any
    std::optional<std::uint64_t> value;
    std::string levels;  ///< 0, 1, and . for either, from the first bit on; shorter than the word is fine
    std::vector<LevelWanted> while_levels;  ///< that hold where the word begins
    bool operator==(const FrameQuery&) const = default;
};

/// "error", "error parity", "0x3f", "63", "1..0": what stands in a field for words. An empty text finds every
/// word.
[[nodiscard]] Result<FrameQuery> parse_frame_query(std::string_view text);

/// Words from where they begin to where they end, in order. Fails for a signal in `while_levels` that is not
/// there.
[[nodiscard]] Result<std::vector<Span>> find_frames(const Capture& capture, const Decoding& decoding,
                                                    const FrameQuery& query);

}  // namespace grayrelic
