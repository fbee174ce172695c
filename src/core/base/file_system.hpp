// SPDX-License-Identifier: GPL-3.0-or-later
// The seam between the core and the disk. Everything that writes goes through a FileSystem, so that a test
// can make any write, flush or rename fail; the real one is disk().
#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

#include "core/base/result.hpp"

namespace grayrelic {

/// A file open for writing; closed when it goes.
class FileWriter {
  public:
    FileWriter() = default;
    FileWriter(const FileWriter&) = delete;
    FileWriter& operator=(const FileWriter&) = delete;
    virtual ~FileWriter() = default;
    [[nodiscard]] virtual Status write(std::string_view bytes) = 0;
    /// What was written survives a power cut after this.
    [[nodiscard]] virtual Status flush() = 0;
};

class FileSystem {
  public:
    FileSystem() = default;
    FileSystem(const FileSystem&) = delete;
    FileSystem& operator=(const FileSystem&) = delete;
    virtual ~FileSystem() = default;

    /// The whole file; an error when it is missing, no regular file, or larger than the limit in bytes.
    [[nodiscard]] virtual Result<std::string> read(const std::filesystem::path& path, std::size_t limit) = 0;
    /// Creates a file or empties it.
    [[nodiscard]] virtual Result<std::unique_ptr<FileWriter>> create(const std::filesystem::path& path) = 0;
    /// Creates a file; null where something is already, even a link to nowhere.
    [[nodiscard]] virtual Result<std::unique_ptr<FileWriter>> create_new(
        const std::filesystem::path& path) = 0;
    [[nodiscard]] virtual Status rename(const std::filesystem::path& from,
                                        const std::filesystem::path& to) = 0;
    /// Makes a rename within the folder survive a power cut.
    [[nodiscard]] virtual Status flush_folder(const std::filesystem::path& folder) = 0;
    [[nodiscard]] virtual Status make_folder(const std::filesystem::path& folder) = 0;
    [[nodiscard]] virtual bool exists(const std::filesystem::path& path) = 0;
    virtual void remove(const std::filesystem::path& path) = 0;
};

/// The machine's own disk.
[[nodiscard]] FileSystem& disk();

/// Whose a file is that already has the name of the part.
enum class PartName {
    free,  ///< somebody's: another name is taken, NAME.2.part …
    ours,  ///< left by a program that ended early, in a folder that we alone write to: replaced
};

/// Replaces a file as a whole or not at all: what is written goes into NAME.part beside it; commit() flushes,
/// renames and flushes the folder. Without a commit the part is removed and the old file stays.
class AtomicFile {
  public:
    [[nodiscard]] static Result<AtomicFile> open(FileSystem& files, std::filesystem::path path,
                                                 PartName name = PartName::free);
    AtomicFile(AtomicFile&& other) noexcept;
    AtomicFile& operator=(AtomicFile&&) = delete;
    AtomicFile(const AtomicFile&) = delete;
    AtomicFile& operator=(const AtomicFile&) = delete;
    ~AtomicFile();
    [[nodiscard]] Status write(std::string_view bytes) { return writer_->write(bytes); }
    [[nodiscard]] Status commit();

  private:
    AtomicFile(FileSystem& files, std::filesystem::path path) : files_(&files), path_(std::move(path)) {}
    FileSystem* files_;
    std::filesystem::path path_;
    std::filesystem::path part_;
    std::unique_ptr<FileWriter> writer_;
};

/// AtomicFile with all bytes at once.
[[nodiscard]] Status write_atomically(FileSystem& files, const std::filesystem::path& path,
                                      std::string_view bytes, PartName name = PartName::free);

}  // namespace grayrelic
