// SPDX-License-Identifier: GPL-3.0-or-later
// Cases from IEEE 1364-2005 clause 18 and from what real writers do.
#include "core/capture/vcd_reader.hpp"

#include "core/base/random.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::at_ns;
using test::message;
using test::vcd;

constexpr const char* two_wires =
    "$timescale 1 ns $end\n$scope module top $end\n$var wire 1 ! a $end\n$var wire 1 \" b $end\n$upscope "
    "$end\n$enddefinitions $end\n";

const DigitalWaveform& digital(const Result<Capture>& c, const char* name) {
    return **c->find_digital(name);
}

std::vector<Time> edges_in(const Result<Capture>& c, const char* name) {
    const auto e = digital(c, name).edges();
    return {e.begin(), e.end()};
}

TEST(Vcd, ReadsScalarChanges) {
    const auto c = vcd(std::string(two_wires) + "#0\n$dumpvars\n0!\n1\"\n$end\n#10\n1!\n#20\n0!\n0\"\n#50\n");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(c->format, "vcd");
    EXPECT_EQ(c->resolution, Time::ns(1));
    EXPECT_EQ(c->extent, (Span{Time{}, Time::ns(50)}));
    EXPECT_EQ(edges_in(c, "a"), at_ns({10, 20}));
    EXPECT_EQ(edges_in(c, "top.b"), at_ns({20}));
    EXPECT_FALSE(digital(c, "a").first_level());
    EXPECT_TRUE(digital(c, "b").first_level());
    EXPECT_EQ(c->edge_count(), 3U);
}

struct Scale {
    const char* text;
    long long ps;
};
void PrintTo(const Scale& s, std::ostream* out) {
    *out << s.text;
}
class VcdTimescale : public testing::TestWithParam<Scale> {};

TEST_P(VcdTimescale, ScalesTime) {
    const auto c = vcd(std::string("$timescale ") + GetParam().text +
                       "\n$var wire 1 ! a $end $enddefinitions $end #0 0! #3 1! #6");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(edges_in(c, "a"), (std::vector<Time>{Time::ps(3 * GetParam().ps)}));
}

