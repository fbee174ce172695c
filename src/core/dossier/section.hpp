// SPDX-License-Identifier: GPL-3.0-or-later
// A part of an immutable value that versions share until one of them changes it. Two sections are the same
// version when they share storage, which is what cached results are kept by.
#pragma once

#include <memory>
#include <utility>

namespace grayrelic {

template <class T>
class Section {
  public:
    Section() : value_(std::make_shared<const T>()) {}
    explicit Section(T value) : value_(std::make_shared<const T>(std::move(value))) {}
    const T& operator*() const { return *value_; }
    const T* operator->() const { return value_.get(); }
    [[nodiscard]] bool same_version(const Section& other) const { return value_ == other.value_; }
    /// What two sections share exactly when they are the same version; keeps the value alive.
    [[nodiscard]] std::shared_ptr<const T> version() const { return value_; }
    bool operator==(const Section& other) const { return value_ == other.value_ || *value_ == *other.value_; }

  private:
    std::shared_ptr<const T> value_;
};

}  // namespace grayrelic
