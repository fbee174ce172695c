// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/vcd_header.hpp"

#include <fmt/format.h>

#include <charconv>
#include <cstdlib>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

class HeaderParser {
  public:
    HeaderParser(std::string_view text, const Progress& progress, const VcdLimits& limits)
        : begin_(text.data()), at_(begin_), end_(begin_ + text.size()), progress_(progress), limits_(limits) {
        if (text.starts_with("\xEF\xBB\xBF")) at_ += 3;  // a byte-order mark, which some writers set
    }

    VcdResult<VcdHeader> run() {
        if (auto done = read_header(); !done) return tl::unexpected(std::move(done.error()));
        out_.body = static_cast<std::uint64_t>(at_ - begin_);
        return std::move(out_);
    }

  private:
    static bool blank(char c) { return static_cast<unsigned char>(c) <= ' '; }

    std::string_view token() {
        while (at_ != end_ && blank(*at_)) ++at_;
        const char* from = at_;
        while (at_ != end_ && !blank(*at_)) ++at_;
        return {from, static_cast<std::size_t>(at_ - from)};
    }

    [[nodiscard]] tl::unexpected<VcdFault> wrong(std::string_view found, std::string expected) const {
        // An empty token means the end of the text: its line is that of the last byte.
        if (found.empty()) {
            const auto last = end_ == begin_ ? 0U : static_cast<std::uint64_t>(end_ - begin_) - 1;
            return tl::unexpected(
                VcdFault{VcdFault::Kind::ended, last, "the end of the file", std::move(expected)});
        }
        return tl::unexpected(VcdFault{VcdFault::Kind::wrong,
                                       static_cast<std::uint64_t>(found.data() - begin_), in_quotes(found),
                                       std::move(expected)});
    }

    VcdResult<void> read_header() {
        bool definitions = false;
        for (;;) {
            auto t = token();
            if (t.empty())
                return wrong(
                    t, definitions ? "$enddefinitions $end" : "a value change dump with $var definitions");
            if (t.front() != '$') return wrong(t, "a header keyword such as $timescale, $scope or $var");
            if (t == "$enddefinitions$end") return {};
            if (t == "$enddefinitions") {
                const auto e = token();
                if (e != "$end") return wrong(e, "$end after $enddefinitions");
                return {};
            }
            VcdResult<void> done;
            if (t == "$timescale")
                done = read_timescale();
            else if (t == "$scope")
                done = read_scope();
            else if (t == "$upscope")
                done = read_upscope();
            else if (t == "$var")
                done = read_variable();
            else
                done = skip_to_end(t);  // $date, $version, $comment, and what other writers add
            if (!done) return done;
            definitions = true;
            if (progress_.cancelled()) return tl::unexpected(VcdFault{VcdFault::Kind::cancelled, 0, {}, {}});
        }
    }

    VcdResult<void> skip_to_end(std::string_view keyword) {
        for (;;) {
            const auto t = token();
            if (t.empty()) return wrong(t, fmt::format("$end after {}", in_quotes(keyword)));
            if (t.ends_with("$end")) return {};
        }
    }

