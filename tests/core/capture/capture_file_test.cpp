// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/capture_file.hpp"

#include "core/report/capture_figure.hpp"
#include "tests/core/failing_disk.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;
using test::TempFolder;

Result<Capture> read(const std::filesystem::path& path) {
    Progress progress;
    return read_capture_file(path, progress);
}

TEST(CaptureFile, TheFormatIsFoundFromTheContent) {
    TempFolder folder;
    test::write_file(folder / "dump.txt", "$var wire 1 ! a $end $enddefinitions $end #0 0! #5 1! #9");
    test::write_file(folder / "table.log", "time_ns,a\n0,0\n5,1\n9,1\n");
    EXPECT_EQ(read(folder / "dump.txt")->format, "vcd");
    EXPECT_EQ(read(folder / "table.log")->format, "csv");
    test::write_file(folder / "empty.vcd", "");
    EXPECT_THAT(message(read(folder / "empty.vcd")), testing::HasSubstr("expected a value change dump"));
    test::write_file(folder / "empty.csv", "");
    EXPECT_THAT(message(read(folder / "empty.csv")),
                testing::HasSubstr("expected a heading and rows of values"));
    EXPECT_EQ(read(folder / "none.csv").error().kind, Error::Kind::system);
}

TEST(CaptureFile, AFaultWhileWritingLeavesTheOldFile) {
    TempFolder folder;
    const auto c = test::capture_of({{"t.a", test::waveform_ns(false, {5, 9})}});
    for (const char* name : {"a.vcd", "a.csv"}) {
        for (int step = 0; step < 4; ++step) {
            test::write_file(folder / name, "old");
            test::FailingDisk failing(step);
            Progress progress;
            EXPECT_FALSE(write_capture_file(c, folder / name, progress, failing)) << step;
            EXPECT_EQ(test::read_file(folder / name), "old") << step;
        }
        Progress cancelled;
        cancelled.cancel();
        // So short a capture is written before the first look at the wish; the file is whole or old either
        // way.
        const auto done = write_capture_file(c, folder / name, cancelled);
        EXPECT_EQ(test::read_file(folder / name) == "old", !done);
    }
    Progress progress;
    EXPECT_EQ(write_capture_file(c, folder / "a.bin", progress).error().kind, Error::Kind::usage);
}

TEST(FillColumns, CountsExactlyWhereItShows) {
    // Bursts of 5,000 edges 10 ns apart, then a pause with single edges: 300,000 edges in all.
    std::vector<Time> edges;
    Time t;
    while (edges.size() < 300'000) {
        for (int i = 0; i < 5'000; ++i) edges.push_back(t += Time::ns(10));
        for (int i = 0; i < 3; ++i) edges.push_back(t += Time::us(120));
        t += Time::us(300);
    }
    const DigitalWaveform waveform(false, edges);
    for (const std::size_t n : {7U, 100U, 1150U, 4000U}) {
        std::vector<Column> columns(n);
        fill_columns(waveform, Time{}, t, columns);
        std::size_t before = 0;
        std::size_t all = 0;
        for (std::size_t i = 0; i < n; ++i) {
            const Time end = i + 1 == n ? t
                                        : Time::ps(static_cast<std::int64_t>(
                                              static_cast<long double>(t.count()) *
                                              static_cast<long double>(i + 1) / static_cast<long double>(n)));
            const auto until =
                static_cast<std::size_t>(std::lower_bound(edges.begin(), edges.end(), end) - edges.begin());
            const auto count = until - before;
            if (count <= 64) {
                EXPECT_EQ(columns[i].edge_count, count) << n << " column " << i;
                EXPECT_EQ(columns[i].first_edge, before) << n << " column " << i;
            } else {
                // A border between two crowded columns may be off by a quarter of each.
                EXPECT_NEAR(static_cast<double>(columns[i].edge_count), static_cast<double>(count),
                            64.0 + static_cast<double>(count) * 0.5)
                    << n << " column " << i;
            }
            before = until;
            all += columns[i].edge_count;
        }
        EXPECT_EQ(all, edges.size()) << n;
    }
}

TEST(CaptureFigure, DoesNotGrowWithTheEdges) {
    std::vector<Time> edges;
    for (int i = 1; i <= 200'000; ++i) edges.push_back(Time::ns(i * 7));
    auto c = test::capture_of({{"t.busy", std::make_shared<const DigitalWaveform>(false, edges)},
                               {"t.calm", test::waveform_ns(true, {700'000})}});
    const auto svg = capture_figure(c, c.extent);
    EXPECT_LT(svg.size(), 20'000U);
    EXPECT_THAT(svg, testing::HasSubstr(">busy<"));
    EXPECT_THAT(svg, testing::HasSubstr(">calm<"));
    c.signals[1].name = "t.<script>";
    EXPECT_THAT(capture_figure(c, c.extent), testing::Not(testing::HasSubstr("<script>")));
    for (int i = 0; i < 100; ++i) c.signals.push_back(c.signals[1]);
    EXPECT_THAT(capture_figure(c, c.extent), testing::HasSubstr("and 38 more signals"));  // 102 − 64
}

}  // namespace
}  // namespace grayrelic
