// SPDX-License-Identifier: GPL-3.0-or-later
// A dump's body as it is scanned: a buffer that always ends behind a blank (or at the end of the file) and is
// followed by blanks, so that no token needs a look at the end while it is read. What the end of the buffer
// cuts is kept and read again with what follows.
#pragma once

#include <algorithm>
#include <bit>
#include <cstdint>
#include <cstring>
#include <string_view>
#include <vector>

#include "core/base/byte_source.hpp"

namespace grayrelic {

inline constexpr std::size_t longest_vcd_item = 1U << 18U;  ///< bytes: a vector's value and its identifier

inline bool is_vcd_blank(char c) {
    return static_cast<unsigned char>(c) <= ' ';
}

/// Eight decimal digits at p, most significant first; false when one of them is no digit.
inline bool eight_digits(const char* p, std::uint64_t& value) {
    if constexpr (std::endian::native != std::endian::little) return false;
    std::uint64_t v = 0;
    std::memcpy(&v, p, 8);  // the first digit is the lowest byte
    const auto not_digit = ((v & 0xF0F0F0F0F0F0F0F0ULL) ^ 0x3030303030303030ULL) |
                           (((v + 0x0606060606060606ULL) & 0xF0F0F0F0F0F0F0F0ULL) ^ 0x3030303030303030ULL);
    if (not_digit != 0) return false;
    v = (v & 0x0F0F0F0F0F0F0F0FULL) * 2561U >> 8U;                 // pairs: 10·a + b
    v = (v & 0x00FF00FF00FF00FFULL) * 6553601U >> 16U;             // fours: 100·ab + cd
    value = (v & 0x0000FFFF0000FFFFULL) * 42949672960001U >> 32U;  // eight: 10,000·abcd + efgh
    return true;
}

class VcdText {
  public:
    VcdText(const ByteSource& source, std::vector<char>& memory) : source_(source), memory_(memory) {}

    /// The first `size` bytes from `offset` on, or what there is.
    [[nodiscard]] Status open(std::uint64_t offset, std::uint64_t size) {
        offset_ = offset;
        if (offset > 0) {
            const auto n = source_.read_at(offset - 1, {&before_, 1});
            if (!n) return fail(n.error());
        }
        const auto left = source_.size() - std::min(source_.size(), offset);
        memory_.resize(static_cast<std::size_t>(std::min(left, size)) + 1 + padding);
        return fill(0);
    }
    /// Keeps the last `keep` bytes and reads what follows them.
    [[nodiscard]] Status read_on(std::size_t keep) {
        if (end_ - keep != begin()) before_ = end_[-static_cast<std::ptrdiff_t>(keep) - 1];
        offset_ += static_cast<std::uint64_t>(end_ - begin()) - keep;
        std::memmove(memory_.data(), end_ - keep, keep);
        if (memory_.size() < keep + longest_vcd_item + padding)
            memory_.resize(keep + longest_vcd_item + padding);
        return fill(keep);
    }

    [[nodiscard]] const char* begin() const { return memory_.data(); }
    [[nodiscard]] const char* end() const { return end_; }
    [[nodiscard]] const char* limit() const { return limit_; }  ///< behind the last whole token
    [[nodiscard]] bool last() const { return last_; }           ///< the file ends at end()
    /// The byte before p, which may be the first one.
    [[nodiscard]] char before(const char* p) const { return p == begin() ? before_ : p[-1]; }
    [[nodiscard]] std::uint64_t place(const char* p) const {
        return offset_ + static_cast<std::uint64_t>(p - begin());
    }
    /// The inverse of place(), kept inside the buffer.
    [[nodiscard]] const char* at(std::uint64_t place) const {
        if (place <= offset_) return begin();
        return begin() + std::min<std::uint64_t>(place - offset_, static_cast<std::uint64_t>(end_ - begin()));
    }
    [[nodiscard]] std::string_view token_at(const char* p) const { return token_at(p, limit_); }
    [[nodiscard]] static std::string_view token_at(const char* p, const char* limit) {
        const char* q = p;
        while (q != limit && !is_vcd_blank(*q)) ++q;
        return {p, static_cast<std::size_t>(q - p)};
    }
    /// The first line in the buffer and before `stop` that begins with c; from then on begin() of what is
    /// read.
    const char* find_line_of(char c, std::uint64_t stop) {
        const char* const until = at(stop);
        for (const char* p = begin(); p != nullptr && p < until; ++p) {
            if (*p == c && before(p) == '\n') return start_ = p;
            p = static_cast<const char*>(std::memchr(p, '\n', static_cast<std::size_t>(until - p)));
            if (p == nullptr) break;
        }
        return nullptr;
    }
    /// Where reading begins: behind what find_line_of() skipped, else at begin().
    [[nodiscard]] const char* start() {
        const char* p = start_ != nullptr ? start_ : begin();
        start_ = nullptr;
        return p;
    }

  private:
    static constexpr std::size_t padding = 64;  // blanks behind the end

    Status fill(std::size_t kept) {
        const auto room = memory_.size() - padding - kept;
        const auto n = source_.read_at(offset_ + kept, {memory_.data() + kept, room});
        if (!n) return fail(n.error());
        last_ = *n < room || offset_ + kept + *n >= source_.size();
        end_ = memory_.data() + kept + *n;
        std::memset(memory_.data() + kept + *n, '\n', padding);
        limit_ = end_;
        while (!last_ && limit_ != begin() && !is_vcd_blank(limit_[-1])) --limit_;
        return {};
    }

    const ByteSource& source_;
    std::vector<char>& memory_;
    std::uint64_t offset_ = 0;  // of the buffer's first byte in the file
    const char* end_ = nullptr;
    const char* limit_ = nullptr;
    const char* start_ = nullptr;
    bool last_ = false;
    char before_ = '\n';
};

}  // namespace grayrelic
