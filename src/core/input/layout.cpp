// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/layout.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/data_files.hpp"
#include "core/base/text.hpp"
#include "core/input/usages.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

std::size_t length_at(std::string_view text, std::size_t at) {
    const auto lead = static_cast<unsigned char>(text[at]);
    const std::size_t n = lead < 0x80 ? 1 : lead < 0xE0 ? 2 : lead < 0xF0 ? 3 : 4;
    return std::min(n, text.size() - at);
}

std::string one_character(const JsonNode& n) {
    auto text = n.text(16);
    if (!is_utf8(text) || characters_of(text).size() != 1) n.fault(in_quotes(text), "one character");
    return text;
}

std::uint8_t read_key_usage(JsonNode& n) {
    const auto child = n.required("key");
    const auto name = child.text(32);
    const auto usage = find_usage(hid::keyboard, name);
    if (!usage) child.fault(in_quotes(name), "a key's name such as \"a\", \"left-bracket\"");
    return static_cast<std::uint8_t>(*usage);
}

LayoutKey read_layout_key(JsonNode& n) {
    LayoutKey k;
    k.usage = read_key_usage(n);
    const auto types = n.required("types");
    std::size_t level = 0;
    for (const auto& t : types.elements(4)) {
        if (!t.text(16).empty()) k.types[level] = one_character(t);
        ++level;
    }
    if (const auto dead = n.member("dead"))
        for (const auto& d : dead->elements(4)) {
            const auto at = static_cast<std::size_t>(d.whole(0, 3));
            if (k.types[at].empty()) d.fault(d.shown(), "a place in types that has a character");
            k.dead[at] = true;
        }
    k.caps = n.flag("caps");
    return k;
}

KeyboardLayout read_layout(JsonNode& n) {
    KeyboardLayout out;
    out.id = n.required("id").text(64);
    out.name = n.required("name").text(200);
    out.source = n.required("source").text(1000);
    std::set<std::uint8_t> seen;
    for (auto& element : n.required("keys").elements(128)) {
        auto node = element;
        out.keys.push_back(read_layout_key(node));
        if (!seen.insert(out.keys.back().usage).second)
            element.fault("a key a second time", "each key once: layouts do not overlap themselves");
    }
    if (const auto accents = n.member("accents"))
        for (auto node : accents->elements(64)) {
            const auto accent = one_character(node.required("accent"));
            const auto letters = characters_of(node.required("letters").text(400));
            const auto child = node.required("results");
            const auto results = characters_of(child.text(800));
            if (letters.size() != results.size())
                child.fault(fmt::format("{} characters", results.size()),
                            fmt::format("{}, one for each letter", letters.size()));
            for (std::size_t i = 0; i < letters.size(); ++i)
                out.accents.push_back({accent, letters[i], results[i]});
        }
    return out;
}

}  // namespace

std::vector<std::string> characters_of(std::string_view text) {
    std::vector<std::string> out;
    for (std::size_t at = 0; at < text.size();) {
        const auto n = length_at(text, at);
        if (is_utf8(text.substr(at, n))) out.emplace_back(text.substr(at, n));
        at += n;
    }
    return out;
}

Result<KeyboardLayout> layout_from_json(std::string_view text, const std::string& file) {
    return read_json(text, file, "a keyboard layout as JSON", read_layout);
}

const LayoutKey* KeyboardLayout::find(std::uint8_t usage) const {
    const auto it = std::find_if(keys.begin(), keys.end(), [&](const auto& k) { return k.usage == usage; });
    return it == keys.end() ? nullptr : &*it;
}

namespace {

/// With the fewest modifiers; nothing when no key has it. `dead`: as an accent that waits, or as it stands.
std::optional<Stroke> stroke_of(const KeyboardLayout& layout, std::string_view character, bool dead) {
    for (std::size_t level = 0; level < 4; ++level)
        for (const auto& k : layout.keys)
            if (k.types[level] == character && k.dead[level] == dead)
                return Stroke{k.usage, (level & 1U) != 0, (level & 2U) != 0};
    return std::nullopt;
}

}  // namespace

std::vector<Stroke> KeyboardLayout::strokes_for(std::string_view character) const {
    if (character == "\n" || character == "\r") return {{0x28}};
    if (character == "\t") return {{0x2B}};
    if (character == " ") return {{hid::space}};
    if (const auto direct = stroke_of(*this, character, false)) return {*direct};
    if (const auto accent = stroke_of(*this, character, true)) return {*accent, {hid::space}};
    for (const auto& a : accents) {
        if (a.result != character) continue;
        const auto accent = stroke_of(*this, a.accent, true);
        const auto letter = stroke_of(*this, a.letter, false);
        if (accent && letter) return {*accent, *letter};
    }
    return {};
}

std::vector<std::string> KeyboardLayout::characters() const {
    std::vector<std::string> out{" "};
    std::set<std::string> seen{" "};
    const auto add = [&](const std::string& c) {
        if (!c.empty() && seen.insert(c).second) out.push_back(c);
    };
    for (const auto& k : keys)
        for (const auto& c : k.types) add(c);
    for (const auto& a : accents)
        if (!strokes_for(a.result).empty()) add(a.result);
    return out;
}

std::optional<std::string> KeyboardLayout::accented(std::string_view accent, std::string_view letter) const {
    if (letter == " ") return std::string(accent);
    for (const auto& a : accents)
        if (a.accent == accent && a.letter == letter) return a.result;
    return std::nullopt;
}

LayoutLibrary LayoutLibrary::load(FileSystem& files, const std::vector<std::filesystem::path>& folders) {
    LayoutLibrary out;
    out.problems = read_data_files(
        files, folders, "layouts", [&](const std::string& text, const std::string& path) -> Status {
            return layout_from_json(text, path).map([&](KeyboardLayout l) {
                std::erase_if(out.layouts, [&](const KeyboardLayout& old) { return old.id == l.id; });
                out.layouts.push_back(std::move(l));
            });
        });
    return out;
}

const KeyboardLayout* LayoutLibrary::find(std::string_view id) const {
    const auto it = std::find_if(layouts.begin(), layouts.end(), [&](const auto& l) { return l.id == id; });
    return it == layouts.end() ? nullptr : &*it;
}

std::string LayoutLibrary::ids() const {
    std::string out;
    for (const auto& l : layouts) out += (out.empty() ? "" : ", ") + l.id;
    return out;
}

}  // namespace grayrelic
