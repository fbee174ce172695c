// SPDX-License-Identifier: GPL-3.0-or-later
// The bytes come through a buffer that always ends behind a blank (or at the end of the file) and is followed by
// a blank, so that no token needs a look at the end while it is scanned. An item that the buffer cuts, such as a
// vector's value without its identifier, is left in it and read again with what follows.
#include "core/signal/vcd_body.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <charconv>
#include <cmath>
#include <cstring>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t longest_item = 1U << 18U;  // bytes of one item: a vector's value and its identifier
constexpr std::size_t padding = 64;              // blanks behind the buffer

bool blank(char c) {
    return static_cast<unsigned char>(c) <= ' ';
}

/// Eight decimal digits at p, most significant first; false when one of them is no digit.
bool eight_digits(const char* p, std::uint64_t& value) {
    if constexpr (std::endian::native != std::endian::little) return false;
    std::uint64_t v = 0;
    std::memcpy(&v, p, 8);  // the first digit is the lowest byte
    const auto not_digit = ((v & 0xF0F0F0F0F0F0F0F0ULL) ^ 0x3030303030303030ULL) |
                           (((v + 0x0606060606060606ULL) & 0xF0F0F0F0F0F0F0F0ULL) ^ 0x3030303030303030ULL);
    if (not_digit != 0) return false;
    v = (v & 0x0F0F0F0F0F0F0F0FULL) * 2561U >> 8U;                // pairs: 10·a + b
    v = (v & 0x00FF00FF00FF00FFULL) * 6553601U >> 16U;            // fours: 100·ab + cd
    value = (v & 0x0000FFFF0000FFFFULL) * 42949672960001U >> 32U;  // eight: 10,000·abcd + efgh
    return true;
}

class PieceReader {
  public:
    PieceReader(const ByteSource& source, const VcdHeader& header, const VcdPieceTask& task,
                const Progress& progress, VcdPiece& out)
        : source_(source), header_(header), task_(task), progress_(progress), out_(out) {
        out_.clear();
        out_.bits.resize(header.bits);
        most_ = static_cast<std::uint64_t>(Time::max().count() / header.multiply) / 2;
        std::fill(std::begin(scalars_), std::end(scalars_), no_bit);
        for (unsigned c = 33; c < 127; ++c) {
            const char id = static_cast<char>(c);
            const auto slot = header.ids.find({&id, 1});
            if (slot == VcdNames::none) continue;
            const auto& v = header.variables[slot];
            if (v.kind == SignalKind::digital && v.width == 1) scalars_[c] = static_cast<std::uint32_t>(v.first);
        }
    }

    void run() {
        offset_ = task_.begin;
        out_.begin = out_.stop = task_.begin;
        const auto left = source_.size() - std::min(source_.size(), task_.begin);
        const auto want = static_cast<std::size_t>(std::min(left, task_.end - task_.begin + (1U << 16U))) + 1;
        out_.buffer.resize(want + padding);
        if (!fill(0)) return;
        if (task_.find_start && !skip_to_start()) return;
        out_.empty = false;
        for (;;) {
            if (progress_.cancelled()) return fault(VcdFault::Kind::cancelled, 0, {}, {});
            const char* stopped = read_items();
            if (out_.fault) return;
            if (done_ || last_) {
                out_.stop = place(stopped);
                return;
            }
            // What is left is the beginning of an item, to which the rest is fetched.
            const auto rest = static_cast<std::size_t>(end_ - stopped);
            if (rest > longest_item && !in_comment_)
                return wrong(stopped, fmt::format("an item of at most {} characters", longest_item));
            const auto keep = in_comment_ ? std::min<std::size_t>(rest, 4) : rest;
            if (end_ - keep != out_.buffer.data()) before_ = end_[-static_cast<std::ptrdiff_t>(keep) - 1];
            offset_ += static_cast<std::uint64_t>(end_ - out_.buffer.data()) - keep;
            std::memmove(out_.buffer.data(), end_ - keep, keep);
            if (!fill(keep)) return;
        }
    }

  private:
    static constexpr std::uint32_t no_bit = 0xFFFFFFFFU;

    // --- the buffer

    /// Reads behind the `kept` bytes at its start and finds the last blank.
    bool fill(std::size_t kept) {
        auto& buffer = out_.buffer;
        if (kept > 0 && buffer.size() < kept + longest_item + padding) buffer.resize(kept + longest_item + padding);
        const auto room = buffer.size() - padding - kept;
        const auto n = source_.read_at(offset_ + kept, {buffer.data() + kept, room});
        if (!n) {
            fault(VcdFault::Kind::unreadable, 0, n.error().found, n.error().expected);
            return false;
        }
        last_ = *n < room || offset_ + kept + *n >= source_.size();
        at_ = buffer.data();
        end_ = at_ + kept + *n;
        std::memset(const_cast<char*>(end_), '\n', padding);
        limit_ = end_;
        while (!last_ && limit_ != at_ && !blank(limit_[-1]))
            --limit_;
        return true;
    }

