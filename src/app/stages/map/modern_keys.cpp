// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/modern_keys.hpp"

#include <QKeyEvent>

#include <map>

namespace grayrelic::app {
namespace {

const std::map<int, const char*>& own_keys() {
    static const std::map<int, const char*> list{{Qt::Key_Return, "key:enter"},
                                                 {Qt::Key_Enter, "key:pad-enter"},
                                                 {Qt::Key_Escape, "key:escape"},
                                                 {Qt::Key_Backspace, "key:backspace"},
                                                 {Qt::Key_Tab, "key:tab"},
                                                 {Qt::Key_Backtab, "key:left-shift+tab"},
                                                 {Qt::Key_Space, "key:space"},
                                                 {Qt::Key_CapsLock, "key:caps-lock"},
                                                 {Qt::Key_Print, "key:print-screen"},
                                                 {Qt::Key_ScrollLock, "key:scroll-lock"},
                                                 {Qt::Key_Pause, "key:pause"},
                                                 {Qt::Key_Insert, "key:insert"},
                                                 {Qt::Key_Home, "key:home"},
                                                 {Qt::Key_PageUp, "key:page-up"},
                                                 {Qt::Key_Delete, "key:delete"},
                                                 {Qt::Key_End, "key:end"},
                                                 {Qt::Key_PageDown, "key:page-down"},
                                                 {Qt::Key_Right, "key:right"},
                                                 {Qt::Key_Left, "key:left"},
                                                 {Qt::Key_Down, "key:down"},
                                                 {Qt::Key_Up, "key:up"},
                                                 {Qt::Key_NumLock, "key:num-lock"},
                                                 {Qt::Key_Menu, "key:menu"},
                                                 {Qt::Key_Control, "key:left-control"},
                                                 {Qt::Key_Shift, "key:left-shift"},
                                                 {Qt::Key_Alt, "key:left-alt"},
                                                 {Qt::Key_AltGr, "key:right-alt"},
                                                 {Qt::Key_Meta, "key:left-meta"},
                                                 {Qt::Key_Help, "key:help"},
                                                 {Qt::Key_VolumeUp, "media:volume-up"},
                                                 {Qt::Key_VolumeDown, "media:volume-down"},
                                                 {Qt::Key_VolumeMute, "media:mute"},
                                                 {Qt::Key_MediaTogglePlayPause, "media:play-pause"}};
    return list;
}

}  // namespace

std::optional<Meaning> meaning_of_press(const QKeyEvent& event, const KeyboardLayout* layout) {
    if (const auto it = own_keys().find(event.key()); it != own_keys().end()) {
        const auto m = parse_meaning(it->second);
        return m ? std::optional(*m) : std::nullopt;
    }
    if (event.key() >= Qt::Key_F1 && event.key() <= Qt::Key_F24)
        if (const auto m = parse_meaning("key:f" + std::to_string(event.key() - Qt::Key_F1 + 1))) return *m;
    const auto typed = event.text().isEmpty()
                           ? QString(QChar(event.key() < 0x10000 ? static_cast<char16_t>(event.key()) : u' '))
                           : event.text();
    // The key itself, whatever modifiers are held with it.
    if (layout != nullptr)
        for (const auto& c : {typed, typed.toLower()})
            if (const auto strokes = layout->strokes_for(c.toStdString()); strokes.size() == 1)
                return Meaning{MeaningKind::key, {hid::keyboard, strokes.front().key}};
    const auto m = parse_meaning(("key:" + typed.toLower()).toStdString());
    return m ? std::optional(*m) : std::nullopt;
}

}  // namespace grayrelic::app
