// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/meaning.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/input/layout.hpp"

namespace grayrelic {
namespace {

constexpr std::array hat_names{"up",   "up-right",  "right", "down-right",
                               "down", "down-left", "left",  "up-left"};
constexpr std::array pointer_buttons{"left", "right", "middle"};
constexpr const char* forms =
    "a meaning such as \"key:a\", \"key:left-shift+2\", \"text:|\", \"media:volume-up\", \"button:3\", "
    "\"hat:up\", "
    "\"axis:x+\", \"pointer:left\", \"bridge:layer\", \"nothing\"";

Failure wrong(std::string_view text, const char* expected = forms) {
    return fail_usage(in_quotes(text), expected);
}

Result<Meaning> parse_key(std::string_view whole, std::string_view rest) {
    Meaning m{MeaningKind::key};
    const auto parts = split(rest, '+');
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const auto usage = find_usage(hid::keyboard, trim(parts[i]));
        const bool last = i + 1 == parts.size();
        if (!usage || (!last && !is_modifier(*usage)))
            return wrong(whole, "modifiers and one key by their names, such as \"key:left-shift+2\"");
        if (last)
            m.usage = {hid::keyboard, *usage};
        else
            m.modifiers |= static_cast<std::uint8_t>(1U << (*usage - hid::first_modifier));
    }
    return m;
}

Result<Meaning> parse_pointer(std::string_view whole, std::string_view rest) {
    for (std::size_t i = 0; i < pointer_buttons.size(); ++i)
        if (rest == pointer_buttons[i])
            return Meaning{MeaningKind::pointer, {hid::buttons, static_cast<std::uint16_t>(i + 1)}};
    for (const auto* axis : {"x", "y", "wheel"})
        if (rest == axis)
            return Meaning{MeaningKind::pointer, {hid::desktop, *find_usage(hid::desktop, rest)}};
    return wrong(whole, "\"pointer:\" with left, right, middle, x, y or wheel");
}

Result<Meaning> parse_axis(std::string_view whole, std::string_view rest) {
    Meaning m{MeaningKind::axis};
    if (rest.ends_with('+')) m.direction = 1;
    if (rest.ends_with('-')) m.direction = -1;
    if (m.direction != 0) rest.remove_suffix(1);
    const auto usage = find_usage(hid::desktop, rest);
    if (!usage || *usage < 0x30 || *usage > 0x37)
        return wrong(whole, "\"axis:\" with x, y, z, rx, ry, rz, slider or dial, and + or - for one end");
    m.usage = {hid::desktop, *usage};
    return m;
}

}  // namespace

Result<Meaning> parse_meaning(std::string_view text) {
    if (trim(text) == "nothing") return Meaning{};
    const auto colon = text.find(':');
    if (colon == std::string_view::npos) return wrong(text);
    const auto kind = named<MeaningKind>(trim(text.substr(0, colon)));
    if (!kind) return wrong(text);
    const auto rest = *kind == MeaningKind::text ? text.substr(colon + 1) : trim(text.substr(colon + 1));
    switch (*kind) {
        case MeaningKind::key: return parse_key(text, rest);
        case MeaningKind::text: {
            if (!is_utf8(rest) || characters_of(rest).size() != 1)
                return wrong(text, "\"text:\" and one character");
            Meaning m{MeaningKind::text};
            m.text = rest;
            return m;
        }
        case MeaningKind::media: {
            const auto usage = find_usage(hid::consumer, rest);
            if (!usage) return wrong(text, "\"media:\" and a name such as volume-up, play-pause");
            return Meaning{MeaningKind::media, {hid::consumer, *usage}};
        }
        case MeaningKind::button: {
            const auto usage = find_usage(hid::buttons, rest);
            if (!usage || *usage > 128) return wrong(text, "\"button:\" and a number from 1 to 128");
            return Meaning{MeaningKind::button, {hid::buttons, *usage}};
        }
        case MeaningKind::hat:
            for (std::size_t i = 0; i < hat_names.size(); ++i)
                if (rest == hat_names[i]) {
                    Meaning m{MeaningKind::hat, {hid::desktop, 0x39}};
                    m.direction = static_cast<int>(i);
                    return m;
                }
            return wrong(text, "\"hat:\" with up, up-right, right … up-left");
        case MeaningKind::axis: return parse_axis(text, rest);
        case MeaningKind::pointer: return parse_pointer(text, rest);
        case MeaningKind::bridge: {
            if (rest.empty() || rest.size() > 64)
                return wrong(text, "\"bridge:\" and what it does, in a word");
            Meaning m{MeaningKind::bridge};
            m.text = rest;
            return m;
        }
        case MeaningKind::nothing: break;
    }
    return wrong(text);
}

namespace {

std::string modifiers_of(std::uint8_t modifiers, const char* between) {
    std::string out;
    for (unsigned i = 0; i < 8; ++i)
        if ((modifiers >> i & 1U) != 0)
            out += *name_of({hid::keyboard, static_cast<std::uint16_t>(hid::first_modifier + i)}) + between;
    return out;
}

std::string pointer_name(const Usage& usage) {
    return usage.page == hid::buttons ? pointer_buttons.at(usage.id - 1U) : *name_of(usage);
}

}  // namespace

