// SPDX-License-Identifier: GPL-3.0-or-later
// What the window that is killed and the one who looks at what is left agree on: the texts that edits leave
// in the dossier, and the log of what was begun and what was acknowledged.
#pragma once

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <string>

#include "core/base/random.hpp"

namespace grayrelic::soak {

/// How a process that was not killed ended.
enum Ending { done = 0, no_log = 5, not_opened = 6, said_something = 7, asked_about_others = 8 };

inline std::int64_t now_us() {
    return std::chrono::duration_cast<std::chrono::microseconds>(
               std::chrono::steady_clock::now().time_since_epoch())
        .count();
}

/// The purpose after this edit. Its length follows from the number, so that a part of it is not taken for the
/// whole.
inline std::string text_of(long number) {
    Random random(static_cast<std::uint64_t>(number));
    const auto length = random.next() % 10 == 0 ? random.next() % 60'000 : random.next() % 2'000;
    return "edit " + std::to_string(number) + " " + std::string(length, '.');
}

/// The number of the edit that a purpose shows; 0 for the text of a dossier that was not edited, −1 for part
/// of an edit.
inline long number_of(const std::string& purpose) {
    if (!purpose.starts_with("edit ")) return 0;
    const auto number = std::stol(purpose.substr(5));
    return purpose == text_of(number) ? number : -1;
}

inline const char* dossier_folder = "pad.relic";
inline const char* log_file = "log";

/// Each line of the log: one of these, the number of the edit, and the time in µs.
enum Mark : char {
    begun = 'a',    ///< an edit is about to be made
    made = 'b',     ///< the window has it
    kept = 'k',     ///< everything so far is in the journal, says the program
    saving = 's',   ///< a save begins
    saved = 'S',    ///< the window says that it is saved
    refused = 'n',  ///< the save says that it failed
    opened = 'o',   ///< the window has opened the dossier, with what was left
};

/// Edits and saves in a real window until it is killed: see window.cpp.
int edit_until_killed(const std::filesystem::path& folder, std::uint64_t seed);
/// A short session of edits, saves and a capture that is brought in, with acknowledgements, for a disk that
/// fails.
int edit_for_a_while(const std::filesystem::path& folder);

}  // namespace grayrelic::soak
