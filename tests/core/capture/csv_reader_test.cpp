// SPDX-License-Identifier: GPL-3.0-or-later
// One small table for each dialect; expected times are worked out by hand from the table itself.
#include "core/capture/csv_reader.hpp"

#include "core/capture/csv_writer.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::at_ns;
using test::message;

Result<Capture> csv(std::string_view text, const CsvOptions& options = {}) {
    Progress progress;
    return read_csv(text, "t.csv", progress, options);
}

std::vector<Time> edges(const Result<Capture>& c, const char* name) {
    const auto e = (*c->find_digital(name))->edges();
    return {e.begin(), e.end()};
}

/// All of these hold the same: a rises at 100 ns, b falls at 250 ns and rises at 300 ns, rows from 0 to 400
/// ns.
struct Dialect {
    const char* name;
    const char* text;
};
void PrintTo(const Dialect& d, std::ostream* out) {
    *out << d.name;
}
class CsvDialects : public testing::TestWithParam<Dialect> {};

TEST_P(CsvDialects, GiveTheSameCapture) {
    const auto c = csv(GetParam().text);
    ASSERT_TRUE(c) << message(c);
    ASSERT_EQ(c->signals.size(), 2U);
    EXPECT_EQ(edges(c, "a"), at_ns({100}));
    EXPECT_EQ(edges(c, "b"), at_ns({250, 300}));
    EXPECT_EQ(c->extent, (Span{Time{}, Time::ns(400)}));
    EXPECT_TRUE(c->remarks.empty());
}

INSTANTIATE_TEST_SUITE_P(
    All, CsvDialects,
    testing::Values(
        Dialect{"commas", "time_ns,a,b\n0,0,1\n100,1,1\n250,1,0\n300,1,1\n400,1,1\n"},
        Dialect{"seconds", "Time [s],a,b\n0.0,0,1\n1e-7,1,1\n0.00000025,1,0\n3.0E-07,1,1\n+.4e-6,1,1\n"},
        Dialect{"decimal comma", "t (us);a;b\n0,0;0;1\n0,1;1;1\n0,25;1;0\n0,3;1;1\n0,4;1;1\n"},
        Dialect{"tabs", "time/us\ta\tb\n0\t0\t1\n0.1\t1\t1\n0.25\t1\t0\n0.3\t1\t1\n0.4\t1\t1\n"},
        Dialect{"letters", "time_ns,a,b\n0,L,H\n100,H,H\n250,h,l\n300,high,HIGH\n400,true,1\n"},
        Dialect{"windows",
                "\xEF\xBB\xBFtime_ns,a,b\r\n0,0,1\r\n100,1,1\r\n250,1,0\r\n300,1,1\r\n400,1,1\r\n"},
        Dialect{"quotes", "\"time_ns\",\"a\",\"b\"\n\"0\",\"0\",\"1\"\n100,1,1\n250,1,0\n300,1,1\n400,1,1"},
        Dialect{"units below", "Time,a,b\n(ns),(V),(V)\n0,0,1\n100,1,1\n250,1,0\n300,1,1\n400,1,1\n"},
        Dialect{"trailing delimiter", "time_ns,a,b,\n0,0,1,\n100,1,1,\n250,1,0,\n300,1,1,\n400,1,1,\n"},
        Dialect{
            "metadata",
            "Model,bench one\nRecord length,5\n\ntime_ns,a,b\n0,0,1\n100,1,1\n250,1,0\n300,1,1\n400,1,1\n"},
        Dialect{"comments",
                "# a recording\n; x\ntime_ns,a,b\n0,0,1\n# here\n100,1,1\n250,1,0\n\n300,1,1\n400,1,1\n"},
        Dialect{"commented heading", "# time_ns,a,b\n0,0,1\n100,1,1\n250,1,0\n300,1,1\n400,1,1\n"},
        Dialect{"time last", "a,b,time_ns\n0,1,0\n1,1,100\n1,0,250\n1,1,300\n1,1,400\n"},
        Dialect{"repeated times", "time_ns,a,b\n0,0,1\n100,0,1\n100,1,1\n250,1,0\n300,1,1\n400,1,1\n"},
        Dialect{"sample rate", "Sample rate: 20 MHz\na,b\n0,1\n0,1\n1,1\n1,1\n1,1\n1,0\n1,1\n1,1\n1,1\n"},
        Dialect{
            "sample numbers", "# samplerate=20000000\nSample,a,b\n0,0,1\n2,1,1\n5,1,0\n6,1,1\n8,1,1\n"
            // Numbers of rows that did not change are left out, so these count.
        }));

