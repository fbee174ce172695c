// SPDX-License-Identifier: GPL-3.0-or-later
// When each level of a frame was read. Times that lie evenly (one, two, or those of a family that keeps its
// own time) are held as a beginning and a step, whatever their number; others as a list. Read like a list
// either way. Small, since a capture can hold millions of frames.
#pragma once

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <memory>

#include "core/base/time.hpp"

namespace grayrelic {

class BitTimes {
  public:
    BitTimes() = default;
    BitTimes(std::initializer_list<Time> times) {
        reserve(times.size());
        for (const auto t : times) push_back(t);
    }
    BitTimes(const BitTimes& o)
        : first_(o.first_), step_ps_(o.step_ps_), size_(o.size_) {  // what was reserved is not copied
        if (!o.listed_) return;
        listed_ = std::make_unique<Time[]>(size_);
        capacity_ = size_;
        std::copy_n(o.listed_.get(), size_, listed_.get());
    }
    BitTimes(BitTimes&&) noexcept = default;
    BitTimes& operator=(BitTimes o) noexcept {
        first_ = o.first_;
        step_ps_ = o.step_ps_;
        std::swap(listed_, o.listed_);
        std::swap(size_, o.size_);
        std::swap(capacity_, o.capacity_);
        return *this;
    }
    /// `count` times from `first` on, each `step_ps` picoseconds behind the one before it; parts of a
    /// picosecond are cut off.
    [[nodiscard]] static BitTimes even(Time first, double step_ps, std::size_t count) {
        BitTimes t;
        t.first_ = first;
        t.step_ps_ = step_ps;
        t.size_ = static_cast<std::uint32_t>(count);
        return t;
    }
    [[nodiscard]] std::size_t size() const { return size_; }
    [[nodiscard]] bool empty() const { return size_ == 0; }
    [[nodiscard]] Time operator[](std::size_t i) const {
        return listed_ ? listed_[i]
                       : first_ + Time::ps(static_cast<std::int64_t>(static_cast<double>(i) * step_ps_));
    }
    [[nodiscard]] Time front() const { return (*this)[0]; }         ///< only when not empty
    [[nodiscard]] Time back() const { return (*this)[size_ - 1]; }  ///< only when not empty
    /// How many will come, should they need a list.
    void reserve(std::size_t n) {
        if (n <= capacity_) return;
        if (listed_)
            grow(n);
        else
            capacity_ = static_cast<std::uint32_t>(n);
    }
    void push_back(Time t) {
        if (!listed_) {
            if (size_ == 0) first_ = t;
            if (size_ == 1) step_ps_ = static_cast<double>((t - first_).count());
            if (size_ < 1 || (*this)[size_] == t) {
                ++size_;
                return;
            }
            list();
        }
        if (size_ == capacity_) grow(std::max<std::size_t>(8, 2 * static_cast<std::size_t>(capacity_)));
        listed_[size_++] = t;
    }
    [[nodiscard]] bool operator==(const BitTimes& o) const {
        if (size_ != o.size_) return false;
        for (std::size_t i = 0; i < size_; ++i)
            if ((*this)[i] != o[i]) return false;
        return true;
    }

  private:
    void grow(std::size_t n) {
        auto more = std::make_unique<Time[]>(n);
        std::copy_n(listed_.get(), size_, more.get());
        listed_ = std::move(more);
        capacity_ = static_cast<std::uint32_t>(n);
    }
    /// The same times, as a list.
    void list() {
        const std::size_t n = std::max<std::size_t>({8, capacity_, static_cast<std::size_t>(size_) + 1});
        auto times = std::make_unique<Time[]>(n);
        for (std::size_t i = 0; i < size_; ++i) times[i] = (*this)[i];
        listed_ = std::move(times);
        capacity_ = static_cast<std::uint32_t>(n);
    }

    std::unique_ptr<Time[]> listed_;
    Time first_;
    double step_ps_ = 0;
    std::uint32_t size_ = 0, capacity_ = 0;
};

}  // namespace grayrelic
