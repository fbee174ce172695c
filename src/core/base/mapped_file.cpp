// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/mapped_file.hpp"

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

namespace grayrelic {

std::shared_ptr<const MappedFile> MappedFile::open(const std::filesystem::path& path) {
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (file < 0) return nullptr;
    struct stat about {};
    void* data = MAP_FAILED;
    std::size_t size = 0;
    if (::fstat(file, &about) == 0 && S_ISREG(about.st_mode) && about.st_size > 0) {
        size = static_cast<std::size_t>(about.st_size);
        data = ::mmap(nullptr, size, PROT_READ, MAP_PRIVATE | MAP_POPULATE, file, 0);
    }
    ::close(file);
    if (data == MAP_FAILED) return nullptr;
    return std::shared_ptr<const MappedFile>(new MappedFile(static_cast<const char*>(data), size));
}

MappedFile::~MappedFile() {
    ::munmap(const_cast<char*>(data_), size_);
}

}  // namespace grayrelic
