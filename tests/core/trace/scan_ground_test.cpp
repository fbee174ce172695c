// SPDX-License-Identifier: GPL-3.0-or-later
// Holes by what stands around them, and what one side of a board knows for the other.
#include <gmock/gmock.h>

#include <opencv2/imgproc.hpp>

#include "core/trace/scan_ground.hpp"

namespace grayrelic::scan_ground {
namespace {

void disc(cv::Mat1b& matter, cv::Point at, int radius, Matter m) {
    cv::circle(matter, at, radius, cv::Scalar(static_cast<double>(m)), cv::FILLED);
}

TEST(OpenMetal, ARoundPlaceWithMetalAllAroundIsAHole) {
    cv::Mat1b matter(200, 300, static_cast<std::uint8_t>(Matter::board));
    disc(matter, {60, 100}, 30, Matter::metal);
    disc(matter, {60, 100}, 12, Matter::copper);  // light of copper's tone: 24 px are 1 mm at 24 px/mm
    disc(matter, {150, 100}, 30, Matter::copper);
    disc(matter, {150, 100}, 12, Matter::board);  // clearance within a pour: no metal around
    disc(matter, {240, 100}, 30, Matter::metal);
    cv::rectangle(matter, cv::Rect(225, 96, 30, 8), cv::Scalar(static_cast<double>(Matter::copper)),
                  cv::FILLED);  // long, not round
    open_metal(matter, 24);
    EXPECT_EQ(static_cast<Matter>(matter(100, 60)), Matter::hole);
    EXPECT_EQ(static_cast<Matter>(matter(100, 150)), Matter::board);
    EXPECT_EQ(static_cast<Matter>(matter(100, 240)), Matter::copper);
}

Side side(cv::Vec3f low, cv::Vec3f step, double vote) {
    Side out;
    out.tones.low = cv::Mat3f(2, 2, low);
    out.tones.step = cv::Mat3f(2, 2, step);
    out.tones.low_mean = low;
    out.tones.step_mean = step;
    out.tones.vote = vote;
    out.tones.settled = std::abs(vote) > 0.35;
    out.tones.high_is_copper = vote < 0;
    if (!out.tones.settled) out.tones.doubt = copper_not_told;
    return out;
}

TEST(Agree, ASideThatKnowsTellsForTheOther) {
    auto front = side({30, 90, 50}, {9, 15, 12}, 0.1), back = side({32, 92, 51}, {9, 14, 12}, -2.5);
    EXPECT_EQ(agree(front, back), 0);
    EXPECT_TRUE(front.tones.high_is_copper);
    EXPECT_TRUE(front.tones.doubt.empty());
}

TEST(Agree, OtherMasksTellNothing) {
    auto front = side({30, 90, 50}, {9, 15, 12}, 0.1), back = side({140, 30, 30}, {20, 5, 5}, -2.5);
    EXPECT_EQ(agree(front, back), -1);
    EXPECT_FALSE(front.tones.doubt.empty());
}

TEST(Agree, TwoThatAreSureOfTheOppositeAreLeftAlone) {
    auto front = side({30, 90, 50}, {9, 15, 12}, 2.4), back = side({32, 92, 51}, {9, 14, 12}, -2.5);
    EXPECT_EQ(agree(front, back), -1);
    EXPECT_FALSE(front.tones.high_is_copper);
}

}  // namespace
}  // namespace grayrelic::scan_ground