    bool skip_to_start() {
        // The byte before belongs to the piece before; a time stamp that begins this piece follows its line end.
        char before = '\n';
        if (task_.begin > 0) {
            const auto n = source_.read_at(task_.begin - 1, {&before, 1});
            if (!n || *n == 0) return false;
        }
        const char* stop = std::min<const char*>(end_, out_.buffer.data() + (task_.end - task_.begin));
        for (const char* p = at_; p < stop; ++p) {
            if (*p == '#' && (p == at_ ? before : p[-1]) == '\n') {
                at_ = p;
                out_.begin = out_.stop = place(p);
                return true;
            }
            p = static_cast<const char*>(std::memchr(p, '\n', static_cast<std::size_t>(stop - p)));
            if (p == nullptr) return false;
        }
        return false;
    }

    [[nodiscard]] std::uint64_t place(const char* p) const {
        return offset_ + static_cast<std::uint64_t>(p - out_.buffer.data());
    }

    // --- items

    static std::string_view token_at(const char* p, const char* limit) {
        const char* q = p;
        while (q != limit && !blank(*q))
            ++q;
        return {p, static_cast<std::size_t>(q - p)};
    }

    /// Reads until the limit, the end of the piece or a fault; returns the first byte it did not take.
    const char* read_items() {
        const char* p = in_comment_ ? skip_comment(at_) : at_;
        if (p == nullptr || starved_) {
            starved_ = false;
            return p == nullptr ? limit_ : p;
        }
        const char* stop_from = out_.buffer.data();
        const auto begin_place = offset_;
        if (task_.end > begin_place) stop_from += std::min<std::uint64_t>(task_.end - begin_place, end_ - stop_from);
        while (p < limit_) {
            p = read_plain_items(p, stop_from);
            if (p >= limit_) break;
            const char c = *p;
            if (c == '#') {
                if (p >= stop_from && stops_at(p)) {
                    done_ = true;
                    return p;
                }
                p = read_time(p);
            } else if (blank(c)) {
                ++p;
            } else {
                p = read_other(p, c);
            }
            if (p == nullptr) return limit_;
            if (starved_) {
                starved_ = false;
                return p;
            }
        }
        return std::min(p, end_);
    }

    /// The run of whole time stamps and plain scalars of known identifiers that begins at p: nearly all of a
    /// usual file. Stops at whatever is anything else, and before `stop_from`.
    const char* read_plain_items(const char* p, const char* stop_from) {
        if (!out_.has_time || header_.divide != 1) return read_plain_scalars(p);
        const char* const stop = std::min(limit_, stop_from);
        BitPiece* const bits = out_.bits.data();
        const auto multiply = header_.multiply;
        const auto most = most_;
        auto raw = out_.last_raw;
        auto now = now_;
        while (p < stop) {
            const char c = *p;
            if ((c | 1) == '1') {
                const auto bit = scalars_[static_cast<unsigned char>(p[1])];
                if (bit == no_bit || !blank(p[2])) break;
                BitPiece& b = bits[bit];
                if (b.untouched()) touch(bit);
                b.change(c, now);
                p += 3;
            } else if (c == '#') {
                std::uint64_t next = 0;
                const char* q = p + 1;
                if (eight_digits(q, next)) q += 8;
                const char* const tail = q;
                for (unsigned d = 0; (d = static_cast<unsigned char>(*q) - unsigned{'0'}) < 10; ++q)
                    next = next * 10 + d;
                if (!blank(*q) || q == p + 1 || q - tail > 11 || next < raw || next > most) break;
                raw = next;
                now = Time::ps(static_cast<std::int64_t>(raw) * multiply);
                p = q + 1;
            } else if (blank(c)) {
                ++p;
            } else {
                break;
            }
        }
        out_.last_raw = raw;
        out_.last = now_ = now;
        return p;
    }

    const char* read_plain_scalars(const char* p) {
        while (p < limit_ && (*p | 1) == '1') {
            const auto bit = scalars_[static_cast<unsigned char>(p[1])];
            if (bit == no_bit || !blank(p[2])) break;
            change(bit, *p);
            p += 3;
        }
        return p;
    }

    [[nodiscard]] bool stops_at(const char* p) const {
        if (place(p) < task_.end) return false;
        return task_.stop_anywhere || (p == out_.buffer.data() ? before_ : p[-1]) == '\n';
    }