TEST(Csv, ASampleNumberColumnCountsWhenRowsAreLeftOut) {
    const auto c = csv("Sample interval,1e-6\nindex,a\n10,0\n20,1\n50,0\n60,0\n");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(edges(c, "a"), (std::vector{Time::us(20), Time::us(50)}));
    EXPECT_EQ(c->extent, (Span{Time::us(10), Time::us(60)}));
}

TEST(Csv, AMissingUnitIsGuessedAndTold) {
    const auto whole = csv("time,a\n0,0\n100,1\n200,0\n300,0\n");
    ASSERT_TRUE(whole) << message(whole);
    EXPECT_EQ(edges(whole, "a"), at_ns({100, 200}));
    ASSERT_EQ(whole->remarks.size(), 1U);
    EXPECT_TRUE(whole->remarks[0].guessed);
    EXPECT_THAT(whole->remarks[0].says, testing::HasSubstr("nanoseconds"));
    const auto bare = csv("0.000,0\n0.001,1\n0.002,0\n");
    ASSERT_TRUE(bare) << message(bare);
    EXPECT_EQ(edges(bare, "ch2"), (std::vector{Time::ms(1), Time::ms(2)}));
    EXPECT_THAT(bare->remarks.at(0).says, testing::HasSubstr("seconds"));
    CsvOptions options;
    options.time_power = -6;
    const auto stated = csv("time,a\n0,0\n100,1\n200,0\n", options);
    EXPECT_EQ(edges(stated, "a"), (std::vector{Time::us(100), Time::us(200)}));
    EXPECT_TRUE(stated->remarks.empty());
}

TEST(Csv, AnalogueColumnsCrossHalfWay) {
    // 0 V to 5 V: threshold 2.5 V, band 0.5 V. From 1 V at 100 ns to 4 V at 200 ns the line passes 2.5 V at
    // 150 ns. The dip to 2.3 V stays within the band and is no edge. From 5 V at 400 ns to 0 V at 500 ns: 450
    // ns.
    const auto c = csv("time_ns,probe\n0,0.0\n100,1.0\n200,4.0\n250,2.3\n300,4.4\n400,5.0\n500,0.0\n");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(edges(c, "probe"), at_ns({150, 450}));
    ASSERT_EQ(c->remarks.size(), 1U);
    EXPECT_THAT(c->remarks[0].says, testing::HasSubstr("above and below 2.5"));
    CsvOptions options;
    options.threshold = 4.0;
    const auto higher = csv("time_ns,probe\n0,0.0\n100,5.0\n200,5.0\n300,0.0\n", options);
    ASSERT_TRUE(higher);
    EXPECT_EQ(edges(higher, "probe"), at_ns({80, 220}));  // 4/5 of the way up, 1/5 of the way down
    EXPECT_FALSE(higher->remarks.at(0).guessed);
}

TEST(Csv, ARestingAnalogueLineHasNoEdges) {
    const auto c = csv("time_ns,clk,rest\n0,0.1,0.02\n1,4.9,0.05\n2,0.1,0.01\n3,4.8,0.06\n");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(edges(c, "clk").size(), 3U);
    EXPECT_TRUE(edges(c, "rest").empty());
}

TEST(Csv, AColumnMayTurnOutAnalogueLate) {
    std::string text = "time_ns,a,b\n";
    for (int i = 0; i < 5000; ++i) text += std::to_string(i * 10) + ",0," + std::to_string(i % 2) + "\n";
    text += "50000,3.3,0\n50010,3.3,0\n";
    const auto c = csv(text);
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(edges(c, "a"), at_ns({49995}));  // half way between 0 at 49,990 and 3.3 at 50,000
    EXPECT_EQ(edges(c, "b").size(), 5000U);    // 4999 between rows and the fall at 50,000
}

TEST(Csv, UnknownLevelsAreNoEdges) {
    const auto c = csv("time_ns,a\n0,x\n10,0\n20,z\n30,1\n40,\n50,1\n60,1\n");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(edges(c, "a"), at_ns({30}));
    const auto& t = **c->find_digital("a");
    EXPECT_EQ(t.unknown().size(), 3U);
    ASSERT_EQ(t.floating().size(), 1U);
    EXPECT_EQ(t.floating()[0], (Span{Time::ns(20), Time::ns(30)}));
}

