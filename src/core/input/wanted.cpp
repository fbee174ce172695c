// SPDX-License-Identifier: GPL-3.0-or-later
// What people wish for, and what legends say.
#include <algorithm>
#include <array>
#include <map>

#include "core/base/text.hpp"
#include "core/input/coverage.hpp"
#include "core/input/reports.hpp"

namespace grayrelic {
namespace {

const Profile* profile_of(const std::vector<Profile>& profiles, ProfileKind kind) {
    const auto it =
        std::find_if(profiles.begin(), profiles.end(), [&](const auto& p) { return p.kind == kind; });
    return it == profiles.end() ? nullptr : &*it;
}

Meaning meaning(const std::string& text) {
    return parse_meaning(text).value_or(Meaning{});
}

std::vector<Meaning> characters(std::string_view of) {
    std::vector<Meaning> out;
    for (const char c : of) out.push_back(meaning(std::string("text:") + c));
    return out;
}

std::vector<Meaning> all_of_pad(const Profile& p) {
    std::vector<Meaning> out;
    for (int i = 1; i <= p.buttons; ++i) out.push_back(meaning("button:" + std::to_string(i)));
    if (p.hat)
        for (const auto* d : {"up", "right", "down", "left"}) out.push_back(meaning(std::string("hat:") + d));
    constexpr std::array axes{"x", "y", "z", "rx", "ry", "rz", "slider", "dial"};
    for (int i = 0; i < p.axes; ++i)
        out.push_back(meaning(std::string("axis:") + axes.at(static_cast<std::size_t>(i))));
    return out;
}

}  // namespace

Profile least_profile(const std::vector<Meaning>& meanings) {
    int buttons = 0, axes = 0;
    bool hat = false, wheel = false;
    for (const auto& m : meanings) {
        if (m.kind == MeaningKind::media) return {ProfileKind::media};
        if (m.kind == MeaningKind::key || m.kind == MeaningKind::text) return {};
        if (m.usage.page == hid::buttons) buttons = std::max(buttons, static_cast<int>(m.usage.id));
        if (m.kind == MeaningKind::axis) axes = std::max(axes, m.usage.id - 0x2F);
        hat = hat || m.kind == MeaningKind::hat;
        wheel = wheel || m.usage.id == 0x38;
    }
    if (!meanings.empty() && meanings.front().kind == MeaningKind::pointer)
        return {ProfileKind::pointer, std::max(3, buttons), false, 0, wheel};
    return {ProfileKind::pad, std::max(buttons, 1), hat, axes, false};
}

std::vector<Meaning> wanted_meanings(std::string_view wish, const std::vector<Profile>& profiles) {
    std::string all;
    for (char c = '!'; c <= '~'; ++c) all += c;
    if (wish == "text") return characters(all);
    if (wish == "letters") return characters("ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz");
    if (wish == "digits") return characters("0123456789");
    const auto each = [](std::initializer_list<const char*> names) {
        std::vector<Meaning> out;
        for (const auto* n : names) out.push_back(meaning(n));
        return out;
    };
    if (wish == "media")
        return each({"media:volume-up", "media:volume-down", "media:mute", "media:play-pause"});
    if (wish == "arrows") return each({"key:up", "key:left", "key:down", "key:right"});
    if (wish == "pointer") return each({"pointer:x", "pointer:y", "pointer:left"});
    if (wish == "pad") {
        const auto* pad = profile_of(profiles, ProfileKind::pad);
        return all_of_pad(pad != nullptr ? *pad : Profile{ProfileKind::pad, 8, true, 2, false});
    }
    if (const auto m = parse_meaning(wish)) return {*m};
    return {};
}

namespace {

std::string upper(std::string_view text) {
    std::string out(trim(text));
    for (auto& c : out)
        if (c >= 'a' && c <= 'z') c = static_cast<char>(c - 'a' + 'A');
    return out;
}

std::string lower_letter(std::string text) {
    if (text.size() == 1 && text[0] >= 'A' && text[0] <= 'Z')
        text[0] = static_cast<char>(text[0] - 'A' + 'a');
    return text;
}

/// Legends as they are printed on old keys, and the usual key for each.
const std::map<std::string, const char*>& usual_legends() {
    static const std::map<std::string, const char*> list{{"RETURN", "key:enter"},
                                                         {"ENTER", "key:enter"},
                                                         {"RET", "key:enter"},
                                                         {"CR", "key:enter"},
                                                         {"LF", "key:down"},
                                                         {"SPACE", "key:space"},
                                                         {"ESC", "key:escape"},
                                                         {"ESCAPE", "key:escape"},
                                                         {"DEL", "key:backspace"},
                                                         {"DELETE", "key:backspace"},
                                                         {"RUBOUT", "key:backspace"},
                                                         {"BS", "key:backspace"},
                                                         {"BACKSPACE", "key:backspace"},
                                                         {"TAB", "key:tab"},
                                                         {"SHIFT", "key:left-shift"},
                                                         {"CTRL", "key:left-control"},
                                                         {"CONTROL", "key:left-control"},
                                                         {"ALT", "key:left-alt"},
                                                         {"CAPS LOCK", "key:caps-lock"},
                                                         {"CAPS", "key:caps-lock"},
                                                         {"LOCK", "key:caps-lock"},
                                                         {"HOME", "key:home"},
                                                         {"CLR", "key:delete"},
                                                         {"CLEAR", "key:delete"},
                                                         {"INS", "key:insert"},
                                                         {"INSERT", "key:insert"},
                                                         {"END", "key:end"},
                                                         {"PGUP", "key:page-up"},
                                                         {"PGDN", "key:page-down"},
                                                         {"BREAK", "key:pause"},
                                                         {"PAUSE", "key:pause"},
                                                         {"HELP", "key:help"},
                                                         {"UNDO", "key:undo"},
                                                         {"PRINT", "key:print-screen"},
                                                         {"UP", "key:up"},
                                                         {"DOWN", "key:down"},
                                                         {"LEFT", "key:left"},
                                                         {"RIGHT", "key:right"},
                                                         {"↑", "key:up"},
                                                         {"↓", "key:down"},
                                                         {"←", "key:left"},
                                                         {"→", "key:right"},
                                                         {"00", "key:pad-00"},
                                                         {"000", "key:pad-000"},
                                                         {"STOP", "key:escape"}};
    return list;
}

std::optional<Meaning> on_pad(const std::string& legend, const Profile& pad) {
    static const std::map<std::string, const char*> hats{
        {"UP", "hat:up"}, {"DOWN", "hat:down"}, {"LEFT", "hat:left"}, {"RIGHT", "hat:right"},
        {"↑", "hat:up"},  {"↓", "hat:down"},    {"←", "hat:left"},    {"→", "hat:right"}};
    if (const auto it = hats.find(legend); pad.hat && it != hats.end()) return meaning(it->second);
    if (legend == "DIAL" && pad.axes > 0) return meaning("axis:x");
    if (legend == "FIRE" && pad.buttons > 0) return meaning("button:1");
    if (legend.size() == 1 && legend[0] >= 'A' && legend[0] <= 'H' && legend[0] - 'A' < pad.buttons)
        return meaning("button:" + std::to_string(legend[0] - 'A' + 1));
    if (legend.size() <= 2 && !legend.empty() &&
        std::all_of(legend.begin(), legend.end(), [](char c) { return c >= '0' && c <= '9'; }))
        if (const int n = std::stoi(legend); n >= 1 && n <= pad.buttons) return meaning("button:" + legend);
    return std::nullopt;
}

}  // namespace

static std::optional<Meaning> legend_meaning(const MapKey& key, const std::vector<Profile>& profiles,
                                             const KeyboardLayout* layout) {
    const auto legend = upper(key.legend);
    if (legend.empty()) return std::nullopt;
    const auto* pad = profile_of(profiles, ProfileKind::pad);
    if (pad != nullptr)
        if (auto m = on_pad(legend, *pad)) return m;
    if (pad != nullptr && profile_of(profiles, ProfileKind::keyboard) == nullptr) return std::nullopt;
    if (const auto it = usual_legends().find(legend); it != usual_legends().end()) return meaning(it->second);
    if (legend.size() >= 2 && legend[0] == 'F')
        if (const auto m = parse_meaning("key:f" + legend.substr(1))) return *m;
    const auto plain = characters_of(trim(key.legend));
    if (plain.size() != 1) return std::nullopt;
    // A key that tells its release can be a key; a character is what stands on it.
    if (layout != nullptr && key.sends != KeySends::press) {
        const auto strokes = layout->strokes_for(lower_letter(plain.front()));
        if (strokes.size() == 1 && !strokes.front().shift && !strokes.front().alt)
            return Meaning{MeaningKind::key, {hid::keyboard, strokes.front().key}};
    }
    if (layout == nullptr && key.sends != KeySends::press)
        if (const auto m = parse_meaning("key:" + lower_letter(plain.front()))) return *m;
    return meaning("text:" + plain.front());
}

std::optional<Meaning> propose_meaning(const MapKey& key, const std::vector<Profile>& profiles,
                                       const KeyboardLayout* layout) {
    auto m = legend_meaning(key, profiles, layout);
    // What nothing carries is no help.
    if (m && !profiles.empty() &&
        std::none_of(profiles.begin(), profiles.end(), [&](const Profile& p) { return carries(p, *m); }))
        return std::nullopt;
    return m;
}

}  // namespace grayrelic
