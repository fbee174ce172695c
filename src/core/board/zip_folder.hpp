// SPDX-License-Identifier: GPL-3.0-or-later
// The files of a folder or of a zip archive, held in memory and never written anywhere.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

struct PackedFile {
    std::string name;  ///< below the folder or in the archive, with /
    std::string text;
};

struct PackedFolder {
    std::vector<PackedFile> files;  ///< by name
    std::vector<Error> problems;  ///< entries that were left out: paths that lead outside, too large, damaged
};

struct PackedLimits {
    std::size_t files = 500;
    std::size_t bytes = 128U << 20U;  ///< of one file
    std::size_t total = 512U << 20U;  ///< of all, expanded
    std::size_t archive = 256U << 20U;
    std::size_t ratio = 1000;  ///< expanded to packed, above a megabyte: no layer packs like that
};

/// A folder (its files, and those of folders within, three deep; hidden ones left out) or a zip archive.
/// Refused where it is neither; single entries that cannot be taken are problems.
[[nodiscard]] Result<PackedFolder> read_packed(const std::filesystem::path& path, Progress& progress,
                                               const PackedLimits& limits = {});
/// Of an archive's bytes. `name` is for messages.
[[nodiscard]] Result<PackedFolder> read_zip(std::string_view bytes, const std::string& name,
                                            Progress& progress, const PackedLimits& limits = {});
/// The files as a zip archive, alike for alike files: for a folder that is taken into a dossier.
[[nodiscard]] Result<std::string> pack(const PackedFolder& folder);
/// Why an entry's name must not be followed: absolute, with .. or a drive, or with control characters; empty
/// for fine.
[[nodiscard]] std::string outside_problem(std::string_view name);

}  // namespace grayrelic
