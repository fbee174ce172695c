// SPDX-License-Identifier: GPL-3.0-or-later
// Transactions and shapes, searches, overlay, and an original against its replica.
#include <gmock/gmock.h>

#include "core/signal/compare_captures.hpp"
#include "core/signal/find.hpp"
#include "core/signal/overlay.hpp"
#include "core/signal/shapes.hpp"
#include "standin/wires.hpp"

namespace grayrelic {
namespace {

using standin::capture_of;
using standin::Wire;

/// A host that polls in three ways: 4 clocks after a pulse, 2 clocks after a pulse, a pulse alone; the data
/// line answers something else each time. 1 ms apart.
Capture three_ways(int polls) {
    Wire hold("bus.HOLD", false), step("bus.STEP"), reply("bus.REPLY");
    Random random(3);
    Time t = Time::us(100);
    for (int i = 0; i < polls; ++i, t += Time::ms(1)) {
        hold.pulse(t, t + Time::us(10), true);
        const int clocks = i % 10 == 9 ? 0 : i % 3 == 2 ? 2 : 4;
        for (int k = 0; k < clocks; ++k) {
            const Time at = t + Time::us(20 + 10 * k);
            step.pulse(at, at + Time::us(5), false);
            reply.set(at + Time::us(6), random.next() % 2 == 0);
        }
    }
    return capture_of({hold, step, reply}, t);
}

TEST(Shapes, ThreeWaysOfPollingAreThreeShapesWhateverTheDataSays) {
    Progress progress;
    const auto s = find_shapes(three_ways(300), {}, progress).value();
    // The pause of at least 900 µs stands out against the 10 µs inside.
    EXPECT_GT(s.gap, Time::us(20));
    EXPECT_LT(s.gap, Time::us(940));
    EXPECT_EQ(s.transactions.size(), 300U);
    EXPECT_THAT(s.left_out, testing::ElementsAre("bus.REPLY"));
    ASSERT_EQ(s.shapes.size(), 3U);
    // Of 300: 30 alone; of the 270 others those with i % 3 == 2, which are 90 of the 270.
    EXPECT_EQ(s.shapes[0].count, 180);
    EXPECT_EQ(s.shapes[1].count, 90);
    EXPECT_EQ(s.shapes[2].count, 30);
    EXPECT_EQ(s.shapes[0].text, "HOLD↑ HOLD↓ (STEP↓ STEP↑)×4");
    EXPECT_EQ(s.shapes[2].text, "HOLD↑ HOLD↓");
    EXPECT_NEAR(s.shapes[0].duration.median, 55e-6, 1e-12);  // to the last rise at 20 + 30 + 5 µs
    EXPECT_EQ(s.transactions[s.shapes[2].example].start, Time::us(100) + Time::ms(9));
    // Arrivals at random: nothing seen in n has come less than once in n / 3 with 95 %: −ln 0.05 = 2.996.
    const double span = (s.transactions.back().end - s.transactions.front().start).seconds();
    EXPECT_NEAR(s.to_see_once_in(300).seconds() / span, 2.9957, 0.001);
}

TEST(Shapes, NamedSignalsAndStatedGap) {
    Progress progress;
    ShapeOptions o;
    o.signals = {"HOLD"};
    o.gap = Time::us(5);
    const auto s = find_shapes(three_ways(10), o, progress).value();
    EXPECT_EQ(s.transactions.size(), 20U) << "each edge by itself";
    EXPECT_FALSE(s.gap_found);
    o.signals = {"nobody"};
    EXPECT_FALSE(find_shapes(three_ways(3), o, progress));
    Progress cancelled;
    cancelled.cancel();
    EXPECT_FALSE(find_shapes(three_ways(3), {}, cancelled));
    const auto none = find_shapes(capture_of({Wire("still")}, Time::us(9)), {}, progress).value();
    EXPECT_TRUE(none.transactions.empty());
    EXPECT_TRUE(none.shapes.empty());
}

TEST(Overlay, SharesSpreadAndOutliers) {
    // 1,000 transactions: A rises, B answers after 2 µs, one of them after 5 µs, and falls 4 µs later.
    Wire a("A", false), b("B", false);
    OverlayRequest request;
    for (int i = 0; i < 1000; ++i) {
        const Time t = Time::us(50) * (i + 1);
        a.pulse(t, t + Time::us(10), true);
        const Time late = i == 700 ? Time::us(5) : Time::us(2);
        b.pulse(t + late, t + late + Time::us(4), true);
        request.spans.push_back({t - Time::us(1), t + Time::us(11)});
    }
    request.signals = {"A", "B"};
    request.align = EdgeName{"A", Direction::rise};
    request.before = Time::us(1);
    request.after = Time::us(9);
    request.columns = 100;  // 0.1 µs each
    Progress progress;
    const auto o = make_overlay(capture_of({a, b}, Time::ms(60)), request, progress).value();
    EXPECT_EQ(o.spans, 1000U);
    EXPECT_EQ(o.without, 0U);
    EXPECT_FLOAT_EQ(o.lines[0].high[5], 0.0F);
    EXPECT_FLOAT_EQ(o.lines[0].high[50], 1.0F);
    EXPECT_FLOAT_EQ(o.lines[1].high[45], 0.999F) << "3.5 µs after the edge: all but the late one";
    EXPECT_FLOAT_EQ(o.lines[1].high[85], 0.001F);
    EXPECT_FLOAT_EQ(o.lines[1].edges[30], 0.999F) << "the rise at 2 µs lies in column 30";
    const auto& rise = o.lines[1].spread[0];
    EXPECT_TRUE(rise.rises);
    EXPECT_NEAR(rise.min_s, 2e-6, 1e-12);
    EXPECT_NEAR(rise.max_s, 5e-6, 1e-12);
    EXPECT_EQ(rise.max_span, 700U) << "the outlier can be reached";
    EXPECT_NEAR(rise.mean_s, 2.003e-6, 1e-12);  // 2 + 3/1000
    // Deviation of 999 zeros and one 3 µs: 3·sqrt(1/1000 · (1 − 1/1000) · 1000/999) µs.
    EXPECT_NEAR(rise.sd_s, 3e-6 * std::sqrt(0.001), 1e-11);
    request.stride = 10;
    EXPECT_EQ(make_overlay(capture_of({a, b}, Time::ms(60)), request, progress)->spans, 100U);
    request.align = EdgeName{"B", Direction::any};
    request.spans.push_back({Time::ms(55), Time::ms(56)});
    request.stride = 1;
    EXPECT_EQ(make_overlay(capture_of({a, b}, Time::ms(60)), request, progress)->without, 1U);
}

/// A high 10-20, 30-40, 50-51; B falls at 12 and 55, rises at 14; C rises at 13.5 and 60. All µs.
Capture small() {
    const auto us = [](double v) { return Time::from_seconds(v * 1e-6); };
    Wire a("A", false), b("B"), c("C", false);
    a.pulse(us(10), us(20), true);
    b.set(us(12), false);
    c.set(us(13.5), true);
    b.set(us(14), true);
    a.pulse(us(30), us(40), true);
    c.set(us(45), false);
    a.pulse(us(50), us(51), true);
    b.set(us(55), false);
    c.set(us(60), true);
    return capture_of({a, b, c}, us(70));
}

std::vector<Span> found(const FindQuery& q) {
    Progress progress;
    return find_in(small(), q, progress).value();
}

TEST(Find, PulsesLevelsPausesAndOrders) {
    FindQuery q;
    q.pulse = "A";
    q.pulse_level = true;
    q.shorter = Time::us(10);
    EXPECT_THAT(found(q), testing::ElementsAre(Span{Time::us(50), Time::us(51)})) << "strictly shorter";
    q.shorter.reset();
    q.longer = Time::us(5);
    EXPECT_EQ(found(q).size(), 2U);
    q.levels = {{"B", true}};
    EXPECT_EQ(found(q).size(), 2U) << "B is high when both begin";
    q.levels = {{"C", true}};
    EXPECT_THAT(found(q), testing::ElementsAre(Span{Time::us(30), Time::us(40)}));

    FindQuery levels;
    levels.levels = {{"A", true}, {"B", false}};
    EXPECT_THAT(found(levels), testing::ElementsAre(Span{Time::us(12), Time::us(14)}));
    levels.levels = {{"A", false}, {"C", true}};
    EXPECT_THAT(found(levels),
                testing::ElementsAre(Span{Time::us(20), Time::us(30)}, Span{Time::us(40), Time::us(45)},
                                     Span{Time::us(60), Time::us(70)}));

    FindQuery pause;
    pause.pause = Time::us(9);
    EXPECT_THAT(found(pause),
                testing::ElementsAre(Span{Time::us(20), Time::us(30)}, Span{Time::us(30), Time::us(40)}));

    FindQuery order;
    order.order = parse_order("B:fall while A=1 then C:rise within 3us").value();
    EXPECT_THAT(found(order), testing::ElementsAre(Span{Time::us(12), Time::ns(13500)}))
        << "the fall at 55 comes while A is low";
    order.order = parse_order("B:fall then C:rise within 3us").value();
    EXPECT_EQ(found(order).size(), 1U) << "5 µs after the fall at 55 is too late";
    order.order = parse_order("B:fall then C:rise within 6us").value();
    EXPECT_EQ(found(order).size(), 2U);
}

TEST(Find, QueriesThatMakeNoSense) {
    Progress progress;
    EXPECT_FALSE(find_in(small(), {}, progress));
    FindQuery q;
    q.pulse = "A";
    EXPECT_FALSE(find_in(small(), q, progress)) << "no length";
    q.shorter = Time::us(1);
    q.pause = Time::us(1);
    EXPECT_FALSE(find_in(small(), q, progress)) << "two things at once";
    for (const char* bad : {"", "B", "B:sideways", "B:fall then", "B:fall within", "B:fall within x",
                            "B:fall while", "B:fall while A=2", "B:fall while =1"})
        EXPECT_FALSE(parse_order(bad)) << bad;
    for (const char* bad : {"A", "A=", "A=2", "=1", "A=1,"}) EXPECT_FALSE(parse_levels(bad)) << bad;
    EXPECT_EQ(parse_order("B:fall within 2us while A=1,C=0")->at(0).while_levels.size(), 2U);
}

TEST(CompareCaptures, DelaysMissingExtraAndTheFirstDifference) {
    Wire a("REPLY"), same("OUT"), late("OUT"), wrong("OUT");
    for (int i = 0; i < 100; ++i) {
        const Time t = Time::us(100) * (i + 1);
        a.pulse(t, t + Time::us(20), false);
        same.pulse(t, t + Time::us(20), false);
        const Time by = Time::ns(300 + i);
        late.pulse(t + by, t + by + Time::us(20), false);
        if (i != 40) wrong.pulse(t, t + Time::us(20), false);
        if (i == 60) wrong.pulse(t + Time::us(50), t + Time::us(51), false);
    }
    CompareRequest r;
    r.signals = {{"REPLY", "OUT"}};
    Progress progress;
    const auto against = [&](const Wire& other, CompareRequest request) {
        return compare_captures(capture_of({a}, Time::ms(11)), capture_of({other}, Time::ms(11)), request,
                                progress)
            .value();
    };
    auto c = against(same, r);
    EXPECT_TRUE(c.same);
    EXPECT_FALSE(c.first_difference);
    EXPECT_EQ(c.signals[0].delay.n, 200);
    c = against(late, r);
    EXPECT_TRUE(c.same) << "late, but within half the usual distance";
    EXPECT_NEAR(c.signals[0].delay.min, 300e-9, 1e-15);
    EXPECT_NEAR(c.signals[0].delay.max, 399e-9, 1e-15);
    r.tolerance = Time::ns(350);
    c = against(late, r);
    EXPECT_FALSE(c.same);
    EXPECT_EQ(c.signals[0].missing, 98);  // i = 51 to 99, both edges
    EXPECT_EQ(*c.first_difference, Time::us(100) * 52)
        << "350 ns and more from i = 51 on; the original's edge comes first";
    r.tolerance.reset();
    c = against(wrong, r);
    EXPECT_FALSE(c.same);
    EXPECT_EQ(c.signals[0].missing, 2);
    EXPECT_EQ(c.signals[0].extra, 2);
    EXPECT_EQ(*c.first_difference, Time::us(4100));
    EXPECT_EQ(c.signals[0].edges_a, 200);
    EXPECT_EQ(c.signals[0].edges_b, 200);
    // Laid over each other at an edge.
    r.align = EdgeName{"REPLY", Direction::fall};
    c = against(late, r);
    EXPECT_EQ(c.shift, Time::ns(-300));
    EXPECT_NEAR(c.signals[0].delay.min, 0.0, 1e-15);
    CompareRequest bad;
    EXPECT_FALSE(compare_captures(capture_of({a}, Time::ms(1)), capture_of({a}, Time::ms(1)), bad, progress));
    bad.signals = {{"REPLY", "nobody"}};
    EXPECT_FALSE(compare_captures(capture_of({a}, Time::ms(1)), capture_of({a}, Time::ms(1)), bad, progress));
}

}  // namespace
}  // namespace grayrelic
