// SPDX-License-Identifier: GPL-3.0-or-later
// The sound tile's job: a replica of the computer's tone chip as two boards, a tile in the chip's socket and
// a test board with the colour ladder over it, whose layout has two roles.
#pragma once

#include <map>
#include <string>

#include "core/base/result.hpp"
#include "core/dossier/dossier.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic::standin {

struct SoundTile {
    Dossier dossier;
    /// By Fabrication::id: file names to texts, each board laid out from its own circuit.
    std::map<std::string, std::map<std::string, std::string>> boards;
};
/// The test board is placed so that the headers stand over each other.
[[nodiscard]] Result<SoundTile> make_sound_tile(const DataLibrary& data);

}  // namespace grayrelic::standin
