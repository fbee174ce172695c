// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/drill.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <set>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_drill_points = 4'000'000, most_drill_notes = 200;
constexpr Nm drill_reach = 2'000'000'000;

std::string upper(std::string_view text) {
    std::string out(text);
    for (auto& c : out) c = static_cast<char>(c >= 'a' && c <= 'z' ? c - 32 : c);
    return out;
}

class DrillReader {
  public:
    DrillReader(const std::string& name, const DrillOptions& options) : name_(name), options_(options) {}

    Result<DrillFile> read(std::string_view text) {
        while (!text.empty() && !ended_) {
            auto line = text.substr(0, text.find_first_of("\r\n"));
            auto rest = text.substr(line.size());
            if (rest.starts_with("\r\n"))
                rest.remove_prefix(2);
            else if (!rest.empty())
                rest.remove_prefix(1);
            text = rest;
            ++line_;
            line = trim(line);
            if (line.empty()) continue;
            if (line.find('\0') != std::string_view::npos) return fault("a byte 0", "text");
            if (auto done = take(line); !done) return fail(done.error());
            if (!late_) return fail(late_.error());
        }
        finish_way();
        if (!late_) return fail(late_.error());
        if (!began_ && out_.tools.empty()) return fault("no tool and no M48", "a drill file");
        if (!ended_)
            return fault("the end of the file without M30", "M30 as the last command: the file is cut");
        if (out_.format_guessed) said_format();
        for (auto& h : out_.holes) h.plated = plated_of(h.tool);
        return std::move(out_);
    }

  private:
    [[nodiscard]] Failure fault(std::string found, std::string expected) const {
        return fail_at(name_, line_, std::move(found), std::move(expected));
    }
    void note(std::string text) {
        if (out_.notes.size() < most_drill_notes && said_.insert(text).second)
            out_.notes.push_back({line_, std::move(text)});
    }
    void said_format() {
        const auto d = digits();
        out_.format = fmt::format("{}.{} {}", d.whole, d.decimals,
                                  d.leading_kept ? "with leading zeros" : "with trailing zeros");
    }
    [[nodiscard]] bool plated_of(std::uint32_t tool) const {
        const auto& t = out_.tools[tool];
        return t.plated ? *t.plated : out_.plated.value_or(true);
    }

    Status take(std::string_view line) {
        if (line[0] == ';') return remark(trim(line.substr(1)));
        const auto words = upper(line);
        if (words == "%") {
            header_ = false;
            return {};
        }
        if (words == "M95") {
            header_ = false;
            return {};
        }
        if (words == "M48") {
            began_ = header_ = true;
            return {};
        }
        if (words.starts_with("METRIC") || words.starts_with("INCH")) return take_unit(words);
        if (words == "M71" || words == "M72") return set_unit(words == "M72");
        if (words.starts_with("FMAT") || words.starts_with("VER") || words.starts_with("ICI,OFF") ||
            words == "DETECT,ON" || words.starts_with("ATC") || words.starts_with("BLKD") ||
            words.starts_with("R,"))
            return {};
        if (words.starts_with("ICI")) return fault(in_quotes(line), "absolute coordinates");
        if (words == "M30" || words == "M00" || words == "M02") {
            if (words == "M02")
                return fault("M02, a block repeated", "each hole listed: export without step and repeat");
            ended_ = true;
            return {};
        }
        return blocks(words, line);
    }

