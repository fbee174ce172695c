// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrical/rail_line.hpp"

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

/// "5%" as a share.
std::optional<double> percent(std::string_view t) {
    if (!t.ends_with('%')) return std::nullopt;
    const auto n = parse_number(t.substr(0, t.size() - 1), Unit::none);
    return n ? std::optional(*n / 100) : std::nullopt;
}

void replace_all(std::string& text, std::string_view from, std::string_view to) {
    for (std::size_t at = 0; (at = text.find(from, at)) != std::string::npos; at += to.size())
        text.replace(at, from.size(), to);
}

}  // namespace

std::vector<std::string> rail_words(std::string line) {
    if (const auto hash = line.find('#'); hash != std::string::npos) line.resize(hash);
    replace_all(line, "→", " -> ");
    replace_all(line, "->", " -> ");
    replace_all(line, "+-", "±");
    std::vector<std::string> out;
    std::string word;
    for (const char c : line + " ") {
        const bool space = c == ' ' || c == '\t' || c == '\r';
        if (!space) {
            word += c;
        } else if (!word.empty()) {
            out.push_back(std::move(word));
            word.clear();
        }
    }
    return out;
}

bool RailLineReader::take(std::string_view word) {
    if (fault_ || peek() != word) return false;
    ++at_;
    return true;
}

std::string RailLineReader::next(const char* expected) {
    if (fault_) return {};
    if (at_ >= words_.size()) {
        wrong("the end of the line", expected);
        return {};
    }
    return words_[at_++];
}

std::string RailLineReader::name(const char* expected) {
    auto n = next(expected);
    if (!fault_ && (n.size() > 64 || n == "->" || !is_utf8(n))) wrong(in_quotes(n), expected);
    return n;
}

double RailLineReader::number(Unit unit, const RailSpan& span) {
    const auto text = next(span.expected);
    if (fault_) return 0;
    return checked(text, unit, span);
}

double RailLineReader::checked(const std::string& text, Unit unit, const RailSpan& span) {
    const auto n = parse_number(text, unit);
    if (!n || !(*n >= span.least && *n <= span.most)) {
        wrong(in_quotes(text), span.expected);
        return 0;
    }
    return *n;
}

double RailLineReader::share(const char* expected, double least, double most) {
    const auto text = next(expected);
    if (fault_) return 0;
    const auto p = percent(text);
    if (!p || !(*p >= least && *p <= most)) {
        wrong(in_quotes(text), expected);
        return 0;
    }
    return *p;
}

double RailLineReader::tolerance() {
    if (fault_ || !peek().starts_with("±")) return 0;
    const std::string text(peek().substr(std::string_view("±").size()));
    ++at_;
    const auto p = percent(text.empty() && more() ? words_[at_++] : text);
    if (!p || !(*p >= 0 && *p < 1)) {
        wrong(in_quotes("±" + text), "a tolerance from ±0% to below ±100%, such as ±5%");
        return 0;
    }
    return *p;
}

RailAmount RailLineReader::amount(const char* expected) {
    const auto text = next(expected);
    if (fault_) return {};
    const std::string_view t = text;
    if (t.ends_with("W")) return {RailAmount::Kind::watts, checked(text, Unit::watt, watts_span)};
    if (t.ends_with("A")) return {RailAmount::Kind::amperes, checked(text, Unit::ampere, amperes_span)};
    for (const auto* symbol : {"ohm", "ohms", "Ω", "\u2126", "R"})
        if (t.ends_with(symbol)) return {RailAmount::Kind::ohms, checked(text, Unit::ohm, load_ohms_span)};
    wrong(in_quotes(text), expected);
    return {};
}

void RailLineReader::arrow(RailPart& p) {
    p.from = name("the rail that it takes from");
    if (!fault_ && !take("->")) wrong(in_quotes(peek()), "-> and the rail that it feeds");
    p.to = name("the rail that it feeds");
}

void RailLineReader::wrong(std::string found, std::string expected) {
    if (!fault_) fault_ = RailFault{line_, std::move(found), std::move(expected)};
}

void RailLineReader::unknown(const char* expected) {
    wrong(in_quotes(peek()), expected);
}

}  // namespace grayrelic
