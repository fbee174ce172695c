// SPDX-License-Identifier: GPL-3.0-or-later
// The edges of several waveforms in one order of time, without a copy: the walk that transactions, searches
// and activity share. Of edges at one time, the earlier line comes first.
#pragma once

#include <vector>

#include "core/signal/waveform.hpp"

namespace grayrelic {

class MergedEdges {
  public:
    struct Step {
        Time time;
        std::size_t line = 0;
        bool rises = false;
    };
    explicit MergedEdges(std::vector<const DigitalWaveform*> lines)
        : lines_(std::move(lines)), next_(lines_.size(), 0), due_(lines_.size()) {
        for (std::size_t i = 0; i < lines_.size(); ++i) due_[i] = time_of(i);
    }
    /// From the first edge at or after t.
    void jump(Time t) {
        for (std::size_t i = 0; i < lines_.size(); ++i) {
            next_[i] = lines_[i]->edges_before(t);
            due_[i] = time_of(i);
        }
    }
    /// The next edge; false when there is none left.
    bool next(Step& step) {
        std::size_t best = 0;
        Time t = Time::max();
        for (std::size_t i = 0; i < due_.size(); ++i)
            if (due_[i] < t) t = due_[i], best = i;
        if (t == Time::max()) return false;
        step = {t, best, lines_[best]->is_rise(next_[best])};
        ++next_[best];
        due_[best] = time_of(best);
        return true;
    }

  private:
    [[nodiscard]] Time time_of(std::size_t i) const {
        const auto edges = lines_[i]->edges();
        return next_[i] < edges.size() ? edges[next_[i]] : Time::max();
    }
    std::vector<const DigitalWaveform*> lines_;
    std::vector<std::size_t> next_;
    std::vector<Time> due_;
};

}  // namespace grayrelic
