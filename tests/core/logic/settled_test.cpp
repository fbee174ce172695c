// SPDX-License-Identifier: GPL-3.0-or-later
// A net that is watched alone is computed by repeating what the network did before. It must give what the
// whole simulation gives, which hdl_logic_test.cpp holds against another simulator: the same changes, events,
// faults.
#include <gmock/gmock.h>

#include "tests/core/logic/random_network.hpp"

namespace grayrelic {
namespace {

/// Few inputs that change many times, mostly with time to come to rest between them, now and then too soon.
std::vector<Stimulus> many_changes(const Network& n, Random& r, int changes) {
    std::vector<Stimulus> out;
    for (const auto& in : n.inputs) out.push_back({in.net, r.below(2) != 0 ? Level::one : Level::zero, {}});
    std::vector<Level> level;
    for (const auto& s : out) level.push_back(s.first);
    Time t = Time::us(1);
    for (int i = 0; i < changes; ++i) {
        const int at_once = r.below(8) == 0 ? 2 : 1;
        for (int k = 0; k < at_once; ++k) {
            const auto which = r.below(out.size());
            if (!out[which].changes.empty() && out[which].changes.back().at == t) continue;
            level[which] = level[which] == Level::one ? Level::zero : Level::one;
            out[which].changes.push_back({t, level[which]});
        }
        t += r.below(10) == 0 ? Time::ns(static_cast<std::int64_t>(1 + r.below(60)))
                              : Time::ns(static_cast<std::int64_t>(900 + r.below(3'000)));
    }
    return out;
}

TEST(WatchedNet, ChangesAsInTheWholeSimulation) {
    Random r(20261128);
    long changes = 0, faults = 0, clashes = 0;
    for (int i = 0; i < 200; ++i) {
        const auto made = test::make(r);
        const auto stimuli = many_changes(made.network, r, 1'500);
        SimulationOptions options;
        options.corner = i % 2 == 0 ? Corner::slow : Corner::fast;
        Progress progress;
        const auto whole = simulate(made.network, stimuli, options, progress);
        ASSERT_TRUE(whole) << whole.error().message();
        for (const int net : made.network.outputs) {
            std::vector<LevelChange> seen;
            options.watched = net;
            options.on_change = [&](const LevelChange& c) { seen.push_back(c); };
            const auto watched = simulate(made.network, stimuli, options, progress);
            ASSERT_TRUE(watched) << watched.error().message();
            // One moment may change a net and change it back: the whole simulation notes it, the watch need
            // not.
            const auto levels = [](const std::vector<LevelChange>& all) {
                std::vector<LevelChange> out;
                for (const auto& c : all)
                    if (c.level != (out.empty() ? Level::unknown : out.back().level)) out.push_back(c);
                return out;
            };
            ASSERT_EQ(test::shown(levels(seen)),
                      test::shown(levels(whole->nets[static_cast<std::size_t>(net)])))
                << "network " << i << ", " << made.network.net_name(net);
            EXPECT_EQ(watched->events, whole->events) << i;
            ASSERT_EQ(watched->faults.size(), whole->faults.size()) << i;
            for (std::size_t f = 0; f < whole->faults.size(); ++f) {
                EXPECT_EQ(watched->faults[f].at, whole->faults[f].at) << i;
                EXPECT_EQ(watched->faults[f].pin, whole->faults[f].pin) << i;
                EXPECT_EQ(watched->faults[f].had, whole->faults[f].had) << i;
            }
            EXPECT_EQ(watched->clashes.size(), whole->clashes.size()) << i;
            EXPECT_TRUE(watched->nets.empty());
            changes += static_cast<long>(seen.size());
            faults += static_cast<long>(watched->faults.size());
            clashes += static_cast<long>(watched->clashes.size());
        }
    }
    // That something happened: measured once, far above these.
    EXPECT_GT(changes, 5'000);
    EXPECT_GT(faults, 500);
    EXPECT_GT(clashes, 10);
}

TEST(WatchedNet, FollowsAWaveformInItsPlace) {
    const auto n = test::network("input A\noutput Y\nU1 74x04 hct: 1A=A 1Y=Y\n");
    const DigitalWaveform a(false, {Time::us(1), Time::us(2), Time::us(3)});
    const std::vector<Stimulus> listed{test::toggles(n, "A", false, {1'000, 2'000, 3'000})},
        followed{stimulus_of(*n.find_net("A"), a)};
    Progress progress;
    const auto x = simulate(n, listed, {}, progress), y = simulate(n, followed, {}, progress);
    ASSERT_TRUE(x && y);
    const auto net = static_cast<std::size_t>(*n.find_net("Y"));
    EXPECT_EQ(test::shown(x->nets[net]), test::shown(y->nets[net]));
    EXPECT_EQ(x->nets[net].size(), 4U);  // the level at rest, and three changes
}

}  // namespace
}  // namespace grayrelic
