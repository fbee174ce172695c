// SPDX-License-Identifier: GPL-3.0-or-later
// A part of the person's own, entered in one line and kept as a file beside the shipped ones:
//
//   new my-latch dip-8 family=hct: 1 IN in, 2 CLK in, 4 GND ground, 7 Q out, 8 VCC supply
//
// Behind the id a package and, as KEY=VALUE, `family`, `function`, and what PartElectrical has (`ohm=7`).
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include "core/base/file_system.hpp"
#include "core/parts/part.hpp"

namespace grayrelic {

struct OwnPart {
    PartType part;
    std::string json;  ///< as it is kept
};

[[nodiscard]] Result<OwnPart> own_part(std::string_view line);
/// In parts/ID.json below the person's folder; one that is there already is refused.
[[nodiscard]] Status keep_own_part(FileSystem& files, const std::filesystem::path& person_folder,
                                   const OwnPart& part);

}  // namespace grayrelic
