// SPDX-License-Identifier: GPL-3.0-or-later
// Which usage a key of the person's own keyboard has, for assigning by pressing.
#pragma once

#include <optional>

#include "core/input/layout.hpp"
#include "core/input/meaning.hpp"

class QKeyEvent;

namespace grayrelic::app {

/// By the key's own meaning where it has one (arrows, function keys, modifiers), else by the character that
/// it types in the host's layout; nothing where neither tells.
[[nodiscard]] std::optional<Meaning> meaning_of_press(const QKeyEvent& event, const KeyboardLayout* layout);

}  // namespace grayrelic::app
