// SPDX-License-Identifier: GPL-3.0-or-later
// A scanner that only walks brackets and strings; it never recurses, so depth costs nothing.
#include "core/json/json_place.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/text.hpp"
#include "core/json/json.hpp"

namespace grayrelic {
namespace {

class Scanner {
  public:
    explicit Scanner(std::string_view text) : text_(text) {}
    std::size_t at = 0;

    void blanks() {
        while (at < text_.size() &&
               (text_[at] == ' ' || text_[at] == '\n' || text_[at] == '\t' || text_[at] == '\r'))
            ++at;
    }
    [[nodiscard]] char peek() const { return at < text_.size() ? text_[at] : '\0'; }
    std::string_view string() {
        const auto from = ++at;
        while (at < text_.size() && text_[at] != '"') at += text_[at] == '\\' ? 2 : 1;
        at = std::min(at, text_.size());
        const auto body = text_.substr(from, at - from);
        if (at < text_.size()) ++at;
        return body;
    }
    /// Steps over one value of any kind.
    void value() {
        blanks();
        long depth = 0;
        do {
            blanks();
            const char c = peek();
            if (c == '\0') return;
            if (c == '"') {
                string();
                continue;
            }
            if (c == '{' || c == '[') ++depth;
            if (c == '}' || c == ']') --depth;
            if (c == '{' || c == '[' || c == '}' || c == ']' || c == ',' || c == ':') {
                ++at;
                continue;
            }
            while (at < text_.size() &&
                   std::string_view(",]} \n\t\r").find(text_[at]) == std::string_view::npos)
                ++at;
        } while (depth > 0);
    }

  private:
    std::string_view text_;
};

/// Moves to the child; false when it is not there.
bool descend(Scanner& s, const JsonStep& step) {
    s.blanks();
    const bool list = s.peek() == '[';
    if (list != step.is_index || (!list && s.peek() != '{')) return false;
    ++s.at;
    for (std::size_t i = 0;; ++i) {
        s.blanks();
        if (s.peek() == ']' || s.peek() == '}' || s.peek() == '\0') return false;
        if (list) {
            if (i == step.index) return true;
        } else {
            const auto key = s.string();
            s.blanks();
            ++s.at;  // the colon
            s.blanks();
            if (key == step.key) return true;
        }
        s.value();
        s.blanks();
        if (s.peek() == ',') ++s.at;
    }
}

}  // namespace

JsonPath moved_back(JsonPath path, const std::vector<JsonMove>& moves) {
    const auto alike = [](const JsonStep& a, const JsonStep& b) {
        return a.is_index == b.is_index && a.key == b.key && a.index == b.index;
    };
    for (const auto& m : moves) {
        if (path.size() < m.to.size() || !std::equal(m.to.begin(), m.to.end(), path.begin(), alike)) continue;
        JsonPath before = m.from;
        before.insert(before.end(), path.begin() + static_cast<std::ptrdiff_t>(m.to.size()), path.end());
        path = std::move(before);
    }
    return path;
}

long line_at(std::string_view text, std::size_t byte) {
    return 1 + std::count(text.begin(),
                          text.begin() + static_cast<std::ptrdiff_t>(std::min(byte, text.size())), '\n');
}

long line_of(std::string_view text, const JsonPath& path) {
    Scanner s(text);
    s.blanks();
    for (const auto& step : path) {
        const auto parent = s.at;
        if (!descend(s, step)) {
            s.at = parent;
            break;
        }
    }
    return line_at(text, s.at);
}

std::string print_path(const JsonPath& path) {
    std::string out;
    for (const auto& step : path) {
        if (step.is_index)
            out += fmt::format("[{}]", step.index);
        else
            out += (out.empty() ? "" : ".") + step.key;
    }
    return out;
}

namespace {

constexpr std::size_t most_depth = 64;

/// A member's name as it is meant: "\u0061" is "a".
std::string meant(std::string_view body) {
    if (body.find('\\') == std::string_view::npos) return std::string(body);
    const auto name = nlohmann::json::parse('"' + std::string(body) + '"', nullptr, false);
    return name.is_string() ? name.get<std::string>() : std::string(body);
}

}  // namespace

std::optional<JsonTrouble> json_trouble(std::string_view text) {
    /// An open bracket; of an object, the names of its members so far.
    struct Open {
        bool object = false;
        std::set<std::string, std::less<>> names{};
    };
    std::vector<Open> open;
    std::size_t values = 1;
    bool name_next = false;
    Scanner s(text);
    while (s.at < text.size()) {
        const auto at = s.at;
        const char c = s.peek();
        if (c == '"') {
            const auto body = s.string();
            s.blanks();
            if (name_next && s.peek() == ':' && !open.back().names.insert(meant(body)).second)
                return JsonTrouble{at, "the name " + in_quotes(meant(body)) + " for a second time",
                                   "each name once"};
            name_next = false;
            continue;
        }
        ++s.at;
        if (c == ' ' || c == '\n' || c == '\t' || c == '\r') continue;
        name_next = false;  // only behind an object's bracket or its comma
        if (c == '{' || c == '[') {
            if (open.size() == most_depth)
                return JsonTrouble{at, fmt::format("more than {} nested brackets", most_depth), ""};
            open.push_back({c == '{'});
        } else if ((c == '}' || c == ']') && !open.empty()) {
            open.pop_back();
        }
        if (c == '{' || c == '[' || c == ',') {
            name_next = !open.empty() && open.back().object;
            s.blanks();
            const bool empty = c != ',' && (s.peek() == '}' || s.peek() == ']');
            if (!empty && ++values > most_json_values)
                return JsonTrouble{at, fmt::format("more than {} values", most_json_values), ""};
        }
    }
    return std::nullopt;
}

}  // namespace grayrelic
