// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/form.hpp"

#include <algorithm>
#include <cctype>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_form = 64 * 1024, most_made = 16U << 20U;

Result<std::string> filled(std::string_view line, long number, const FormValues& own, const FormValues& all,
                           const std::string& expected) {
    std::string out;
    for (std::size_t i = 0; i < line.size(); ++i) {
        const char c = line[i];
        const bool twice = i + 1 < line.size() && line[i + 1] == c;
        if ((c == '{' || c == '}') && twice) {
            out += c;
            ++i;
            continue;
        }
        if (c != '{') {
            out += c;
            continue;
        }
        const auto end = line.find('}', i);
        const bool closed = end != std::string_view::npos;
        const auto key = line.substr(i + 1, closed ? end - i - 1 : std::string_view::npos);
        auto at = closed ? own.find(key) : own.end();
        bool found = at != own.end();
        if (!found && closed) {
            at = all.find(key);
            found = at != all.end();
        }
        if (!found)
            return fail_at("form", number, in_quotes("{" + std::string(key) + (closed ? "}" : "")), expected);
        out += at->second;
        i = end;
    }
    return out;
}

const FormItems* repeated(std::string_view line, const std::vector<FormItems>& groups) {
    for (const auto& g : groups)
        for (const auto& key : g.keys)
            if (line.find("{" + key + "}") != std::string_view::npos) return &g;
    return nullptr;
}

}  // namespace

Result<std::string> fill_form(std::string_view text, const FormValues& all,
                              const std::vector<FormItems>& groups, const std::string& expected) {
    if (text.size() > most_form) return fail_at("form", 1, "more than 64 KiB", "a text of at most 64 KiB");
    if (text.ends_with('\n')) text.remove_suffix(1);
    static const std::vector<FormValues> once{{}};
    std::string out;
    long number = 0;
    for (const auto line : split(text, '\n')) {
        ++number;
        const auto* items = repeated(line, groups);
        for (const auto& own : items != nullptr ? items->values : once) {
            auto made = filled(line, number, own, all, expected);
            if (!made) return made;
            out += *made + "\n";
            if (out.size() > most_made)
                return fail_at("form", number, "more than 16 MiB made", "a shorter text");
        }
    }
    return out;
}

std::string c_name(std::string_view text, bool upper) {
    std::string out;
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        out += std::isalnum(u) != 0 ? static_cast<char>(upper ? std::toupper(u) : u) : '_';
    }
    if (out.empty() || std::isdigit(static_cast<unsigned char>(out.front())) != 0) out.insert(0, "N");
    return out;
}

}  // namespace grayrelic
