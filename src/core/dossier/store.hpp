// SPDX-License-Identifier: GPL-3.0-or-later
// A dossier on disk: the folder NAME.relic/ with dossier.json and captures/. Saving replaces dossier.json as
// a whole or not at all; captures are copied in first and never overwrite another file.
#pragma once

#include <filesystem>

#include "core/base/file_system.hpp"
#include "core/base/progress.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

inline constexpr const char* dossier_file = "dossier.json";
inline constexpr std::size_t most_dossier_bytes = 64U << 20U;

/// The folder of a dossier that a person named by its folder or by its dossier.json.
[[nodiscard]] std::filesystem::path dossier_folder(const std::filesystem::path& named);

[[nodiscard]] Result<Dossier> load_dossier(const std::filesystem::path& folder, FileSystem& files = disk());

/// Saves into `folder`. Captures come from `old_folder` (where the dossier was opened; empty for a new one)
/// or from outside. Gives back the dossier as saved: captures that were outside are inside now. When the
/// folder it was opened from is gone, saving there fails; saving elsewhere saves all but the captures that
/// went with it.
[[nodiscard]] Result<Dossier> save_dossier(const Dossier& dossier, const std::filesystem::path& folder,
                                           const std::filesystem::path& old_folder, FileSystem& files,
                                           Progress& progress);
[[nodiscard]] Result<Dossier> save_dossier(const Dossier& dossier, const std::filesystem::path& folder,
                                           const std::filesystem::path& old_folder,
                                           FileSystem& files = disk());

/// The two halves of a save, for whoever must do something in between: first captures and
/// photos and what the dossier will be, then dossier.json itself.
[[nodiscard]] Result<Dossier> bring_files_in(const Dossier& dossier, const std::filesystem::path& folder,
                                             const std::filesystem::path& old_folder, FileSystem& files,
                                             Progress& progress);
[[nodiscard]] Status write_dossier(const Dossier& dossier, const std::filesystem::path& folder,
                                   FileSystem& files = disk());

/// Makes an empty dossier in a new or empty folder.
[[nodiscard]] Result<Dossier> new_dossier(const std::filesystem::path& folder, const std::string& name,
                                          FileSystem& files = disk());

/// Where a photo's bytes are; fails as capture_path does.
[[nodiscard]] Result<std::filesystem::path> photo_path(const Photo& photo,
                                                       const std::filesystem::path& folder);
/// Where a scan's bytes are; fails as capture_path does.
[[nodiscard]] Result<std::filesystem::path> scan_path(const Scan& scan, const std::filesystem::path& folder);
/// Where a capture's bytes are. Fails when the file is missing or a link leads out of the folder.
/// Where a zip or folder of fabrication files is; fails as capture_path does.
[[nodiscard]] Result<std::filesystem::path> board_path(const Fabrication& board,
                                                       const std::filesystem::path& folder);
[[nodiscard]] Result<std::filesystem::path> outline_path(const FitOutline& outline,
                                                         const std::filesystem::path& folder);
/// Where an image's bytes are; fails as capture_path does.
[[nodiscard]] Result<std::filesystem::path> image_path(const ImageFile& image,
                                                       const std::filesystem::path& folder);
[[nodiscard]] Result<std::filesystem::path> capture_path(const CaptureRef& capture,
                                                         const std::filesystem::path& folder);

}  // namespace grayrelic
