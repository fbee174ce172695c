// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/stage.hpp"

#include <thread>

#include "core/base/long_work.hpp"
#include "core/checks/registry.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

TEST(Stages, TheNineStandBetweenPlanAndPractice) {
    EXPECT_EQ(number(Stage::plan), 0);
    EXPECT_EQ(number(Stage::port), 1);
    EXPECT_EQ(number(Stage::log), 9);
    EXPECT_FALSE(number(Stage::practice));
    for (const auto s : all_of<Stage>()) {
        EXPECT_EQ(named<Stage>(word(s)), s);
        // "Port" is "port" with a capital: the id is what people see.
        auto expected = std::string(word(s));
        expected[0] = static_cast<char>(std::toupper(expected[0]));
        EXPECT_EQ(label(s), expected);
    }
}

TEST(Stages, EveryCheckIsOfOneThatIsJudged) {
    const auto judged = judged_stages();
    EXPECT_THAT(judged,
                testing::ElementsAre(Stage::plan, Stage::port, Stage::trace, Stage::listen, Stage::timing,
                                     Stage::wire, Stage::map, Stage::board, Stage::build, Stage::log));
}

TEST(LongWork, IsNotedOnMarkedThreadsOnly) {
    (void)take_long_work();
    long_work("a");
    EXPECT_THAT(take_long_work(), testing::IsEmpty()) << "nobody has marked this thread";
    {
        const PaintingThread marked;
        long_work("b");
        long_work("b");
        std::thread([] { long_work("beside"); }).join();
        {
            const OffTheRecord off;
            long_work("c");
        }
        { const PaintingThread again; }
        long_work("d");
    }
    long_work("e");
    EXPECT_THAT(take_long_work(), testing::ElementsAre("b", "d"));
    EXPECT_THAT(take_long_work(), testing::IsEmpty());
}

}  // namespace
}  // namespace grayrelic
