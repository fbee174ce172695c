// SPDX-License-Identifier: GPL-3.0-or-later
// What was read of a large capture, kept for the next start: edges as they stand in memory, so that the copy
// is mapped and not read. Only a copy: it can be deleted at any time, and what does not fit its file is not
// used.
#pragma once

#include <filesystem>

#include "core/capture/import_options.hpp"

namespace grayrelic {

/// Files smaller than this are read at once anyway.
inline constexpr std::uint64_t least_cached = 2U << 20U;
/// Above this many bytes the folder is emptied, the longest unused first.
inline constexpr std::uint64_t most_cached = 4ULL << 30U;

/// read_capture_file() with a copy in `folder` (nowhere when empty). The copy belongs to this path, size,
/// time of change and way of reading. That it can't be written is no error.
[[nodiscard]] Result<Capture> read_capture_cached(const std::filesystem::path& path, const ReadAs& read_as,
                                                  const CaptureOptions& options,
                                                  const std::filesystem::path& folder, Progress& progress);

/// The copy alone; nothing when there is none that fits.
[[nodiscard]] std::optional<Capture> read_kept_capture(const std::filesystem::path& path,
                                                       const ReadAs& read_as,
                                                       const std::filesystem::path& folder);
/// Writes the copy. Made before the file is read: keeps nothing when the file has changed since.
class CaptureKeeper {
  public:
    CaptureKeeper(const std::filesystem::path& path, const ReadAs& read_as, std::filesystem::path folder);
    void keep(const Capture& capture) const;

  private:
    std::filesystem::path path_;
    ReadAs read_as_;
    std::filesystem::path folder_;
    std::string of_;
};

}  // namespace grayrelic
