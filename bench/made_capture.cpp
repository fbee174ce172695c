// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/made_capture.hpp"

#include <fstream>
#include <string>

#include "core/base/random.hpp"

namespace grayrelic::bench {

std::filesystem::path large_dump() {
    constexpr long edges = 27'000'000;
    constexpr char ids[] = "!\"%&'()*+,-.";
    auto path = std::filesystem::temp_directory_path() / "gray-relic-bench-27M-2.vcd";
    const auto done = path.string() + ".done";
    if (std::filesystem::exists(done)) return path;
    std::ofstream out(path, std::ios::binary);
    out << "$timescale 1 ns $end\n$scope module bus $end\n";
    for (int i = 0; i < 12; ++i) out << "$var wire 1 " << ids[i] << " s" << i << " $end\n";
    out << "$upscope $end\n$enddefinitions $end\n#0\n$dumpvars\n";
    for (int i = 0; i < 12; ++i) out << '0' << ids[i] << '\n';
    out << "$end\n";
    Random random(7);
    bool level[12] = {};
    std::uint64_t t = 100'000'000;
    std::string text;
    for (long n = 0; n < edges;) {
        t += 5 + random.next() % 32;
        text += '#' + std::to_string(t) + '\n';
        const int changes = random.next() % 100 < 36 ? 2 : 1;
        auto wire = random.next() % 12;
        for (int k = 0; k < changes; ++k, ++n) {
            wire = (wire + 1 + random.next() % 11) % 12;  // two changes at one time are on different wires
            level[wire] = !level[wire];
            text += level[wire] ? '1' : '0';
            text += ids[wire];
            text += '\n';
        }
        if (text.size() > (1U << 20U)) {
            out << text;
            text.clear();
        }
    }
    out << text;
    out.close();
    std::ofstream(done) << "1";
    return path;
}

namespace {

/// Writes the four lines of the dial pad's port.
class PadDump {
  public:
    explicit PadDump(const std::filesystem::path& path) : out_(path, std::ios::binary) {
        out_ << "$timescale 1 ns $end\n$scope module control_port $end\n$var wire 1 ! HOLD $end\n"
                "$var wire 1 \" STEP $end\n$var wire 1 # BANK $end\n$var wire 1 $ REPLY $end\n"
                "$upscope $end\n$enddefinitions $end\n#0\n$dumpvars\n0!\n1\"\n0#\n1$\n$end\n";
    }
    void set(int wire, bool level, std::uint64_t at) {
        if (level_[wire] == level) return;
        level_[wire] = level;
        if (at != last_) text_ += '#' + std::to_string(last_ = at) + '\n';
        text_ += level ? '1' : '0';
        text_ += "!\"#$"[wire];
        text_ += '\n';
        ++edges;
        if (text_.size() < (1U << 20U)) return;
        out_ << text_;
        text_.clear();
    }
    void toggle(int wire, std::uint64_t at) { set(wire, !level_[wire], at); }
    void finish(std::uint64_t at) { out_ << text_ << '#' << at << '\n'; }
    long edges = 0;

  private:
    std::ofstream out_;
    std::string text_;
    bool level_[4] = {false, true, false, true};
    std::uint64_t last_ = 0;
};

constexpr long pad_edges = 27'000'000;

void write_polls(const std::filesystem::path& path) {
    PadDump d(path);
    Random random(5);
    const auto jitter = [&](std::uint64_t ns) { return random.next() % ns; };
    std::uint64_t t = 10'100'000;
    std::uint32_t word = 0xFFFFF;
    while (d.edges < pad_edges) {
        if (random.next() % 20 == 0) word ^= 1U << random.next() % 20;
        const auto hold = (t + jitter(40)) / 10 * 10 + 2;
        d.set(0, true, hold);
        d.set(3, (word >> 19 & 1U) != 0, hold + 100 + jitter(30));
        d.set(0, false, hold + 12'640);
        for (unsigned bit = 0; bit < 20; ++bit) {
            const auto step = hold + 22'120 + bit * 8'680 + jitter(3) * 10;
            d.set(1, false, step);
            d.set(1, true, step + 5'520);
            d.set(3, bit == 19 || (word >> (18 - bit) & 1U) != 0, step + 5'620 + jitter(30));
        }
        t += 400'000;
    }
    d.finish(t + 1'000'000);
}

void write_noise(const std::filesystem::path& path) {
    PadDump d(path);
    Random random(6);
    std::uint64_t t = 10'100'000;
    while (d.edges < pad_edges) {
        t += 50 + random.next() % 320;
        const int wire = static_cast<int>(random.next() % 4);
        d.toggle(wire, t);
        if (random.next() % 100 < 36) d.toggle((wire + 1 + static_cast<int>(random.next() % 3)) % 4, t);
    }
    d.finish(t + 1'000'000);
}

}  // namespace

std::filesystem::path large_dossier(Recording kind) {
    const auto name =
        kind == Recording::polls ? "gray-relic-bench-polls-1.relic" : "gray-relic-bench-noise-1.relic";
    auto folder = std::filesystem::temp_directory_path() / name;
    const auto done = folder.string() + ".done";
    if (std::filesystem::exists(done)) return folder;
    std::filesystem::remove_all(folder);
    std::filesystem::copy(std::filesystem::path(GRAY_RELIC_SOURCE) / "demos/calder-dial-pad.relic", folder,
                          std::filesystem::copy_options::recursive);
    const auto recording = folder / "captures/minute.vcd";
    kind == Recording::polls ? write_polls(recording) : write_noise(recording);
    std::ofstream(done) << "1";
    return folder;
}

}  // namespace grayrelic::bench
