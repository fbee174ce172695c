// SPDX-License-Identifier: GPL-3.0-or-later
// Sets that are joined two at a time (union by size with path halving; Tarjan 1975). Members are 0 to n - 1.
#pragma once

#include <cstddef>
#include <numeric>
#include <utility>
#include <vector>

namespace grayrelic {

class Unions {
  public:
    explicit Unions(std::size_t n) : parent_(n), size_(n, 1) { std::iota(parent_.begin(), parent_.end(), 0); }
    /// The member that stands for this one's set; the same for all of it until the next join.
    int find(int x) {
        while (at(x) != x) x = at(x) = at(at(x));
        return x;
    }
    [[nodiscard]] bool same(int a, int b) { return find(a) == find(b); }
    /// False when both are of one set already.
    bool unite(int a, int b) {
        a = find(a);
        b = find(b);
        if (a == b) return false;
        if (size_[static_cast<std::size_t>(a)] < size_[static_cast<std::size_t>(b)]) std::swap(a, b);
        at(b) = a;
        size_[static_cast<std::size_t>(a)] += size_[static_cast<std::size_t>(b)];
        return true;
    }

  private:
    int& at(int x) { return parent_[static_cast<std::size_t>(x)]; }
    std::vector<int> parent_, size_;
};

}  // namespace grayrelic
