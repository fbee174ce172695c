// SPDX-License-Identifier: GPL-3.0-or-later
// Plays the Calder counter keypad: 47 keys on a bare foil matrix of 6 × 9, strobed by a test rig while a hand
// presses one key after the other. Contacts bounce; ENTER and STOP stand twice on the keypad.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/base/time.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic::standin {

struct KeypadKey {
    std::string legend;
    double x = 0, y = 0;  ///< in usual key widths
    int row = 0, column = 0;
};
/// In the order in which the hand walks.
[[nodiscard]] const std::vector<KeypadKey>& counter_keypad();

struct KeypadWalk {
    std::uint64_t seed = 1;
    Time scan = Time::ms(5);
    Time hold = Time::ms(120), between = Time::ms(90);
    double sample_hz = 1e6;
};
struct KeypadPress {
    std::string legend;
    Time from, to;
};
/// When each key is held, in the order of counter_keypad().
[[nodiscard]] std::vector<KeypadPress> presses_of(const KeypadWalk& walk);
/// The job: the drawn device with what its keys become, the matrix, the walk. Two honest mistakes are in it:
/// a key that the boot keyboard has not, and three keys held together that fake a fourth.
[[nodiscard]] Dossier counter_keypad_dossier();
/// The capture as a value change dump: R0 … R5 active low, C0 … C8 pulled up. Same walk, same bytes.
[[nodiscard]] std::string record_keypad_walk(const KeypadWalk& walk);

}  // namespace grayrelic::standin
