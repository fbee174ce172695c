// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/waveform.hpp"

#include <algorithm>

#include "core/base/random.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::at_ns;
using test::waveform_ns;

TEST(DigitalWaveform, LevelsFollowTheEdges) {
    const auto t = waveform_ns(false, {10, 20, 30});
    EXPECT_FALSE(t->level_before(Time::ns(10)));
    EXPECT_TRUE(t->level_at(Time::ns(10)));
    EXPECT_TRUE(t->level_before(Time::ns(20)));
    EXPECT_FALSE(t->level_at(Time::ns(20)));
    EXPECT_TRUE(t->level_at(Time::s(1)));
    EXPECT_TRUE(t->is_rise(0));
    EXPECT_FALSE(t->is_rise(1));
    EXPECT_EQ(t->edge_times(Direction::rise), at_ns({10, 30}));
    EXPECT_EQ(t->edge_times(Direction::fall), at_ns({20}));
    EXPECT_EQ(t->edge_times(Direction::any), at_ns({10, 20, 30}));
    EXPECT_TRUE(t->matches(1, Direction::any));
    EXPECT_FALSE(t->matches(1, Direction::rise));
}

TEST(DigitalWaveform, StartingHighSwapsTheDirections) {
    const auto t = waveform_ns(true, {10, 20});
    EXPECT_EQ(t->edge_times(Direction::fall), at_ns({10}));
    EXPECT_EQ(t->edge_times(Direction::rise), at_ns({20}));
}

TEST(DigitalWaveform, WithoutEdgesIsItsFirstLevel) {
    const DigitalWaveform t(true, {});
    EXPECT_TRUE(t.level_at(Time::max()));
    EXPECT_EQ(t.edges_before(Time::max()), 0U);
    EXPECT_EQ(t.edges_until(Time::min()), 0U);
}

TEST(DigitalWaveform, RefusesEdgesOutOfOrder) {
    EXPECT_THROW(DigitalWaveform(false, at_ns({10, 10})), std::logic_error);
    EXPECT_THROW(DigitalWaveform(false, at_ns({10, 5})), std::logic_error);
}

TEST(DigitalWaveform, UnknownSpansAreRemembered) {
    const DigitalWaveform t(false, at_ns({50}), {{Time::ns(0), Time::ns(10)}, {Time::ns(30), Time::ns(40)}});
    EXPECT_FALSE(t.known_before(Time::ns(5)));
    EXPECT_FALSE(t.known_before(Time::ns(10)));
    EXPECT_TRUE(t.known_before(Time::ns(11)));
    EXPECT_TRUE(t.known_before(Time::ns(30)));
    EXPECT_FALSE(t.known_before(Time::ns(31)));
    EXPECT_TRUE(t.known_between(Time::ns(10), Time::ns(30)));
    EXPECT_FALSE(t.known_between(Time::ns(10), Time::ns(31)));
    EXPECT_TRUE(t.known_between(Time::ns(40), Time::ns(400)));
}

/// The pyramid must agree with a plain binary search, at every size around its block borders.
class PyramidAgrees : public testing::TestWithParam<std::size_t> {};

TEST_P(PyramidAgrees, WithBinarySearch) {
    Random random(GetParam());
    std::vector<Time> edges;
    Time t;
    for (std::size_t i = 0; i < GetParam(); ++i)
        edges.push_back(t += Time::ps(1 + static_cast<long>(random.below(1000))));
    const DigitalWaveform waveform(false, edges);
    const auto check = [&](Time at) {
        EXPECT_EQ(waveform.edges_before(at),
                  static_cast<std::size_t>(std::lower_bound(edges.begin(), edges.end(), at) - edges.begin()));
        EXPECT_EQ(waveform.edges_until(at),
                  static_cast<std::size_t>(std::upper_bound(edges.begin(), edges.end(), at) - edges.begin()));
    };
    for (int i = 0; i < 500; ++i)
        check(Time::ps(static_cast<long>(random.below(static_cast<std::uint64_t>(t.count()) + 100))));
    for (std::size_t i = 0; i < edges.size(); i += 1 + edges.size() / 300) {
        check(edges[i]);
        check(edges[i] - Time::ps(1));
        check(edges[i] + Time::ps(1));
    }
    check(Time::min());
    check(Time::max());
}

INSTANTIATE_TEST_SUITE_P(Sizes, PyramidAgrees,
                         testing::Values(1, 2, 63, 64, 65, 127, 128, 129, 4095, 4096, 4097, 4160, 262'145));

TEST(DigitalWaveform, ThePyramidCostsLittle) {
    std::vector<Time> edges;
    for (long i = 0; i < 1'000'000; ++i) edges.push_back(Time::ns(i));
    edges.shrink_to_fit();
    const DigitalWaveform t(false, std::move(edges));
    // 8 bytes an edge, 1/64 + 1/64² … of that on top: below 8.2 bytes an edge.
    EXPECT_LT(static_cast<double>(t.bytes()) / 1e6, 8.2);
}

TEST(Columns, CountEveryEdgeOnce) {
    Random random(3);
    std::vector<Time> edges;
    Time t;
    for (int i = 0; i < 10'000; ++i)
        edges.push_back(t += Time::ps(1 + static_cast<long>(random.below(100'000))));
    const DigitalWaveform waveform(false, edges);
    for (const std::size_t width : {1U, 7U, 913U, 20'000U}) {
        std::vector<Column> columns(width);
        fill_columns(waveform, edges[100], edges[9'000], columns);
        EXPECT_EQ(columns.front().first_edge, 100U);
        std::size_t sum = 0;
        for (std::size_t i = 0; i < width; ++i) {
            EXPECT_EQ(columns[i].first_edge, 100 + sum);
            sum += columns[i].edge_count;
        }
        EXPECT_EQ(sum, 8'900U);
    }
}

TEST(Columns, ShowALonePulseHoweverFarOneZoomsOut) {
    const auto t = waveform_ns(false, {500'000'000, 500'000'010});
    std::vector<Column> columns(800);
    fill_columns(*t, Time{}, Time::s(1), columns);
    const auto hits =
        std::count_if(columns.begin(), columns.end(), [](const Column& c) { return c.edge_count == 2; });
    EXPECT_EQ(hits, 1);
}

}  // namespace
}  // namespace grayrelic
