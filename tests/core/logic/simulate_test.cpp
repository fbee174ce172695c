// SPDX-License-Identifier: GPL-3.0-or-later
// The rules of the simulation on circuits small enough to work out by hand. Against a general simulator on
// random networks: hdl_logic_test.cpp.
#include <gmock/gmock.h>

#include "core/base/random.hpp"
#include "tests/core/helpers.hpp"
#include "tests/core/logic/logic_helpers.hpp"

namespace grayrelic {
namespace {

SimulationResult run(const Network& n, const std::vector<Stimulus>& stimuli, SimulationOptions options = {}) {
    Progress progress;
    auto r = simulate(n, stimuli, options, progress);
    EXPECT_TRUE(r) << r.error().message();
    return r ? std::move(*r) : SimulationResult{};
}

std::string net_of(const SimulationResult& r, const Network& n, const char* net) {
    return test::shown(r.nets[static_cast<std::size_t>(*n.find_net(net))]);
}

TEST(Simulate, AnInverterAnswersAfterTheDelayOfItsCorner) {
    // 74x04 hct: least 3.7, typical 11, most 30 ns (data/parts/74x04.json).
    const auto n = test::network("input A\noutput Y\nU1 74x04 hct: 1A=A 1Y=Y\n");
    for (const auto& [corner, ps] :
         {std::pair{Corner::fast, 3700}, {Corner::typical, 11000}, {Corner::slow, 30000}}) {
        SimulationOptions o;
        o.corner = corner;
        const auto r = run(n, {test::toggles(n, "A", false, {1000, 1100})}, o);
        EXPECT_EQ(net_of(r, n, "Y"), "1@" + std::to_string(ps) + " 0@" + std::to_string(1'000'000 + ps) +
                                         " 1@" + std::to_string(1'100'000 + ps));
    }
}

TEST(Simulate, APulseShorterThanTheDelayIsSwallowedUnlessTransportIsAskedFor) {
    const auto n = test::network("input A\noutput Y\nU1 74x04 hct: 1A=A 1Y=Y\n");
    const auto stimulus = test::toggles(n, "A", false, {1000, 1029});  // 29 ns against 30
    EXPECT_EQ(net_of(run(n, {stimulus}), n, "Y"), "1@30000");
    SimulationOptions transport;
    transport.transport = true;
    EXPECT_EQ(net_of(run(n, {stimulus}, transport), n, "Y"), "1@30000 0@1030000 1@1059000");
    const auto just = test::toggles(n, "A", false, {1000, 1030});
    EXPECT_EQ(net_of(run(n, {just}), n, "Y"), "1@30000 0@1030000 1@1060000");
}

TEST(Simulate, AStaticHazardTwitchesWhenThePathsAreUneven) {
    // Y = !( !(A·B) · !(B'·C) ) with B' late: at B's fall with A = C = 1 the output dips for the inverter's
    // delay.
    const auto n = test::network(
        "input A = 1\ninput C = 1\ninput B\noutput Y\nU1 74x04 hct: 1A=B 1Y=nb\nU2 74x00 hct: 1A=A 1B=B 1Y=p "
        "2A=nb 2B=C 2Y=q 3A=p 3B=q 3Y=Y 4A=0 4B=0\n");
    const auto r = run(n, {test::toggles(n, "B", true, {1000})});
    // B falls at 1000: p rises at 1030, nb at 1030, q falls at 1060. Y falls at 1060 (p = q = 1 from 1030)
    // and rises again at 1090.
    EXPECT_EQ(net_of(r, n, "Y"), "1@60000 0@1060000 1@1090000");
}

TEST(Simulate, ARegisterShiftsOnTheEdgeAndLoadsWhileToldTo) {
    // hct 74x165, slow: 57 ns from the edge to QH.
    const auto n = test::network(
        "input CLK /LD\noutput Q\nU1 74x165 hct: /LD=/LD CLK=CLK INH=0 SER=0 P7=1 P6=0 P5=1 P4=1 P3=0 P2=0 "
        "P1=0 P0=0 QH=Q\n");
    const auto r = run(n, {test::toggles(n, "/LD", true, {1000, 1200}),
                           test::toggles(n, "CLK", false, {2000, 2100, 3000, 3100, 4000})});
    // Unknown until loaded; then P7 = 1, P6 = 0 after the first edge, P5 = P4 = 1 after the next two.
    EXPECT_EQ(net_of(r, n, "Q"), "1@1057000 0@2057000 1@3057000");
    EXPECT_TRUE(r.faults.empty());
}

TEST(Simulate, SetUpHoldAndPulseFaultsAreNotedAndTheBitIsUnknown) {
    // 74x74 hct: set-up 20 ns, hold 3 ns, least pulse 20 ns.
    const auto n = test::network(
        "input D CLK\noutput Q\nU1 74x74 hct: 1D=D 1CLK=CLK /1CLR=1 /1PRE=1 1Q=Q 2D=0 2CLK=0 /2CLR=1 "
        "/2PRE=1\n");
    auto r = run(n, {test::toggles(n, "D", false, {985}), test::toggles(n, "CLK", false, {1000})});
    ASSERT_EQ(r.faults.size(), 1U);
    EXPECT_EQ(r.faults[0].kind, TimingFault::Kind::setup);
    EXPECT_EQ(r.faults[0].pin, "1D");
    EXPECT_EQ(r.faults[0].had, Time::ns(15));
    EXPECT_EQ(r.faults[0].needed, Time::ns(20));
    EXPECT_EQ(net_of(r, n, "Q"), "");
    r = run(n, {test::toggles(n, "D", false, {980}), test::toggles(n, "CLK", false, {1000})});
    EXPECT_TRUE(r.faults.empty());
    EXPECT_EQ(r.nets[static_cast<std::size_t>(*n.find_net("Q"))].back().level, Level::one);
    r = run(n, {test::toggles(n, "D", true, {1002}), test::toggles(n, "CLK", false, {1000})});
    ASSERT_EQ(r.faults.size(), 1U);
    EXPECT_EQ(r.faults[0].kind, TimingFault::Kind::hold);
    r = run(n, {test::toggles(n, "D", true, {}), test::toggles(n, "CLK", false, {1000, 1019})});
    ASSERT_EQ(r.faults.size(), 1U);
    EXPECT_EQ(r.faults[0].kind, TimingFault::Kind::width);
}

TEST(Simulate, ABusIsOpenPulledOrClashes) {
    const auto n = test::network(
        "input EA EB\noutput W\npull V 1\nU1 74x125 hct: 1A=0 /1OE=EA 1Y=W 2A=1 /2OE=EB 2Y=W 3A=0 /3OE=EA "
        "3Y=V 4A=0 /4OE=1\n");
    const auto r =
        run(n, {test::toggles(n, "EA", true, {1000, 3000}), test::toggles(n, "EB", true, {2000, 4000})});
    // 74x125: 39 ns. Open, 0 by the first, both at 2039: unknown, 1 by the second alone, open again.
    EXPECT_EQ(net_of(r, n, "W"), "z@39000 0@1039000 x@2039000 1@3039000 z@4039000");
    EXPECT_EQ(net_of(r, n, "V"), "1@39000 0@1039000 1@3039000");
    ASSERT_EQ(r.clashes.size(), 1U);
    EXPECT_EQ(r.clashes[0].at, Time::ps(2039000));
}

TEST(Simulate, AnOscillatingLoopEnds) {
    const auto n =
        test::network("input A\noutput Y\nU1 74x00 hc: 1A=A 1B=Y 1Y=Y 2A=0 2B=0 3A=0 3B=0 4A=0 4B=0\n");
    ASSERT_TRUE(n.computable());
    EXPECT_EQ(n.loop, "Y");
    SimulationOptions o;
    o.most_events = 10'000;
    const auto r = run(n, {test::toggles(n, "A", false, {1000})}, o);
    EXPECT_THAT(r.stopped, testing::HasSubstr("Y is in a loop that oscillates"));
}

TEST(Simulate, RefusesWhatCannotBeComputed) {
    Progress progress;
    const auto n = test::network("input A\noutput Y\nU1 74x00 hc: 1A=A 1B=lost 1Y=Y\n");
    EXPECT_THAT(test::message(simulate(n, {}, {}, progress)), testing::HasSubstr("nobody drives net lost"));
    const auto good = test::network("input A\noutput Y\nU1 74x04 hc: 1A=A 1Y=Y\n");
    auto s = test::toggles(good, "A", false, {10, 20});
    std::swap(s.changes[0], s.changes[1]);
    EXPECT_THAT(test::message(simulate(good, {s}, {}, progress)), testing::HasSubstr("out of order"));
    Progress stopped;
    stopped.cancel();
    std::vector<std::int64_t> many;
    for (std::int64_t t = 1; t < 20'000; ++t) many.push_back(t * 100);
    EXPECT_FALSE(simulate(good, {test::toggles(good, "A", false, many)}, {}, stopped));
}

TEST(Simulate, WaveformOfKeepsUnknownAndOpenStretches) {
    const auto t = waveform_of({{Time::ns(10), Level::one},
                                {Time::ns(20), Level::unknown},
                                {Time::ns(30), Level::open},
                                {Time::ns(40), Level::zero}},
                               Time::ns(50));
    EXPECT_TRUE(t.first_level());
    EXPECT_THAT(std::vector<Time>(t.edges().begin(), t.edges().end()), testing::ElementsAre(Time::ns(40)));
    ASSERT_EQ(t.unknown().size(), 2U);
    EXPECT_EQ(t.unknown()[0], (Span{Time{}, Time::ns(10)}));
    EXPECT_EQ(t.unknown()[1], (Span{Time::ns(20), Time::ns(40)}));
    ASSERT_EQ(t.floating().size(), 1U);
    EXPECT_EQ(t.floating()[0], (Span{Time::ns(30), Time::ns(40)}));
}

}  // namespace
}  // namespace grayrelic
