// SPDX-License-Identifier: GPL-3.0-or-later
// A growing array of times for waveforms of many millions of edges. Grows by realloc: the system moves large
// blocks by their page tables, so that growing neither copies nor holds the edges twice, as a std::vector
// would.
#pragma once

#include <algorithm>
#include <cstddef>
#include <cstdlib>
#include <cstring>
#include <new>
#include <span>
#include <utility>

#include "core/base/time.hpp"

namespace grayrelic {

class EdgeBuffer {
  public:
    EdgeBuffer() = default;
    explicit EdgeBuffer(std::span<const Time> times) { append(times); }
    EdgeBuffer(const EdgeBuffer& other) : EdgeBuffer(other.view()) {}
    EdgeBuffer(EdgeBuffer&& other) noexcept
        : data_(std::exchange(other.data_, nullptr)),
          size_(std::exchange(other.size_, 0)),
          capacity_(std::exchange(other.capacity_, 0)) {}
    EdgeBuffer& operator=(EdgeBuffer other) noexcept {
        std::swap(data_, other.data_);
        std::swap(size_, other.size_);
        std::swap(capacity_, other.capacity_);
        return *this;
    }
    ~EdgeBuffer() { std::free(data_); }

    [[nodiscard]] std::span<const Time> view() const { return {data_, size_}; }
    [[nodiscard]] std::size_t size() const { return size_; }
    [[nodiscard]] bool empty() const { return size_ == 0; }
    [[nodiscard]] Time back() const { return data_[size_ - 1]; }  ///< only when not empty
    [[nodiscard]] std::size_t bytes() const { return capacity_ * sizeof(Time); }

    void push_back(Time t) {
        if (size_ == capacity_) reallocate(std::max<std::size_t>(8, capacity_ + capacity_ / 2));
        data_[size_++] = t;
    }
    void pop_back() { --size_; }
    void append(std::span<const Time> times) {
        if (times.empty()) return;
        const auto wanted = size_ + times.size();
        if (wanted > capacity_) reallocate(std::max(wanted, capacity_ + capacity_ / 2));
        std::memcpy(static_cast<void*>(data_ + size_), times.data(), times.size_bytes());
        size_ = wanted;
    }
    /// So many more, for the caller to fill.
    [[nodiscard]] std::span<Time> extend(std::size_t n) {
        if (size_ + n > capacity_) reallocate(size_ + n);
        size_ += n;
        return {data_ + size_ - n, n};
    }
    void shrink_to_fit() {
        if (size_ < capacity_ && size_ > 0) reallocate(size_);
    }

  private:
    void reallocate(std::size_t capacity) {
        void* p = std::realloc(static_cast<void*>(data_), capacity * sizeof(Time));
        if (p == nullptr) throw std::bad_alloc();
        data_ = static_cast<Time*>(p);
        capacity_ = capacity;
    }

    Time* data_ = nullptr;
    std::size_t size_ = 0;
    std::size_t capacity_ = 0;
};

}  // namespace grayrelic
