// SPDX-License-Identifier: GPL-3.0-or-later
// How files are understood: the words a dossier keeps, the preview of a table and its correction, the kept
// copy.
#include <gmock/gmock.h>

#include "core/analysis/analysis.hpp"
#include "core/capture/capture_cache.hpp"
#include "core/capture/capture_pack.hpp"
#include "core/capture/csv_preview.hpp"
#include "core/capture/vcd_writer.hpp"
#include "standin/spoken.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;

TEST(ReadAs, WordsBecomeOptions) {
    const auto o = capture_options({{"separator", "tab"},
                                    {"decimal", ","},
                                    {"first_row", "12"},
                                    {"time_column", "2"},
                                    {"unit", "us"},
                                    {"threshold", "1.4 V"}});
    ASSERT_TRUE(o) << message(o);
    EXPECT_EQ(o->table.delimiter, '\t');
    EXPECT_EQ(o->table.decimal, ',');
    EXPECT_EQ(o->table.first_row, 12);
    EXPECT_EQ(o->table.time_column, 2U);
    EXPECT_EQ(o->table.time_power, -6);
    EXPECT_DOUBLE_EQ(*o->table.threshold, 1.4);
    EXPECT_FALSE(o->raw);
    EXPECT_EQ(capture_options({{"time_column", "none"}})->table.time_column, 0U);
    const auto raw =
        capture_options({{"raw", "16"}, {"rate", "24 MHz"}, {"raw_order", "msb"}, {"raw_bytes", "big"}});
    ASSERT_TRUE(raw) << message(raw);
    ASSERT_TRUE(raw->raw);
    EXPECT_EQ(raw->raw->width, 16);
    EXPECT_DOUBLE_EQ(raw->raw->rate_hz, 24e6);
    EXPECT_TRUE(raw->raw->msb_first && raw->raw->big_endian);
}

TEST(ReadAs, WrongWordsAreNamed) {
    const std::pair<ReadAs, const char*> cases[] = {
        {{{"separator", "|"}}, "separator"},
        {{{"decimal", "x"}}, "decimal"},
        {{{"first_row", "0"}}, "first_row"},
        {{{"time_column", "-1"}}, "time_column"},
        {{{"unit", "hours"}}, "unit"},
        {{{"rate", "-1"}}, "rate"},
        {{{"threshold", "much"}}, "threshold"},
        {{{"raw", "3"}, {"rate", "1M"}}, "raw"},
        {{{"raw", "8"}}, "without a rate"},
        {{{"raw_order", "msb"}}, "without raw"},
        {{{"colour", "red"}}, "colour"},
        {{{"raw", "8"}, {"rate", "1M"}, {"raw_order", "up"}}, "raw_order"},
    };
    for (const auto& [words, names] : cases) {
        const auto o = capture_options(words);
        ASSERT_FALSE(o) << names;
        EXPECT_EQ(o.error().kind, Error::Kind::usage);
        EXPECT_THAT(o.error().message(), testing::HasSubstr(names));
    }
}

TEST(CsvPreview, ShowsWhatWasUnderstoodAndTakesCorrections) {
    test::TempFolder folder;
    const auto path = folder / "bench.csv";
    // Whole numbers without a unit: taken for nanoseconds, but the device counts microseconds; the second
    // column is a voltage.
    test::write_file(path, "Bench capture\nchannels: 2\nt;probe;line\n0;0,1;1\n5;4,9;0\n9;0,2;1\n20;5,0;1\n");
    auto p = preview_csv(path, {});
    ASSERT_TRUE(p) << message(p);
    EXPECT_TRUE(p->problem.empty());
    EXPECT_EQ(p->dialect.delimiter, ';');
    EXPECT_EQ(p->dialect.decimal, ',');
    EXPECT_EQ(p->dialect.time_power, -9);
    EXPECT_EQ(p->dialect.heading, 3);
    EXPECT_EQ(p->dialect.line, 4);
    EXPECT_THAT(p->above, testing::ElementsAre("Bench capture", "channels: 2", "t;probe;line"));
    ASSERT_EQ(p->columns.size(), 3U);
    EXPECT_EQ(p->columns[0].use, ColumnUse::time);
    EXPECT_EQ(p->columns[1].use, ColumnUse::analogue);
    EXPECT_EQ(p->columns[2].use, ColumnUse::levels);
    EXPECT_THAT(p->rows[1], testing::ElementsAre("5", "4,9", "0"));
    EXPECT_THAT(p->dialect.remarks, testing::SizeIs(1));

    const ReadAs better{{"unit", "us"}, {"threshold", "3"}};
    p = preview_csv(path, capture_options(better)->table);
    EXPECT_EQ(p->dialect.time_power, -6);
    EXPECT_THAT(p->dialect.remarks, testing::IsEmpty());
    CaptureStore store;
    Progress progress;
    const auto guessed = store.read(path, progress), stated = store.read(path, progress, better);
    ASSERT_TRUE(guessed && stated);
    EXPECT_EQ((*guessed)->extent.to, Time::ns(20));
    EXPECT_EQ((*stated)->extent.to, Time::us(20));
    EXPECT_EQ((*store.read(path, progress, better)).get(), stated->get())
        << "kept as long as it is read the same way";

    // The first row and the time column can be stated, too.
    const auto moved = preview_csv(path, capture_options({{"first_row", "5"}})->table);
    EXPECT_EQ(moved->rows.front().front(), "5");
    const auto no_time =
        preview_csv(path, capture_options({{"time_column", "none"}, {"rate", "1 MHz"}})->table);
    EXPECT_TRUE(no_time->problem.empty()) << no_time->problem;
    EXPECT_FALSE(no_time->dialect.time);
    EXPECT_DOUBLE_EQ(no_time->dialect.rate_hz, 1e6);
    EXPECT_THAT(preview_csv(path, capture_options({{"time_column", "9"}})->table)->problem,
                testing::HasSubstr("one of the 3 columns"));
    EXPECT_THAT(preview_csv(path, capture_options({{"separator", "tab"}})->table)->problem,
                testing::HasSubstr("row of values"));
}

