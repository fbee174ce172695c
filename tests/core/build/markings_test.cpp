// SPDX-License-Identifier: GPL-3.0-or-later
// Expected values are worked out from the tables of IEC 60062.
#include "core/build/markings.hpp"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace grayrelic {
namespace {

struct Marked {
    const char* text;
    MarkedAs as;
    double value;
    double tolerance;
};

TEST(Markings, BandsOfTheStandard) {
    for (const auto& m :
         std::vector<Marked>{{"brown black red gold", MarkedAs::ohms, 1000, 0.05},
                             {"yellow violet orange", MarkedAs::ohms, 47e3, 0.2},
                             {"green blue black brown", MarkedAs::ohms, 56, 0.01},
                             {"red red gold gold", MarkedAs::ohms, 2.2, 0.05},
                             {"brn blk blk red brn", MarkedAs::ohms, 10e3, 0.01},
                             {"orange white white black green", MarkedAs::ohms, 399, 0.005},
                             {"yellow-violet-black-silver-violet", MarkedAs::ohms, 4.7, 0.001},
                             {"Brown, Grey, Black, Orange, Red, Yellow", MarkedAs::ohms, 180e3, 0.02}}) {
        const auto v = read_marking(m.text);
        ASSERT_TRUE(v) << m.text << ": " << v.error().message();
        bool found = false;
        for (const auto& each : *v)
            found = found || (std::abs(each.value / m.value - 1) < 1e-9 &&
                              std::abs(*each.tolerance - m.tolerance) < 1e-12);
        EXPECT_TRUE(found) << m.text;
    }
    EXPECT_EQ(*read_bands("Brown Grey Black Orange Red Yellow")->front().ppm_per_k, 25);
    EXPECT_EQ(read_bands("black")->front().value, 0);
}

TEST(Markings, ADecadeSlipIsSeenFromBothEnds) {
    // 10 kΩ 1 % is brown black black red brown either way round: brown red black black brown is 120 Ω.
    const auto v = read_bands("brown black black red brown");
    ASSERT_TRUE(v);
    ASSERT_EQ(v->size(), 2U);
    EXPECT_DOUBLE_EQ((*v)[0].value, 10e3);
    EXPECT_DOUBLE_EQ((*v)[1].value, 120);
    // A gold band can't begin a value: one way only, whichever is typed first.
    EXPECT_EQ(read_bands("gold red black brown")->size(), 1U);
    EXPECT_DOUBLE_EQ(read_bands("gold red black brown")->front().value, 1000);
    for (const char* bad : {"", "brown", "gold gold gold", "brown black", "brown black mauve",
                            "a b c d e f g", "brown black red gold red red red"})
        EXPECT_FALSE(read_bands(bad)) << bad;
}

TEST(Markings, CodesOfTheStandard) {
    for (const auto& m : std::vector<Marked>{{"103", MarkedAs::ohms, 10e3, 0.05},
                                             {"4702", MarkedAs::ohms, 47e3, 0.01},
                                             {"4R7", MarkedAs::ohms, 4.7, -1},
                                             {"R47", MarkedAs::ohms, 0.47, -1},
                                             {"4K7J", MarkedAs::ohms, 4.7e3, 0.05},
                                             {"1M0F", MarkedAs::ohms, 1e6, 0.01},
                                             {"01C", MarkedAs::ohms, 10e3, 0.01},  // E96 number 1 is 100
                                             {"68X", MarkedAs::ohms, 49.9, 0.01},  // number 68 is 499
                                             {"104K", MarkedAs::farads, 100e-9, 0.1},
                                             {"223", MarkedAs::farads, 22e-9, -1},
                                             {"4n7", MarkedAs::farads, 4.7e-9, -1},
                                             {"479", MarkedAs::farads, 4.7e-12, -1},
                                             {"47", MarkedAs::farads, 47e-12, -1},
                                             {"2A222J", MarkedAs::farads, 2.2e-9, 0.05}}) {
        const auto v = read_code(m.text, m.as);
        ASSERT_TRUE(v) << m.text << ": " << v.error().message();
        EXPECT_NEAR(v->front().value / m.value, 1, 1e-9) << m.text;
        if (m.tolerance >= 0) {
            EXPECT_NEAR(v->front().tolerance.value_or(-1), m.tolerance, 1e-12) << m.text;
        }
    }
    EXPECT_NEAR(*read_code("479D", MarkedAs::farads)->front().tolerance_farad, 0.5e-12, 1e-18);
    // Nobody said which: both.
    const auto both = read_code("104");
    ASSERT_TRUE(both);
    ASSERT_EQ(both->size(), 2U);
    EXPECT_NE((*both)[0].as, (*both)[1].as);
    for (const char* bad : {"", "x", "4K7Q", "12345678901234", "R", "K", "4RR7", "97A", "00A"})
        EXPECT_FALSE(read_code(bad)) << bad;
    EXPECT_THAT(print_marked(read_code("472", MarkedAs::ohms)->front()), testing::HasSubstr("4.70 kΩ"));
}

TEST(Markings, AnyBandsAreWhatTheirTableSays) {
    const std::vector<std::string> digits{"black", "brown", "red",    "orange", "yellow",
                                          "green", "blue",  "violet", "grey",   "white"};
    const std::vector<std::pair<std::string, double>> last{
        {"brown", 0.01}, {"red", 0.02}, {"green", 0.005}, {"gold", 0.05}, {"silver", 0.1}};
    for (unsigned seed = 1; seed <= 500; ++seed) {
        std::mt19937 chance(seed);
        const std::size_t count = 2 + chance() % 2;
        std::string text;
        double value = 0;
        for (std::size_t i = 0; i < count; ++i) {
            const auto d = i == 0 ? 1 + chance() % 9 : chance() % 10;
            text += digits[d] + " ";
            value = value * 10 + static_cast<double>(d);
        }
        const auto power = chance() % 8;
        text += digits[power] + " ";
        for (unsigned i = 0; i < power; ++i) value *= 10;
        const auto& tolerance = last[chance() % last.size()];
        text += tolerance.first;
        const auto v = read_bands(text);
        ASSERT_TRUE(v) << text;
        bool found = false;
        for (const auto& each : *v)
            found = found || (std::abs(each.value / value - 1) < 1e-9 && *each.tolerance == tolerance.second);
        EXPECT_TRUE(found) << text << ": " << value;
    }
}

}  // namespace
}  // namespace grayrelic
