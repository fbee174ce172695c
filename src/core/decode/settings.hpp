// SPDX-License-Identifier: GPL-3.0-or-later
// Settings of decoders as values, and the walks over waveforms that several families share.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.hpp"
#include "core/decode/decoder.hpp"

namespace grayrelic {

/// A whole number between two bounds; nothing when the setting is left to the program. Errors name it.
[[nodiscard]] Result<std::optional<long>> whole_setting(const std::optional<std::string>& text,
                                                        const char* name, long low, long high);
/// A time above zero ("12us"); nothing when the setting is left to the program.
[[nodiscard]] Result<std::optional<Time>> time_setting(const std::optional<std::string>& text,
                                                       const char* name);

/// How many edges of one waveform lie before times that only go forward, without a search.
class EdgeWalk {
  public:
    explicit EdgeWalk(const DigitalWaveform& waveform) : edges_(waveform.edges()) {}
    std::size_t before(Time t) {
        while (next_ < edges_.size() && edges_[next_] < t) ++next_;
        return next_;
    }

  private:
    std::span<const Time> edges_;
    std::size_t next_ = 0;
};

/// Levels of one waveform at times that only go forward: no search, one comparison for most steps.
class LevelWalk {
  public:
    explicit LevelWalk(const DigitalWaveform& waveform) : waveform_(&waveform), edges_(waveform.edges()) {}
    /// The level at t, an edge at t included.
    bool at(Time t) {
        while (next_ < edges_.size() && edges_[next_] <= t) ++next_;
        return waveform_->level_after(next_);
    }
    /// The level just before t.
    bool before(Time t) {
        while (next_ < edges_.size() && edges_[next_] < t) ++next_;
        return waveform_->level_after(next_);
    }
    [[nodiscard]] std::size_t next_edge() const { return next_; }
    void jump(std::size_t edge) { next_ = edge; }

  private:
    const DigitalWaveform* waveform_;
    std::span<const Time> edges_;
    std::size_t next_ = 0;
};

/// The level at which a line spends most of its time between its first and last edge; its level before the
/// first edge when there are fewer than three edges.
[[nodiscard]] bool resting_level(const DigitalWaveform& waveform);

/// The median distance of successive times; nothing with fewer than two.
[[nodiscard]] std::optional<Time> median_distance(const std::vector<Time>& times);

/// Bursts of successive times: [first, last) positions, parted where two lie further apart than `gap`.
[[nodiscard]] std::vector<std::pair<std::size_t, std::size_t>> bursts_of(const std::vector<Time>& times,
                                                                         Time gap);

/// Which edge of the clock the data is read at: not the one that data edges follow. `otherwise` where the
/// data does not tell.
[[nodiscard]] Direction quiet_edge(const DigitalWaveform& clock,
                                   const std::vector<const DigitalWaveform*>& data, Direction otherwise);

/// Does the data follow both edges of the clock about as often, or too seldom to say?
[[nodiscard]] bool undecided_edge(const DigitalWaveform& clock,
                                  const std::vector<const DigitalWaveform*>& data);

/// Levels '0', '1', or 'x' where the waveform is not known just before t.
[[nodiscard]] inline char level_char(const DigitalWaveform& waveform, LevelWalk& walk, Time t) {
    const bool level = walk.before(t);
    return !waveform.unknown().empty() && !waveform.known_before(t) ? 'x' : level ? '1' : '0';
}

}  // namespace grayrelic
