// SPDX-License-Identifier: GPL-3.0-or-later
// A read-only file mapped into memory: large captures are read from it without a copy.
#pragma once

#include <filesystem>
#include <string_view>

#include "core/base/result.hpp"

namespace grayrelic {

class MappedFile {
  public:
    /// Fails with a system error when the file is missing, unreadable or not a regular file.
    [[nodiscard]] static Result<MappedFile> open(const std::filesystem::path& path);
    MappedFile(MappedFile&& other) noexcept;
    MappedFile& operator=(MappedFile&& other) noexcept;
    MappedFile(const MappedFile&) = delete;
    MappedFile& operator=(const MappedFile&) = delete;
    ~MappedFile();
    [[nodiscard]] std::string_view text() const { return {data_, size_}; }

  private:
    MappedFile() = default;
    const char* data_ = nullptr;
    std::size_t size_ = 0;
};

}  // namespace grayrelic
