// SPDX-License-Identifier: GPL-3.0-or-later
// Packed samples, WAV, compressed captures, and analogue waveforms.
#include <gmock/gmock.h>
#include <zlib.h>
#include <zstd.h>

#include <cmath>
#include <numbers>

#include "core/base/random.hpp"
#include "core/capture/capture_file.hpp"
#include "core/capture/expand.hpp"
#include "core/capture/raw_reader.hpp"
#include "core/capture/wav_file.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::TempFolder;

Result<Capture> raw(std::string_view bytes, const RawOptions& o) {
    Progress progress;
    return read_raw(MemorySource(bytes), "x.bin", o, progress);
}

std::vector<Time> edges(const Capture& c, std::size_t i) {
    const auto e = c.signals[i].digital->edges();
    return {e.begin(), e.end()};
}

TEST(RawSamples, WidthsOrdersAndRates) {
    // Eight lines at 1 MHz: line 0 toggles each sample, line 7 rises at sample 2.
    auto c = raw(std::string_view("\x00\x01\x80\x81", 4), {8, 1e6, false, false}).value();
    EXPECT_EQ(c.signals.size(), 8U);
    EXPECT_THAT(edges(c, 0), testing::ElementsAre(Time::us(1), Time::us(2), Time::us(3)));
    EXPECT_THAT(edges(c, 7), testing::ElementsAre(Time::us(2)));
    EXPECT_EQ(c.extent.to, Time::us(4));
    // The other order: d0 is the most significant bit.
    c = raw(std::string_view("\x00\x01\x80\x81", 4), {8, 1e6, true, false}).value();
    EXPECT_THAT(edges(c, 0), testing::ElementsAre(Time::us(2)));
    // One line packed, least significant bit first: 0b00000101 is 1, 0, 1, 0, 0, 0, 0, 0.
    c = raw("\x05", {1, 1e6, false, false}).value();
    ASSERT_EQ(c.signals.size(), 1U);
    EXPECT_TRUE(c.signals[0].digital->first_level());
    EXPECT_THAT(edges(c, 0), testing::ElementsAre(Time::us(1), Time::us(2), Time::us(3)));
    EXPECT_EQ(c.extent.to, Time::us(8));
    // Most significant first the same byte is 0, 0, 0, 0, 0, 1, 0, 1.
    EXPECT_THAT(edges(raw("\x05", {1, 1e6, true, false}).value(), 0),
                testing::ElementsAre(Time::us(5), Time::us(6), Time::us(7)));
    // Four lines: two samples a byte. Sixteen: either byte order; an odd byte is remarked.
    EXPECT_EQ(raw("\x21", {4, 1e6, false, false})->extent.to, Time::us(2));
    c = raw(std::string_view("\x00\x00\x01\x00\x00", 5), {16, 1e6, false, false}).value();
    EXPECT_THAT(edges(c, 0), testing::ElementsAre(Time::us(1)));
    EXPECT_EQ(c.remarks.size(), 1U);
    c = raw(std::string_view("\x00\x00\x01\x00", 4), {16, 1e6, false, true}).value();
    EXPECT_THAT(edges(c, 8), testing::ElementsAre(Time::us(1)));
    // A rate that is no whole number of picoseconds apart: rounded sample by sample, not summed up.
    c = raw(std::string(3001, '\0') + "\x01", {8, 3e6, false, false}).value();
    EXPECT_EQ(edges(c, 0).at(0), Time::ps(1000333333)) << "3001 / 3 MHz = 1,000,333,333.3 ps";
}

