// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/palette.hpp"

#include <array>
#include <utility>

namespace grayrelic {
namespace {

struct Token {
    std::string_view name, day, night;
};

template <class M>
constexpr Token token(std::string_view name, M member) {
    return {name, casework.*member, night_bench.*member};
}

// "@ink2" stands before "@ink", of which it is the longer.
constexpr std::array tokens{token("@sheet", &Palette::sheet),
                            token("@ink2", &Palette::ink2),
                            token("@ink", &Palette::ink),
                            token("@hairline", &Palette::hairline),
                            token("@umber", &Palette::umber),
                            token("@slate", &Palette::slate),
                            token("@verdigris", &Palette::verdigris),
                            token("@brass", &Palette::brass),
                            token("@oxide", &Palette::oxide),
                            token("@selection", &Palette::selection)};

std::string replaced(std::string_view text, std::string_view Token::*from, std::string_view Token::*to) {
    std::string out;
    out.reserve(text.size());
    while (!text.empty()) {
        const Token* found = nullptr;
        if (text.front() == '@' || text.front() == '#')
            for (const auto& t : tokens)
                if (found == nullptr && text.starts_with(t.*from)) found = &t;
        if (found == nullptr) {
            out += text.front();
            text.remove_prefix(1);
        } else {
            out += found->*to;
            text.remove_prefix((found->*from).size());
        }
    }
    return out;
}

}  // namespace

std::string in_colours(std::string_view text) {
    return replaced(text, &Token::name, &Token::day);
}

std::string at_night(std::string_view svg) {
    return replaced(svg, &Token::day, &Token::night);
}

}  // namespace grayrelic