INSTANTIATE_TEST_SUITE_P(All, VcdTimescale,
                         testing::Values(Scale{"1 s $end", 1'000'000'000'000},
                                         Scale{"10 ms $end", 10'000'000'000},
                                         Scale{"100us $end", 100'000'000}, Scale{"1ns $end", 1'000},
                                         Scale{"10 ps $end", 10}, Scale{"100ns$end", 100'000},
                                         Scale{"1\n\tps\n$end", 1}));

TEST(Vcd, FemtosecondsAreRoundedAndTheErrorIsTold) {
    const auto c =
        vcd("$timescale 1 fs $end $var wire 1 ! a $end $enddefinitions $end #0 0! #1499 1! #2500 0! #9000");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(edges_in(c, "a"), (std::vector<Time>{Time::ps(1), Time::ps(3)}));
    EXPECT_EQ(c->rounding, Time::ps(1));  // 0.5 ps, rounded up to a whole picosecond
    EXPECT_EQ(vcd(std::string(two_wires) + "#0 0! #5 1!")->rounding, Time{});
}

TEST(Vcd, UnknownLevelsAreNoEdges) {
    const auto c = vcd(std::string(two_wires) + "#0 x! 0\" #10 0! #20 x! #30 1! #40 z! #50 1! #60");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(edges_in(c, "a"), at_ns({30}));
    const auto unknown = digital(c, "a").unknown();
    EXPECT_EQ((std::vector<Span>(unknown.begin(), unknown.end())),
              (std::vector<Span>{
                  {Time::ns(0), Time::ns(10)}, {Time::ns(20), Time::ns(30)}, {Time::ns(40), Time::ns(50)}}));
}

TEST(Vcd, ASignalWithoutAnyValueIsUnknownThroughout) {
    const auto c = vcd(std::string(two_wires) + "#0 0! #10 1! #20");
    ASSERT_TRUE(c);
    EXPECT_EQ(digital(c, "b").unknown().size(), 1U);
    EXPECT_FALSE(digital(c, "b").known_between(Time::ns(5), Time::ns(6)));
}

TEST(Vcd, ChangesAtOneTimeCountOnlyInTheEnd) {
    const auto c = vcd(std::string(two_wires) + "#0 0! #10 1! 0! #20 1! 0! 1! #30 1!");
    ASSERT_TRUE(c);
    EXPECT_EQ(edges_in(c, "a"), at_ns({20}));
}

TEST(Vcd, RepeatedTimesAndMissingTimeZeroAreFine) {
    const auto c = vcd(std::string(two_wires) + "0! 1\" #5 1! #5 0\" #9");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(c->extent, (Span{Time{}, Time::ns(9)}));
    EXPECT_EQ(edges_in(c, "a"), at_ns({5}));
    EXPECT_EQ(edges_in(c, "b"), at_ns({5}));
    const auto late = vcd(std::string(two_wires) + "#100 0! #110 1! #120");
    EXPECT_EQ(late->extent, (Span{Time::ns(100), Time::ns(120)}));
}

TEST(Vcd, DumpOffAndOn) {
    const auto c = vcd(std::string(two_wires) +
                       "#0 $dumpvars 0! 0\" $end #10 1! #20 $dumpoff x! x\" $end #40 $dumpon 1! 0\" $end #50 "
                       "$dumpall 1! 0\" $end #60");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(edges_in(c, "a"), at_ns({10}));
    EXPECT_FALSE(digital(c, "a").known_between(Time::ns(25), Time::ns(26)));
}

TEST(Vcd, VectorsBecomeTheirBits) {
    const auto c =
        vcd("$timescale 1 ns $end $scope module t $end $var reg 3 # q [2:0] $end $var reg 2 $ up [0:1] $end "
            "$upscope $end $enddefinitions $end "
            "#0 b0 # b01 $ #10 b101 # b10 $ #20 bx1 # #30");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(edges_in(c, "q[2]"), at_ns({10}));
    EXPECT_EQ(edges_in(c, "t.q[1]"), at_ns({}));
    EXPECT_EQ(edges_in(c, "q[0]"), at_ns({10}));
    // 18.2.1: a short value starting with x is extended with x.
    EXPECT_FALSE(digital(c, "q[2]").known_between(Time::ns(22), Time::ns(23)));
    EXPECT_FALSE(digital(c, "q[1]").known_between(Time::ns(22), Time::ns(23)));
    EXPECT_TRUE(digital(c, "q[0]").known_between(Time::ns(22), Time::ns(23)));
    // [0:1]: the leftmost bit is number 0.
    EXPECT_EQ(edges_in(c, "up[0]"), at_ns({10}));
    EXPECT_EQ(c->signals[0].vector, "t.q[2:0]");
    EXPECT_EQ(c->signals.size(), 5U);
}

struct Extension {
    const char* value;
    const char* bits;
};
void PrintTo(const Extension& e, std::ostream* out) {
    *out << e.value;
}
class VcdLeftExtension : public testing::TestWithParam<Extension> {};
TEST_P(VcdLeftExtension, FollowsTheStandardsTable) {
    const auto c = vcd(std::string("$var reg 4 ! q $end $enddefinitions $end #0 b0101 ! #1 b") +
                       GetParam().value + " ! #2");
    ASSERT_TRUE(c) << message(c);
    std::string seen;
    for (int i = 3; i >= 0; --i) {
        const auto& t = digital(c, ("q[" + std::to_string(i) + "]").c_str());
        seen += !t.known_between(Time::s(1), Time::s(2)) ? 'x' : t.level_at(Time::s(1)) ? '1' : '0';
    }
    EXPECT_EQ(seen, GetParam().bits);
}
// IEEE 1364-2005, table 18-2: 1 and 0 extend with 0, x with x, z with z (unknown here).
INSTANTIATE_TEST_SUITE_P(Table, VcdLeftExtension,
                         testing::Values(Extension{"10", "0010"}, Extension{"01", "0001"},
                                         Extension{"x10", "xx10"}, Extension{"z0", "xxx0"},
                                         Extension{"0x10", "0x10"}, Extension{"1", "0001"}));

TEST(Vcd, OneIdentifierMayNameSeveralSignals) {
    const auto c =
        vcd("$var wire 1 ! a $end $scope module s $end $var wire 1 ! a2 $end $upscope $end $enddefinitions "
            "$end #0 0! #7 1! #8");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(c->signals.size(), 2U);
    EXPECT_EQ(c->signals[0].digital, c->signals[1].digital);
}

TEST(Vcd, RealsAndEventsAreKept) {
    const auto c =
        vcd("$var real 64 r volts $end $var event 1 e tick $end $var wire 1 ! a $end $enddefinitions $end #0 "
            "r3.3 r 0! #5 1e r-2.5e-3 r #9 1e 1! #9");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(c->signals[0].kind, SignalKind::real);
    EXPECT_EQ(c->signals[0].real->values, (std::vector<double>{3.3, -2.5e-3}));
    EXPECT_EQ(c->signals[1].kind, SignalKind::event);
    EXPECT_EQ(c->signals[1].real->times.size(), 2U);
    EXPECT_FALSE(c->find_digital("volts"));
}

TEST(Vcd, GluedHeadersAndLongIdentifiersAreRead) {
    const auto c =
        vcd("$timescale 1ns$end\n$var wire 1 abcd a$end\n$var wire 1 ~~~ b "
            "$end\n$enddefinitions$end\n#0\n0abcd\n1~~~\n#4\n1abcd\n");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(edges_in(c, "a"), at_ns({4}));
    EXPECT_TRUE(digital(c, "b").first_level());
}

TEST(Vcd, WindowsLineEndsAndCommentsAreFine) {
    const auto c =
        vcd("$date today $end\r\n$comment any $thing here $end\r\n$timescale 1 ns $end\r\n$var wire 1 ! a "
            "$end\r\n$enddefinitions $end\r\n#0\r\n0!\r\n$comment mid $end\r\n#3\r\n1!\r\n");
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(edges_in(c, "a"), at_ns({3}));
}

TEST(Vcd, DeepScopesMakeDottedPaths) {
    const auto c =
        vcd("$scope module a $end $scope begin b $end $var wire 1 ! x $end $upscope $end $var wire 1 \" x "
            "$end $upscope $end $enddefinitions $end #0 0! 1\"");
    ASSERT_TRUE(c);
    EXPECT_EQ(c->signals[0].name, "a.b.x");
    EXPECT_EQ(c->signals[1].name, "a.x");
    EXPECT_THAT(message(c->find("x")), testing::HasSubstr("2 names end with"));
    EXPECT_TRUE(c->find("b.x"));
}

// --- what is refused: message, line and wording
// ----------------------------------------------------------------

struct Fault {
    const char* name;
    std::string text;
    const char* message;
};
void PrintTo(const Fault& f, std::ostream* out) {
    *out << f.name;
}
class VcdRefuses : public testing::TestWithParam<Fault> {};

TEST_P(VcdRefuses, WithPlaceAndWording) {
    const auto c = vcd(GetParam().text);
    ASSERT_FALSE(c);
    EXPECT_EQ(c.error().kind, Error::Kind::unreadable);
    EXPECT_EQ(message(c), GetParam().message);
}

INSTANTIATE_TEST_SUITE_P(
    Faults, VcdRefuses,
    testing::Values(
        Fault{"Empty", "",
              "t.vcd:1: found the end of the file, expected a value change dump with $var definitions"},
        Fault{"BlankLines", "\n\n\n",
              "t.vcd:3: found the end of the file, expected a value change dump with $var definitions"},
        Fault{"NoVcd", "time,a,b\n0,1,0\n",
              "t.vcd:1: found \"time,a,b\", expected a header keyword such as $timescale, $scope or $var"},
        Fault{"HeaderNeverEnds", "$timescale 1 ns $end\n$var wire 1 ! a $end\n",
              "t.vcd:2: found the end of the file, expected $enddefinitions $end"},
        Fault{"CommentNeverEnds", "$comment never\nends\n",
              "t.vcd:2: found the end of the file, expected $end after \"$comment\""},
        Fault{"BadTimescale", "$timescale 3 ns $end\n",
              "t.vcd:1: found \"3\", expected a time scale of 1, 10 or 100 with s, ms, us, ns, ps or fs"},
        Fault{"BadUnit", "$timescale 1 min $end\n",
              "t.vcd:1: found \"1\", expected a time scale of 1, 10 or 100 with s, ms, us, ns, ps or fs"},
        Fault{"ZeroWidth", "\n$var wire 0 ! a $end\n",
              "t.vcd:2: found \"0\", expected a size of 1 to 65536 bits"},
        Fault{"HugeWidth", "$var wire 99999999 ! a $end\n",
              "t.vcd:1: found \"99999999\", expected a size of 1 to 65536 bits"},
        Fault{"SizeNoNumber", "$var wire one ! a $end\n",
              "t.vcd:1: found \"one\", expected a size of 1 to 65536 bits"},
        Fault{"Redeclared", "$var wire 1 ! a $end\n$var wire 2 ! b $end\n",
              "t.vcd:2: found \"!\", expected the size of 1 bits that this identifier was declared with"},
        Fault{"UnknownIdentifier", std::string(two_wires) + "#0\n0!\n1?\n",
              "t.vcd:9: found \"?\", expected an identifier that a $var declared"},
        Fault{"NoIdentifier", std::string(two_wires) + "#0\n1\n",
              "t.vcd:8: found \"1\", expected an identifier that a $var declared"},
        Fault{"TimeGoesBack", std::string(two_wires) + "#10\n0!\n#9\n1!\n",
              "t.vcd:9: found \"#9\", expected a time not before #10: time goes back"},
        Fault{"TimeNoNumber", std::string(two_wires) + "#1x\n",
              "t.vcd:7: found \"#1x\", expected a time like #120"},
        Fault{"NegativeTime", std::string(two_wires) + "#-5\n",
              "t.vcd:7: found \"#-5\", expected a time like #120"},
        Fault{"TimeTooLarge", std::string(two_wires) + "#9999999999999999999\n",
              "t.vcd:7: found \"#9999999999999999999\", expected a time of at most 53 days"},
        Fault{"TimeOverflows", std::string(two_wires) + "#99999999999999999999999\n",
              "t.vcd:7: found \"#99999999999999999999999\", expected a time of at most 53 days"},
        Fault{"VectorTooWide", "$var reg 2 ! q $end\n$enddefinitions $end\n#0\nb101 !\n",
              "t.vcd:4: found \"b101\", expected 1 to 2 bits for this identifier"},
        Fault{"VectorNoBits", "$var reg 2 ! q $end\n$enddefinitions $end\n#0\nb12 !\n",
              "t.vcd:4: found \"b12\", expected bits 0, 1, x or z"},
        Fault{"ScalarForVector", "$var reg 2 ! q $end\n$enddefinitions $end\n#0\n1!\n",
              "t.vcd:4: found \"1!\", expected a vector value like b01x0 for this identifier"},
        Fault{"RealForWire", std::string(two_wires) + "#0\nr1.0 !\n",
              "t.vcd:8: found \"r1.0\", expected a digital value for this identifier"},
        Fault{"RealNoNumber", "$var real 64 ! v $end\n$enddefinitions $end\n#0\nrx !\n",
              "t.vcd:4: found \"rx\", expected a real value like r0.5"},
        Fault{"Garbage", std::string(two_wires) + "#0\n0!\nhello\n",
              "t.vcd:9: found \"hello\", expected a time like #120 or a value change like 1!"},
        Fault{"KeywordInBody", std::string(two_wires) + "#0\n$var wire 1 ! a $end\n",
              "t.vcd:8: found \"$var\", expected $dumpvars, $dumpon, $dumpoff, $dumpall, $comment or $end"}),
    [](const auto& given) { return given.param.name; });

TEST(VcdLimits, AreKept) {
    VcdLimits limits;
    limits.signals = 3;
    EXPECT_THAT(message(vcd("$var reg 4 ! q $end $enddefinitions $end", limits)),
                testing::HasSubstr("at most 3 signals"));
    limits = {};
    limits.scope_depth = 2;
    EXPECT_THAT(message(vcd("$scope module a $end $scope module b $end $scope module c $end", limits)),
                testing::HasSubstr("at most 2 nested scopes"));
    limits = {};
    limits.name_length = 10;
    EXPECT_THAT(message(vcd("$scope module abcdefghijk $end", limits)),
                testing::HasSubstr("at most 10 characters"));
    EXPECT_THAT(message(vcd("$var wire 1 " + std::string(100, '!') + " a $end")),
                testing::HasSubstr("at most 64 characters"));
}

TEST(Vcd, ManySignalsAndOneLongLineStayBounded) {
    std::string text = "$timescale 1 ns $end ";
    for (int i = 0; i < 20'000; ++i)
        text += "$var wire 1 i" + std::to_string(i) + " s" + std::to_string(i) + " $end ";
    text += "$enddefinitions $end #0 ";
    for (int i = 0; i < 20'000; ++i) text += "0i" + std::to_string(i) + " ";
    text += "#5 1i19999";
    const auto c = vcd(text);
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(c->signals.size(), 20'000U);
    EXPECT_EQ(edges_in(c, "s19999"), at_ns({5}));
}

TEST(Vcd, CanBeCancelled) {
    Progress progress;
    progress.cancel();
    const auto c = read_vcd(std::string(two_wires) + "#0 0!", "t.vcd", progress);
    ASSERT_FALSE(c);
    EXPECT_EQ(c.error().kind, Error::Kind::cancelled);
}

TEST(Vcd, MissingFilesAreASystemError) {
    Progress progress;
    const auto c = read_capture_file("/nonexistent/a.vcd", progress);
    ASSERT_FALSE(c);
    EXPECT_EQ(message(c), "/nonexistent/a.vcd: found No such file or directory, expected a readable file");
}

/// Broken input must never crash, hang or read past its end; under the sanitizers this is a test of that too.
TEST(Vcd, SurvivesSeededMutations) {
    const std::string good = std::string(two_wires) +
                             "#0\n$dumpvars\n0!\n1\"\n$end\n#10\n1!\nb101 !\nr1.5 \"\n#20\n0!\n0\"\n#50\n";
    Random random(2026);
    int read = 0;
    for (int round = 0; round < 4'000; ++round) {
        auto text = good;
        for (std::uint64_t k = 0; k <= random.below(4); ++k) {
            const auto at = random.below(text.size());
            switch (random.below(4)) {
                case 0: text[at] = static_cast<char>(random.below(256)); break;
                case 1: text.erase(at, 1 + random.below(8)); break;
                case 2: text.insert(at, text.substr(random.below(text.size()), random.below(12))); break;
                default: text.resize(at + 1); break;
            }
        }
        const auto c = vcd(text);
        if (c) {
            ++read;
        } else {
            EXPECT_GE(c.error().line, 1);
            EXPECT_FALSE(c.error().expected.empty());
        }
    }
    EXPECT_GT(read, 0);
}

}  // namespace
}  // namespace grayrelic
