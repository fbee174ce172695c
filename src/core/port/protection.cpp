// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/protection.hpp"

#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr auto expected =
    "\"series 330R\", \"diode\", \"p-channel\", \"clamp\", \"clamp 5V6\" or \"fuse 500mA\", joined by +";

Result<double> ranged(std::string_view text, Unit unit, double least, double most) {
    const auto v = parse_number(text, unit);
    if (!v || !(*v >= least && *v <= most))
        return fail_usage(in_quotes(text),
                          fmt::format("from {} to {}", print_number(least, unit), print_number(most, unit)));
    return *v;
}

/// Takes a value that must not be there yet.
Status take(std::optional<double>& into, std::string_view word, Result<double> value) {
    if (!value) return fail(value.error());
    if (into) return fail_usage(in_quotes(word) + " a second time", "each once");
    into = *value;
    return {};
}

Status take_word(Protection& out, std::string_view piece) {
    const auto space = piece.find(' ');
    const auto word = piece.substr(0, space);
    const auto value = space == std::string_view::npos ? std::string_view() : trim(piece.substr(space));
    if (word == "series" && !value.empty())
        return take(out.series_ohm, piece, ranged(value, Unit::ohm, 1e-3, 10e6));
    if (word == "fuse" && !value.empty())
        return take(out.fuse_a, piece, ranged(value, Unit::ampere, 1e-3, 100));
    if (word == "clamp" && !value.empty()) return take(out.clamp_v, piece, ranged(value, Unit::volt, 1, 100));
    if (!value.empty()) return fail_usage(in_quotes(piece), expected);
    for (auto [name, flag] : {std::pair<std::string_view, bool Protection::*>{"diode", &Protection::diode},
                              {"p-channel", &Protection::p_channel},
                              {"clamp", &Protection::clamp_to_supply}})
        if (word == name) {
            if (out.*flag) return fail_usage(in_quotes(piece) + " a second time", "each once");
            out.*flag = true;
            return {};
        }
    return fail_usage(in_quotes(piece), expected);
}

}  // namespace

Result<Protection> protection_from_text(std::string_view text) {
    Protection out;
    if (trim(text).empty() || trim(text) == "none") return out;
    std::size_t from = 0;
    while (from <= text.size()) {
        const auto plus = std::min(text.find('+', from), text.size());
        if (auto done = take_word(out, trim(text.substr(from, plus - from))); !done)
            return fail(done.error());
        from = plus + 1;
    }
    return out;
}

std::string protection_text(const Protection& p) {
    std::string out;
    const auto add = [&](const std::string& piece) { out += (out.empty() ? "" : " + ") + piece; };
    if (p.fuse_a) add("fuse " + print_exact(*p.fuse_a, Unit::ampere));
    if (p.diode) add("diode");
    if (p.p_channel) add("p-channel");
    if (p.series_ohm) add("series " + print_exact(*p.series_ohm, Unit::ohm));
    if (p.clamp_to_supply) add("clamp");
    if (p.clamp_v) add("clamp " + print_exact(*p.clamp_v, Unit::volt));
    return out;
}

}  // namespace grayrelic
