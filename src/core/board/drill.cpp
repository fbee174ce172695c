// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/drill_reader.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_drill_notes = 200;
constexpr Nm drill_reach = 2'000'000'000;

std::string upper(std::string_view text) {
    std::string out(text);
    for (auto& c : out) c = static_cast<char>(c >= 'a' && c <= 'z' ? c - 32 : c);
    return out;
}

}  // namespace

Result<DrillFile> DrillReader::read(std::string_view text) {
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
    if (!ended_) return fault("the end of the file without M30", "M30 as the last command: the file is cut");
    out_.leading_kept = zeros_;
    if (out_.format_guessed) said_format();
    for (auto& h : out_.holes) h.plated = plated_of(h.tool);
    return std::move(out_);
}

Failure DrillReader::fault(std::string found, std::string expected) const {
    return fail_at(name_, line_, std::move(found), std::move(expected));
}

void DrillReader::note(std::string text) {
    if (out_.notes.size() < most_drill_notes && said_.insert(text).second)
        out_.notes.push_back({line_, std::move(text)});
}

void DrillReader::said_format() {
    const auto d = digits();
    out_.format = fmt::format("{}.{} {}", d.whole, d.decimals,
                              d.leading_kept ? "with leading zeros" : "with trailing zeros");
}

bool DrillReader::plated_of(std::uint32_t tool) const {
    const auto& t = out_.tools[tool];
    return t.plated ? *t.plated : out_.plated.value_or(true);
}

Status DrillReader::take(std::string_view line) {
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

Status DrillReader::remark(std::string_view text) {
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

Status DrillReader::set_unit(bool inch) {
    if (unit_ && inch != out_.inch && !out_.holes.empty())
        return fault("another unit amid the file", "one unit for all of it");
    out_.inch = inch;
    unit_ = inch ? 25.4e6 : 1e6;
    return {};
}

Status DrillReader::take_unit(const std::string& words) {
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

DrillOptions::Digits DrillReader::digits() const {
    if (options_.digits) return *options_.digits;
    auto d = stated_     ? *stated_
             : out_.inch ? DrillOptions::Digits{2, 4, false}
                         : DrillOptions::Digits{3, 3, false};
    d.leading_kept = zeros_.value_or(false);
    return d;
}

Result<double> DrillReader::number(std::string_view text) {
    const auto v = decimal_number(text, '.');
    if (!v || std::abs(*v) > 1e9) return fault("the number " + in_quotes(text), "a number");
    return *v;
}

Result<Nm> DrillReader::coordinate(std::string_view text) {
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

Status DrillReader::take_tool(std::string_view words, std::string_view line) {
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
            return fault(fmt::format("T{} a second time, with another size", number_of), "each tool once");
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

BoardXY DrillHole::middle() const {
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
