// SPDX-License-Identifier: GPL-3.0-or-later
// A network of parts as the way to build the reply: the recorded host signals drive it, its answer is held
// against the original's recorded answer, at every corner of its delays.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/decode/decoder.hpp"
#include "core/logic/network.hpp"
#include "core/logic/simulate.hpp"
#include "core/timing/reply.hpp"

namespace grayrelic {

struct NetworkCorner {
    std::string name;  ///< "fast", "typical", "slow", or "U1 fast, U2 slow"
    Time slowest;      ///< latency of the slowest reply that came
    std::optional<Time> worst_margin;
    long missed = 0;
};

struct NetworkReply {
    ReplySummary summary;  ///< of the worst corner
    std::vector<NetworkCorner>
        corners;  ///< fast, typical, slow; then each mixture of parts, on the first tasks only. Of more than
                  ///< most_outcomes tasks the typical one sees only so many: it decides nothing.
    std::string answer;             ///< the output that was judged
    DigitalWaveform waveform;       ///< it, at the slow corner
    long compared = 0, differ = 0;  ///< tasks at whose deadline it had the original's level, and not
    std::optional<Time> first_difference;
    std::vector<TimingFault> faults;  ///< at the slow corner
    std::vector<Clash> clashes;
    std::string stopped;
};

inline constexpr std::size_t most_mixed_parts = 6;  ///< 2^6 mixtures

/// Inputs without a level of their own take the capture's signal of their name; those that say bitN take that
/// bit of the frames, changed halfway between two frames. The answer is the output named as
/// `original_answer`, else the first. Refused: a network that is not computable, an input that the capture
/// has not, bits without frames.
[[nodiscard]] Result<NetworkReply> reply_of_network(const Network& network, const Capture& capture,
                                                    const Decoding* decoding,
                                                    const std::vector<ReplyTask>& tasks,
                                                    const std::string& original_answer, Progress& progress);

/// What drives a network in the replay of a capture.
[[nodiscard]] Result<std::vector<Stimulus>> stimuli_from(const Network& network, const Capture& capture,
                                                         const Decoding* decoding);

}  // namespace grayrelic
