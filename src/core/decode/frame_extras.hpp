// SPDX-License-Identifier: GPL-3.0-or-later
// What a family adds to a frame, by its key: a few pairs in the order they came, used like a map. One block
// of memory instead of one a key, and none when there is nothing.
#pragma once

#include <stdexcept>
#include <string>
#include <string_view>
#include <utility>
#include <variant>
#include <vector>

namespace grayrelic {

/// Nothing stands for a figure that does not exist here (null).
using FrameExtra = std::variant<std::monostate, long long, double, std::string, bool,
                                std::vector<std::pair<std::string, std::string>>>;

class FrameExtras {
  public:
    using Pair = std::pair<std::string, FrameExtra>;
    FrameExtra& operator[](std::string_view key) {
        for (auto& p : pairs_)
            if (p.first == key) return p.second;
        auto& added = pairs_.emplace_back();
        added.first = key;
        return added.second;
    }
    [[nodiscard]] std::vector<Pair>::const_iterator find(std::string_view key) const {
        auto it = pairs_.begin();
        while (it != pairs_.end() && it->first != key) ++it;
        return it;
    }
    [[nodiscard]] const FrameExtra& at(std::string_view key) const {
        const auto it = find(key);
        if (it == pairs_.end()) throw std::out_of_range("no such extra");
        return it->second;
    }
    [[nodiscard]] std::size_t count(std::string_view key) const { return find(key) == pairs_.end() ? 0 : 1; }
    [[nodiscard]] auto begin() const { return pairs_.begin(); }
    [[nodiscard]] auto end() const { return pairs_.end(); }
    [[nodiscard]] bool empty() const { return pairs_.empty(); }

  private:
    std::vector<Pair> pairs_;
};

}  // namespace grayrelic
