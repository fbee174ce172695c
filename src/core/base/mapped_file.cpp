// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/mapped_file.hpp"

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <utility>

namespace grayrelic {

Result<MappedFile> MappedFile::open(const std::filesystem::path& path) {
    const auto refused = [&](std::string found) {
        return fail_system(path.string(), std::move(found), "a readable file");
    };
    const int fd = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (fd < 0) return refused(std::strerror(errno));
    struct stat info {};
    const bool known = ::fstat(fd, &info) == 0;
    if (!known || !S_ISREG(info.st_mode)) {
        ::close(fd);
        return refused(known ? "something that is no file" : std::strerror(errno));
    }
    MappedFile file;
    file.size_ = static_cast<std::size_t>(info.st_size);
    if (file.size_ > 0) {
        void* p = ::mmap(nullptr, file.size_, PROT_READ, MAP_PRIVATE, fd, 0);
        const int code = errno;
        if (p == MAP_FAILED) {
            ::close(fd);
            file.size_ = 0;
            return refused(std::strerror(code));
        }
        ::madvise(p, file.size_, MADV_SEQUENTIAL);
        file.data_ = static_cast<const char*>(p);
    }
    ::close(fd);
    return file;
}

MappedFile::MappedFile(MappedFile&& other) noexcept
    : data_(std::exchange(other.data_, nullptr)), size_(std::exchange(other.size_, 0)) {}

MappedFile& MappedFile::operator=(MappedFile&& other) noexcept {
    std::swap(data_, other.data_);
    std::swap(size_, other.size_);
    return *this;
}

MappedFile::~MappedFile() {
    if (data_ != nullptr) ::munmap(const_cast<char*>(data_), size_);
}

}  // namespace grayrelic