    Status remark(std::string_view text) {
        if (text.starts_with("#@!")) {
            text = trim(text.substr(3));
            const auto code = text.substr(0, 2);
            const auto comma = text.find(',');
            const auto name = std::string(
                text.size() > 2 ? text.substr(2, comma == std::string_view::npos ? comma : comma - 2) : "");
            const auto value =
                comma == std::string_view::npos ? std::string() : std::string(text.substr(comma + 1));
            if (code == "TF") {
                out_.attributes[name] = value;
                if (name == ".FileFunction") {
                    if (value.starts_with("Plated")) out_.plated = true;
                    if (value.starts_with("NonPlated")) out_.plated = false;
                    if (value.starts_with("MixedPlating"))
                        note("plated and unplated holes in one file: the tools' functions tell which");
                }
            } else if (code == "TA" && name == ".AperFunction") {
                function_ = value;
            } else if (code == "TD") {
                function_.clear();
            }
            return {};
        }
        const auto words = upper(text);
        const auto has = [&](std::string_view w) { return words.find(w) != std::string::npos; };
        const bool plain =
            has("NON_PLATED") || has("NON-PLATED") || has("NONPLATED") || has("UNPLATED") || has("NPTH");
        if (plain || has("PLATED")) {
            // Before the tools it is said of the file, or of those that follow.
            next_plated_ = !plain;
            if (!out_.plated && words.starts_with("TYPE=")) out_.plated = !plain;
        }
        if (const auto at = words.find("FILE_FORMAT="); at != std::string::npos && words.size() >= at + 15) {
            const int whole = words[at + 12] - '0', decimals = words[at + 14] - '0';
            if (whole >= 0 && whole <= 7 && decimals >= 0 && decimals <= 7)
                stated_ = {whole, decimals, zeros_.value_or(false)};
        }
        return {};
    }

    Status set_unit(bool inch) {
        if (unit_ && inch != out_.inch && !out_.holes.empty())
            return fault("another unit amid the file", "one unit for all of it");
        out_.inch = inch;
        unit_ = inch ? 25.4e6 : 1e6;
        return {};
    }

    Status take_unit(const std::string& words) {
        if (auto set = set_unit(words[0] == 'I'); !set) return set;
        for (const auto cell : split(words, ',')) {
            const auto c = trim(cell);
            if (c == "LZ") zeros_ = true;
            if (c == "TZ") zeros_ = false;
            const auto dot = c.find('.');
            if (dot != std::string_view::npos && c.find_first_not_of("0.") == std::string_view::npos)
                stated_ = {static_cast<int>(std::min<std::size_t>(dot, 7)),
                           static_cast<int>(std::min<std::size_t>(c.size() - dot - 1, 7)), false};
        }
        return {};
    }

    [[nodiscard]] DrillOptions::Digits digits() const {
        if (options_.digits) return *options_.digits;
        auto d = stated_     ? *stated_
                 : out_.inch ? DrillOptions::Digits{2, 4, false}
                             : DrillOptions::Digits{3, 3, false};
        d.leading_kept = zeros_.value_or(false);
        return d;
    }

    Result<double> number(std::string_view text) {
        const auto v = decimal_number(text, '.');
        if (!v || std::abs(*v) > 1e9) return fault("the number " + in_quotes(text), "a number");
        return *v;
    }

    Result<Nm> coordinate(std::string_view text) {
        if (!unit_) {
            note("neither METRIC nor INCH: taken as inches, as the format means it");
            unit_ = 25.4e6;
            out_.inch = true;
        }
        double v = 0;
        if (text.find('.') != std::string_view::npos) {
            const auto n = number(text);
            if (!n) return fail(n.error());
            v = *n;
        } else {
            const bool negative = text.starts_with('-');
            auto d = text;
            if (negative || d.starts_with('+')) d.remove_prefix(1);
            if (d.empty() || d.size() > 12 || d.find_first_not_of("0123456789") != std::string_view::npos)
                return fault("the coordinate " + in_quotes(text), "digits");
            const auto form = digits();
            if ((!zeros_ || !stated_) && !options_.digits) out_.format_guessed = true;
            for (const char c : d) v = v * 10 + (c - '0');
            if (form.leading_kept)
                for (auto n = static_cast<int>(d.size()); n < form.whole + form.decimals; ++n) v *= 10;
            if (form.leading_kept && static_cast<int>(d.size()) > form.whole + form.decimals)
                v /= std::pow(10.0, static_cast<int>(d.size()) - form.whole - form.decimals);
            v /= std::pow(10.0, form.decimals);
            if (negative) v = -v;
        }
        const double nm = v * *unit_;
        if (std::abs(nm) > static_cast<double>(drill_reach))
            return fault(fmt::format("a place {:.0f} mm from the origin", std::abs(nm) / 1e6),
                         fmt::format("within {:.0f} mm; are format and unit right?", widest_mm));
        return static_cast<Nm>(std::llround(nm));
    }

