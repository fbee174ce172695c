// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/quantity.hpp"

#include <gtest/gtest.h>

#include <cmath>

namespace grayrelic {
namespace {

struct Spelling {
    const char* text;
    Unit unit;
    double value;
};

void PrintTo(const Spelling& r, std::ostream* out) {
    *out << r.text;
}

class ReadsWhatPeopleWrite : public testing::TestWithParam<Spelling> {};

TEST_P(ReadsWhatPeopleWrite, Exactly) {
    const auto& c = GetParam();
    const auto value = parse_number(c.text, c.unit);
    ASSERT_TRUE(value) << value.error().message();
    EXPECT_EQ(*value, c.value);
}

INSTANTIATE_TEST_SUITE_P(
    Quantities, ReadsWhatPeopleWrite,
    testing::Values(
        // a letter for the decimal point, IEC 60062
        Spelling{"4k7", Unit::ohm, 4700.0}, Spelling{"3V3", Unit::volt, 3.3},
        Spelling{"2u2", Unit::farad, 2.2e-6}, Spelling{"1R5", Unit::ohm, 1.5},
        Spelling{"0R1", Unit::ohm, 0.1}, Spelling{"1M2", Unit::ohm, 1.2e6}, Spelling{"5V", Unit::volt, 5.0},
        // prefix and unit, with and without a blank
        Spelling{"2.2us", Unit::second, 2.2e-6}, Spelling{"2.2 µs", Unit::second, 2.2e-6},
        Spelling{"2.2 μs", Unit::second, 2.2e-6}, Spelling{"11.5 kHz", Unit::hertz, 11500.0},
        Spelling{"11.5k", Unit::hertz, 11500.0}, Spelling{"100n", Unit::farad, 100e-9},
        Spelling{"100 nF", Unit::farad, 100e-9}, Spelling{"120 mA", Unit::ampere, 0.12},
        Spelling{"47 ohm", Unit::ohm, 47.0}, Spelling{"47Ω", Unit::ohm, 47.0},
        Spelling{"4.7 kohm", Unit::ohm, 4700.0}, Spelling{"250 mW", Unit::watt, 0.25},
        Spelling{"13392.9 Bd", Unit::baud, 13392.9},
        // a bare number is in the base unit
        Spelling{"17734475", Unit::hertz, 17734475.0}, Spelling{"-12", Unit::volt, -12.0},
        Spelling{"+5", Unit::volt, 5.0}, Spelling{".5", Unit::volt, 0.5},
        Spelling{"1e-6", Unit::second, 1e-6}, Spelling{"1.5e3 Hz", Unit::hertz, 1500.0},
        // m is milli unless metres are wanted
        Spelling{"2m", Unit::second, 2e-3}, Spelling{"2 mm", Unit::metre, 2e-3},
        Spelling{"2m", Unit::metre, 2.0}, Spelling{"  7 ms  ", Unit::second, 7e-3},
        Spelling{"0", Unit::second, 0.0}));

struct Refusal {
    const char* text;
    Unit unit;
};
void PrintTo(const Refusal& r, std::ostream* out) {
    *out << '"' << r.text << '"';
}
class RefusesNonsense : public testing::TestWithParam<Refusal> {};

TEST_P(RefusesNonsense, WithAnExampleOfWhatIsRight) {
    const auto& c = GetParam();
    const auto value = parse_number(c.text, c.unit);
    ASSERT_FALSE(value);
    EXPECT_EQ(value.error().kind, Error::Kind::usage);
    EXPECT_NE(value.error().expected, "");
}

INSTANTIATE_TEST_SUITE_P(
    Quantities, RefusesNonsense,
    testing::Values(Refusal{"", Unit::volt}, Refusal{"V", Unit::volt}, Refusal{"5 A", Unit::volt},
                    Refusal{"5 parsec", Unit::metre}, Refusal{"1..2", Unit::volt}, Refusal{"1,5", Unit::volt},
                    Refusal{"4k7k", Unit::ohm}, Refusal{"1.5k2", Unit::ohm}, Refusal{"nan", Unit::volt},
                    Refusal{"inf", Unit::volt}, Refusal{"1e999", Unit::volt}, Refusal{"--1", Unit::volt},
                    Refusal{"0x10", Unit::none}, Refusal{"5 5", Unit::volt},
                    Refusal{"1e99999999999", Unit::volt},
                    Refusal{"11111111111111111111111111111111111111111111111111111111111111111",
                            Unit::none}));

TEST(Quantity, NamesWhatWasFoundAndExpected) {
    const auto value = parse_number("fast", Unit::second);
    ASSERT_FALSE(value);
    EXPECT_EQ(value.error().message(), "found \"fast\", expected a time like 2.2us");
}

struct Printing {
    double value;
    Unit unit;
    int digits;
    const char* text;
};
void PrintTo(const Printing& p, std::ostream* out) {
    *out << p.text;
}
class PrintsEngineeringNotation : public testing::TestWithParam<Printing> {};

TEST_P(PrintsEngineeringNotation, WithThePrefixBetween) {
    const auto& c = GetParam();
    EXPECT_EQ(print_number(c.value, c.unit, c.digits), c.text);
}

INSTANTIATE_TEST_SUITE_P(
    Quantities, PrintsEngineeringNotation,
    testing::Values(Printing{4700, Unit::ohm, 3, "4.70 kΩ"}, Printing{3.3, Unit::volt, 3, "3.30 V"},
                    Printing{2.2e-6, Unit::second, 3, "2.20 µs"}, Printing{182e-9, Unit::second, 3, "182 ns"},
                    Printing{999.6e-9, Unit::second, 3, "1.00 µs"},
                    Printing{-725e-9, Unit::second, 3, "−725 ns"}, Printing{0, Unit::second, 3, "0 s"},
                    Printing{1e6, Unit::hertz, 3, "1.00 MHz"},
                    Printing{17734475, Unit::hertz, 8, "17.734475 MHz"},
                    Printing{1e-15, Unit::farad, 3, "1.00 fF"}, Printing{0.12, Unit::ampere, 3, "120 mA"},
                    Printing{60, Unit::second, 3, "60.0 s"}, Printing{12, Unit::none, 3, "12.0"},
                    Printing{NAN, Unit::volt, 3, "unknown"}, Printing{INFINITY, Unit::volt, 3, "unknown"},
                    Printing{99.96e-6, Unit::second, 3, "100 µs"}));

TEST(Quantity, ExactPrintingReadsBackToTheSameValue) {
    for (const double v : {4700.0, 3.3, 2.2e-6, 1.0 / 3.0, 123456.789, 1e-12, 17734475.0, -0.12, 315e6 / 88.0,
                           1.7976931348623157e308, 5e-324, 1.2345678901234567e-200}) {
        const auto text = print_exact(v, Unit::volt);
        std::string plain = text;
        if (const auto at = plain.find("−"); at != std::string::npos)
            plain.replace(at, std::string("−").size(), "-");
        const auto back = parse_number(plain, Unit::volt);
        ASSERT_TRUE(back) << text;
        EXPECT_EQ(*back, v) << text;
    }
}

TEST(Quantity, ExactTimesKeepEveryPicosecond) {
    EXPECT_EQ(print_exact(Time::ps(1)), "1 ps");
    EXPECT_EQ(print_exact(Time::ns(420)), "420 ns");
    EXPECT_EQ(print_exact(Time::ps(1'900'000)), "1.9 µs");
    EXPECT_EQ(print_exact(Time::ps(789'423'651)), "789.423651 µs");
    EXPECT_EQ(print_exact(Time::ps(-1'500)), "−1.5 ns");
    EXPECT_EQ(print_exact(Time{}), "0 s");
    EXPECT_EQ(print_exact(Time::s(60)), "60 s");
    for (const long long ps : {1LL, 999LL, 1'000LL, 41'666LL, 3'157'715LL, 60'000'000'000'001LL}) {
        const auto back = parse_time(print_exact(Time::ps(ps)));
        ASSERT_TRUE(back);
        EXPECT_EQ(back->count(), ps);
    }
}

TEST(Quantity, TimesTooLargeForTheClockAreRefused) {
    EXPECT_FALSE(parse_time("1e9"));
    EXPECT_TRUE(parse_time("100000 s"));
}

TEST(Quantity, TypedValuesKeepTheirUnit) {
    const auto v = parse_quantity<Unit::volt>("3V3");
    ASSERT_TRUE(v);
    EXPECT_EQ(*v, Volts(3.3));
    EXPECT_EQ(print(*v), "3.30 V");
    EXPECT_FALSE(parse_quantity<Unit::volt>("3 A"));
    EXPECT_LT(Volts(3.0), Volts(3.3));
    EXPECT_DOUBLE_EQ((Volts(5.0) - Volts(3.3)).value(), 1.7);
}

TEST(Quantity, CountsAndSharesReadWell) {
    EXPECT_EQ(print_count(0), "0");
    EXPECT_EQ(print_count(999), "999");
    EXPECT_EQ(print_count(8214), "8,214");
    EXPECT_EQ(print_count(-1234567), "-1,234,567");
    EXPECT_EQ(print_share(0.0), "0 %");
    EXPECT_EQ(print_share(1.0), "100 %");
    EXPECT_EQ(print_share(0.083), "8.3 %");
    EXPECT_EQ(print_share(0.27), "27 %");
    EXPECT_EQ(print_share(0.00001), "under 0.01 %");
    EXPECT_EQ(print_share(0.99999), "over 99.99 %");
    EXPECT_EQ(print_share(0.9972), "99.72 %");
}

TEST(Quantity, TimesAreExactToThePicosecond) {
    // More digits than a double holds: 1,000,000 s and 1 ps.
    EXPECT_EQ(parse_time("1000000.000000000001 s").value(), Time::s(1'000'000) + Time::ps(1));
    EXPECT_EQ(parse_time("3us7").value(), Time::ns(3700));
    EXPECT_EQ(parse_time("0.4 ps").value(), Time{});
    EXPECT_FALSE(parse_time("60 d"));
    EXPECT_FALSE(parse_time("1e99 s"));
}

TEST(Quantity, WhatIsPrintedIsUnderstood) {
    // A true minus sign is printed, so it must be read.
    for (const Time t :
         {Time::ns(-1500), Time::s(-1), Time::ps(1), Time::us(123'456'789), Time::ps(-987'654'321'012)})
        EXPECT_EQ(parse_time(print_exact(t)).value(), t) << print_exact(t);
    EXPECT_EQ(parse_number("−2.5 mV", Unit::volt).value(), -0.0025);
}

}  // namespace
}  // namespace grayrelic
