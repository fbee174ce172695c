// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes that are read in pieces, from any thread: a large capture is never held whole. Read through the file
// descriptor and not through a mapping, so that a file that shrinks meanwhile is a short read and no crash.
#pragma once

#include <algorithm>
#include <cstdint>
#include <filesystem>
#include <memory>
#include <span>
#include <string_view>

#include "core/base/result.hpp"

namespace grayrelic {

class ByteSource {
  public:
    virtual ~ByteSource() = default;
    [[nodiscard]] virtual std::uint64_t size() const = 0;
    /// Fills `into` from `offset` on and returns how many bytes were there: fewer only at the end.
    [[nodiscard]] virtual Result<std::size_t> read_at(std::uint64_t offset, std::span<char> into) const = 0;
};

/// Over text that outlives it.
class MemorySource final : public ByteSource {
  public:
    explicit MemorySource(std::string_view text) : text_(text) {}
    [[nodiscard]] std::uint64_t size() const override { return text_.size(); }
    [[nodiscard]] Result<std::size_t> read_at(std::uint64_t offset, std::span<char> into) const override;

  private:
    std::string_view text_;
};

/// The beginning of another one, which it refers to.
class HeadOfSource final : public ByteSource {
  public:
    HeadOfSource(const ByteSource& whole, std::uint64_t size) : whole_(whole), size_(size) {}
    [[nodiscard]] std::uint64_t size() const override { return size_; }
    [[nodiscard]] Result<std::size_t> read_at(std::uint64_t offset, std::span<char> into) const override {
        if (offset >= size_) return std::size_t{0};
        return whole_.read_at(
            offset,
            into.first(static_cast<std::size_t>(std::min<std::uint64_t>(into.size(), size_ - offset))));
    }

  private:
    const ByteSource& whole_;
    std::uint64_t size_;
};

/// Where the last line that has an end ends, looked for in the last megabyte; the size where there is none.
[[nodiscard]] std::uint64_t end_of_whole_lines(const ByteSource& source);

/// Over a regular file.
class FileSource final : public ByteSource {
  public:
    /// Fails with a system error when the file is missing, unreadable or not a regular file.
    [[nodiscard]] static Result<std::unique_ptr<FileSource>> open(const std::filesystem::path& path);
    ~FileSource() override;
    FileSource(const FileSource&) = delete;
    FileSource& operator=(const FileSource&) = delete;
    [[nodiscard]] std::uint64_t size() const override { return size_; }
    [[nodiscard]] Result<std::size_t> read_at(std::uint64_t offset, std::span<char> into) const override;

  private:
    FileSource(int fd, std::uint64_t size, std::string name) : fd_(fd), size_(size), name_(std::move(name)) {}
    int fd_;
    std::uint64_t size_;  ///< when it was opened
    std::string name_;
};

/// 1 + the line ends before `offset`: the line number that a message shows.
[[nodiscard]] long line_at(const ByteSource& source, std::uint64_t offset);

}  // namespace grayrelic
