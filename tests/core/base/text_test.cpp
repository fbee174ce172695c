// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"

#include <gtest/gtest.h>

#include "core/base/random.hpp"
#include "core/base/result.hpp"
#include "core/base/statistics.hpp"
#include "core/base/time.hpp"

namespace grayrelic {
namespace {

TEST(Text, TrimTakesBlanksFromBothEnds) {
    EXPECT_EQ(trim(" \t a b \r\n"), "a b");
    EXPECT_EQ(trim(""), "");
    EXPECT_EQ(trim("   "), "");
}

TEST(Text, SplitKeepsEmptyParts) {
    EXPECT_EQ(split("a,,b,", ','), (std::vector<std::string_view>{"a", "", "b", ""}));
    EXPECT_EQ(split("", ','), (std::vector<std::string_view>{""}));
}

TEST(Text, QuotesAreSafeOnATerminal) {
    EXPECT_EQ(in_quotes("abc"), "\"abc\"");
    EXPECT_EQ(in_quotes("a\x1b[31m"), "\"a\\x1B[31m\"");
    EXPECT_EQ(in_quotes("\xff"), "\"\\xFF\"");
    EXPECT_EQ(in_quotes("4.7 kΩ"), "\"4.7 kΩ\"");
    EXPECT_EQ(in_quotes(std::string(100, 'a')), "\"" + std::string(40, 'a') + "…\"");
}

TEST(Text, MarkupIsEscaped) {
    EXPECT_EQ(escape_markup("<b a=\"1\">&'"), "&lt;b a=&quot;1&quot;&gt;&amp;&#39;");
    EXPECT_EQ(escape_markup(std::string("a\0b", 3)),
              "a\xEF\xBF\xBD"
              "b");
    EXPECT_EQ(escape_markup("µ\n"), "µ\n");
}

TEST(Text, Utf8FollowsRfc3629) {
    EXPECT_TRUE(is_utf8("plain"));
    EXPECT_TRUE(is_utf8("µ Ω → 𝄞"));
    EXPECT_FALSE(is_utf8("\xC0\x80"));          // overlong
    EXPECT_FALSE(is_utf8("\xED\xA0\x80"));      // surrogate
    EXPECT_FALSE(is_utf8("\xF4\x90\x80\x80"));  // above U+10FFFF
    EXPECT_FALSE(is_utf8("\xE2\x82"));          // cut
    EXPECT_FALSE(is_utf8("\x80"));
}

TEST(Text, PluralsCount) {
    EXPECT_EQ(plural(1, "poll", "polls"), "1 poll");
    EXPECT_EQ(plural(1504, "poll", "polls"), "1,504 polls");
}

TEST(Error, SaysPlaceFoundAndExpected) {
    EXPECT_EQ(fail_at("a.vcd", 7, "\"?\"", "a time").value().message(),
              "a.vcd:7: found \"?\", expected a time");
    EXPECT_EQ(fail_system("a.vcd", "no such file", "a file").value().message(),
              "a.vcd: found no such file, expected a file");
    EXPECT_EQ(fail_usage("x", "y").value().message(), "found x, expected y");
    EXPECT_EQ(fail_cancelled().value().message(), "cancelled; nothing was changed");
}

TEST(Time, ConversionsSaturateAndRound) {
    EXPECT_EQ(Time::from_seconds(1e-12), Time::ps(1));
    EXPECT_EQ(Time::from_seconds(1.4e-12), Time::ps(1));
    EXPECT_EQ(Time::from_seconds(1e30), Time::max());
    EXPECT_EQ(Time::from_seconds(-1e30), Time::min());
    EXPECT_EQ(Time::from_seconds(0.0 / 0.0), Time{});
    EXPECT_EQ(Time::us(3) - Time::ns(500), Time::ns(2500));
    EXPECT_TRUE((Span{Time::ns(1), Time::ns(3)}).contains(Time::ns(1)));
    EXPECT_FALSE((Span{Time::ns(1), Time::ns(3)}).contains(Time::ns(3)));
}

TEST(Statistics, SummariseByTheDefinitions) {
    // 1..5: mean 3, median 3, sample variance (4+1+0+1+4)/4 = 2.5; p01 at rank 0.04 = 1.04, p99 at rank 3.96
    // = 4.96
    const auto s = summarise(std::vector<double>{5, 1, 4, 2, 3});
    EXPECT_EQ(s.n, 5);
    EXPECT_DOUBLE_EQ(s.min, 1);
    EXPECT_DOUBLE_EQ(s.max, 5);
    EXPECT_DOUBLE_EQ(s.mean, 3);
    EXPECT_DOUBLE_EQ(s.median, 3);
    EXPECT_DOUBLE_EQ(s.sd * s.sd, 2.5);
    EXPECT_DOUBLE_EQ(s.p01, 1.04);
    EXPECT_DOUBLE_EQ(s.p99, 4.96);
    EXPECT_DOUBLE_EQ(summarise(std::vector<double>{1, 2}).median, 1.5);
    EXPECT_EQ(summarise(std::vector<double>{}).n, 0);
    EXPECT_DOUBLE_EQ(summarise(std::vector<double>{7}).sd, 0);
}

TEST(Random, KnownFirstNumbers) {
    // SplitMix64 with seed 0: the reference sequence of its authors begins with these two.
    Random r(0);
    EXPECT_EQ(r.next(), 0xE220A8397B1DCDAFULL);
    EXPECT_EQ(r.next(), 0x6E789E6AA1B965F4ULL);
}

TEST(Random, DistributionsKeepTheirBoundsAndMoments) {
    Random r(42);
    double sum = 0;
    double squares = 0;
    double triangle = 0;
    constexpr int n = 100'000;
    for (int i = 0; i < n; ++i) {
        const double u = r.uniform();
        ASSERT_GE(u, 0.0);
        ASSERT_LT(u, 1.0);
        const double g = r.normal();
        sum += g;
        squares += g * g;
        const double t = r.triangular(1.0, 2.0, 4.0);
        ASSERT_GE(t, 1.0);
        ASSERT_LE(t, 4.0);
        triangle += t;
        ASSERT_LT(r.below(7), 7U);
    }
    // Four standard errors: mean ± 4/√n, variance ± 4·√(2/n), triangle's mean (1+2+4)/3 with variance 7/18.
    EXPECT_NEAR(sum / n, 0.0, 4.0 / std::sqrt(n));
    EXPECT_NEAR(squares / n, 1.0, 4.0 * std::sqrt(2.0 / n));
    EXPECT_NEAR(triangle / n, 7.0 / 3.0, 4.0 * std::sqrt(7.0 / 18.0 / n));
    EXPECT_EQ(r.triangular(3, 3, 3), 3.0);
}

TEST(Text, IsShortenedBetweenCharacters) {
    EXPECT_EQ(shortened("RESET", 5), "RESET");
    EXPECT_EQ(shortened("RESET", 3), "RES…");
    // "µ" is C2 B5, "Ω" CE A9: a limit inside a character leaves it out.
    EXPECT_EQ(shortened("1µs", 2), "1…");
    EXPECT_EQ(shortened("1µs", 3), "1µ…");
    EXPECT_EQ(shortened("ΩΩ", 1), "…");
    for (std::size_t most = 0; most < 12; ++most) EXPECT_TRUE(is_utf8(shortened("a€Ωb𝄞µ", most))) << most;
}

/// XML 1.0, production [2] Char: no U+FFFE and U+FFFF, of the controls only tab, line feed and carriage
/// return.
TEST(Text, MarkupHoldsOnlyWhatADocumentMayHold) {
    EXPECT_EQ(escape_markup("a\xEF\xBF\xBE"
                            "b\xEF\xBF\xBF"
                            "c"),
              "a\xEF\xBF\xBD"
              "b\xEF\xBF\xBD"
              "c");
    EXPECT_EQ(escape_markup("\x01\x1B"), "\xEF\xBF\xBD\xEF\xBF\xBD");
    EXPECT_EQ(escape_markup("<\xEF\xBF\xBD & \xEF\xBF"), "&lt;\xEF\xBF\xBD &amp; \xEF\xBF")
        << "its neighbours stay";
}

}  // namespace
}  // namespace grayrelic