    /// A line as letters with numbers.
    Status blocks(std::string_view words, std::string_view line) {
        if (words[0] == 'T') return take_tool(words, line);
        std::optional<Nm> x, y, radius, i, j, x2, y2;
        int repeat = 0;
        bool slot = false, rout = routing_;
        std::optional<int> motion;
        auto rest = words;
        while (!rest.empty()) {
            const char letter = rest[0];
            if (letter == ' ') {
                rest.remove_prefix(1);
                continue;
            }
            const auto end = std::min(rest.size(), rest.find_first_not_of("+-.0123456789", 1));
            const auto value = rest.substr(1, end - 1);
            rest.remove_prefix(end);
            if (letter == 'X' || letter == 'Y' || letter == 'A' || letter == 'I' || letter == 'J') {
                const auto v = coordinate(value);
                if (!v) return fail(v.error());
                auto& into = letter == 'X'   ? (slot ? x2 : x)
                             : letter == 'Y' ? (slot ? y2 : y)
                             : letter == 'A' ? radius
                             : letter == 'I' ? i
                                             : j;
                into = *v;
                continue;
            }
            const auto n = number(value);
            if (!n || *n != std::floor(*n) || *n < 0 || *n > 100'000)
                return fault(in_quotes(line), "words of a drill file");
            const int code = static_cast<int>(*n);
            if (letter == 'G') {
                if (code == 85) {
                    if (!x && !y) return fault("G85 without a place before it", "X…Y…G85X…Y…");
                    slot = true;
                } else if (code == 0 || code == 1 || code == 2 || code == 3) {
                    motion = code;
                    rout = true;
                } else if (code == 5 || code == 81) {
                    rout = false;
                    if (auto left = leave_routing(); !left) return left;
                } else if (code == 90 || code == 40 || code == 93) {
                    if (code == 93 && (x.value_or(0) != 0 || y.value_or(0) != 0))
                        return fault("G93", "places from the zero: export without it");
                    if (code == 40) continue;
                } else if (code == 91) {
                    return fault("G91, incremental coordinates", "absolute ones");
                } else if (code == 32 || code == 33 || code == 84 || code == 82 || code == 83 || code == 41 ||
                           code == 42) {
                    return fault(fmt::format("G{}", code), "holes, G85 and routed slots: export as XNC");
                } else {
                    return fault(fmt::format("G{:02}", code), "G00 to G03, G05, G85 or G90");
                }
            } else if (letter == 'M') {
                if (code == 15) {
                    down_ = true;
                    way_ = {here_};
                    way_open_ = true;
                } else if (code == 16 || code == 17) {
                    finish_way();
                    down_ = false;
                } else if (code != 14 && code != 18 && code != 47 && code != 9 && code != 8 && code != 6) {
                    return fault(fmt::format("M{:02}", code), "M15, M16 or M30: export as XNC");
                }
            } else if (letter == 'R') {
                if (code == 0 || code > 100'000) return fault(in_quotes(line), "R with how often");
                repeat = code;
            } else if (letter == 'N' || letter == 'F' || letter == 'S' || letter == 'Z' || letter == 'B' ||
                       letter == 'H') {
                continue;
            } else {
                return fault(in_quotes(line), "words of a drill file");
            }
        }
        routing_ = rout;
        if (motion) motion_ = *motion;
        if (!x && !y && !x2 && !y2) return {};
        if (repeat > 0) return take_repeat(repeat, x.value_or(0), y.value_or(0));
        const BoardPoint from = here_, to{x.value_or(here_.x), y.value_or(here_.y)};
        here_ = to;
        if (slot) {
            const BoardPoint end{x2.value_or(to.x), y2.value_or(to.y)};
            here_ = end;
            return add({to, end});
        }
        if (!routing_) return add({to});
        if (motion_ == 0) {
            if (way_open_) finish_way();
            if (down_) {
                way_ = {here_};
                way_open_ = true;
            }
            return {};
        }
        if (!down_) return fault("a routed line with the tool up", "M15 before it");
        if (motion_ == 1) {
            way_.push_back(to);
        } else {
            BoardPoint middle = from;
            if (i || j) {
                middle = from + BoardPoint{i.value_or(0), j.value_or(0)};
            } else if (radius && *radius > 0) {
                middle = middle_of(from, to, static_cast<double>(*radius), motion_ == 2);
            } else {
                return fault("an arc without A, I or J", "A with its radius");
            }
            const auto points = arc_points(from, to, middle, motion_ == 2);
            way_.insert(way_.end(), points.begin(), points.end());
        }
        points_ += 1;
        if (way_.size() > most_drill_points) return fault("a slot of too many points", "at most 4 million");
        return {};
    }

    /// Of an arc by its radius: at most half a turn.
    static BoardPoint middle_of(BoardPoint from, BoardPoint to, double radius, bool clockwise) {
        const double dx = static_cast<double>(to.x - from.x), dy = static_cast<double>(to.y - from.y),
                     d = std::hypot(dx, dy);
        if (d == 0) return from;
        const double h = std::sqrt(std::max(0.0, radius * radius - d * d / 4)), sign = clockwise ? -1 : 1;
        return {static_cast<Nm>(std::llround(static_cast<double>(from.x) + dx / 2 - sign * dy / d * h)),
                static_cast<Nm>(std::llround(static_cast<double>(from.y) + dy / 2 + sign * dx / d * h))};
    }

    Status leave_routing() {
        if (way_open_) finish_way();
        down_ = false;
        return {};
    }

    void finish_way() {
        if (way_open_ && way_.size() > 1) {
            if (auto done = add(std::move(way_)); !done) late_ = done;
        }
        way_.clear();
        way_open_ = false;
    }

    Status take_repeat(int times, Nm dx, Nm dy) {
        if (out_.holes.empty()) return fault("a repeat before a hole", "a hole before it");
        auto last = out_.holes.back();
        for (int k = 0; k < times; ++k) {
            for (auto& p : last.way) p = p + BoardPoint{dx, dy};
            if (auto done = add(last.way); !done) return done;
        }
        here_ = last.way.back();
        return {};
    }

    Status add(std::vector<BoardPoint> way) {
        if (!tool_) return fault("a hole before a tool is chosen", "T1 before it");
        for (const auto p : way)
            if (std::abs(p.x) > drill_reach || std::abs(p.y) > drill_reach)
                return fault("a place beyond 2 m", "a board");
        if (way.size() == 2 && way[0] == way[1]) way.pop_back();
        points_ += way.size();
        if (out_.holes.size() >= most_holes || points_ > most_drill_points)
            return fault("too many holes", fmt::format("at most {}", most_holes));
        DrillHole h;
        h.way = std::move(way);
        h.tool = *tool_;
        h.diameter = out_.tools[*tool_].diameter;
        h.line = line_;
        if (h.diameter <= 0)
            return fault(fmt::format("a hole by T{}, whose size is not known", out_.tools[*tool_].number),
                         "T with C and its size in the head");
        out_.holes.push_back(std::move(h));
        return {};
    }

    Status take_tool(std::string_view words, std::string_view line) {
        std::size_t at = 1;
        while (at < words.size() && words[at] >= '0' && words[at] <= '9') ++at;
        const auto digits = words.substr(1, at - 1);
        int number_of = -1;
        if (std::from_chars(digits.data(), digits.data() + digits.size(), number_of).ec != std::errc() ||
            number_of > 99'999)
            return fault("the tool " + in_quotes(line), "T with a number");
        std::optional<double> size;
        auto rest = words.substr(at);
        while (!rest.empty()) {
            const char letter = rest[0];
            const auto end = std::min(rest.size(), rest.find_first_not_of("+-.0123456789", 1));
            const auto value = rest.substr(1, end - 1);
            rest.remove_prefix(end);
            if (letter == 'C') {
                if (!unit_) {
                    note("neither METRIC nor INCH before the tools: taken as inches, as the format means it");
                    unit_ = 25.4e6;
                    out_.inch = true;
                }
                const auto v = number(value);
                if (!v || *v < 0 || *v * *unit_ > widest_mm * 1e6)
                    return fault("the size " + in_quotes(value), "a diameter such as C0.8");
                size = *v * *unit_;
            } else if (std::string_view("FSBHZ ,").find(letter) == std::string_view::npos) {
                return fault("the tool " + in_quotes(line), "T1C0.8");
            }
        }
        const auto known = std::find_if(out_.tools.begin(), out_.tools.end(),
                                        [&](const DrillTool& t) { return t.number == number_of; });
        if (size) {
            if (known != out_.tools.end() && known->diameter > 0 && known->diameter != *size)
                return fault(fmt::format("T{} a second time, with another size", number_of),
                             "each tool once");
            if (known == out_.tools.end()) {
                if (out_.tools.size() >= 10'000) return fault("too many tools", "at most 10000");
                DrillTool t;
                t.number = number_of;
                t.diameter = *size;
                t.function = function_;
                t.line = line_;
                if (function_.starts_with("Plated")) t.plated = true;
                if (function_.starts_with("NonPlated")) t.plated = false;
                if (!t.plated) t.plated = next_plated_;
                out_.tools.push_back(std::move(t));
            }
        }
        if (header_ && size) return {};
        // T0 puts the tool away.
        if (way_open_) finish_way();
        if (number_of == 0) {
            tool_.reset();
            return {};
        }
        const auto it = std::find_if(out_.tools.begin(), out_.tools.end(),
                                     [&](const DrillTool& t) { return t.number == number_of; });
        if (it == out_.tools.end()) {
            if (header_) return {};
            return fault(fmt::format("T{}, which the head does not define", number_of),
                         "T with C and its size in the head");
        }
        tool_ = static_cast<std::uint32_t>(it - out_.tools.begin());
        return {};
    }

    const std::string& name_;
    DrillOptions options_;
    DrillFile out_;
    long line_ = 0;
    bool began_ = false, header_ = false, ended_ = false, routing_ = false, down_ = false, way_open_ = false;
    int motion_ = 0;
    std::optional<double> unit_;
    std::optional<bool> zeros_, next_plated_;
    std::optional<DrillOptions::Digits> stated_;
    std::optional<std::uint32_t> tool_;
    BoardPoint here_;
    std::vector<BoardPoint> way_;
    std::size_t points_ = 0;
    std::string function_;
    Status late_;
    std::set<std::string> said_;
};

}  // namespace

BoardPoint DrillHole::middle() const {
    if (way.size() == 1) return way.front();
    Extent e;
    for (const auto p : way) e.add(p);
    return {(e.left + e.right) / 2, (e.bottom + e.top) / 2};
}

Rings DrillHole::rings() const {
    if (way.size() == 1) return {circle_ring(way.front(), diameter / 2)};
    Rings out;
    for (std::size_t i = 0; i + 1 < way.size(); ++i)
        out.push_back(stroke_ring(way[i], way[i + 1], diameter / 2));
    return out.size() > 1 ? joined(out) : out;
}

bool looks_like_drill(std::string_view text) {
    const auto head = text.substr(0, 65536);
    const auto begins = head.find_first_not_of(" \t\r\n");
    if (begins == std::string_view::npos) return false;
    if (head.substr(begins).starts_with("M48") || head.find("\nM48") != std::string_view::npos) return true;
    return false;
}

Result<DrillFile> read_drill(std::string_view text, const std::string& name, const DrillOptions& options) {
    if (text.size() > most_drill_bytes)
        return fail_at(name, 1, fmt::format("{} bytes", text.size()), "a drill file of at most 64 MiB");
    if (trim(text).empty()) return fail_at(name, 1, "an empty file", "a drill file");
    return DrillReader(name, options).read(text);
}

Extent extent_of(const DrillFile& file) {
    Extent out;
    for (const auto& h : file.holes)
        for (const auto p : h.way) out.add(p);
    return out;
}

}  // namespace grayrelic
