// SPDX-License-Identifier: GPL-3.0-or-later
// How long what stands in a dossier may be. Fields, imports and readers take their limits from here, so that
// what can be entered can be saved and opened again (core/dossier/storable.hpp proves it for each edit).
#pragma once

#include <cstddef>

namespace grayrelic {

/// Bytes of one text: a note, a name for people, a line of a net list.
inline constexpr std::size_t most_text = 100'000;
/// Bytes of what things are found by: ids, numbers of pins, names of signals as dumps may have them.
inline constexpr std::size_t most_name = 4'096;

}  // namespace grayrelic
