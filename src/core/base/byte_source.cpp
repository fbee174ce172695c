// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/byte_source.hpp"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <string>
#include <vector>

namespace grayrelic {

Result<std::size_t> MemorySource::read_at(std::uint64_t offset, std::span<char> into) const {
    if (offset >= text_.size()) return std::size_t{0};
    const auto n = std::min<std::size_t>(into.size(), text_.size() - offset);
    std::memcpy(into.data(), text_.data() + offset, n);
    return n;
}

std::uint64_t end_of_whole_lines(const ByteSource& source) {
    constexpr std::uint64_t looked_at = 1U << 20;
    const auto from = source.size() - std::min(source.size(), looked_at);
    std::string tail(static_cast<std::size_t>(source.size() - from), '\0');
    const auto n = source.read_at(from, tail);
    if (!n) return source.size();
    tail.resize(*n);
    const auto end = tail.rfind('\n');
    return end == std::string::npos ? source.size() : from + end + 1;
}

Result<std::unique_ptr<FileSource>> FileSource::open(const std::filesystem::path& path) {
    const auto refused = [&](std::string found) {
        return fail_system(path.string(), std::move(found), "a readable file");
    };
    // Without waiting: a named pipe would block for ever.
    const int fd = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (fd < 0) return refused(std::strerror(errno));
    struct stat info {};
    const bool known = ::fstat(fd, &info) == 0;
    if (!known || !S_ISREG(info.st_mode)) {
        const std::string why = known ? "something that is no file" : std::strerror(errno);
        ::close(fd);
        return refused(why);
    }
    ::posix_fadvise(fd, 0, 0, POSIX_FADV_SEQUENTIAL);
    return std::unique_ptr<FileSource>(
        new FileSource(fd, static_cast<std::uint64_t>(info.st_size), path.string()));
}

FileSource::~FileSource() {
    ::close(fd_);
}

Result<std::size_t> FileSource::read_at(std::uint64_t offset, std::span<char> into) const {
    std::size_t done = 0;
    while (done < into.size()) {
        const auto n =
            ::pread(fd_, into.data() + done, into.size() - done, static_cast<off_t>(offset + done));
        if (n < 0 && errno == EINTR) continue;
        if (n < 0) return fail_system(name_, std::strerror(errno), "a readable file");
        if (n == 0) break;
        done += static_cast<std::size_t>(n);
    }
    return done;
}

long line_at(const ByteSource& source, std::uint64_t offset) {
    std::vector<char> block(1U << 20U);
    long line = 1;
    for (std::uint64_t at = 0; at < offset;) {
        const auto want = static_cast<std::size_t>(std::min<std::uint64_t>(block.size(), offset - at));
        const auto n = source.read_at(at, {block.data(), want});
        if (!n || *n == 0) break;
        line += std::count(block.data(), block.data() + *n, '\n');
        at += *n;
    }
    return line;
}

}  // namespace grayrelic
