// SPDX-License-Identifier: GPL-3.0-or-later
// A growing array of times for waveforms of many millions of edges. Grows by realloc: the system moves large
// blocks by their page tables, so that growing neither copies nor holds the edges twice, as a std::vector
// would. Or the times of a file that is mapped: those stay where they are until the buffer is written to.
#pragma once

#include <algorithm>
#include <cstddef>
#include <cstdlib>
#include <cstring>
#include <memory>
#include <new>
#include <span>
#include <utility>

#include "core/base/time.hpp"

namespace grayrelic {

class EdgeBuffer {
  public:
    EdgeBuffer() = default;
    explicit EdgeBuffer(std::span<const Time> times) { append(times); }
    /// Times that `owner` keeps in place; they are read, never written.
    [[nodiscard]] static EdgeBuffer borrowed(std::span<const Time> times, std::shared_ptr<const void> owner) {
        EdgeBuffer b;
        b.data_ = const_cast<Time*>(times.data());
        b.size_ = b.capacity_ = times.size();
        b.owner_ = std::move(owner);
        return b;
    }
    EdgeBuffer(const EdgeBuffer& other) : EdgeBuffer(other.view()) {}
    EdgeBuffer(EdgeBuffer&& other) noexcept
        : data_(std::exchange(other.data_, nullptr)),
          size_(std::exchange(other.size_, 0)),
          capacity_(std::exchange(other.capacity_, 0)),
          owner_(std::move(other.owner_)) {}
    EdgeBuffer& operator=(EdgeBuffer other) noexcept {
        std::swap(data_, other.data_);
        std::swap(size_, other.size_);
        std::swap(capacity_, other.capacity_);
        std::swap(owner_, other.owner_);
        return *this;
    }
    ~EdgeBuffer() {
        if (!owner_) std::free(data_);
    }

    [[nodiscard]] std::span<const Time> view() const { return {data_, size_}; }
    [[nodiscard]] std::size_t size() const { return size_; }
    [[nodiscard]] bool empty() const { return size_ == 0; }
    [[nodiscard]] Time back() const { return data_[size_ - 1]; }  ///< only when not empty
    [[nodiscard]] std::size_t bytes() const { return capacity_ * sizeof(Time); }

    void push_back(Time t) {
        if (size_ == capacity_ || owner_) reallocate(std::max<std::size_t>(8, capacity_ + capacity_ / 2));
        data_[size_++] = t;
    }
    void pop_back() {
        own();
        --size_;
    }
    void append(std::span<const Time> times) {
        if (times.empty()) return;
        const auto wanted = size_ + times.size();
        if (wanted > capacity_ || owner_) reallocate(std::max(wanted, capacity_ + capacity_ / 2));
        std::memcpy(static_cast<void*>(data_ + size_), times.data(), times.size_bytes());
        size_ = wanted;
    }
    /// So many more, for the caller to fill.
    [[nodiscard]] std::span<Time> extend(std::size_t n) {
        if (size_ + n > capacity_ || owner_) reallocate(size_ + n);
        size_ += n;
        return {data_ + size_ - n, n};
    }
    void shrink_to_fit() {
        if (size_ < capacity_ && size_ > 0 && !owner_) reallocate(size_);
    }

  private:
    void own() {
        if (owner_) reallocate(capacity_);
    }
    void reallocate(std::size_t capacity) {
        if (owner_) {
            EdgeBuffer copy;
            copy.reallocate(capacity);
            std::memcpy(static_cast<void*>(copy.data_), data_, size_ * sizeof(Time));
            copy.size_ = size_;
            *this = std::move(copy);
            return;
        }
        void* p = std::realloc(static_cast<void*>(data_), capacity * sizeof(Time));
        if (p == nullptr) throw std::bad_alloc();
        data_ = static_cast<Time*>(p);
        capacity_ = capacity;
    }

    Time* data_ = nullptr;
    std::size_t size_ = 0;
    std::size_t capacity_ = 0;
    std::shared_ptr<const void> owner_;  // of borrowed times
};

}  // namespace grayrelic