std::string print_meaning(const Meaning& m) {
    switch (m.kind) {
        case MeaningKind::key: return "key:" + modifiers_of(m.modifiers, "+") + *name_of(m.usage);
        case MeaningKind::text: return "text:" + m.text;
        case MeaningKind::media: return "media:" + *name_of(m.usage);
        case MeaningKind::button: return "button:" + *name_of(m.usage);
        case MeaningKind::hat:
            return std::string("hat:") + hat_names.at(static_cast<std::size_t>(m.direction));
        case MeaningKind::axis:
            return "axis:" + *name_of(m.usage) + (m.direction > 0 ? "+" : m.direction < 0 ? "-" : "");
        case MeaningKind::pointer: return "pointer:" + pointer_name(m.usage);
        case MeaningKind::bridge: return "bridge:" + m.text;
        case MeaningKind::nothing: break;
    }
    return "nothing";
}

std::string say_meaning(const Meaning& m) {
    const auto spaced = [](std::string text) {
        std::replace(text.begin(), text.end(), '-', ' ');
        return text;
    };
    switch (m.kind) {
        case MeaningKind::key: return spaced(modifiers_of(m.modifiers, " + ") + *name_of(m.usage));
        case MeaningKind::text: return "the character " + m.text;
        case MeaningKind::media: return spaced(*name_of(m.usage));
        case MeaningKind::button: return "button " + *name_of(m.usage);
        case MeaningKind::hat:
            return spaced(std::string("hat ") + hat_names.at(static_cast<std::size_t>(m.direction)));
        case MeaningKind::axis:
            return "axis " + *name_of(m.usage) +
                   (m.direction > 0   ? " most"
                    : m.direction < 0 ? " least"
                                      : "");
        case MeaningKind::pointer: return "pointer " + pointer_name(m.usage);
        case MeaningKind::bridge: return "the bridge: " + m.text;
        case MeaningKind::nothing: break;
    }
    return "nothing, on purpose";
}

bool can_be_held(const Meaning& m) {
    return m.kind != MeaningKind::text && m.kind != MeaningKind::bridge;
}

namespace {

std::vector<Meaning> all_meanings() {
    std::vector<Meaning> out;
    for (const auto& n : named_usages(hid::keyboard))
        out.push_back({MeaningKind::key, {hid::keyboard, n.id}});
    for (const auto& n : named_usages(hid::consumer))
        out.push_back({MeaningKind::media, {hid::consumer, n.id}});
    for (std::uint16_t i = 1; i <= 32; ++i) out.push_back({MeaningKind::button, {hid::buttons, i}});
    for (int d = 0; d < 8; ++d) {
        Meaning m{MeaningKind::hat, {hid::desktop, 0x39}};
        m.direction = d;
        out.push_back(m);
    }
    for (std::uint16_t a = 0x30; a <= 0x37; ++a)
        for (const int d : {0, 1, -1}) {
            Meaning m{MeaningKind::axis, {hid::desktop, a}};
            m.direction = d;
            out.push_back(m);
        }
    for (const auto* word : {"left", "right", "middle", "x", "y", "wheel"})
        out.push_back(*parse_meaning(std::string("pointer:") + word));
    out.emplace_back();
    return out;
}

std::string lower(std::string_view text) {
    std::string out(text);
    for (auto& c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    return out;
}

}  // namespace

std::vector<Meaning> search_meanings(std::string_view typed, std::size_t most) {
    static const auto all = all_meanings();
    struct Hit {
        std::size_t rank = 0;
        const Meaning* meaning = nullptr;
    };
    const auto wish = lower(trim(typed));
    std::vector<Hit> hits;
    for (const auto& m : all) {
        const auto words = say_meaning(m) + " " + print_meaning(m);
        const auto said = lower(say_meaning(m));
        bool fits = true;
        for (const auto part : split(wish, ' ')) fits = fits && words.find(part) != std::string::npos;
        if (fits) hits.push_back({said == wish ? 0U : said.starts_with(wish) ? 1U : 2U, &m});
    }
    std::stable_sort(hits.begin(), hits.end(), [](const Hit& a, const Hit& b) { return a.rank < b.rank; });
    std::vector<Meaning> out;
    if (const auto whole = parse_meaning(typed)) out.push_back(*whole);
    for (const auto& h : hits)
        if (std::find(out.begin(), out.end(), *h.meaning) == out.end()) out.push_back(*h.meaning);
    if (is_utf8(typed) && characters_of(typed).size() == 1)
        out.insert(out.begin() + std::min<std::ptrdiff_t>(1, std::ssize(out)),
                   *parse_meaning("text:" + std::string(typed)));
    if (out.size() > most) out.resize(most);
    return out;
}

}  // namespace grayrelic