    VcdResult<void> read_timescale() {
        std::string text;
        std::string_view first;
        for (;;) {
            auto t = token();
            if (first.data() == nullptr) first = t;
            if (t.empty()) return wrong(t, "$end after $timescale");
            if (t == "$end") break;
            const bool last = t.ends_with("$end");
            if (last) t.remove_suffix(4);
            if (text.size() < 64) text += t;
            if (last) break;
        }
        const auto wanted = "a time scale of 1, 10 or 100 with s, ms, us, ns, ps or fs";
        long number = 0;
        const auto [p, ec] = std::from_chars(text.data(), text.data() + text.size(), number);
        if (ec != std::errc{} || (number != 1 && number != 10 && number != 100)) return wrong(first, wanted);
        const std::string_view unit(p, static_cast<std::size_t>(text.data() + text.size() - p));
        constexpr std::pair<std::string_view, std::int64_t> units[] = {{"s", 1'000'000'000'000},
                                                                       {"ms", 1'000'000'000},
                                                                       {"us", 1'000'000},
                                                                       {"ns", 1'000},
                                                                       {"ps", 1},
                                                                       {"fs", 0}};
        for (const auto& [u, ps] : units) {
            if (u != unit) continue;
            out_.multiply = ps == 0 ? number : ps * number;
            out_.divide = ps == 0 ? 1000 : 1;
            return {};
        }
        return wrong(first, wanted);
    }

    VcdResult<void> read_scope() {
        const auto type = token();
        const auto scope = token();
        if (type.empty() || scope.empty() || type == "$end" || scope == "$end")
            return wrong(scope.empty() ? scope : type, "$scope TYPE NAME $end");
        if (scopes_.size() >= limits_.scope_depth)
            return wrong(scope, fmt::format("at most {} nested scopes", limits_.scope_depth));
        if (path_.size() + scope.size() + 1 > limits_.name_length)
            return wrong(scope, fmt::format("paths of at most {} characters", limits_.name_length));
        scopes_.push_back(path_.size());
        path_ += std::string(scope) + ".";
        return skip_to_end("$scope");
    }

    VcdResult<void> read_upscope() {
        if (!scopes_.empty()) {
            path_.resize(scopes_.back());
            scopes_.pop_back();
        }
        return skip_to_end("$upscope");
    }

    VcdResult<void> read_variable() {
        const auto type = token();
        const auto size = token();
        const auto id = token();
        auto reference = token();
        if (reference.empty() || type == "$end" || size == "$end" || reference == "$end")
            return wrong(reference, "$var TYPE SIZE IDENTIFIER NAME $end");
        std::size_t width = 0;
        const auto [p, ec] = std::from_chars(size.data(), size.data() + size.size(), width);
        if (ec != std::errc{} || p != size.data() + size.size() || width == 0 || width > limits_.vector_width)
            return wrong(size, fmt::format("a size of 1 to {} bits", limits_.vector_width));
        if (id.size() > limits_.identifier_length)
            return wrong(id,
                         fmt::format("an identifier of at most {} characters", limits_.identifier_length));
        std::string range;
        bool ended = false;
        if (reference.ends_with("$end")) {
            reference.remove_suffix(4);
            ended = true;
        }
        while (!ended) {
            auto t = token();
            if (t.empty()) return wrong(t, "$end after $var");
            if (t == "$end") break;
            if (t.ends_with("$end")) {
                t.remove_suffix(4);
                ended = true;
            }
            if (range.size() + t.size() > 64) return wrong(t, "a bit range like [7:0]");
            range += t;
        }
        if (path_.size() + reference.size() > limits_.name_length)
            return wrong(reference, fmt::format("paths of at most {} characters", limits_.name_length));
        auto full = path_ + std::string(reference);
        if (range.empty()) split_range(full, range);
        SignalKind kind = SignalKind::digital;
        if (type == "real" || type == "realtime") kind = SignalKind::real;
        if (type == "event") kind = SignalKind::event;
        return declare(id, width, kind, full, range);
    }

    /// Moves a trailing "[7:0]" of a vector's name into the range; "[3]" of a scalar stays in the name.
    static void split_range(std::string& full, std::string& range) {
        const auto open = full.rfind('[');
        if (open == std::string::npos || full.back() != ']' || open == 0) return;
        range = full.substr(open);
        full.erase(open);
    }

    VcdResult<void> declare(std::string_view id, std::size_t width, SignalKind kind, const std::string& full,
                            const std::string& range) {
        auto slot = out_.ids.find(id);
        if (slot != VcdNames::none) {
            const auto& known = out_.variables[slot];
            if (known.kind != kind || known.width != width)
                return wrong(id, fmt::format("the size of {} bits that this identifier was declared with",
                                             known.width));
        } else {
            slot = out_.ids.add(id);
            VcdVariable v{kind, width, kind == SignalKind::digital ? out_.bits : out_.reals};
            if (kind == SignalKind::digital) {
                if (out_.bits + width > limits_.signals)
                    return wrong(id, fmt::format("at most {} signals", limits_.signals));
                out_.bits += width;
            } else {
                ++out_.reals;
            }
            out_.variables.push_back(v);
        }
        if (out_.declared.size() + width > limits_.signals)
            return wrong(id, fmt::format("at most {} signals", limits_.signals));
        const auto first = out_.variables[slot].first;
        if (kind != SignalKind::digital || width == 1) {
            out_.declared.push_back({full + (kind == SignalKind::digital ? range : ""), "", kind, first});
            return {};
        }
        const auto [left, step] = bit_numbers(range, width);
        const auto vector = full + (range.empty() ? fmt::format("[{}:0]", width - 1) : range);
        for (std::size_t i = 0; i < width; ++i)
            out_.declared.push_back(
                {fmt::format("{}[{}]", full, left + step * static_cast<long>(i)), vector, kind, first + i});
        return {};
    }

    /// The number of the leftmost bit and the step to the next; without a usable range, width−1 downwards.
    static std::pair<long, long> bit_numbers(const std::string& range, std::size_t width) {
        long left = 0;
        long right = 0;
        const char* p = range.data();
        const char* e = p + range.size();
        const std::pair<long, long> usual{static_cast<long>(width) - 1, -1};
        if (p == e || *p != '[') return usual;
        auto r = std::from_chars(p + 1, e, left);
        if (r.ec != std::errc{} || r.ptr == e || *r.ptr != ':') return usual;
        r = std::from_chars(r.ptr + 1, e, right);
        constexpr long most = 1'000'000'000;
        if (r.ec != std::errc{} || std::abs(left) > most || std::abs(right) > most) return usual;
        if (std::abs(left - right) + 1 != static_cast<long>(width)) return usual;
        return {left, left > right ? -1 : 1};
    }

    const char* begin_;
    const char* at_;
    const char* end_;
    const Progress& progress_;
    const VcdLimits& limits_;
    std::string path_;
    std::vector<std::size_t> scopes_;
    VcdHeader out_;
};

}  // namespace

VcdResult<VcdHeader> parse_vcd_header(std::string_view text, const Progress& progress,
                                      const VcdLimits& limits) {
    return HeaderParser(text, progress, limits).run();
}

}  // namespace grayrelic
