// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/file_system.hpp"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>

#include "core/base/quantity.hpp"

namespace grayrelic {
namespace {

constexpr int most_part_names = 100;

Failure refused(const std::filesystem::path& path, int code, std::string expected) {
    return fail_system(path.string(), std::strerror(code), std::move(expected));
}

/// A file descriptor that closes itself.
class Handle {
  public:
    explicit Handle(int fd) : fd_(fd) {}
    Handle(const Handle&) = delete;
    Handle& operator=(const Handle&) = delete;
    ~Handle() {
        if (fd_ >= 0) ::close(fd_);
    }
    [[nodiscard]] int get() const { return fd_; }
    [[nodiscard]] bool open() const { return fd_ >= 0; }

  private:
    int fd_;
};

class DiskWriter final : public FileWriter {
  public:
    DiskWriter(int fd, std::filesystem::path path) : file_(fd), path_(std::move(path)) {}
    Status write(std::string_view bytes) override {
        std::size_t done = 0;
        while (done < bytes.size()) {
            const auto n = ::write(file_.get(), bytes.data() + done, bytes.size() - done);
            if (n < 0 && errno == EINTR) continue;
            if (n < 0) return refused(path_, errno, "room for the file");
            done += static_cast<std::size_t>(n);
        }
        return {};
    }
    Status flush() override {
        if (::fsync(file_.get()) != 0) return refused(path_, errno, "a disk that keeps what is written");
        return {};
    }

  private:
    Handle file_;
    std::filesystem::path path_;
};

constexpr int to_write = O_WRONLY | O_CREAT | O_CLOEXEC;

Result<std::unique_ptr<FileWriter>> writer_of(int fd, const std::filesystem::path& path) {
    if (fd < 0) return refused(path, errno, "a place that can be written");
    return std::make_unique<DiskWriter>(fd, path);
}

class Disk final : public FileSystem {
  public:
    Result<std::string> read(const std::filesystem::path& path, std::size_t limit) override {
        const Handle file(::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
        if (!file.open()) return refused(path, errno, "a readable file");
        struct stat info {};
        if (::fstat(file.get(), &info) != 0) return refused(path, errno, "a readable file");
        if (!S_ISREG(info.st_mode))
            return fail_system(path.string(), "something that is no file", "a regular file");
        if (static_cast<std::size_t>(info.st_size) > limit)
            return fail_system(path.string(), print_count(info.st_size) + " bytes",
                               "at most " + print_count(static_cast<long long>(limit)) + " bytes");
        std::string bytes(static_cast<std::size_t>(info.st_size), '\0');
        std::size_t done = 0;
        while (done < bytes.size()) {
            const auto n = ::read(file.get(), bytes.data() + done, bytes.size() - done);
            if (n < 0 && errno == EINTR) continue;
            if (n < 0) return refused(path, errno, "a readable file");
            if (n == 0) break;
            done += static_cast<std::size_t>(n);
        }
        bytes.resize(done);
        return bytes;
    }

    Result<std::unique_ptr<FileWriter>> create(const std::filesystem::path& path) override {
        return writer_of(::open(path.c_str(), to_write | O_TRUNC | O_NOFOLLOW, 0644), path);
    }
    Result<std::unique_ptr<FileWriter>> create_new(const std::filesystem::path& path) override {
        const int fd = ::open(path.c_str(), to_write | O_EXCL, 0644);
        if (fd < 0 && errno == EEXIST) return std::unique_ptr<FileWriter>();
        return writer_of(fd, path);
    }

    Status rename(const std::filesystem::path& from, const std::filesystem::path& to) override {
        if (::rename(from.c_str(), to.c_str()) != 0) return refused(to, errno, "a place that can be written");
        return {};
    }

    Status flush_folder(const std::filesystem::path& folder) override {
        const Handle handle(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
        if (!handle.open()) return refused(folder, errno, "a folder");
        // Some file systems can't sync a folder; that is no failure of the save.
        if (::fsync(handle.get()) != 0 && errno != EINVAL)
            return refused(folder, errno, "a disk that keeps what is written");
        return {};
    }

    Status make_folder(const std::filesystem::path& folder) override {
        std::error_code code;
        std::filesystem::create_directories(folder, code);
        if (code) return refused(folder, code.value(), "a place for a folder");
        return {};
    }

    bool exists(const std::filesystem::path& path) override {
        std::error_code ignored;
        return std::filesystem::exists(path, ignored);
    }

    void remove(const std::filesystem::path& path) override {
        std::error_code ignored;
        std::filesystem::remove(path, ignored);
    }
};

}  // namespace

FileSystem& disk() {
    static Disk instance;
    return instance;
}

Result<AtomicFile> AtomicFile::open(FileSystem& files, std::filesystem::path path, PartName name) {
    AtomicFile file(files, std::move(path));
    for (int n = 1;; ++n) {
        file.part_ = file.path_;
        file.part_ += n == 1 ? ".part" : "." + std::to_string(n) + ".part";
        auto writer = name == PartName::ours ? files.create(file.part_) : files.create_new(file.part_);
        if (!writer) return fail(writer.error());
        if (*writer == nullptr) {
            if (n < most_part_names) continue;
            return fail_system(file.part_.string(), "files of this name already",
                               "room beside " + file.path_.string());
        }
        file.writer_ = std::move(*writer);
        return file;
    }
}

AtomicFile::AtomicFile(AtomicFile&& other) noexcept
    : files_(other.files_),
      path_(std::move(other.path_)),
      part_(std::move(other.part_)),
      writer_(std::move(other.writer_)) {}

AtomicFile::~AtomicFile() {
    if (!writer_) return;
    writer_.reset();
    files_->remove(part_);
}

Status AtomicFile::commit() {
    if (auto flushed = writer_->flush(); !flushed) return flushed;
    if (auto renamed = files_->rename(part_, path_); !renamed) return renamed;
    writer_.reset();  // from here on the new file stands
    const auto folder = path_.parent_path();
    return files_->flush_folder(folder.empty() ? std::filesystem::path(".") : folder);
}

Status write_atomically(FileSystem& files, const std::filesystem::path& path, std::string_view bytes,
                        PartName name) {
    auto file = AtomicFile::open(files, path, name);
    if (!file) return fail(file.error());
    if (auto written = file->write(bytes); !written) return written;
    return file->commit();
}

}  // namespace grayrelic
