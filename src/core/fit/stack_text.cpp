// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/stack_text.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <cmath>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double farthest_mm = 2000, most_gap_mm = 1000;

std::vector<std::string> words_in(std::string_view text) {
    std::string plain;
    for (const char c : text) plain += c == '\t' || c == ',' ? ' ' : c;
    // "±0.1" is two words.
    for (auto at = plain.find("±"); at != std::string::npos; at = plain.find("±", at + 4))
        plain.replace(at, 2, " ± ");
    std::vector<std::string> out;
    for (const auto w : split(plain, ' '))
        if (!trim(w).empty()) out.emplace_back(trim(w));
    return out;
}

std::optional<double> figure(const std::vector<std::string>& words, std::size_t at, double most) {
    if (at >= words.size()) return std::nullopt;
    const auto v = decimal_number(words[at], '.');
    return v && std::abs(*v) <= most ? v : std::nullopt;
}

/// "gap 11 ± 0.2 measured caliper", from its first word at `i`; `i` goes on to its last. Says what is wrong.
std::string take_gap(const std::vector<std::string>& w, std::size_t& i, Fact<std::optional<double>>& gap) {
    const auto mm = figure(w, i + 1, most_gap_mm);
    if (!mm || *mm < 0) return "gap without millimetres";
    gap.value = *mm;
    gap.evidence.kind = EvidenceKind::assumed;
    ++i;
    if (i + 2 < w.size() && w[i + 1] == "±") {
        const auto more = figure(w, i + 2, most_gap_mm);
        if (!more || *more < 0) return "± without millimetres";
        gap.uncertainty = *more;
        i += 2;
    }
    const auto kind = i + 1 < w.size() ? named<EvidenceKind>(w[i + 1]) : std::nullopt;
    if (!kind) return {};
    gap.evidence.kind = *kind;
    // Where it is from goes on to the end.
    for (i += 2; i < w.size(); ++i) gap.evidence.source += (gap.evidence.source.empty() ? "" : " ") + w[i];
    return {};
}

}  // namespace

Result<StackLevel> parse_level(std::string_view text) {
    const auto bad = [&](const std::string& what) {
        return fail_usage(
            what, "such as: level ladder board test as mixer at 10 5 turn 90 over gap 11 ± 0.1 measured");
    };
    const auto w = words_in(text);
    if (w.size() < 2 || w[0] != "level") return bad(in_quotes(text));
    StackLevel l;
    l.name = l.board = w[1];
    if (l.name.find('/') != std::string::npos) return bad(in_quotes(l.name));
    for (std::size_t i = 2; i < w.size(); ++i) {
        if ((w[i] == "board" || w[i] == "as") && i + 1 < w.size()) {
            (w[i] == "as" ? l.variant : l.board) = w[i + 1];
            ++i;
        } else if (w[i] == "at") {
            const auto x = figure(w, i + 1, farthest_mm), y = figure(w, i + 2, farthest_mm);
            if (!x || !y) return bad("at without two lengths in millimetres");
            l.x_mm = *x;
            l.y_mm = *y;
            i += 2;
        } else if (w[i] == "turn") {
            const auto deg = figure(w, i + 1, 270);
            if (!deg || *deg < 0 || std::fmod(*deg, 90) != 0) return bad("turn without 0, 90, 180 or 270");
            l.turn_deg = static_cast<int>(*deg);
            ++i;
        } else if (w[i] == "over") {
            l.over = true;
        } else if (w[i] == "gap") {
            const auto wrong = take_gap(w, i, l.gap);
            if (!wrong.empty()) return bad(wrong);
        } else {
            return bad(in_quotes(w[i]));
        }
    }
    return l;
}

Result<StackJoin> parse_join(std::string_view text) {
    const auto w = words_in(text);
    const auto bad = [&](std::string_view what) {
        return fail_usage(in_quotes(what), "such as: join tone/J2 ladder/J1 soldered (or plugged, or cable)");
    };
    if (w.size() < 3 || w.size() > 4 || w[0] != "join") return bad(text);
    StackJoin j;
    for (const auto i : {1, 2}) {
        const auto& end = w[static_cast<std::size_t>(i)];
        const auto slash = end.find('/');
        if (slash == std::string::npos || slash == 0 || slash + 1 == end.size()) return bad(end);
        (i == 1 ? j.lower : j.upper) = end;
    }
    if (w.size() == 4) {
        const auto kind = named<JoinKind>(w[3]);
        if (!kind) return bad(w[3]);
        j.kind = *kind;
    }
    return j;
}

Result<BoardVariant> parse_variant(std::string_view text) {
    const auto bad = [&](std::string_view what) {
        return fail_usage(in_quotes(what), "such as: variant mixer without R5 C3 with JP1 1-2");
    };
    const auto w = words_in(text);
    if (w.size() < 2 || w[0] != "variant") return bad(text);
    BoardVariant v;
    v.name = w[1];
    std::string list;
    for (std::size_t i = 2; i < w.size(); ++i) {
        if (w[i] == "without" || w[i] == "with" || w[i] == "only") {
            list = w[i];
        } else if (list == "without") {
            v.omit.push_back(w[i]);
        } else if (list == "only") {
            v.only.push_back(w[i]);
        } else if (list == "with" && i + 1 < w.size() && w[i + 1].find('-') != std::string::npos) {
            auto& joins = v.jumpers[w[i]];
            // A jumper may join several groups: JP1 1-2 3-4.
            while (i + 1 < w.size() && w[i + 1].find('-') != std::string::npos) {
                joins += (joins.empty() ? "" : " ") + w[i + 1];
                ++i;
            }
        } else {
            return bad(w[i]);
        }
    }
    return v;
}

std::string level_text(const StackLevel& l) {
    std::string out = "level " + l.name;
    if (l.board != l.name) out += " board " + l.board;
    if (!l.variant.empty()) out += " as " + l.variant;
    if (l.x_mm != 0 || l.y_mm != 0) out += fmt::format(" at {:g} {:g}", l.x_mm, l.y_mm);
    if (l.turn_deg != 0) out += fmt::format(" turn {}", l.turn_deg);
    if (l.over) out += " over";
    if (l.gap.value) {
        out += fmt::format(" gap {:g}", *l.gap.value);
        if (l.gap.uncertainty) out += fmt::format(" ± {:g}", *l.gap.uncertainty);
        out += " " + std::string(word(l.gap.evidence.kind));
        if (!l.gap.evidence.source.empty()) out += " " + l.gap.evidence.source;
    }
    return out;
}

std::string variant_text(const BoardVariant& v) {
    std::string out = "variant " + v.name;
    if (!v.only.empty()) out += fmt::format(" only {}", fmt::join(v.only, " "));
    if (!v.omit.empty()) out += fmt::format(" without {}", fmt::join(v.omit, " "));
    if (!v.jumpers.empty()) {
        out += " with";
        for (const auto& [ref, joins] : v.jumpers) out += " " + ref + " " + joins;
    }
    return out;
}

}  // namespace grayrelic