TEST(Csv, OldEncodingsOfTheMicroSignAreRead) {
    const auto c = csv("time (\xB5s),\xC4\n0,0\n5,1\n6,0\n");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(c->signals[0].name, "Ä");
    EXPECT_EQ(c->extent.to, Time::us(6));
}

TEST(Csv, PicosecondsAreExactAndFinerOnesAreTold) {
    const auto c = csv("time_s,a\n0,0\n1000000.000000000001,1\n1000000.0000000000024,0\n1000001,0\n");
    ASSERT_TRUE(c) << message(c);
    const Time late = Time::s(1'000'000);
    const Time least = Time::ps(1);
    EXPECT_EQ(edges(c, "a"), (std::vector{late + least, late + least * 2}));
    EXPECT_EQ(c->rounding, Time::ps(1));
}

struct Refused {
    const char* name;
    std::string text;
    const char* message;
};
void PrintTo(const Refused& r, std::ostream* out) {
    *out << r.name;
}
class CsvRefuses : public testing::TestWithParam<Refused> {};
TEST_P(CsvRefuses, WithPlaceAndWording) {
    const auto c = csv(GetParam().text);
    ASSERT_FALSE(c);
    EXPECT_THAT(message(c), testing::HasSubstr(GetParam().message));
}
INSTANTIATE_TEST_SUITE_P(
    Faults, CsvRefuses,
    testing::Values(
        Refused{"empty", "", "t.csv:1: found the end of the file, expected a heading and rows of values"},
        Refused{"words", "a letter\nto someone\n", "t.csv:2: found \"to someone\", expected a row of values"},
        Refused{"back", "time_ns,a\n0,0\n10,1\n9,0\n", "t.csv:4: found \"9\", expected a time not before"},
        Refused{"width", "time_ns,a,b\n0,0,1\n1,0,1\n2,0,1\n3,0\n",
                "t.csv:5: found 2 fields, expected 3 as in line 2"},
        Refused{"more", "time_ns,a\n0,0\n1,0\n2,0\n3,0,1\n", "t.csv:5: found more than 2 fields"},
        Refused{"value", "time_ns,a\n0,0\n1,0\n2,0\n3,on\n",
                "t.csv:5: found \"on\", expected a level like 0, 1"},
        Refused{"no times", "a,b\n0,1\n1,1\n",
                "expected a column of times, or a line like \"Sample rate: 1 MHz\""},
        Refused{"utf-16", std::string("\xFF\xFEt\0i\0", 6),
                "t.csv:1: found text in UTF-16, expected text in UTF-8"},
        Refused{"times alone", "time_ns\n1\n2\n", "found a table of times alone"},
        Refused{"long line", "time_ns,a\n0,0\n1,0\n2,0\n" + std::string(3U << 20U, '1'),
                "t.csv:5: found a line of more than 1048576 characters"},
        Refused{"long first line", std::string(1U << 20U, 'a'), "t.csv:1: found a first line of more than"},
        Refused{"far", "time_s,a\n0,0\n1,1\n2,1\n1e9,0\n", "t.csv:5: found \"1e9\", expected a time"}));

TEST(Csv, RoundTripThroughTheWriter) {
    const auto read = test::vcd(
        "$timescale 1 ns $end $scope module t $end $var wire 1 ! a $end $var wire 1 \" b $end $upscope $end "
        "$enddefinitions $end #5 0! x\" #12 1! #20 1\" #31 z\" #40 0! 0\" #60");
    ASSERT_TRUE(read);
    std::string text;
    Progress progress;
    ASSERT_TRUE(write_csv(
        *read,
        [&](std::string_view more) {
            text += more;
            return Status{};
        },
        progress));
    EXPECT_EQ(text,
              "time_s,t.a,t.b\n0.000000005,0,x\n0.000000012,1,x\n0.000000020,1,1\n0.000000031,1,z\n"
              "0.000000040,0,0\n0.000000060,0,0\n");
    const auto back = csv(text);
    ASSERT_TRUE(back) << message(back);
    EXPECT_EQ(back->extent, read->extent);
    for (const char* name : {"t.a", "t.b"}) {
        EXPECT_EQ(edges(back, name), edges(read, name)) << name;
        EXPECT_TRUE(std::ranges::equal((*back->find_digital(name))->unknown(),
                                       (*read->find_digital(name))->unknown()));
    }
}

}  // namespace
}  // namespace grayrelic
