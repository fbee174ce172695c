// SPDX-License-Identifier: GPL-3.0-or-later
// An analogue waveform: evenly spaced samples with a pyramid of least and greatest values, so that what is
// drawn costs pixels, not samples; and its levels, found with hysteresis.
#pragma once

#include <optional>
#include <vector>

#include "core/signal/waveform.hpp"

namespace grayrelic {

class AnalogueWaveform {
  public:
    AnalogueWaveform() = default;
    /// The period in picoseconds need not be whole: 44,100 samples a second are 22,675,736.96 ps apart.
    AnalogueWaveform(Time start, double period_ps, std::vector<float> samples);
    [[nodiscard]] std::size_t size() const { return samples_.size(); }
    [[nodiscard]] const std::vector<float>& samples() const { return samples_; }
    [[nodiscard]] Time start() const { return start_; }
    [[nodiscard]] double period_ps() const { return period_ps_; }
    [[nodiscard]] Time time_of(double sample) const {
        return start_ + Time::from_seconds(sample * period_ps_ * 1e-12);
    }
    /// The sample at or before t, as a number that may lie outside.
    [[nodiscard]] double sample_at(Time t) const {
        return static_cast<double>((t - start_).count()) / period_ps_;
    }

    struct Range {
        float low = 0, high = 0;
    };
    /// Least and greatest of samples [from, to); costs O(log n). Zero for an empty stretch.
    [[nodiscard]] Range range(std::size_t from, std::size_t to) const;
    static constexpr std::size_t fan = 16;

  private:
    Time start_;
    double period_ps_ = 1;
    std::vector<float> samples_;
    std::vector<std::vector<Range>> pyramid_;  ///< pyramid_[k] holds ranges of 16^(k+1) samples
};

struct Threshold {
    double level = 0;  ///< the line goes high above level + hysteresis and low below level − hysteresis
    double hysteresis = 0;
    bool guessed = false;
};
/// Half way between what the lowest and the highest twentieth of the samples stay under and over, with a
/// tenth of the way as hysteresis to each side.
[[nodiscard]] Threshold guess_threshold(const AnalogueWaveform& waveform);
/// Levels by that threshold; the moment of a crossing of `level` is interpolated between samples. NaN keeps
/// the level it finds.
[[nodiscard]] DigitalWaveform levels_of(const AnalogueWaveform& waveform, const Threshold& threshold);

}  // namespace grayrelic
