// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/hex_text.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

int digit(char c) {
    if (c >= '0' && c <= '9') return c - '0';
    if (c >= 'a' && c <= 'f') return c - 'a' + 10;
    if (c >= 'A' && c <= 'F') return c - 'A' + 10;
    return -1;
}

bool all_digits(std::string_view text) {
    return !text.empty() && std::all_of(text.begin(), text.end(), [](char c) { return digit(c) >= 0; });
}

bool separates(char c) {
    return c == ' ' || c == '\t' || c == ',' || c == ';' || c == '{' || c == '}' || c == '"' || c == '\r' ||
           c == '[' || c == ']' || c == '(' || c == ')' || c == '=';
}

/// Comments as blanks, so that the lines stay where they are.
std::string without_comments(std::string_view text) {
    std::string out(text);
    bool inside = false;
    for (std::size_t i = 0; i < out.size(); ++i) {
        if (inside) {
            if (out.compare(i, 2, "*/") == 0) {
                out[i] = out[i + 1] = ' ';
                inside = false;
            } else if (out[i] != '\n') {
                out[i] = ' ';
            }
        } else if (out.compare(i, 2, "/*") == 0) {
            out[i] = out[i + 1] = ' ';
            inside = true;
        } else if (out[i] == '#' || out.compare(i, 2, "//") == 0) {
            while (i < out.size() && out[i] != '\n') out[i++] = ' ';
        }
    }
    return out;
}

/// What stands in braces, where there are any: "const uint8_t d[] = { 0x05 };".
void keep_braces(std::string& text) {
    const auto open = text.find('{');
    const auto close = text.rfind('}');
    if (open == std::string::npos) return;
    for (std::size_t i = 0; i < text.size(); ++i)
        if ((i < open || (close != std::string::npos && i > close)) && text[i] != '\n') text[i] = ' ';
}

class HexReader {
  public:
    HexReader(const std::string& name, std::size_t most) : name_(name), most_(most) {}

    Status take(std::string_view line, long number) {
        HexLine out{number};
        if (const auto bar = line.find('|'); bar != std::string_view::npos) line = line.substr(0, bar);
        const auto colon = line.find(':');
        if (colon != std::string_view::npos) {
            out.before = trim(line.substr(0, colon));
            line = line.substr(colon + 1);
        }
        for (std::size_t i = 0; i < line.size();) {
            if (separates(line[i])) {
                ++i;
                continue;
            }
            auto end = i;
            while (end < line.size() && !separates(line[end])) ++end;
            const auto word = line.substr(i, end - i);
            i = end;
            if (auto done = take_word(word, out); !done) return done;
        }
        if (!out.bytes.empty()) lines_.push_back(std::move(out));
        return {};
    }

    Result<std::vector<HexLine>> result() {
        if (lines_.empty()) return fail_at(name_, 1, "no byte", "bytes in hexadecimal such as \"05 01\"");
        return std::move(lines_);
    }

  private:
    Status take_word(std::string_view word, HexLine& out) {
        const auto whole = word;
        const auto refuse = [&](const char* expected) {
            return fail_at(name_, out.line, in_quotes(whole), expected);
        };
        // "\x05\x01" is several bytes; "0x0501" is what two bytes in one number would look like: not to be
        // guessed.
        if (word.find("\\x") != std::string_view::npos) {
            std::string joined;
            while (!word.empty()) {
                if (!word.starts_with("\\x") || word.size() < 4) return refuse("bytes such as \\x05\\x01");
                joined += word.substr(2, 2);
                word.remove_prefix(4);
            }
            return take_digits(joined, out, whole);
        }
        if (word.starts_with("0x") || word.starts_with("0X")) {
            word.remove_prefix(2);
            if (word.empty() || word.size() > 2 || !all_digits(word)) return refuse("one byte such as 0x05");
            return take_digits(word.size() == 1 ? "0" + std::string(word) : std::string(word), out, whole);
        }
        if (word.starts_with('$') || word.starts_with('&')) word.remove_prefix(1);
        if (word.size() > 1 && (word.back() == 'h' || word.back() == 'H')) word.remove_suffix(1);
        return take_digits(word, out, whole);
    }

    Status take_digits(std::string_view digits, HexLine& out, std::string_view whole) {
        if (!all_digits(digits))
            return fail_at(name_, out.line, in_quotes(whole), "bytes in hexadecimal such as \"05 01\"");
        if (digits.size() % 2 != 0)
            return fail_at(name_, out.line, in_quotes(whole), "two hexadecimal digits a byte");
        if (count_ + digits.size() / 2 > most_)
            return fail_at(name_, out.line, fmt::format("more than {} bytes", most_),
                           fmt::format("at most {} bytes", most_));
        for (std::size_t i = 0; i < digits.size(); i += 2)
            out.bytes.push_back(static_cast<std::uint8_t>(digit(digits[i]) * 16 + digit(digits[i + 1])));
        count_ += digits.size() / 2;
        return {};
    }

    const std::string& name_;
    std::size_t most_, count_ = 0;
    std::vector<HexLine> lines_;
};

}  // namespace

Result<std::vector<HexLine>> read_hex_lines(std::string_view text, const std::string& name,
                                            std::size_t most) {
    if (text.size() > most * 8 + 4096)
        return fail_at(name, 1, fmt::format("{} characters", text.size()),
                       fmt::format("at most {} bytes", most));
    if (text.find('\0') != std::string_view::npos)
        return fail_at(name, 1, "a zero byte", "bytes in hexadecimal such as \"05 01\"");
    auto plain = without_comments(text);
    keep_braces(plain);
    HexReader reader(name, most);
    long number = 0;
    for (const auto line : split(plain, '\n'))
        if (auto done = reader.take(line, ++number); !done) return fail(done.error());
    return reader.result();
}

Result<std::vector<std::uint8_t>> read_hex(std::string_view text, const std::string& name, std::size_t most) {
    auto lines = read_hex_lines(text, name, most);
    if (!lines) return fail(lines.error());
    std::vector<std::uint8_t> out;
    for (const auto& l : *lines) out.insert(out.end(), l.bytes.begin(), l.bytes.end());
    return out;
}

Result<std::vector<std::uint8_t>> read_bytes(std::string_view content, const std::string& name,
                                             std::size_t most) {
    const bool text = std::all_of(content.begin(), content.end(),
                                  [](char c) {
                                      return (c >= ' ' && c != 0x7F) || c == '\n' || c == '\r' || c == '\t' ||
                                             static_cast<unsigned char>(c) >= 0x80;
                                  }) &&
                      is_utf8(content);
    if (text) return read_hex(content, name, most);
    if (content.size() > most)
        return fail_at(name, 1, fmt::format("{} bytes", content.size()),
                       fmt::format("at most {} bytes", most));
    return std::vector<std::uint8_t>(content.begin(), content.end());
}

std::string print_hex(const std::vector<std::uint8_t>& bytes) {
    std::string out;
    for (const auto b : bytes) out += fmt::format("{}{:02X}", out.empty() ? "" : " ", b);
    return out;
}

}  // namespace grayrelic
