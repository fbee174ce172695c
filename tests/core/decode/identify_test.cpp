// SPDX-License-Identifier: GPL-3.0-or-later
// What is it? Each family spoken by the stand-in, alone and beside lines that have nothing to do with it;
// noise, a stuck line and a protocol that nobody here knows.
#include "core/decode/identify.hpp"

#include <gmock/gmock.h>

#include <set>

#include "standin/spoken.hpp"

namespace grayrelic {
namespace {

using standin::speak;
using standin::SpeakOptions;

std::vector<Candidate> identified(const Capture& c, IdentifyOptions o = {}) {
    Progress progress;
    auto list = identify(c, o, progress);
    EXPECT_TRUE(list) << list.error().message();
    return list ? *list : std::vector<Candidate>{};
}

std::string shown(const std::vector<Candidate>& list) {
    std::string out;
    for (const auto& c : list) {
        out += c.kind + " " + std::to_string(c.score) + " (";
        for (const auto& [role, names] : c.roles)
            for (const auto& n : names) out += role + "=" + n + " ";
        out += ") " + c.why + "\n";
    }
    return out;
}

class EachKind : public testing::TestWithParam<const char*> {};

TEST_P(EachKind, ComesFirstWithItsRoles) {
    for (const std::uint64_t seed : {1U, 2U, 3U, 4U, 5U, 6U})
        for (const int unrelated : {0, 4})
            for (const double jitter : {0.0, 0.01}) {
                SpeakOptions o;
                o.seed = seed;
                o.unrelated = unrelated;
                o.jitter = jitter;
                const auto s = speak(GetParam(), o);
                const auto list = identified(s.capture);
                ASSERT_FALSE(list.empty()) << "seed " << seed;
                EXPECT_EQ(list[0].kind, GetParam()) << "seed " << seed << ", " << unrelated << " others\n"
                                                    << shown(list);
                EXPECT_GE(list[0].score, 0.5) << shown(list);
                // Lines in any order are one set: which is more significant can't be told.
                for (const auto& [role, names] : s.roles) {
                    ASSERT_EQ(list[0].roles.count(role), 1U) << role << "\n" << shown(list);
                    EXPECT_EQ(
                        std::set<std::string>(names.begin(), names.end()),
                        std::set<std::string>(list[0].roles.at(role).begin(), list[0].roles.at(role).end()))
                        << role << "\n"
                        << shown(list);
                }
                EXPECT_LE(list[0].explains, 1.0);
                if (unrelated == 0) {
                    EXPECT_GT(list[0].explains, 0.8) << shown(list);
                }
            }
}

TEST_P(EachKind, FewSamplesLowerTheConfidence) {
    SpeakOptions o;
    o.seed = 3;
    o.samples = 12;
    o.jitter = 0.01;  // without any, the edges' own grid would look like the sampling
    const auto fine = identified(speak(GetParam(), o).capture);
    o.samples = 1;
    const auto coarse = identified(speak(GetParam(), o).capture);
    ASSERT_FALSE(fine.empty());
    const double now = coarse.empty() ? 0.0 : coarse[0].score;
    EXPECT_LT(now, 0.9 * fine[0].score) << shown(fine);
}

INSTANTIATE_TEST_SUITE_P(All, EachKind,
                         testing::Values("async-serial", "latch-shift", "select-bank", "pulse-width",
                                         "framed-clock", "clocked", "quadrature", "strobed-bus",
                                         "usb-low-full", "matrix"),
                         [](const auto& kind) {
                             std::string name;
                             for (const char* c = kind.param; *c != 0; ++c)
                                 if (*c != '-') name += *c;
                             return name;
                         });

TEST(Identify, NoiseAStuckLineAndAnUnknownProtocolFitNothing) {
    for (std::uint64_t seed = 1; seed <= 12; ++seed) {
        std::vector<standin::Wire> wires;
        for (std::uint64_t k = 0; k < 5; ++k)
            wires.push_back(standin::chatter("n" + std::to_string(k), seed * 50 + k, Time::ms(20),
                                             Time::us(static_cast<std::int64_t>(10 + 15 * k))));
        const auto list = identified(standin::capture_of(wires, Time::ms(20)));
        EXPECT_TRUE(list.empty() || list[0].score < least_fit) << "seed " << seed << "\n" << shown(list);
    }
    const auto stuck =
        standin::capture_of({standin::Wire("stuck"), standin::Wire("low", false)}, Time::ms(5));
    EXPECT_TRUE(identified(stuck).empty());
    // A tone that slides: no word, no grid, no cell.
    standin::Wire sweep("tone", false);
    Time t;
    for (int i = 0; i < 4000; ++i) {
        t += Time::ns(2000 + 7 * i);
        sweep.set(t, i % 2 == 0);
    }
    auto list = identified(standin::capture_of({sweep}, t));
    EXPECT_TRUE(list.empty() || list[0].score < least_fit) << shown(list);
    // A clock alone says nothing.
    standin::Wire clock("clock", false);
    for (int i = 0; i < 4000; ++i) clock.set(Time::us(i + 1), i % 2 == 0);
    list = identified(standin::capture_of({clock}, Time::us(4001)));
    EXPECT_TRUE(list.empty() || list[0].score < least_fit) << shown(list);
    // Pulse position: one pulse a frame, its place the value. Nothing here reads that.
    standin::Wire position("ppm", false);
    Random random(4);
    for (int i = 0; i < 800; ++i) {
        const Time at = Time::us(100) * i + Time::us(static_cast<std::int64_t>(5 + 40 * random.uniform()));
        position.pulse(at, at + Time::us(3), true);
    }
    list = identified(standin::capture_of({position}, Time::ms(80)));
    EXPECT_TRUE(list.empty() || list[0].score < least_fit) << shown(list);
}

TEST(Identify, NamedSignalsOnlyAndWrongNames) {
    SpeakOptions o;
    o.unrelated = 3;
    const auto s = speak("framed-clock", o);
    IdentifyOptions only;
    only.signals = {"CLOCK", "DATA"};
    const auto list = identified(s.capture, only);
    ASSERT_FALSE(list.empty());
    EXPECT_GT(list[0].explains, 0.9) << "of the named lines";
    Progress progress;
    only.signals = {"nobody"};
    EXPECT_FALSE(identify(s.capture, only, progress));
    Progress cancelled;
    cancelled.cancel();
    EXPECT_FALSE(identify(s.capture, {}, cancelled));
}

}  // namespace
}  // namespace grayrelic