    /// Slow path of everything that is neither a plain scalar nor a time. nullptr after a fault.
    const char* read_other(const char* p, char c) {
        switch (c) {
            case '0':
            case '1':
                return read_scalar(p, c);
            case 'x':
            case 'X':
                return read_scalar(p, 'x');
            case 'z':
            case 'Z':
                return read_scalar(p, 'z');
            case 'b':
            case 'B':
                return read_vector(p);
            case 'r':
            case 'R':
                return read_real(p);
            case 's':
            case 'S':
                return read_string(p);
            case '$':
                return read_keyword(p);
            default:
                wrong(p, "a time like #120 or a value change like 1!");
                return nullptr;
        }
    }

    const char* read_keyword(const char* p) {
        const auto t = token_at(p, limit_);
        if (t == "$comment") {
            in_comment_ = true;
            return skip_comment(p + t.size());
        }
        if (t == "$end" || t == "$dumpvars" || t == "$dumpall" || t == "$dumpon" || t == "$dumpoff")
            return p + t.size();
        wrong(p, "$dumpvars, $dumpon, $dumpoff, $dumpall, $comment or $end");
        return nullptr;
    }

    const char* skip_comment(const char* p) {
        while (p < limit_) {
            if (blank(*p)) {
                ++p;
                continue;
            }
            const auto t = token_at(p, limit_);
            p += t.size();
            if (t.ends_with("$end")) {
                in_comment_ = false;
                return p;
            }
        }
        if (last_) {
            fault(VcdFault::Kind::ended, source_.size(), "the end of the file", "$end after \"$comment\"");
            return nullptr;
        }
        starved_ = true;
        return p;
    }

    const char* read_time(const char* p) {
        const char* q = p + 1;
        std::uint64_t raw = 0;
        std::uint64_t eight = 0;
        if (eight_digits(q, eight)) {
            raw = eight;
            q += 8;
        }
        int digits = 0;
        for (unsigned d = 0; (d = static_cast<unsigned char>(*q) - unsigned{'0'}) < 10; ++q) {
            raw = raw * 10 + d;
            if (++digits > 11) return long_time(p);
        }
        if (!blank(*q) || q == p + 1) {
            wrong(p, "a time like #120");
            return nullptr;
        }
        return take_time(p, q, raw);
    }

    const char* long_time(const char* p) {
        const auto t = token_at(p, limit_);
        std::uint64_t raw = 0;
        const auto [q, ec] = std::from_chars(p + 1, p + t.size(), raw);
        if (q != p + t.size())
            wrong(p, "a time like #120");
        else if (ec == std::errc::result_out_of_range || raw > most_)
            wrong(p, "a time of at most 53 days");
        else
            return take_time(p, q, raw);
        return nullptr;
    }

    const char* take_time(const char* p, const char* after, std::uint64_t raw) {
        if (raw > most_) {
            wrong(p, "a time of at most 53 days");
            return nullptr;
        }
        if (out_.has_time && raw < out_.last_raw) {
            wrong(p, fmt::format("a time not before #{}: time goes back", out_.last_raw));
            return nullptr;
        }
        const auto scaled = static_cast<std::int64_t>(raw) * header_.multiply;
        if (header_.divide == 1) {
            now_ = Time::ps(scaled);
        } else {
            now_ = Time::ps((scaled + header_.divide / 2) / header_.divide);
            out_.worst_rounding = std::max(out_.worst_rounding, std::abs(now_.count() * header_.divide - scaled));
        }
        if (!out_.has_time) {
            out_.has_time = true;
            out_.first_at = place(p);
            out_.first_text = in_quotes(token_at(p, end_));
            out_.first_raw = raw;
            out_.first = now_;
        }
        out_.last_raw = raw;
        out_.last = now_;
        return after;
    }

    // --- values

    void change(std::size_t bit, char value) {
        auto& b = out_.bits[bit];
        if (b.untouched()) touch(bit);
        b.change(value, now_);
    }
    void touch(std::size_t bit) {
        out_.touched.push_back(bit);
        if (!out_.has_time) out_.values_before_time = true;
    }

    const VcdVariable* variable(const char* item, std::string_view id) {
        const auto slot = header_.ids.find(id);
        if (slot == VcdNames::none) {
            wrong(id.empty() ? item : id.data(), "an identifier that a $var declared");
            return nullptr;
        }
        return &header_.variables[slot];
    }

    const char* read_scalar(const char* p, char value) {
        const auto t = token_at(p, limit_);
        const auto* v = variable(p, t.substr(1));
        if (v == nullptr) return nullptr;
        if (v->kind == SignalKind::event) {
            add_real(v->first, 1.0);
        } else if (v->kind != SignalKind::digital || v->width != 1) {
            wrong(p, v->kind == SignalKind::digital ? "a vector value like b01x0 for this identifier"
                                                    : "a real value like r0.5 for this identifier");
            return nullptr;
        } else {
            change(v->first, value);
        }
        return p + t.size();
    }

