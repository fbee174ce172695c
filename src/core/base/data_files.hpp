// SPDX-License-Identifier: GPL-3.0-or-later
// Data files that people extend: all JSON files of a folder, shipped ones first, the person's own after them.
#pragma once

#include <algorithm>
#include <filesystem>
#include <string>
#include <vector>

#include "core/base/file_system.hpp"

namespace grayrelic {

inline constexpr std::size_t most_data_bytes = 1U << 20U;
inline constexpr std::size_t most_data_files = 5000;

/// Calls read(text, path) for FOLDER/kind/*.json of each folder in turn, by name within a folder; read gives
/// a Status. What can't be read is collected and the rest goes on. A missing folder is empty.
template <class Read>
[[nodiscard]] std::vector<Error> read_data_files(FileSystem& files,
                                                 const std::vector<std::filesystem::path>& folders,
                                                 std::string_view kind, Read read) {
    namespace fs = std::filesystem;
    std::vector<Error> problems;
    for (const auto& folder : folders) {
        if (folder.empty()) continue;
        std::vector<fs::path> paths;
        std::error_code code;
        for (fs::directory_iterator it(folder / kind, code), end;
             !code && it != end && paths.size() < most_data_files; it.increment(code))
            if (it->path().extension() == ".json") paths.push_back(it->path());
        std::sort(paths.begin(), paths.end());
        for (const auto& path : paths) {
            auto text = files.read(path, most_data_bytes);
            if (!text) {
                problems.push_back(text.error());
                continue;
            }
            if (auto done = read(std::move(*text), path.string()); !done) problems.push_back(done.error());
        }
    }
    return problems;
}

}  // namespace grayrelic
