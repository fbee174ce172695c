// SPDX-License-Identifier: GPL-3.0-or-later
// A disk that refuses at a chosen step. Steps are what changes the disk: creating, each write, each flush,
// each rename, each flush of a folder, making a folder. A refused write leaves half of its bytes, as a full
// disk does.
#pragma once

#include "core/base/file_system.hpp"

namespace grayrelic::test {

class FailingDisk final : public FileSystem {
  public:
    /// Fails from step `at` on for `times` steps; −1 times is for ever.
    explicit FailingDisk(int at, int times = 1) : at_(at), times_(times) {}
    [[nodiscard]] int steps() const { return step_; }

    Result<std::string> read(const std::filesystem::path& p, std::size_t limit) override {
        return disk().read(p, limit);
    }
    Result<std::unique_ptr<FileWriter>> create(const std::filesystem::path& p) override {
        if (fails()) return fail_system(p.string(), "Read-only file system", "a place that can be written");
        return watched(p, disk().create(p));
    }
    Result<std::unique_ptr<FileWriter>> create_new(const std::filesystem::path& p) override {
        if (fails()) return fail_system(p.string(), "Read-only file system", "a place that can be written");
        return watched(p, disk().create_new(p));
    }
    Status rename(const std::filesystem::path& a, const std::filesystem::path& b) override {
        if (fails()) return fail_system(b.string(), "Permission denied", "a place that can be written");
        return disk().rename(a, b);
    }
    Status flush_folder(const std::filesystem::path& p) override {
        if (fails())
            return fail_system(p.string(), "Input/output error", "a disk that keeps what is written");
        return disk().flush_folder(p);
    }
    Status make_folder(const std::filesystem::path& p) override {
        if (fails()) return fail_system(p.string(), "Read-only file system", "a place for a folder");
        return disk().make_folder(p);
    }
    bool exists(const std::filesystem::path& p) override { return disk().exists(p); }
    void remove(const std::filesystem::path& p) override { disk().remove(p); }

  private:
    class Writer final : public FileWriter {
      public:
        Writer(FailingDisk& owner, std::filesystem::path path, std::unique_ptr<FileWriter> real)
            : owner_(owner), path_(std::move(path)), real_(std::move(real)) {}
        Status write(std::string_view bytes) override {
            if (!owner_.fails()) return real_->write(bytes);
            (void)real_->write(bytes.substr(0, bytes.size() / 2));
            return fail_system(path_.string(), "No space left on device", "room for the file");
        }
        Status flush() override {
            if (!owner_.fails()) return real_->flush();
            return fail_system(path_.string(), "Input/output error", "a disk that keeps what is written");
        }

      private:
        FailingDisk& owner_;
        std::filesystem::path path_;
        std::unique_ptr<FileWriter> real_;
    };

    Result<std::unique_ptr<FileWriter>> watched(const std::filesystem::path& p,
                                                Result<std::unique_ptr<FileWriter>> real) {
        if (!real || *real == nullptr) return real;
        return std::make_unique<Writer>(*this, p, std::move(*real));
    }
    bool fails() {
        const int step = step_++;
        return step >= at_ && (times_ < 0 || step < at_ + times_);
    }
    int at_;
    int times_;
    int step_ = 0;
};

}  // namespace grayrelic::test
