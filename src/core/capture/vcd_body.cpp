// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/vcd_body.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

#include "core/base/text.hpp"
#include "core/capture/vcd_piece_reader.hpp"

namespace grayrelic {
namespace vcd_reading {

PieceReader::PieceReader(const ByteSource& source, const VcdHeader& header, const VcdPieceTask& task,
                         const Progress& progress, VcdPiece& out)
    : source_(source),
      header_(header),
      task_(task),
      progress_(progress),
      out_(out),
      text_(source, out.buffer) {
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

void PieceReader::run() {
    out_.begin = out_.stop = task_.begin;
    if (auto read = text_.open(task_.begin, task_.end - task_.begin + (1U << 16U)); !read)
        return refuse(read.error());
    if (task_.find_start) {
        const char* start = text_.find_line_of('#', task_.end);
        if (start == nullptr) return;
        out_.begin = out_.stop = text_.place(start);
    }
    out_.empty = false;
    for (;;) {
        if (progress_.cancelled()) return fault(VcdFault::Kind::cancelled, 0, {}, {});
        const char* stopped = read_items();
        if (out_.fault) return;
        if (done_ || text_.last()) {
            out_.stop = text_.place(stopped);
            return;
        }
        // What is left is the beginning of an item, to which the rest is fetched; of a comment's word
        // only the end counts.
        const auto rest = static_cast<std::size_t>(text_.end() - stopped);
        if (rest > longest_vcd_item && !in_comment_)
            return wrong(stopped, fmt::format("an item of at most {} characters", longest_vcd_item));
        if (auto read = text_.read_on(in_comment_ ? std::min<std::size_t>(rest, 4) : rest); !read)
            return refuse(read.error());
    }
}

const char* PieceReader::read_items() {
    const char* from = text_.start();
    const char* p = in_comment_ ? skip_comment(from) : from;
    if (p == nullptr || starved_) {
        starved_ = false;
        return p == nullptr ? text_.limit() : p;
    }
    const char* stop_from = text_.at(task_.end);
    while (p < text_.limit()) {
        p = read_plain_items(p, stop_from);
        if (p >= text_.limit()) break;
        const char c = *p;
        if (c == '#') {
            if (p >= stop_from && stops_at(p)) {
                done_ = true;
                return p;
            }
            p = read_time(p);
        } else if (is_vcd_blank(c)) {
            ++p;
        } else {
            p = read_other(p, c);
        }
        if (p == nullptr) return text_.limit();
        if (starved_) {
            starved_ = false;
            return p;
        }
    }
    return std::min(p, text_.end());
}

const char* PieceReader::read_plain_items(const char* p, const char* stop_from) {
    if (!out_.has_time || header_.divide != 1) return read_plain_scalars(p);
    const char* const stop = std::min(text_.limit(), stop_from);
    BitPiece* const bits = out_.bits.data();
    const auto multiply = header_.multiply;
    const auto most = most_;
    auto raw = out_.last_raw;
    auto now = now_;
    while (p < stop) {
        const char c = *p;
        if ((c | 1) == '1') {
            const auto bit = scalars_[static_cast<unsigned char>(p[1])];
            if (bit == no_bit || !is_vcd_blank(p[2])) break;
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
            if (!is_vcd_blank(*q) || q == p + 1 || q - tail > 11 || next < raw || next > most) break;
            raw = next;
            now = Time::ps(static_cast<std::int64_t>(raw) * multiply);
            p = q + 1;
        } else if (is_vcd_blank(c)) {
            ++p;
        } else {
            break;
        }
    }
    out_.last_raw = raw;
    out_.last = now_ = now;
    return p;
}

const char* PieceReader::read_plain_scalars(const char* p) {
    while (p < text_.limit() && (*p | 1) == '1') {
        const auto bit = scalars_[static_cast<unsigned char>(p[1])];
        if (bit == no_bit || !is_vcd_blank(p[2])) break;
        change(bit, *p);
        p += 3;
    }
    return p;
}

const char* PieceReader::read_other(const char* p, char c) {
    switch (c) {
        case '0':
        case '1': return read_scalar(p, c);
        case 'x':
        case 'X': return read_scalar(p, 'x');
        case 'z':
        case 'Z': return read_scalar(p, 'z');
        case 'b':
        case 'B': return read_vector(p);
        case 'r':
        case 'R': return read_real(p);
        case 's':
        case 'S': return read_string(p);
        case '$': return read_keyword(p);
        default: wrong(p, "a time like #120 or a value change like 1!"); return nullptr;
    }
}

const char* PieceReader::read_keyword(const char* p) {
    const auto t = text_.token_at(p);
    if (t == "$comment") {
        in_comment_ = true;
        return skip_comment(p + t.size());
    }
    if (t == "$end" || t == "$dumpvars" || t == "$dumpall" || t == "$dumpon" || t == "$dumpoff")
        return p + t.size();
    wrong(p, "$dumpvars, $dumpon, $dumpoff, $dumpall, $comment or $end");
    return nullptr;
}

const char* PieceReader::skip_comment(const char* p) {
    while (p < text_.limit()) {
        if (is_vcd_blank(*p)) {
            ++p;
            continue;
        }
        const auto t = text_.token_at(p);
        p += t.size();
        if (t.ends_with("$end")) {
            in_comment_ = false;
            return p;
        }
    }
    if (text_.last()) {
        fault(VcdFault::Kind::ended, source_.size(), "the end of the file", "$end after \"$comment\"");
        return nullptr;
    }
    starved_ = true;
    return p;
}

const char* PieceReader::read_time(const char* p) {
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
    if (!is_vcd_blank(*q) || q == p + 1) {
        wrong(p, "a time like #120");
        return nullptr;
    }
    return take_time(p, q, raw);
}

const char* PieceReader::long_time(const char* p) {
    const auto t = text_.token_at(p);
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

const char* PieceReader::take_time(const char* p, const char* after, std::uint64_t raw) {
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
        out_.first_at = text_.place(p);
        out_.first_text = in_quotes(text_.token_at(p, text_.end()));
        out_.first_raw = raw;
        out_.first = now_;
    }
    out_.last_raw = raw;
    out_.last = now_;
    return after;
}

void PieceReader::fault(VcdFault::Kind kind, std::uint64_t offset, std::string found, std::string expected) {
    if (kind == VcdFault::Kind::ended && offset > 0) --offset;  // the line of the last byte
    out_.fault = VcdFault{kind, offset, std::move(found), std::move(expected)};
}

void PieceReader::wrong(const char* item, std::string expected) {
    fault(VcdFault::Kind::wrong, text_.place(item), in_quotes(text_.token_at(item, text_.end())),
          std::move(expected));
}

}  // namespace vcd_reading

void VcdPiece::clear() {
    for (const auto bit : touched) bits[bit].clear();
    touched.clear();
    reals.clear();
    fault.reset();
    empty = true;
    has_time = values_before_time = false;
    worst_rounding = 0;
}

void read_vcd_piece(const ByteSource& source, const VcdHeader& header, const VcdPieceTask& task,
                    const Progress& progress, VcdPiece& piece) {
    vcd_reading::PieceReader(source, header, task, progress, piece).run();
}

}  // namespace grayrelic
