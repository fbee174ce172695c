// SPDX-License-Identifier: GPL-3.0-or-later
// What must hold for any edges at all, sense or none: a level that is claimed is the level of the line at the
// time that is claimed; walks agree with searches; extras behave like a map.
#include <gmock/gmock.h>

#include "core/decode/settings.hpp"
#include "core/signal/compare_captures.hpp"
#include "standin/spoken.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

/// Edges at random distances around `mean`, with now and then a long pause.
std::shared_ptr<const DigitalWaveform> random_waveform(Random& random, int edges, double mean_ns) {
    std::vector<Time> list;
    Time t = Time::ns(100);
    for (int i = 0; i < edges; ++i) {
        t += Time::ps(1 + static_cast<std::int64_t>(2000 * mean_ns * random.uniform()));
        if (random.next() % 40 == 0)
            t += Time::ps(static_cast<std::int64_t>(60'000 * mean_ns * random.uniform()));
        list.push_back(t);
    }
    return std::make_shared<const DigitalWaveform>(random.next() % 2 == 0, list);
}

Capture random_capture(std::uint64_t seed) {
    Random random(seed);
    return test::capture_of({{"a", random_waveform(random, 600, 3000)},
                             {"b", random_waveform(random, 900, 2000)},
                             {"c", random_waveform(random, 300, 6000)}},
                            Time::ms(40));
}

Decoding decode(const Capture& c, const char* kind, const RoleMap& roles, const SettingMap& settings = {}) {
    Progress progress;
    auto d = find_decoder(kind).value()->decode(c, roles, settings, progress);
    EXPECT_TRUE(d) << test::message(d);
    return d ? std::move(*d) : Decoding{};
}

class AnyEdges : public testing::TestWithParam<std::uint64_t> {};

TEST_P(AnyEdges, AsyncSerialReadsWhatTheLineSaysInTheMiddles) {
    const auto c = random_capture(GetParam());
    const auto& line = **c.find_digital("a");
    for (const char* invert : {"yes", "no"})
        for (const char* bits : {"5", "8", "9"}) {
            const auto d =
                decode(c, "async-serial", {{"data", {"a"}}},
                       {{"baud", "250000"}, {"bits", bits}, {"parity", "odd"}, {"invert", invert}});
            EXPECT_GT(d.frames.size(), 4U);
            for (const auto& f : d.frames) {
                ASSERT_EQ(f.levels.size(), f.bit_times.size());
                // The line goes to space where it starts, and is there still in the middle of the start bit,
                // 2 µs on.
                const bool mark = std::string_view(invert) == "no";
                EXPECT_NE(line.level_before(f.start), !mark);
                EXPECT_EQ(line.level_at(f.start + Time::us(2)), !mark);
                int ones = 0;
                for (std::size_t k = 0; k < f.levels.size(); ++k) {
                    const bool one = line.level_at(f.bit_times[k]) == mark;
                    EXPECT_EQ(f.levels[k], one ? '1' : '0');
                    ones += one ? 1 : 0;
                }
                // Parity and stop bit: each bit lasts 4 µs, and the first data bit's middle lies at 6 µs.
                const auto middle = [&](std::size_t bit) {
                    return f.start + Time::us(6 + 4 * static_cast<long>(bit));
                };
                const bool stops = line.level_at(middle(f.levels.size() + 1)) == mark;
                const bool parity = line.level_at(middle(f.levels.size())) == mark;
                const bool framing =
                    std::find(f.errors.begin(), f.errors.end(), "framing") != f.errors.end() ||
                    std::find(f.errors.begin(), f.errors.end(), "break") != f.errors.end();
                EXPECT_EQ(framing, !stops);
                if (stops) {
                    EXPECT_EQ(std::find(f.errors.begin(), f.errors.end(), "parity") == f.errors.end(),
                              (ones + (parity ? 1 : 0)) % 2 == 1);
                }
            }
        }
}

TEST_P(AnyEdges, ClockedFamiliesReadWhatStandsBeforeTheirEdges) {
    const auto c = random_capture(GetParam());
    const auto& data = **c.find_digital("c");
    const auto& clock = **c.find_digital("b");
    for (const auto& [kind, roles, settings] :
         {std::tuple<const char*, RoleMap, SettingMap>{
              "latch-shift", {{"latch", {"a"}}, {"clock", {"b"}}, {"data", {"c"}}}, {{"edge", "fall"}}},
          {"latch-shift",
           {{"latch", {"a"}}, {"clock", {"b"}}, {"data", {"c"}}},
           {{"edge", "rise"}, {"bits", "3"}}},
          {"latch-shift", {{"latch", {"a"}}, {"clock", {"b"}}, {"data", {"c"}}}, {}}}) {
        const auto d = decode(c, kind, roles, settings);
        EXPECT_GT(d.frames.size(), 20U);
        for (const auto& f : d.frames)
            for (std::size_t k = 0; k < f.levels.size(); ++k) {
                EXPECT_EQ(f.levels[k], data.level_before(f.bit_times[k]) ? '1' : '0');
                EXPECT_EQ(clock.edges_until(f.bit_times[k]), clock.edges_before(f.bit_times[k]) + 1)
                    << "a bit is read at an edge of the clock";
                EXPECT_GE(f.bit_times[k], f.start);
            }
    }
}

TEST_P(AnyEdges, EveryFamilyEndsWithItsWordsInOrder) {
    const auto c = random_capture(GetParam());
    const char* lines[] = {"a", "b", "c"};
    for (const auto& decoder : decoders()) {
        RoleMap roles;
        std::size_t next = GetParam();
        for (const auto& r : decoder->roles()) {
            roles[r.name] = {lines[next++ % 3]};
            if (r.repeated) roles[r.name].push_back(lines[next++ % 3]);
        }
        Progress progress;
        const auto d = decoder->decode(c, roles, {}, progress);
        if (!d) continue;  // roles that exclude each other are refused with a message
        for (std::size_t i = 0; i < d->frames.size(); ++i) {
            EXPECT_LE(d->frames[i].start, d->frames[i].end) << decoder->kind();
            if (i > 0) {
                EXPECT_LE(d->frames[i - 1].start, d->frames[i].start) << decoder->kind();
            }
        }
        long errors = 0;
        for (const auto& [name, n] : d->error_counts) errors += n;
        EXPECT_GE(errors, d->frames_with_errors()) << decoder->kind();
    }
}

INSTANTIATE_TEST_SUITE_P(Seeds, AnyEdges, testing::Range<std::uint64_t>(1, 13));

TEST(Walks, AgreeWithSearches) {
    Random random(3);
    const auto waveform = random_waveform(random, 500, 1000);
    EdgeWalk edges(*waveform);
    LevelWalk before(*waveform), at(*waveform);
    Time t;
    for (int i = 0; i < 3000; ++i) {
        // Now and then exactly at an edge.
        t += Time::ps(static_cast<std::int64_t>(900'000 * random.uniform()));
        if (const auto n = waveform->edges_before(t); i % 3 == 0 && n < waveform->edges().size())
            t = waveform->edges()[n];
        ASSERT_EQ(edges.before(t), waveform->edges_before(t));
        ASSERT_EQ(before.before(t), waveform->level_before(t));
        ASSERT_EQ(at.at(t), waveform->level_at(t));
    }
}

TEST(FrameExtras, BehaveLikeAMap) {
    FrameExtras e;
    EXPECT_TRUE(e.empty());
    EXPECT_EQ(e.find("poll"), e.end());
    EXPECT_THROW((void)e.at("poll"), std::out_of_range);
    e["poll"] = 3LL;
    e["text"] = std::string("x");
    e["poll"] = 4LL;
    EXPECT_EQ(std::get<long long>(e.at("poll")), 4);
    EXPECT_EQ(e.count("text"), 1U);
    EXPECT_EQ(e.count("other"), 0U);
    EXPECT_EQ(std::distance(e.begin(), e.end()), 2);
    const auto copy = e;
    e["more"] = false;
    EXPECT_EQ(copy.count("more"), 0U);
}

TEST(BitTimes, CopiesAndMovesKeepTheirLists) {
    BitTimes a;
    for (int i = 0; i < 20; ++i) a.push_back(Time::us(i));
    const BitTimes b = a;
    BitTimes c = a;
    a.push_back(Time::us(99));
    EXPECT_EQ(b.size(), 20U);
    EXPECT_EQ(a.back(), Time::us(99));
    const BitTimes moved = std::move(c);
    EXPECT_TRUE(moved == b);
    a = b;
    EXPECT_TRUE(a == b);
    a = BitTimes::even(Time::us(1), 1e6, 2);
    EXPECT_EQ(a[1], Time::us(2));
}

TEST(SameNames, PairSignalsWhateverTheirScopes) {
    const auto a = test::capture_of({{"pad.STEP", test::waveform_ns(true, {50, 90})},
                                     {"pad.HOLD", test::waveform_ns(false, {20, 30})},
                                     {"pad.ONLY", test::waveform_ns(false, {5})}});
    const auto b = test::capture_of(
        {{"bench.HOLD", test::waveform_ns(false, {21})}, {"STEP", test::waveform_ns(true, {51})}});
    const auto pairs = same_names(a, b);
    EXPECT_THAT(pairs, testing::ElementsAre(testing::Pair("pad.STEP", "STEP"),
                                            testing::Pair("pad.HOLD", "bench.HOLD")));
    EXPECT_EQ(same_names(a, b, 1).size(), 1U);
    const auto first = first_edge_of(a, pairs);
    ASSERT_TRUE(first);
    EXPECT_EQ(first->signal, "pad.HOLD");
    EXPECT_EQ(first->direction, Direction::rise);
    EXPECT_FALSE(first_edge_of(a, {}));
    EXPECT_FALSE(first_edge_of(test::capture_of({{"x", test::waveform_ns(true, {})}}), {{"x", "x"}}));
}

}  // namespace
}  // namespace grayrelic