TEST(RawSamples, AbsurdOnesAreRefused) {
    EXPECT_FALSE(raw("x", {3, 1e6, false, false}));
    EXPECT_FALSE(raw("x", {8, 0, false, false}));
    EXPECT_FALSE(raw("x", {8, std::nan(""), false, false}));
    EXPECT_FALSE(raw("x", {8, -1, false, false}));
    EXPECT_FALSE(raw("", {8, 1e6, false, false}));
    EXPECT_FALSE(raw(std::string(100'000, 'x'), {8, 0.001, false, false})) << "longer than 53 days";
}

TEST(Analogue, RangesLevelsAndHysteresis) {
    std::vector<float> v;
    for (int i = 0; i < 10'000; ++i) v.push_back(static_cast<float>(std::sin(i * 0.01)));
    const AnalogueWaveform t(Time{}, 1e6, v);
    Random random(2);
    for (int i = 0; i < 500; ++i) {
        auto from = random.below(v.size()), to = random.below(v.size() + 1);
        if (from >= to) std::swap(from, to);
        if (from == to) continue;
        const auto [low, high] = std::minmax_element(v.begin() + static_cast<std::ptrdiff_t>(from),
                                                     v.begin() + static_cast<std::ptrdiff_t>(to));
        EXPECT_EQ(t.range(from, to).low, *low) << from << " " << to;
        EXPECT_EQ(t.range(from, to).high, *high) << from << " " << to;
    }
    EXPECT_EQ(t.range(5, 5).high, 0.0F);
    // A sine crosses zero at multiples of π: sample 314.159 of 1 µs each, and so on.
    const auto levels = levels_of(t, {0.0, 0.1, false});
    ASSERT_GE(levels.edges().size(), 30U);
    for (std::size_t k = 0; k < 30; ++k)
        EXPECT_NEAR(levels.edges()[k].seconds(),
                    (static_cast<double>(k) + (k == 0 && levels.is_rise(0) ? 0.0
                                               : levels.is_rise(0)         ? 0.0
                                                                           : 1.0)) *
                        std::numbers::pi * 100e-6,
                    2e-8);
    // Noise inside the band makes no edges.
    const AnalogueWaveform noise(Time{}, 1e6,
                                 {0.0F, 0.05F, -0.05F, 0.02F, 1.0F, 0.95F, 0.05F, 0.06F, -0.2F, 0.05F});
    EXPECT_EQ(levels_of(noise, {0.0, 0.1, false}).edges().size(), 2U);
    const auto guess = guess_threshold(
        AnalogueWaveform(Time{}, 1e6, {0, 0, 0, 5, 5, 5, 0, 5, 0, 5, 0, 5, 0, 5, 5, 0, 0, 5, 0, 5}));
    EXPECT_DOUBLE_EQ(guess.level, 2.5);
    EXPECT_DOUBLE_EQ(guess.hysteresis, 0.5);
    EXPECT_TRUE(guess.guessed);
    EXPECT_EQ(levels_of(AnalogueWaveform(Time{}, 1e6, {}), guess).edges().size(), 0U);
    EXPECT_EQ(levels_of(AnalogueWaveform(Time{}, 1e6, {std::nanf(""), 0, 5, std::nanf(""), 0}), guess)
                  .edges()
                  .size(),
              2U);
}

/// A WAV file by hand: 16 bits, 8 kHz, one channel (RIFF: chunks of four letters, a length, the content).
std::string wav_by_hand(const std::vector<std::int16_t>& samples) {
    const auto n32 = [](std::uint32_t v) {
        return std::string{static_cast<char>(v & 255U), static_cast<char>(v >> 8U & 255U),
                           static_cast<char>(v >> 16U & 255U), static_cast<char>(v >> 24U)};
    };
    const auto n16 = [](std::uint16_t v) {
        return std::string{static_cast<char>(v & 255U), static_cast<char>(v >> 8U)};
    };
    std::string data;
    for (const auto s : samples) data += n16(static_cast<std::uint16_t>(s));
    return "RIFF" + n32(static_cast<std::uint32_t>(36 + data.size())) + "WAVEfmt " + n32(16) + n16(1) +
           n16(1) + n32(8000) + n32(16000) + n16(2) + n16(16) + "data" +
           n32(static_cast<std::uint32_t>(data.size())) + data;
}

TEST(Wav, ReadsSamplesAndLevels) {
    const auto bytes = wav_by_hand({0, 0, 16384, 16384, 16384, 0, 0, 16384, 0, 0});
    Progress progress;
    const auto c = read_wav(MemorySource(bytes), "a.wav", progress, std::nullopt).value();
    ASSERT_EQ(c.signals.size(), 1U);
    EXPECT_EQ(c.signals[0].name, "ch1");
    EXPECT_EQ(c.signals[0].analogue->size(), 10U);
    EXPECT_FLOAT_EQ(c.signals[0].analogue->samples()[2], 0.5F);
    EXPECT_EQ(c.extent.to, Time::us(1250));  // 10 samples at 8 kHz
    // 0 to 0.5 crosses 0.25 half way between samples 1 and 2: 1.5 · 125 µs.
    ASSERT_EQ(c.signals[0].digital->edges().size(), 4U);
    EXPECT_EQ(c.signals[0].digital->edges()[0], Time::ns(187'500));
    EXPECT_EQ(c.remarks.size(), 1U) << "the threshold was guessed";
    EXPECT_TRUE(read_wav(MemorySource(bytes), "a.wav", progress, 0.1)->remarks.empty());
}

TEST(Wav, BrokenOnesAreNamed) {
    Progress progress;
    const auto whole = wav_by_hand(std::vector<std::int16_t>(100, 7));
    for (std::size_t n = 0; n < whole.size(); n += 3) {
        const auto c =
            read_wav(MemorySource(std::string_view(whole).substr(0, n)), "cut.wav", progress, std::nullopt);
        if (!c) {
            EXPECT_THAT(c.error().message(), testing::HasSubstr("cut.wav"));
        }
    }
    EXPECT_FALSE(
        read_wav(MemorySource("RIFFxxxxWAVE and nothing that makes sense"), "x.wav", progress, std::nullopt));
    WavLimits few;
    few.samples = 50;
    EXPECT_FALSE(read_wav(MemorySource(whole), "x.wav", progress, std::nullopt, few));
}

TEST(Wav, WhatIsWrittenReadsBack) {
    TempFolder folder;
    Capture c = test::capture_of({{"a", test::waveform_ns(false, {100'000, 300'000, 500'000})}});
    c.extent = {Time{}, Time::ms(1)};
    Progress progress;
    const auto written = write_capture_file(c, folder / "out.wav", progress);
    ASSERT_TRUE(written) << written.error().message();
    const auto back = read_capture_file(folder / "out.wav", progress);
    ASSERT_TRUE(back) << back.error().message();
    EXPECT_EQ(back->format, "wav");
    const auto e = back->signals[0].digital->edges();
    ASSERT_EQ(e.size(), 3U);
    for (std::size_t i = 0; i < 3; ++i)
        EXPECT_NEAR(e[i].seconds(), c.signals[0].digital->edges()[i].seconds(), 100e-6)
            << "to one sample of the grid that the edges lie on";
}

std::string gzipped(std::string_view text) {
    z_stream z{};
    EXPECT_EQ(deflateInit2(&z, 6, Z_DEFLATED, 15 + 16, 8, Z_DEFAULT_STRATEGY), Z_OK);
    std::vector<char> out(text.size() + 1000);
    z.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(text.data()));
    z.avail_in = static_cast<uInt>(text.size());
    z.next_out = reinterpret_cast<Bytef*>(out.data());
    z.avail_out = static_cast<uInt>(out.size());
    EXPECT_EQ(deflate(&z, Z_FINISH), Z_STREAM_END);
    const auto n = out.size() - z.avail_out;
    deflateEnd(&z);
    return {out.data(), n};
}

std::string zstd(std::string_view text) {
    std::vector<char> out(ZSTD_compressBound(text.size()));
    const auto n = ZSTD_compress(out.data(), out.size(), text.data(), text.size(), 3);
    return {out.data(), n};
}

TEST(Compressed, DumpsAndTablesAreReadAsIfPlain) {
    TempFolder folder;
    const std::string dump =
        "$timescale 1 us $end $var wire 1 ! a $end $enddefinitions $end #0 0! #5 1! #9 0! #20\n";
    const std::string table = "time_us,a\n0,0\n5,1\n9,0\n20,0\n";
    test::write_file(folder / "a.vcd.gz", gzipped(dump));
    test::write_file(folder / "b.vcd.zst", zstd(dump));
    test::write_file(folder / "c.csv.gz", gzipped(table));
    test::write_file(folder / "d.csv.zst", zstd(table));
    test::write_file(folder / "two.vcd.gz", gzipped(dump.substr(0, 40)) + gzipped(dump.substr(40)));
    test::write_file(folder / "nameless", gzipped(dump));
    Progress progress;
    for (const char* name : {"a.vcd.gz", "b.vcd.zst", "c.csv.gz", "d.csv.zst", "two.vcd.gz", "nameless"}) {
        const auto c = read_capture_file(folder / name, progress);
        ASSERT_TRUE(c) << name << ": " << c.error().message();
        ASSERT_EQ(c->signals.size(), 1U) << name;
        EXPECT_THAT(edges(*c, 0), testing::ElementsAre(Time::us(5), Time::us(9))) << name;
    }
}

TEST(Compressed, CutBrokenAndBurstingOnesAreNamed) {
    Progress progress;
    std::string text;
    for (int i = 0; text.size() < 300'000; ++i) text += std::to_string(i * 7919 % 10'007) + ",";
    for (const auto& whole : {gzipped(text), zstd(text)}) {
        EXPECT_EQ(expand(MemorySource(whole), "x", progress).value(), text);
        for (std::size_t n = 4; n + 1 < whole.size(); n += whole.size() / 40) {
            const auto cut = expand(MemorySource(std::string_view(whole).substr(0, n)), "cut.gz", progress);
            ASSERT_FALSE(cut) << n;
            EXPECT_THAT(cut.error().message(), testing::HasSubstr("cut.gz:1:"));
        }
        auto broken = whole;
        broken[broken.size() / 2] = static_cast<char>(broken[broken.size() / 2] ^ 0x55);
        const auto wrong = expand(MemorySource(broken), "x", progress);
        if (whole[0] == '\x1F') {
            EXPECT_FALSE(wrong) << "gzip carries a check sum";
        }
        const auto bomb = expand(MemorySource(whole), "bomb.gz", progress, 100'000);
        ASSERT_FALSE(bomb);
        EXPECT_THAT(bomb.error().message(), testing::HasSubstr("once expanded"));
        EXPECT_TRUE(expand(MemorySource(whole), "x", progress, text.size())) << "just what fits";
        Progress cancelled;
        cancelled.cancel();
        EXPECT_FALSE(expand(MemorySource(whole), "x", cancelled));
    }
    EXPECT_FALSE(expand(MemorySource("plain text"), "x", progress));
}

}  // namespace
}  // namespace grayrelic
