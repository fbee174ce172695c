// SPDX-License-Identifier: GPL-3.0-or-later
// Small makers and matchers that several tests share.
#pragma once

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <sstream>
#include <string>

#include "core/base/result.hpp"
#include "core/capture/capture_file.hpp"
#include "core/capture/vcd_reader.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic::test {

/// A fresh folder, removed at the end.
class TempFolder {
  public:
    TempFolder() {
        std::string pattern = (std::filesystem::temp_directory_path() / "gray-relic-test-XXXXXX").string();
        if (mkdtemp(pattern.data()) == nullptr) throw std::runtime_error("no temporary folder");
        path_ = pattern;
    }
    ~TempFolder() {
        std::error_code ignored;
        std::filesystem::remove_all(path_, ignored);
    }
    TempFolder(const TempFolder&) = delete;
    TempFolder& operator=(const TempFolder&) = delete;
    [[nodiscard]] const std::filesystem::path& path() const { return path_; }
    [[nodiscard]] std::filesystem::path operator/(const std::string& name) const { return path_ / name; }

  private:
    std::filesystem::path path_;
};

inline void write_file(const std::filesystem::path& path, const std::string& text) {
    std::ofstream(path, std::ios::binary) << text;
}

inline std::string read_file(const std::filesystem::path& path) {
    std::ifstream in(path, std::ios::binary);
    std::ostringstream out;
    out << in.rdbuf();
    return out.str();
}

inline std::vector<Time> at_ns(std::initializer_list<long> ns) {
    std::vector<Time> out;
    for (const long n : ns) out.push_back(Time::ns(n));
    return out;
}

inline std::shared_ptr<const DigitalWaveform> waveform_ns(bool first, std::initializer_list<long> edges) {
    return std::make_shared<const DigitalWaveform>(first, at_ns(edges));
}

/// A capture of digital signals with edges in nanoseconds.
inline Capture capture_of(std::vector<std::pair<std::string, std::shared_ptr<const DigitalWaveform>>> wires,
                          Time end = Time::ms(1)) {
    Capture c;
    c.format = "vcd";
    c.resolution = Time::ns(1);
    c.extent = {Time{}, end};
    for (auto& [name, waveform] : wires)
        c.signals.push_back({name, "", SignalKind::digital, waveform, nullptr});
    return c;
}

inline Result<Capture> vcd(const std::string& text, const VcdLimits& limits = {}) {
    Progress progress;
    return read_vcd(text, "t.vcd", progress, limits);
}

/// The message of a failed Result; "(no error)" when it holds a value.
template <class T>
std::string message(const Result<T>& r) {
    return r ? std::string("(no error)") : r.error().message();
}

inline std::filesystem::path source_folder() {
    return GRAY_RELIC_SOURCE;
}

}  // namespace grayrelic::test