    /// The token behind a vector's or real's value; none when it is not in the buffer yet.
    bool second_token(const char* p, std::string_view first, std::string_view& id) {
        const char* q = p + first.size();
        while (q < limit_ && blank(*q))
            ++q;
        id = token_at(std::min(q, limit_), limit_);
        if (!id.empty()) return true;
        if (last_)
            wrong(p, "an identifier that a $var declared");
        else
            starved_ = true;
        return false;
    }

    const char* read_vector(const char* p) {
        const auto t = token_at(p, limit_);
        std::string_view id;
        if (!second_token(p, t, id)) return starved_ ? p : nullptr;
        const auto digits = t.substr(1);
        const auto* v = variable(p, id);
        if (v == nullptr) return nullptr;
        const auto width = v->width;
        const char* expected = nullptr;
        if (v->kind != SignalKind::digital) expected = "a real value like r0.5 for this identifier";
        if (expected == nullptr && (digits.empty() || digits.size() > width)) {
            wrong(p, fmt::format("1 to {} bits for this identifier", width));
            return nullptr;
        }
        if (expected == nullptr && digits.find_first_not_of("01xXzZ") != std::string_view::npos)
            expected = "bits 0, 1, x or z";
        if (expected != nullptr) {
            wrong(p, expected);
            return nullptr;
        }
        const auto plain = [](char c) { return c == 'X' ? 'x' : c == 'Z' ? 'z' : c; };
        // 18.2.1: a short value is extended on the left with 0 after 0 or 1, else with its own first digit.
        const char extension = digits.front() == '1' ? '0' : plain(digits.front());
        const auto missing = width - digits.size();
        for (std::size_t i = 0; i < width; ++i)
            change(v->first + i, i < missing ? extension : plain(digits[i - missing]));
        return id.data() + id.size();
    }

    const char* read_real(const char* p) {
        const auto t = token_at(p, limit_);
        std::string_view id;
        if (!second_token(p, t, id)) return starved_ ? p : nullptr;
        const auto* v = variable(p, id);
        if (v == nullptr) return nullptr;
        double value = 0.0;
        const char* from = p + 1 + (t.size() > 1 && t[1] == '+' ? 1 : 0);
        const auto [q, ec] = std::from_chars(from, p + t.size(), value);
        if (v->kind != SignalKind::real)
            wrong(p, "a digital value for this identifier");
        else if (ec != std::errc{} || q != p + t.size() || !std::isfinite(value))
            wrong(p, "a real value like r0.5");
        else
            add_real(v->first, value);
        return out_.fault ? nullptr : id.data() + id.size();
    }

    /// A string value, an extension of some writers: passed over with its identifier.
    const char* read_string(const char* p) {
        const auto t = token_at(p, limit_);
        std::string_view id;
        if (!second_token(p, t, id)) return starved_ ? p : nullptr;
        return id.data() + id.size();
    }

    void add_real(std::size_t index, double value) {
        if (!out_.has_time) out_.values_before_time = true;
        out_.reals.push_back({index, now_, value});
    }

    // --- faults

    void fault(VcdFault::Kind kind, std::uint64_t offset, std::string found, std::string expected) {
        if (kind == VcdFault::Kind::ended && offset > 0) --offset;  // the line of the last byte
        out_.fault = VcdFault{kind, offset, std::move(found), std::move(expected)};
    }
    void wrong(const char* item, std::string expected) {
        fault(VcdFault::Kind::wrong, place(item), in_quotes(token_at(item, end_)), std::move(expected));
    }

    const ByteSource& source_;
    const VcdHeader& header_;
    const VcdPieceTask& task_;
    const Progress& progress_;
    VcdPiece& out_;
    std::uint64_t offset_ = 0;  // of the buffer's first byte in the file
    const char* at_ = nullptr;
    const char* end_ = nullptr;    // of what was read
    const char* limit_ = nullptr;  // of the last whole token
    bool last_ = false;            // the file ends at end_
    char before_ = '\n';           // the byte before the buffer
    bool done_ = false;
    bool starved_ = false;  // an item is cut by the buffer
    bool in_comment_ = false;
    std::uint64_t most_ = 0;
    Time now_;
    std::uint32_t scalars_[256];  // bit of a scalar with an identifier of one character
};

}  // namespace

void VcdPiece::clear() {
    for (const auto bit : touched)
        bits[bit].clear();
    touched.clear();
    reals.clear();
    fault.reset();
    empty = true;
    has_time = values_before_time = false;
    worst_rounding = 0;
}

void read_vcd_piece(const ByteSource& source, const VcdHeader& header, const VcdPieceTask& task,
                    const Progress& progress, VcdPiece& piece) {
    PieceReader(source, header, task, progress, piece).run();
}

}  // namespace grayrelic
