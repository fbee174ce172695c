// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/typing.hpp"

#include "core/input/usages.hpp"

namespace grayrelic {
namespace {

std::uint8_t modifiers_of(const Stroke& stroke, const KeyboardLayout& layout, bool caps) {
    const auto* key = layout.find(stroke.key);
    const bool turned = caps && key != nullptr && key->caps && !stroke.alt;
    const auto bit = [](std::uint8_t modifier) {
        return static_cast<std::uint8_t>(1U << (modifier - hid::first_modifier));
    };
    std::uint8_t out = 0;
    if (stroke.shift != turned) out |= bit(hid::left_shift);
    if (stroke.alt) out |= bit(hid::right_alt);
    return out;
}

}  // namespace

TypedText type_text(std::string_view text, const KeyboardLayout& layout, bool merge, bool caps) {
    TypedText out;
    std::uint8_t held = 0;
    const auto report = [&](std::uint8_t key) { out.reports.push_back({held, 0, key, 0, 0, 0, 0, 0}); };
    const auto hold = [&](std::uint8_t modifiers) {
        if (held == modifiers) return;
        held = modifiers;
        report(0);
    };
    for (const auto& c : characters_of(text)) {
        const auto strokes = layout.strokes_for(c);
        if (strokes.empty()) out.unreachable.push_back(c);
        for (const auto& s : strokes) {
            hold(modifiers_of(s, layout, caps));
            report(s.key);
            report(0);
            if (!merge) hold(0);
        }
        out.ends.push_back(out.reports.size());
    }
    hold(0);
    if (!out.ends.empty()) out.ends.back() = out.reports.size();
    return out;
}

}  // namespace grayrelic
