// SPDX-License-Identifier: GPL-3.0-or-later
// The table of a value change dump's identifiers: short runs of the printable characters 33 to 126.
// Identifiers of up to three characters are looked up by their number, longer ones by hash.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace grayrelic {

class VcdNames {
  public:
    static constexpr std::uint32_t none = 0xFFFFFFFFU;

    [[nodiscard]] std::uint32_t find(std::string_view id) const {
        const auto n = number(id);
        if (n < short_ids) return n < direct_.size() ? direct_[n] : none;
        const auto it = long_.find(std::string(id));
        return it == long_.end() ? none : it->second;
    }
    /// Gives the next number to an identifier that is not in the table yet.
    std::uint32_t add(std::string_view id) {
        const auto n = number(id);
        if (n < short_ids) {
            if (direct_.size() <= n) direct_.resize(n + 1, none);
            direct_[n] = count_;
        } else {
            long_.emplace(id, count_);
        }
        return count_++;
    }

  private:
    static constexpr std::uint32_t short_ids = 1U + 95U + 95U * 95U + 95U * 95U * 95U;
    /// A number below short_ids for up to three printable characters, else none.
    static std::uint32_t number(std::string_view id) {
        if (id.empty() || id.size() > 3) return none;
        std::uint32_t n = 0;
        for (const char c : id) {
            const auto digit = static_cast<std::uint32_t>(static_cast<unsigned char>(c)) - 32U;
            if (digit > 94U) return none;
            n = n * 95U + digit;
        }
        return n;
    }

    std::vector<std::uint32_t> direct_;
    std::unordered_map<std::string, std::uint32_t> long_;
    std::uint32_t count_ = 0;
};

}  // namespace grayrelic
