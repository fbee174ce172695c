// SPDX-License-Identifier: GPL-3.0-or-later
// The header fills a table of identifiers; the body is one pass over the bytes. Lines are counted only when a
// message needs one. Several bits with one identifier share one builder, and so one trace.
#include "core/signal/vcd_reader.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <optional>

#include "core/base/mapped_file.hpp"
#include "core/base/text.hpp"
#include "core/signal/vcd_bits.hpp"
#include "core/signal/vcd_names.hpp"

namespace grayrelic {
namespace {

struct Variable {
    SignalKind kind = SignalKind::digital;
    std::size_t width = 1;
    std::size_t first = 0;  // index of its first builder (most significant bit), or of its RealTrace
};

class Reader {
  public:
    Reader(std::string_view text, const std::string& name, Progress& progress, const VcdLimits& limits)
        : begin_(text.data()),
          at_(begin_),
          end_(begin_ + text.size()),
          name_(name),
          progress_(progress),
          limits_(limits) {}

    Result<Capture> run() {
        if (auto header = read_header(); !header) return fail(header.error());
        if (auto body = read_body(); !body) return fail(body.error());
        return assemble();
    }

  private:
    struct Declared {
        std::string name;
        std::string vector;
        SignalKind kind;
        std::size_t index;
    };

    // --- tokens
    // -----------------------------------------------------------------------------------------------
    static bool blank(char c) { return static_cast<unsigned char>(c) <= ' '; }

    std::string_view token() {
        while (at_ != end_ && blank(*at_))
            ++at_;
        const char* from = at_;
        while (at_ != end_ && !blank(*at_))
            ++at_;
        return {from, static_cast<std::size_t>(at_ - from)};
    }

    [[nodiscard]] long line_of(const char* place) const {
        return 1 + std::count(begin_, std::min(place, end_), '\n');
    }
    [[nodiscard]] Failure wrong(std::string_view found, std::string expected) const {
        // An empty token means the end of the text: its line is that of the last byte.
        const bool at_end = found.empty();
        const char* place = at_end ? (end_ == begin_ ? end_ : end_ - 1) : found.data();
        return fail_at(name_, line_of(place), at_end ? "the end of the file" : in_quotes(found),
                       std::move(expected));
    }

    // --- header
    // -----------------------------------------------------------------------------------------------
    Status read_header() {
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
            Status done;
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
            if (progress_.cancelled()) return fail_cancelled();
        }
    }

    Status skip_to_end(std::string_view keyword) {
        for (;;) {
            const auto t = token();
            if (t.empty()) return wrong(t, fmt::format("$end after {}", in_quotes(keyword)));
            if (t.ends_with("$end")) return {};
        }
    }

    Status read_timescale() {
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
            multiply_ = ps == 0 ? number : ps * number;
            divide_ = ps == 0 ? 1000 : 1;
            return {};
        }
        return wrong(first, wanted);
    }

