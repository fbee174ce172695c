// SPDX-License-Identifier: GPL-3.0-or-later
// Clock sources of the era, as data: crystals, subcarriers, resonators (docs/formats/clocks.md).
#pragma once

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

struct ClockSource {
    std::string name;  ///< "4 × PAL colour subcarrier"
    double hz = 0;
    double tolerance_ppm = 50;
    double weight = 1;  ///< how usual, above 0 to 1
};

struct ClockLibrary {
    std::vector<ClockSource> sources;  ///< in the files' order
    std::vector<Error> problems;
    /// FOLDER/clocks/*.json; a file with the id of an earlier one takes its place.
    [[nodiscard]] static ClockLibrary load(FileSystem& files,
                                           const std::vector<std::filesystem::path>& folders);
};
struct ClockFile {
    std::string id;
    std::vector<ClockSource> sources;
};
[[nodiscard]] Result<ClockFile> clocks_from_json(std::string_view text, const std::string& file);

}  // namespace grayrelic
