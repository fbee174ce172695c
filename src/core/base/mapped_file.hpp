// SPDX-License-Identifier: GPL-3.0-or-later
// A whole file as memory, read-only, its pages fetched by the system as they are touched. Only for files that
// nobody writes in place: one that is cut short while it is mapped ends the program.
#pragma once

#include <filesystem>
#include <memory>
#include <string_view>

namespace grayrelic {

class MappedFile {
  public:
    /// Null when it is empty or can't be mapped.
    [[nodiscard]] static std::shared_ptr<const MappedFile> open(const std::filesystem::path& path);
    MappedFile(const MappedFile&) = delete;
    MappedFile& operator=(const MappedFile&) = delete;
    ~MappedFile();
    [[nodiscard]] std::string_view bytes() const { return {data_, size_}; }  ///< begins at a page

  private:
    MappedFile(const char* data, std::size_t size) : data_(data), size_(size) {}
    const char* data_;
    std::size_t size_;
};

}  // namespace grayrelic
