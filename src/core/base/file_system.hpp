// SPDX-License-Identifier: GPL-3.0-or-later
// The seam between the core and the disk. Everything that writes goes through a FileSystem, so that a test
// can make any write, flush or rename fail; the real one is disk().
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include "core/base/result.hpp"

namespace grayrelic {

class FileSystem {
  public:
    FileSystem() = default;
    FileSystem(const FileSystem&) = delete;
    FileSystem& operator=(const FileSystem&) = delete;
    virtual ~FileSystem() = default;

    /// The whole file; an error when it is missing, no regular file, or larger than the limit in bytes.
    [[nodiscard]] virtual Result<std::string> read(const std::filesystem::path& path, std::size_t limit) = 0;
    /// Creates or truncates a file, writes all bytes and flushes them to the disk.
    [[nodiscard]] virtual Status write_and_flush(const std::filesystem::path& path,
                                                 std::string_view bytes) = 0;
    [[nodiscard]] virtual Status rename(const std::filesystem::path& from,
                                        const std::filesystem::path& to) = 0;
    /// Makes a rename within the folder survive a power cut.
    [[nodiscard]] virtual Status flush_folder(const std::filesystem::path& folder) = 0;
    [[nodiscard]] virtual Status make_folder(const std::filesystem::path& folder) = 0;
    virtual void remove(const std::filesystem::path& path) = 0;
};

/// The machine's own disk.
[[nodiscard]] FileSystem& disk();

/// Replaces a file as a whole or not at all: writes NAME.part beside it, flushes, renames, flushes the
/// folder.
[[nodiscard]] Status write_atomically(FileSystem& files, const std::filesystem::path& path,
                                      std::string_view bytes);

}  // namespace grayrelic
