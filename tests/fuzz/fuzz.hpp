// SPDX-License-Identifier: GPL-3.0-or-later
// What several targets share: the input as text, as a file for readers that take a path, and as the only file
// of a disk.
#pragma once

#include <sys/mman.h>
#include <unistd.h>

#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <string>
#include <string_view>

#include "core/base/file_system.hpp"
#include "core/signal/capture.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size);

namespace grayrelic::fuzz {

inline std::string_view text_of(const std::uint8_t* data, std::size_t size, std::size_t skipped = 0) {
    return {reinterpret_cast<const char*>(data) + skipped, size - skipped};
}

/// A file that is in memory only.
class MemoryFile {
  public:
    explicit MemoryFile(std::string_view bytes) : fd_(::memfd_create("fuzz", MFD_CLOEXEC)) {
        for (std::size_t at = 0; at < bytes.size();) {
            const auto n = ::write(fd_, bytes.data() + at, bytes.size() - at);
            if (n <= 0) std::abort();
            at += static_cast<std::size_t>(n);
        }
    }
    ~MemoryFile() { ::close(fd_); }
    MemoryFile(const MemoryFile&) = delete;
    MemoryFile& operator=(const MemoryFile&) = delete;
    [[nodiscard]] std::filesystem::path path() const { return "/proc/self/fd/" + std::to_string(fd_); }

  private:
    int fd_;
};

/// A disk of one file, whatever its name.
class HeldFile final : public FileSystem {
  public:
    std::string bytes;
    Result<std::string> read(const std::filesystem::path&, std::size_t) override { return bytes; }
    Result<std::unique_ptr<FileWriter>> create(const std::filesystem::path&) override {
        bytes.clear();
        return std::make_unique<Writer>(bytes);
    }
    Result<std::unique_ptr<FileWriter>> create_new(const std::filesystem::path& path) override {
        return create(path);
    }
    Status rename(const std::filesystem::path&, const std::filesystem::path&) override { return {}; }
    Status flush_folder(const std::filesystem::path&) override { return {}; }
    Status make_folder(const std::filesystem::path&) override { return {}; }
    bool exists(const std::filesystem::path&) override { return true; }
    void remove(const std::filesystem::path&) override {}

  private:
    class Writer final : public FileWriter {
      public:
        explicit Writer(std::string& into) : into_(into) {}
        Status write(std::string_view more) override {
            into_ += more;
            return {};
        }
        Status flush() override { return {}; }

      private:
        std::string& into_;
    };
};

/// A folder for the whole run, with an empty file for each kind of data that a library loads: it finds the
/// names there, and the bytes on a HeldFile.
inline const std::filesystem::path& data_folder() {
    static const std::filesystem::path folder = [] {
        std::string pattern = (std::filesystem::temp_directory_path() / "gray-relic-fuzz-XXXXXX").string();
        if (::mkdtemp(pattern.data()) == nullptr) std::abort();
        for (const char* kind : {"families", "clocks", "parts", "packages", "connectors"}) {
            std::filesystem::create_directory(std::filesystem::path(pattern) / kind);
            if (std::FILE* f = std::fopen((pattern + "/" + kind + "/one.json").c_str(), "w")) std::fclose(f);
        }
        static const struct Remove {
            std::string folder;
            ~Remove() { std::filesystem::remove_all(folder); }
        } at_end{pattern};
        return std::filesystem::path(pattern);
    }();
    return folder;
}

/// Every edge comes later than the one before.
inline void check_edges(const Capture& c) {
    for (const auto& s : c.signals) {
        if (!s.digital) continue;
        const auto edges = s.digital->edges();
        for (std::size_t i = 1; i < edges.size(); ++i)
            if (edges[i] <= edges[i - 1]) std::abort();
    }
}

}  // namespace grayrelic::fuzz
