// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/folder_lock.hpp"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>

namespace grayrelic {

FolderLock::FolderLock(std::filesystem::path file) : file_(std::move(file)) {
    // Whoever releases removes the file; a lock on a file that is no longer the one in the folder is none.
    for (int tries = 0; tries < 10; ++tries) {
        const int fd = ::open(file_.c_str(), O_RDWR | O_CREAT | O_CLOEXEC | O_NOFOLLOW, 0644);
        if (fd < 0) return;
        if (::flock(fd, LOCK_EX | LOCK_NB) != 0) {
            state_ = errno == EWOULDBLOCK ? State::busy : State::not_writable;
            ::close(fd);
            return;
        }
        struct stat ours {};
        struct stat there {};
        if (::fstat(fd, &ours) == 0 && ::stat(file_.c_str(), &there) == 0 && ours.st_ino == there.st_ino &&
            ours.st_dev == there.st_dev) {
            fd_ = fd;
            state_ = State::held;
            return;
        }
        ::close(fd);
    }
    state_ = State::busy;
}

FolderLock::~FolderLock() {
    if (fd_ < 0) return;
    ::unlink(file_.c_str());  // while it is still locked
    ::close(fd_);
}

}  // namespace grayrelic