    Status read_scope() {
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

    Status read_upscope() {
        if (!scopes_.empty()) {
            path_.resize(scopes_.back());
            scopes_.pop_back();
        }
        return skip_to_end("$upscope");
    }

    Status read_variable() {
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

    Status declare(std::string_view id, std::size_t width, SignalKind kind, const std::string& full,
                   const std::string& range) {
        auto slot = ids_.find(id);
        if (slot != VcdNames::none) {
            const auto& known = variables_[slot];
            if (known.kind != kind || known.width != width)
                return wrong(id, fmt::format("the size of {} bits that this identifier was declared with",
                                             known.width));
        } else {
            slot = ids_.add(id);
            Variable v{kind, width, kind == SignalKind::digital ? bits_.size() : reals_.size()};
            if (kind == SignalKind::digital) {
                if (bits_.size() + width > limits_.signals)
                    return wrong(id, fmt::format("at most {} signals", limits_.signals));
                bits_.resize(bits_.size() + width);
            } else {
                reals_.emplace_back();
            }
            variables_.push_back(v);
        }
        if (declared_.size() + width > limits_.signals)
            return wrong(id, fmt::format("at most {} signals", limits_.signals));
        const auto first = variables_[slot].first;
        if (kind != SignalKind::digital || width == 1) {
            declared_.push_back({full + (kind == SignalKind::digital ? range : ""), "", kind, first});
            return {};
        }
        const auto [left, step] = bit_numbers(range, width);
        const auto vector = full + (range.empty() ? fmt::format("[{}:0]", width - 1) : range);
        for (std::size_t i = 0; i < width; ++i)
            declared_.push_back(
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

    // --- body
    // -------------------------------------------------------------------------------------------------
    Status read_body() {
        const auto total = static_cast<double>(end_ - begin_);
        const char* report_at = at_;
        for (;;) {
            if (at_ >= report_at) {
                progress_.report(static_cast<double>(at_ - begin_) / total);
                if (progress_.cancelled()) return fail_cancelled();
                report_at = at_ + (1 << 20);
            }
            const auto t = token();
            if (t.empty()) break;
            Status done;
            switch (t.front()) {
                case '#':
                    done = read_time(t);
                    break;
                case '0':
                case '1':
                    done = read_scalar(t, t.front());
                    break;
                case 'x':
                case 'X':
                case 'z':
                case 'Z':
                    done = read_scalar(t, 'x');
                    break;
                case 'b':
                case 'B':
                    done = read_vector(t);
                    break;
                case 'r':
                case 'R':
                    done = read_real(t);
                    break;
                case 's':
                case 'S':
                    (void)token();
                    break;  // a string value, an extension of some writers
                case '$':
                    done = read_keyword(t);
                    break;
                default:
                    return wrong(t, "a time like #120 or a value change like 1!");
            }
            if (!done) return done;
        }
        progress_.report(1.0);
        return {};
    }

    Status read_keyword(std::string_view t) {
        if (t == "$end" || t == "$dumpvars" || t == "$dumpall" || t == "$dumpon" || t == "$dumpoff")
            return {};
        if (t == "$comment") return skip_to_end(t);
        return wrong(t, "$dumpvars, $dumpon, $dumpoff, $dumpall, $comment or $end");
    }

    Status read_time(std::string_view t) {
        std::uint64_t raw = 0;
        const char* e = t.data() + t.size();
        const auto [p, ec] = std::from_chars(t.data() + 1, e, raw);
        if (ec == std::errc::result_out_of_range) return wrong(t, "a time of at most 106 days");
        if (ec != std::errc{} || p != e) return wrong(t, "a time like #120");
        const auto most = static_cast<std::uint64_t>(Time::max().count() / multiply_) / 2;
        if (raw > most) return wrong(t, "a time of at most 53 days");
        const auto scaled = static_cast<std::int64_t>(raw) * multiply_;
        const Time now = divide_ == 1 ? Time::ps(scaled) : Time::ps((scaled + divide_ / 2) / divide_);
        if (divide_ != 1)
            worst_rounding_ = std::max(worst_rounding_, std::abs(now.count() * divide_ - scaled));
        if (started_ && now < now_)
            return wrong(t, fmt::format("a time not before #{}: time goes back", last_raw_));
        if (!started_) {
            started_ = true;
            start_ = values_before_time_ ? Time{} : now;
        }
        now_ = now;
        last_raw_ = raw;
        return {};
    }

    Result<const Variable*> variable(std::string_view id, std::string_view whole) {
        const auto slot = ids_.find(id);
        if (slot == VcdNames::none)
            return wrong(id.empty() ? whole : id, "an identifier that a $var declared");
        if (!started_) values_before_time_ = true;
        return &variables_[slot];
    }

    Status read_scalar(std::string_view t, char value) {
        const auto v = variable(t.substr(1), t);
        if (!v) return fail(v.error());
        if ((*v)->kind == SignalKind::event) {
            add_real((*v)->first, 1.0);
            return {};
        }
        if ((*v)->kind != SignalKind::digital || (*v)->width != 1)
            return wrong(t, (*v)->kind == SignalKind::digital
                                ? "a vector value like b01x0 for this identifier"
                                : "a real value like r0.5 for this identifier");
        bits_[(*v)->first].change(value, now_);
        return {};
    }

    Status read_vector(std::string_view t) {
        const auto digits = t.substr(1);
        const auto id = token();
        const auto v = variable(id, t);
        if (!v) return fail(v.error());
        const auto width = (*v)->width;
        if ((*v)->kind != SignalKind::digital) return wrong(t, "a real value like r0.5 for this identifier");
        if (digits.empty() || digits.size() > width)
            return wrong(t, fmt::format("1 to {} bits for this identifier", width));
        const auto plain = [](char c) { return c == '0' || c == '1' ? c : 'x'; };
        for (const char c : digits)
            if (std::string_view("01xXzZ").find(c) == std::string_view::npos)
                return wrong(t, "bits 0, 1, x or z");
        // 18.2.1: a short value is extended on the left with 0 after 0 or 1, else with its own first digit.
        const char fill = digits.front() == '1' ? '0' : plain(digits.front());
        const auto missing = width - digits.size();
        for (std::size_t i = 0; i < width; ++i)
            bits_[(*v)->first + i].change(i < missing ? fill : plain(digits[i - missing]), now_);
        return {};
    }

    Status read_real(std::string_view t) {
        const auto id = token();
        const auto v = variable(id, t);
        if (!v) return fail(v.error());
        if ((*v)->kind != SignalKind::real) return wrong(t, "a digital value for this identifier");
        double value = 0.0;
        const char* from = t.data() + 1 + (t.size() > 1 && t[1] == '+' ? 1 : 0);
        const auto [p, ec] = std::from_chars(from, t.data() + t.size(), value);
        if (ec != std::errc{} || p != t.data() + t.size()) return wrong(t, "a real value like r0.5");
        add_real((*v)->first, value);
        return {};
    }

    void add_real(std::size_t index, double value) {
        auto& trace = reals_[index];
        if (!trace.times.empty() && trace.times.back() == now_) {
            trace.values.back() = value;
            return;
        }
        trace.times.push_back(now_);
        trace.values.push_back(value);
    }

    // --- result
    // -----------------------------------------------------------------------------------------------
    Capture assemble() {
        Capture capture;
        capture.format = "vcd";
        capture.resolution =
            divide_ == 1 ? Time::ps(multiply_) : Time::ps(std::max<std::int64_t>(1, multiply_ / divide_));
        capture.rounding = Time::ps((worst_rounding_ + divide_ - 1) / divide_);
        capture.extent = {start_, now_};
        std::vector<std::shared_ptr<const DigitalTrace>> traces;
        traces.reserve(bits_.size());
        for (auto& bit : bits_)
            traces.push_back(std::make_shared<const DigitalTrace>(bit.finish(start_, now_)));
        std::vector<std::shared_ptr<const RealTrace>> reals;
        reals.reserve(reals_.size());
        for (auto& r : reals_)
            reals.push_back(std::make_shared<const RealTrace>(std::move(r)));
        capture.signals.reserve(declared_.size());
        for (auto& d : declared_) {
            Signal s{std::move(d.name), std::move(d.vector), d.kind, nullptr, nullptr};
            if (d.kind == SignalKind::digital)
                s.digital = traces[d.index];
            else
                s.real = reals[d.index];
            capture.signals.push_back(std::move(s));
        }
        return capture;
    }

    const char* begin_;
    const char* at_;
    const char* end_;
    std::string name_;
    Progress& progress_;
    VcdLimits limits_;

    std::string path_;
    std::vector<std::size_t> scopes_;
    VcdNames ids_;
    std::vector<Variable> variables_;
    std::vector<Declared> declared_;
    std::vector<BitBuilder> bits_;
    std::vector<RealTrace> reals_;

    std::int64_t multiply_ = 1'000'000'000'000;  // without $timescale the unit is 1 s
    std::int64_t divide_ = 1;
    std::int64_t worst_rounding_ = 0;
    Time now_;
    Time start_;
    std::uint64_t last_raw_ = 0;
    bool started_ = false;
    bool values_before_time_ = false;
};

}  // namespace

Result<Capture> read_vcd(std::string_view text, const std::string& name, Progress& progress,
                         const VcdLimits& limits) {
    return Reader(text, name, progress, limits).run();
}

Result<Capture> read_vcd_file(const std::filesystem::path& path, Progress& progress) {
    const auto file = MappedFile::open(path);
    if (!file) return fail(file.error());
    return read_vcd(file->text(), path.string(), progress);
}

}  // namespace grayrelic