TEST(CsvPreview, CompressedBrokenAndForeign) {
    test::TempFolder folder;
    test::write_file(folder / "plain.csv", "time_ns,a\n0,1\n10,0\n20,1\n");
    ASSERT_EQ(std::system(("gzip -k " + (folder / "plain.csv").string()).c_str()), 0);
    const auto p = preview_csv(folder / "plain.csv.gz", {});
    ASSERT_TRUE(p) << message(p);
    EXPECT_EQ(p->rows.size(), 3U);
    EXPECT_TRUE(looks_like_table(folder / "plain.csv.gz"));
    test::write_file(folder / "dump.vcd", "$timescale 1 ns $end");
    EXPECT_FALSE(looks_like_table(folder / "dump.vcd"));
    test::write_file(folder / "packed.bin", std::string("\0\1\2\3", 4));
    EXPECT_FALSE(looks_like_table(folder / "packed.bin"));
    // A block of the type that RFC 1951 reserves.
    test::write_file(folder / "cut.csv.gz", std::string("\x1F\x8B\x08\0\0\0\0\0\0\x03\xFF\xFF\xFF\xFF", 14));
    EXPECT_FALSE(preview_csv(folder / "cut.csv.gz", {}));
    EXPECT_FALSE(preview_csv(folder / "missing.csv", {}));
    test::write_file(folder / "words.csv", "these are\nno values\n");
    const auto words = preview_csv(folder / "words.csv", {});
    ASSERT_TRUE(words);
    EXPECT_FALSE(words->problem.empty());
    EXPECT_THAT(words->above, testing::ElementsAre("these are", "no values"));
}

// --- the kept copy
// --------------------------------------------------------------------------------------------------

Capture with_everything() {
    auto c = standin::speak("latch-shift", {.seed = 2, .words = 50}).capture;
    c.format = "csv";
    c.rounding = Time::ps(3);
    c.remarks = {{"times read as nanoseconds", true}, {"a remark", false}};
    Signal real;
    real.name = "volts";
    real.kind = SignalKind::real;
    real.real = std::make_shared<const RealWaveform>(
        RealWaveform{{Time::ns(-5), Time::ns(7)}, {1.5, std::numeric_limits<double>::quiet_NaN()}});
    c.signals.push_back(real);
    Signal wave;
    wave.name = "wave";
    wave.kind = SignalKind::analogue;
    wave.analogue = std::make_shared<const AnalogueWaveform>(Time::ns(3), 22'675'736.96,
                                                             std::vector<float>{0, 1, -1, 0.5F});
    wave.digital = std::make_shared<const DigitalWaveform>(true, test::at_ns({40, 90}),
                                                           std::vector<Span>{{Time::ns(1), Time::ns(2)}});
    c.signals.push_back(wave);
    auto twin = c.signals[0];
    twin.name = "twin";
    c.signals.push_back(twin);
    return c;
}

