// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/build/unit_state.hpp"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace grayrelic {
namespace {

using ::testing::HasSubstr;

FittedPart read(const char* marking, std::optional<double> measured = {}) {
    FittedPart f;
    f.ref = "R1";
    f.marking = marking;
    f.measured = measured;
    return f;
}

TEST(FittedValues, AreHeldAgainstWhatWasDrawn) {
    EXPECT_EQ(judge_fitted(read("red red red gold"), 2200, false, 0.05).verdict, Verdict::holds);
    auto v = judge_fitted(read("red red orange gold"), 2200, false, 0.05);
    EXPECT_EQ(v.verdict, Verdict::stop);
    EXPECT_THAT(v.says, HasSubstr("ten times"));
    EXPECT_THAT(judge_fitted(read("221"), 2200, false, 0.05).says, HasSubstr("a tenth"));
    EXPECT_THAT(judge_fitted(read("333"), 22e3, false, 0.05).says, HasSubstr("1.5 times"));
    // Wider than was asked for.
    v = judge_fitted(read("red red red silver"), 2200, false, 0.01);
    EXPECT_EQ(v.verdict, Verdict::doubt);
    EXPECT_THAT(v.says, HasSubstr("wide"));
    // Bands that read well from both ends: only the meter tells 10 kΩ from 120 Ω.
    v = judge_fitted(read("brown black black red brown"), 10e3, false, 0.01);
    EXPECT_EQ(v.verdict, Verdict::doubt);
    EXPECT_THAT(v.says, HasSubstr("measure it"));
    EXPECT_EQ(judge_fitted(read("brown black black red brown", 9980), 10e3, false, 0.01).verdict,
              Verdict::holds);
    EXPECT_EQ(judge_fitted(read("brown black black red brown", 120.4), 10e3, false, 0.01).verdict,
              Verdict::stop);
    // A meter may be off by 2 % beside the tolerance.
    EXPECT_EQ(judge_fitted(read("", 1068), 1000, false, 0.05).verdict, Verdict::holds);
    EXPECT_EQ(judge_fitted(read("", 1080), 1000, false, 0.05).verdict, Verdict::doubt);
    EXPECT_EQ(judge_fitted(read("", 1600), 1000, false, 0.05).verdict, Verdict::stop);
    EXPECT_EQ(judge_fitted(read("104K"), 100e-9, true, 0.1).verdict, Verdict::holds);
    EXPECT_THAT(judge_fitted(read("103K"), 100e-9, true, 0.1).says, HasSubstr("a tenth"));
    EXPECT_EQ(judge_fitted(read("???"), 100, false, 0.1).verdict, Verdict::unknown);
    EXPECT_EQ(judge_fitted(read("brown black red gold"), 100e-9, true, 0.1).verdict, Verdict::doubt);
    EXPECT_EQ(judge_fitted(read("000"), 0, false, 0).verdict, Verdict::holds);
    EXPECT_EQ(judge_fitted(read("103"), 0, false, 0).verdict, Verdict::stop);
}

}  // namespace
}  // namespace grayrelic
