// SPDX-License-Identifier: GPL-3.0-or-later
// However the body is cut into pieces, the result is the same as read in one.
#include "core/base/random.hpp"
#include "core/capture/vcd_writer.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;

bool same(const Capture& a, const Capture& b) {
    if (a.signals.size() != b.signals.size() || a.extent != b.extent || a.resolution != b.resolution)
        return false;
    for (std::size_t i = 0; i < a.signals.size(); ++i) {
        const auto& s = a.signals[i];
        const auto& t = b.signals[i];
        if (s.name != t.name || s.vector != t.vector || s.kind != t.kind) return false;
        if (s.digital) {
            if (s.digital->first_level() != t.digital->first_level() ||
                !std::ranges::equal(s.digital->edges(), t.digital->edges()) ||
                !std::ranges::equal(s.digital->unknown(), t.digital->unknown()) ||
                !std::ranges::equal(s.digital->floating(), t.digital->floating()))
                return false;
        }
        if (s.real && (s.real->times != t.real->times || s.real->values != t.real->values)) return false;
    }
    return true;
}

/// A dump of everything the format has, with what makes cutting hard: lines that begin with "#" but are no
/// times, in comments and as identifiers.
std::string hard_dump(std::uint64_t seed, bool traps) {
    Random random(seed);
    std::string text =
        "$timescale 10 ns $end $scope module top $end $var wire 1 ! a $end $var wire 1 \" b $end\n"
        "$var wire 1 ab long $end $var reg 4 # q [3:0] $end $var real 64 r level $end $var event 1 e hit "
        "$end\n"
        "$var wire 1 ! alias $end $upscope $end $enddefinitions $end\n";
    if (random.uniform() < 0.5) text += "0!\n";
    std::uint64_t t = random.uniform() < 0.5 ? 0 : 7;
    const auto pick = [&](std::string_view from) {
        return from[static_cast<std::size_t>(random.uniform() * static_cast<double>(from.size()))];
    };
    for (int i = 0; i < 400; ++i) {
        if (random.uniform() < 0.8) t += static_cast<std::uint64_t>(random.uniform() * 30.0);
        text += "#" + std::to_string(t) + (random.uniform() < 0.9 ? "\n" : " ");
        const int n = static_cast<int>(random.uniform() * 4.0);
        for (int k = 0; k < n; ++k) {
            const double what = random.uniform();
            if (what < 0.3)
                text += std::string(1, pick("0101xzXZ")) + "!\n";
            else if (what < 0.5)
                text += std::string(1, pick("01")) + "\"\n";
            else if (what < 0.6)
                text += std::string(1, pick("01xz")) + "ab ";
            else if (what < 0.8)
                text += std::string("b") + pick("01xz") + pick("01") +
                        (traps && random.uniform() < 0.3 ? "\n#\n" : " #\n");
            else if (what < 0.9)
                text += "r" + std::to_string(random.uniform() * 5.0) + " r\n";
            else
                text += "1e\n";
        }
        if (traps && random.uniform() < 0.05) text += "$comment\n#12 not a time\n1! $end\n";
        if (random.uniform() < 0.02) text += "$dumpoff x! x\" xab bx # $end\n";
    }
    return text;
}

TEST(VcdPieces, AnyCutGivesTheSame) {
    for (std::uint64_t seed = 1; seed <= 30; ++seed) {
        const auto text = hard_dump(seed, seed % 2 == 0);
        const auto whole = test::vcd(text);
        ASSERT_TRUE(whole) << seed << ": " << message(whole);
        for (const std::size_t piece : {40U, 333U, 2000U}) {
            VcdLimits limits;
            limits.piece_bytes = piece;
            const auto cut = test::vcd(text, limits);
            ASSERT_TRUE(cut) << seed << ": " << message(cut);
            EXPECT_TRUE(same(*whole, *cut)) << "seed " << seed << ", pieces of " << piece;
        }
    }
}

TEST(VcdPieces, AFaultHasTheSamePlaceHoweverCut) {
    for (const char* fault : {"q!\n", "#3\n", "#003\n", "1unknown\n", "bq ", "#18446744073709551616\n"}) {
        auto text = hard_dump(3, false);
        const auto at = text.find("\n#", text.size() / 2) + 1;
        text.insert(at, fault);
        const auto whole = test::vcd(text);
        ASSERT_FALSE(whole) << fault;
        for (const std::size_t piece : {60U, 700U}) {
            VcdLimits limits;
            limits.piece_bytes = piece;
            EXPECT_EQ(message(test::vcd(text, limits)), message(whole)) << fault << piece;
        }
    }
}

TEST(VcdPieces, ACommentThatNeverEndsIsToldAtTheEnd) {
    const auto c = test::vcd("$var wire 1 ! a $end $enddefinitions $end\n#0\n1!\n$comment so\nit goes on\n");
    EXPECT_EQ(message(c), "t.vcd:5: found the end of the file, expected $end after \"$comment\"");
}

