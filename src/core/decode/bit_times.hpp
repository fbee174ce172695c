// SPDX-License-Identifier: GPL-3.0-or-later
// When each level of a frame was read. Families that keep their own time read evenly: those hold a beginning and a
// step, whatever their length; the others hold a list. Read like a list either way.
#pragma once

#include <cstddef>
#include <vector>

#include "core/base/time.hpp"

namespace grayrelic {

class BitTimes {
  public:
    BitTimes() = default;
    BitTimes(std::initializer_list<Time> times) : listed_(times), size_(times.size()) {}
    BitTimes(std::vector<Time> times) : listed_(std::move(times)), size_(listed_.size()) {}
    /// `count` times, the first at `first` + `offset_ps`, each `step_ps` picoseconds behind the one before it; parts
    /// of a picosecond are cut off, counted from `first`.
    [[nodiscard]] static BitTimes even(Time first, double offset_ps, double step_ps, std::size_t count) {
        BitTimes t;
        t.first_ = first;
        t.offset_ps_ = offset_ps;
        t.step_ps_ = step_ps;
        t.size_ = count;
        return t;
    }
    [[nodiscard]] std::size_t size() const { return size_; }
    [[nodiscard]] bool empty() const { return size_ == 0; }
    [[nodiscard]] Time operator[](std::size_t i) const {
        if (!listed_.empty()) return listed_[i];
        return first_ + Time::ps(static_cast<std::int64_t>(offset_ps_ + static_cast<double>(i) * step_ps_));
    }
    [[nodiscard]] Time front() const { return (*this)[0]; }           ///< only when not empty
    [[nodiscard]] Time back() const { return (*this)[size_ - 1]; }    ///< only when not empty
    void reserve(std::size_t n) { listed_.reserve(n); }
    /// Only to a list: even times take no others.
    void push_back(Time t) {
        listed_.push_back(t);
        size_ = listed_.size();
    }
    [[nodiscard]] bool operator==(const BitTimes& o) const {
        if (size_ != o.size_) return false;
        for (std::size_t i = 0; i < size_; ++i)
            if ((*this)[i] != o[i]) return false;
        return true;
    }

  private:
    std::vector<Time> listed_;
    Time first_;
    double offset_ps_ = 0, step_ps_ = 0;
    std::size_t size_ = 0;
};

}  // namespace grayrelic