TEST(CaptureCopy, ComesBackWhole) {
    const auto c = with_everything();
    const auto back = unpack_capture(pack_capture(c));
    ASSERT_TRUE(back);
    EXPECT_EQ(back->format, "csv");
    EXPECT_EQ(back->extent, c.extent);
    EXPECT_EQ(back->resolution, c.resolution);
    EXPECT_EQ(back->rounding, c.rounding);
    EXPECT_EQ(back->remarks, c.remarks);
    ASSERT_EQ(back->signals.size(), c.signals.size());
    for (std::size_t i = 0; i < c.signals.size(); ++i) {
        const auto &a = c.signals[i], &b = back->signals[i];
        EXPECT_EQ(a.name, b.name);
        EXPECT_EQ(a.kind, b.kind);
        ASSERT_EQ(!a.digital, !b.digital);
        if (a.digital) {
            EXPECT_TRUE(std::ranges::equal(a.digital->edges(), b.digital->edges()));
            EXPECT_TRUE(std::ranges::equal(a.digital->unknown(), b.digital->unknown()));
            EXPECT_EQ(a.digital->first_level(), b.digital->first_level());
        }
    }
    EXPECT_EQ(back->signals.back().digital, back->signals.front().digital) << "shared waveforms stay shared";
    const auto& real = *back->signals[back->signals.size() - 3].real;
    EXPECT_EQ(real.times[0], Time::ns(-5));
    EXPECT_TRUE(std::isnan(real.values[1]));
    const auto& wave = *back->signals[back->signals.size() - 2].analogue;
    EXPECT_EQ(wave.samples(), (std::vector<float>{0, 1, -1, 0.5F}));
    EXPECT_DOUBLE_EQ(wave.period_ps(), 22'675'736.96);
}

TEST(CaptureCopy, BrokenBytesNeverPass) {
    const auto bytes = pack_capture(with_everything());
    for (std::size_t cut = 0; cut < bytes.size(); cut += 7)
        EXPECT_FALSE(unpack_capture(std::string_view(bytes).substr(0, cut))) << cut;
    // Turned bytes may give another capture, but never one whose edges are out of order, and never a crash.
    Random random(1);
    for (int i = 0; i < 2000; ++i) {
        auto bad = bytes;
        bad[random.next() % bad.size()] = static_cast<char>(random.next());
        const auto c = unpack_capture(bad);
        if (!c) continue;
        for (const auto& s : c->signals)
            if (s.digital) {
                EXPECT_TRUE(std::ranges::is_sorted(s.digital->edges()));
            }
    }
}

TEST(CaptureCopy, IsUsedOnlyForItsOwnFile) {
    test::TempFolder folder;
    const auto cache = folder / "cache";
    const auto path = folder / "long.vcd";
    const auto spoken = standin::speak("latch-shift", {.seed = 3, .words = 12'000});
    std::string text;
    Progress progress;
    ASSERT_TRUE(write_vcd(
        spoken.capture, {},
        [&](std::string_view t) {
            text += t;
            return Status{};
        },
        progress));
    ASSERT_GT(text.size(), least_cached);
    test::write_file(path, text);
    const auto count = [&] {
        std::error_code code;
        return std::distance(std::filesystem::directory_iterator(cache, code),
                             std::filesystem::directory_iterator{});
    };
    const auto first = read_capture_cached(path, {}, {}, cache, progress);
    ASSERT_TRUE(first) << message(first);
    ASSERT_EQ(count(), 1);
    const auto copy = std::filesystem::directory_iterator(cache)->path();
    // To see that the copy is read: its first signal's name in place, and the sum over it made right, would
    // need the packing; so the file itself is made unreadable instead, same size and time.
    const auto changed = std::filesystem::last_write_time(path);
    test::write_file(path, std::string(text.size(), '?'));
    std::filesystem::last_write_time(path, changed);
    const auto again = read_capture_cached(path, {}, {}, cache, progress);
    ASSERT_TRUE(again) << message(again);
    EXPECT_EQ(again->edge_count(), first->edge_count());
    // It is mapped: nothing is copied, and it outlives the file's name.
    auto kept = read_kept_capture(path, {}, cache);
    ASSERT_TRUE(kept);
    const auto hidden = cache / "away";
    std::filesystem::rename(copy, hidden);
    EXPECT_FALSE(read_kept_capture(path, {}, cache));
    for (std::size_t i = 0; i < first->signals.size(); ++i)
        EXPECT_TRUE(
            std::ranges::equal(kept->signals[i].digital->edges(), first->signals[i].digital->edges()));
    std::filesystem::rename(hidden, copy);
    // A later time of change, another way of reading, a broken copy: not used.
    std::filesystem::last_write_time(path, changed + std::chrono::seconds(2));
    EXPECT_FALSE(read_capture_cached(path, {}, {}, cache, progress));
    std::filesystem::last_write_time(path, changed);
    EXPECT_FALSE(read_capture_cached(path, {{"unit", "us"}}, {}, cache, progress));
    auto bytes = test::read_file(copy);
    bytes[bytes.size() / 2] ^= 1;
    test::write_file(copy, bytes);
    EXPECT_FALSE(read_capture_cached(path, {}, {}, cache, progress));
    // Small files are not kept.
    test::write_file(folder / "small.vcd",
                     "$timescale 1 ns $end $var wire 1 ! a $end $enddefinitions $end #0 1! #5");
    ASSERT_TRUE(read_capture_cached(folder / "small.vcd", {}, {}, cache, progress));
    EXPECT_EQ(count(), 1);
}

}  // namespace
}  // namespace grayrelic