TEST(VcdPieces, OfSeveralValuesAtOneTimeTheLastCounts) {
    const auto c = test::vcd(
        "$timescale 1 ns $end $var wire 1 ! a $end $enddefinitions $end\n"
        "#0 0! 1!\n#10 0! x!\n#20 1!\n#30 x! 0!\n#40 z! 1! x!\n#50");
    ASSERT_TRUE(c) << message(c);
    const auto& t = *c->signals[0].digital;
    EXPECT_TRUE(t.first_level());                                   // 1 at 0, the 0 before it did not last
    EXPECT_TRUE(std::ranges::equal(t.edges(), test::at_ns({30})));  // x at 10, 1 again at 20, 0 at 30
    EXPECT_TRUE(std::ranges::equal(
        t.unknown(), std::vector<Span>{{Time::ns(10), Time::ns(20)}, {Time::ns(40), Time::ns(50)}}));
    EXPECT_TRUE(t.floating().empty());
}

TEST(VcdPieces, ItemsLongerThanTheBufferAreRefused) {
    const std::string header = "$var wire 1 ! a $end $enddefinitions $end\n#0\n";
    const auto text = header + "b" + std::string(1U << 20U, '0') + " !\n";
    EXPECT_THAT(message(test::vcd(text)), testing::HasSubstr("t.vcd:3: found \"b000000"));
    // A comment of any length is passed over, also without a single blank in it.
    const auto fine = header + "$comment " + std::string(3U << 20U, 'c') + "$end #5 1!\n";
    const auto c = test::vcd(fine);
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(c->extent.to, Time::s(5));
}

TEST(VcdPieces, AMillionSignalsAreReadInBoundedTime) {
    std::string text = "$timescale 1 ns $end $scope module m $end\n";
    const auto id = [](int n) {
        std::string out;
        for (; n > 0 || out.empty(); n /= 90) out += static_cast<char>('!' + n % 90);
        return out + "~";
    };
    for (int i = 0; i < 1'000'000; ++i) text += "$var wire 1 " + id(i) + " s" + std::to_string(i) + " $end\n";
    text += "$upscope $end $enddefinitions $end\n#0\n";
    for (int i = 0; i < 1'000'000; ++i) text += "0" + id(i) + "\n";
    text += "#10\n1" + id(999'999) + "\n#20\n";
    const auto c = test::vcd(text);
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(c->signals.size(), 1'000'000U);
    EXPECT_EQ(c->signals.back().name, "m.s999999");
    EXPECT_EQ(c->edge_count(), 1U);
}

TEST(VcdPieces, CancellingLeavesNothing) {
    const auto text = hard_dump(5, false);
    Progress progress;
    progress.cancel();
    const auto c = read_vcd(std::string_view(text), "t.vcd", progress);
    ASSERT_FALSE(c);
    EXPECT_EQ(c.error().kind, Error::Kind::cancelled);
}

TEST(VcdRoundTrip, WhatIsWrittenReadsBackExactly) {
    for (std::uint64_t seed = 1; seed <= 60; ++seed) {
        const auto read = test::vcd(hard_dump(seed, seed % 2 == 0));
        ASSERT_TRUE(read);
        std::string text;
        const TextSink sink = [&](std::string_view more) {
            text += more;
            return Status{};
        };
        Progress progress;
        const auto written = write_vcd(*read, {}, sink, progress);
        ASSERT_TRUE(written);
        EXPECT_EQ(written->shift, Time{});
        EXPECT_FALSE(written->renamed);
        const auto back = test::vcd(text);
        ASSERT_TRUE(back) << message(back);
        EXPECT_TRUE(same(*read, *back)) << seed;
        // Written a second time it is the same file.
        const auto first = std::exchange(text, {});
        ASSERT_TRUE(write_vcd(*back, {}, sink, progress));
        EXPECT_EQ(first, text) << seed;
    }
}

TEST(VcdRoundTrip, TimesBeforeZeroMoveAndBlanksInNamesAreTold) {
    Capture capture;
    capture.resolution = Time::ns(1);
    capture.extent = {Time::ns(-50), Time::ns(20)};
    capture.signals.push_back(
        {"probe 1",
         {},
         SignalKind::digital,
         std::make_shared<const DigitalWaveform>(false, std::vector{Time::ns(-30), Time::ns(10)}),
         nullptr});
    std::string text;
    Progress progress;
    const auto written = write_vcd(
        capture, {},
        [&](std::string_view more) {
            text += more;
            return Status{};
        },
        progress);
    ASSERT_TRUE(written);
    EXPECT_EQ(written->shift, Time::ns(50));
    EXPECT_TRUE(written->renamed);
    const auto back = test::vcd(text);
    ASSERT_TRUE(back) << message(back);
    EXPECT_EQ(back->signals[0].name, "probe_1");
    EXPECT_EQ(back->extent, (Span{Time{}, Time::ns(70)}));
    EXPECT_EQ(back->signals[0].digital->edges()[0], Time::ns(20));
    EXPECT_EQ(back->signals[0].digital->edges()[1], Time::ns(60));
}

}  // namespace
}  // namespace grayrelic
