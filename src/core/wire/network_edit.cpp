// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/network_edit.hpp"

#include <algorithm>
#include <optional>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

std::vector<std::string> lines_of(const std::string& text) {
    std::vector<std::string> out;
    for (const auto line : split(text, '\n')) out.emplace_back(line);
    if (!out.empty() && out.back().empty()) out.pop_back();
    return out;
}

std::string joined(const std::vector<std::string>& lines) {
    std::string out;
    for (const auto& l : lines) out += l + "\n";
    return out;
}

std::size_t code_end(const std::string& line) {
    return std::min(line.find('#'), line.size());
}

bool goes_on(const std::string& line) {
    return !line.empty() && (line[0] == ' ' || line[0] == '\t') &&
           !trim(line.substr(0, code_end(line))).empty();
}

/// The lines of a part or port: its head and those that go on.
std::optional<std::pair<std::size_t, std::size_t>> lines_of_part(const std::vector<std::string>& lines,
                                                                 std::string_view ref) {
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (goes_on(lines[i])) continue;
        const auto head = std::string_view(lines[i]).substr(0, code_end(lines[i]));
        const auto colon = head.find(':');
        if (colon == std::string_view::npos) continue;
        const auto words = split(trim(head.substr(0, colon)), ' ');
        const bool is_port = ref.starts_with("port ");
        std::string name(words.empty() ? std::string_view() : words[0]);
        if (name == "port" || name == "power") {
            if (!is_port || name != "port") continue;
            name = std::string(trim(head.substr(0, colon)));
        }
        if (name != ref) continue;
        std::size_t end = i + 1;
        std::size_t last = end;
        // Comments and empty lines between may belong to it, those behind do not.
        while (end < lines.size() &&
               (goes_on(lines[end]) || trim(lines[end].substr(0, code_end(lines[end]))).empty())) {
            ++end;
            if (goes_on(lines[end - 1])) last = end;
        }
        return std::pair(i, last);
    }
    return std::nullopt;
}

struct Token {
    std::size_t from, to;  ///< of the net behind the sign
};
std::optional<Token> find_pin(const std::string& line, std::string_view pin, std::size_t from) {
    const auto end = code_end(line);
    std::size_t at = from;
    while (at < end) {
        while (at < end && (line[at] == ' ' || line[at] == '\t' || line[at] == ',')) ++at;
        std::size_t stop = at;
        while (stop < end && line[stop] != ' ' && line[stop] != '\t' && line[stop] != ',') ++stop;
        const auto word = std::string_view(line).substr(at, stop - at);
        const auto equals = word.rfind('=');
        if (equals != std::string_view::npos && word.substr(0, equals) == pin)
            return Token{at + equals + 1, stop};
        at = stop;
    }
    return std::nullopt;
}

struct Found {
    std::size_t line;
    Token token;
};
std::optional<Found> find(const std::vector<std::string>& lines, const PinPlace& place) {
    const auto part = lines_of_part(lines, place.ref);
    if (!part) return std::nullopt;
    for (auto i = part->first; i < part->second; ++i) {
        const auto colon = i == part->first ? lines[i].find(':') + 1 : 0;
        if (const auto token = find_pin(lines[i], place.pin, colon)) return Found{i, *token};
    }
    return std::nullopt;
}

}  // namespace

bool move_pin(std::string& text, const PinPlace& place, std::string_view net) {
    auto lines = lines_of(text);
    const auto at = find(lines, place);
    if (!at) return false;
    lines[at->line].replace(at->token.from, at->token.to - at->token.from, net);
    text = joined(lines);
    return true;
}

bool join_pin(std::string& text, const PinPlace& place, std::string_view net) {
    if (move_pin(text, place, net)) return true;
    auto lines = lines_of(text);
    const auto part = lines_of_part(lines, place.ref);
    if (!part) return false;
    auto& line = lines[part->second - 1];
    auto at = code_end(line);
    while (at > 0 && (line[at - 1] == ' ' || line[at - 1] == '\t')) --at;
    line.insert(at, " " + place.pin + "=" + std::string(net));
    text = joined(lines);
    return true;
}

bool swap_pins(std::string& text, const PinPlace& a, const PinPlace& b) {
    auto lines = lines_of(text);
    const auto at_a = find(lines, a), at_b = find(lines, b);
    if (!at_a || !at_b) return false;
    const auto net = [&](const Found& f) {
        return lines[f.line].substr(f.token.from, f.token.to - f.token.from);
    };
    const auto net_a = net(*at_a), net_b = net(*at_b);
    return move_pin(text, a, net_b) && move_pin(text, b, net_a);
}

bool change_word(std::string& text, std::string_view ref, std::string_view word) {
    auto lines = lines_of(text);
    const auto part = lines_of_part(lines, ref);
    if (!part) return false;
    auto& line = lines[part->first];
    const auto colon = line.find(':');
    std::size_t at = 0;
    const auto skip = [&](bool blanks) {
        while (at < colon && ((line[at] == ' ' || line[at] == '\t') == blanks)) ++at;
    };
    skip(false), skip(true), skip(false);  // the name, the kind
    const auto after_kind = at;
    skip(true);
    const auto from = at;
    skip(false);
    if (from == at || line.substr(from, at - from).starts_with("package="))
        line.insert(after_kind, " " + std::string(word));
    else
        line.replace(from, at - from, word);
    text = joined(lines);
    return true;
}

bool set_package(std::string& text, std::string_view ref, std::string_view package) {
    auto lines = lines_of(text);
    const auto part = lines_of_part(lines, ref);
    if (!part) return false;
    auto& line = lines[part->first];
    auto colon = line.find(':');
    if (const auto at = line.find(" package="); at != std::string::npos && at < colon) {
        auto stop = at + 1;
        while (stop < colon && line[stop] != ' ' && line[stop] != '\t') ++stop;
        line.erase(at, stop - at);
        colon = line.find(':');
    }
    if (!package.empty()) line.insert(colon, " package=" + std::string(package));
    text = joined(lines);
    return true;
}

bool remove_part(std::string& text, std::string_view ref) {
    auto lines = lines_of(text);
    const auto part = lines_of_part(lines, ref);
    if (!part) return false;
    lines.erase(lines.begin() + static_cast<std::ptrdiff_t>(part->first),
                lines.begin() + static_cast<std::ptrdiff_t>(part->second));
    text = joined(lines);
    return true;
}

void add_line(std::string& text, std::string_view line) {
    if (!text.empty() && !text.ends_with('\n')) text += '\n';
    text += std::string(line) + "\n";
}

}  // namespace grayrelic
