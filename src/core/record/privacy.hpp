// SPDX-License-Identifier: GPL-3.0-or-later
// What must not be published: who one is, where one lives, what one's machine is called.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

struct PrivateHit {
    std::string file;
    long line = 0;      ///< from 1; 0 in a file that is no text
    std::string what;   ///< "an e-mail address", "a path in somebody's home"
    std::string found;  ///< as it stands there, shortened
};

/// Words of the person and the machine: the name to log in, the machine's. Shorter than three letters: not
/// looked for.
struct PrivateWords {
    std::vector<std::string> words;
};

/// The name that one is logged in by, and the machine's, but for those that everybody has.
[[nodiscard]] PrivateWords words_of_machine();

inline constexpr std::size_t most_private_hits = 200;

/// A text is searched line by line: e-mail addresses, paths in a home folder, the words (whole, whatever the
/// case). A picture (PNG, JPEG) for what a camera or program wrote into it beside the picture. A zip archive
/// file by file. Of other files only plain text inside is looked at.
[[nodiscard]] std::vector<PrivateHit> private_things(std::string_view bytes, const std::string& name,
                                                     const PrivateWords& words, Progress& progress);

}  // namespace grayrelic
