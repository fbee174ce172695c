// SPDX-License-Identifier: GPL-3.0-or-later
// A preloaded library that makes the disk fail, or lie, under the program: what the seam in FileSystem can't
// show, such as a write of half the bytes or a program that goes past the seam.
//
// GRAY_RELIC_FAULT says how, and GRAY_RELIC_FAULT_IN under which folder; other files are left alone. N counts
// calls that write there (opening to write, write, fsync, rename, mkdir, unlink left out), from 1.
//
//   short:0             every write takes half of the bytes at most
//   nospace:N           the Nth call finds no space left
//   full:N              from the Nth call on none finds space
//   badsync:N           from the Nth fsync on, one finds that the disk did not keep the bytes (EIO), then
//   they work again badrename:N         the Nth rename fails with EIO
//
// And to see whether the soak finds a journal that does not do its work:
//
//   swallow:N           what is written to the journal from its Nth write on vanishes
//   late:MS             each write to the journal comes so many milliseconds late
//   forget:0            the journal is gone as soon as it has been opened to be read
//   unsaved:0           dossier.json is replaced in appearance only
//
// When a fault was made, the file `hit` appears in the folder.
#include <dlfcn.h>
#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <atomic>
#include <cerrno>
#include <climits>
#include <cstdarg>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <string>

namespace {

template <class F>
F real(const char* name) {
    return reinterpret_cast<F>(::dlsym(RTLD_NEXT, name));
}

struct Plan {
    std::string kind;
    long number = 0;
    std::string folder;

    Plan() {
        const char* what = std::getenv("GRAY_RELIC_FAULT");
        const char* where = std::getenv("GRAY_RELIC_FAULT_IN");
        if (what == nullptr || where == nullptr) return;
        const std::string text(what);
        const auto colon = text.find(':');
        kind = text.substr(0, colon);
        number = colon == std::string::npos ? 0 : std::atol(text.c_str() + colon + 1);
        folder = std::string(where) + "/";
    }
    [[nodiscard]] bool is(const char* name) const { return kind == name; }
};

const Plan& plan() {
    static const Plan instance;
    return instance;
}

bool ours(const std::string& path) {
    return !plan().folder.empty() && path.starts_with(plan().folder) && !path.ends_with("/log") &&
           !path.ends_with("/hit");
}

bool journal(const std::string& path) {
    return path.find(".journal") != std::string::npos;
}

std::string path_of(int fd) {
    char link[64];
    char path[PATH_MAX];
    std::snprintf(link, sizeof link, "/proc/self/fd/%d", fd);
    const auto n = ::readlink(link, path, sizeof path);
    return n > 0 ? std::string(path, static_cast<std::size_t>(n)) : std::string();
}

void hit() {
    static const auto open_it = real<int (*)(const char*, int, ...)>("open");
    const int fd = open_it((plan().folder + "hit").c_str(), O_WRONLY | O_CREAT, 0644);
    if (fd >= 0) ::close(fd);
}

/// Whether this call, one of those that write, is to find no room.
bool no_room() {
    static std::atomic<long> calls{0};
    const auto now = ++calls;
    if (!((plan().is("nospace") && now == plan().number) || (plan().is("full") && now >= plan().number)))
        return false;
    hit();
    return true;
}

int opened(const char* name, int at, const char* path, int flags, mode_t mode) {
    const auto go = [&](const char* p, int how) {
        return at == AT_FDCWD ? real<int (*)(const char*, int, ...)>(name)(p, how, mode)
                              : real<int (*)(int, const char*, int, ...)>(name)(at, p, how, mode);
    };
    if (!ours(path)) return go(path, flags);
    if ((flags & O_ACCMODE) != O_RDONLY && no_room()) {
        errno = ENOSPC;
        return -1;
    }
    const int fd = go(path, flags);
    if (fd >= 0 && (flags & O_ACCMODE) == O_RDONLY && plan().is("forget") && journal(path)) {
        hit();
        ::unlink(path);
    }
    return fd;
}

mode_t mode_in(int flags, va_list more) {
    return (flags & O_CREAT) != 0 ? va_arg(more, mode_t) : 0;
}

}  // namespace

extern "C" {

int open(const char* path, int flags, ...) {
    va_list more;
    va_start(more, flags);
    const auto mode = mode_in(flags, more);
    va_end(more);
    return opened("open", AT_FDCWD, path, flags, mode);
}

int open64(const char* path, int flags, ...) {
    va_list more;
    va_start(more, flags);
    const auto mode = mode_in(flags, more);
    va_end(more);
    return opened("open64", AT_FDCWD, path, flags, mode);
}

ssize_t write(int fd, const void* bytes, size_t size) {
    static const auto write_it = real<ssize_t (*)(int, const void*, size_t)>("write");
    static std::atomic<long> to_journal{0};
    if (plan().folder.empty()) return write_it(fd, bytes, size);
    const auto path = path_of(fd);
    if (!ours(path)) return write_it(fd, bytes, size);
    if (no_room()) {
        if (size > 1) (void)!write_it(fd, bytes, size / 2);  // a full disk takes what fits
        errno = ENOSPC;
        return -1;
    }
    if (plan().is("short") && size > 1) {
        hit();
        return write_it(fd, bytes, size / 2);
    }
    if (journal(path)) {
        if (plan().is("late")) ::usleep(static_cast<useconds_t>(plan().number) * 1000);
        if (plan().is("swallow") && ++to_journal >= plan().number) return static_cast<ssize_t>(size);
    }
    return write_it(fd, bytes, size);
}

int fsync(int fd) {
    static const auto sync_it = real<int (*)(int)>("fsync");
    static std::atomic<long> syncs{0};
    if (plan().folder.empty() || !ours(path_of(fd) + "/")) return sync_it(fd);
    if (no_room()) {
        errno = ENOSPC;
        return -1;
    }
    if (plan().is("badsync") && ++syncs == plan().number) {
        hit();
        errno = EIO;
        return -1;
    }
    return sync_it(fd);
}

int rename(const char* from, const char* to) {
    static const auto rename_it = real<int (*)(const char*, const char*)>("rename");
    static std::atomic<long> renames{0};
    if (!ours(to)) return rename_it(from, to);
    if (no_room()) {
        errno = ENOSPC;
        return -1;
    }
    if (plan().is("badrename") && ++renames == plan().number) {
        hit();
        errno = EIO;
        return -1;
    }
    if (plan().is("unsaved") && std::string(to).ends_with("/dossier.json")) return ::unlink(from);
    return rename_it(from, to);
}

int mkdir(const char* path, mode_t mode) {
    static const auto make_it = real<int (*)(const char*, mode_t)>("mkdir");
    if (!ours(path) || !no_room()) return make_it(path, mode);
    errno = ENOSPC;
    return -1;
}
}
