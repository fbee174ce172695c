// SPDX-License-Identifier: GPL-3.0-or-later
// One suite over all decoders: what was said comes back, with jitter, sampled, cut off at either end, beside
// lines that have nothing to do with it, and whatever nonsense the lines carry.
#include <gmock/gmock.h>

#include "core/decode/decoder.hpp"
#include "standin/spoken.hpp"

namespace grayrelic {
namespace {

using standin::speak;
using standin::SpeakOptions;
using standin::Spoken;

std::vector<std::uint64_t> values_of(const Decoding& d) {
    std::vector<std::uint64_t> out;
    for (const auto& f : d.frames) out.push_back(f.value.value_or(~0ULL));
    return out;
}

Decoding decoded(const std::string& kind, const Spoken& s) {
    Progress progress;
    auto d = find_decoder(kind).value()->decode(s.capture, s.roles, s.settings, progress);
    EXPECT_TRUE(d) << d.error().message();
    return d ? std::move(*d) : Decoding{};
}

/// The part of a capture in a window.
Capture cut(const Capture& c, Span window) {
    Capture out;
    out.resolution = c.resolution;
    out.extent = window;
    for (const auto& s : c.signals) {
        std::vector<Time> edges;
        for (const auto t : s.digital->edges())
            if (t >= window.from && t < window.to) edges.push_back(t);
        Signal part = s;
        part.digital = std::make_shared<const DigitalWaveform>(s.digital->level_before(window.from), edges);
        out.signals.push_back(std::move(part));
    }
    return out;
}

struct Family {
    const char* kind;
    double jitter;  ///< that it must bear, as a share of its shortest time
    double exact;   ///< share of frames that must be right in a cut or noisy capture
};
void PrintTo(const Family& f, std::ostream* out) {
    *out << f.kind;
}

class EveryFamily : public testing::TestWithParam<Family> {};

TEST_P(EveryFamily, ReadsBackWhatWasSaid) {
    for (const std::uint64_t seed : {1U, 2U, 3U, 4U}) {
        SpeakOptions o;
        o.seed = seed;
        const auto s = speak(GetParam().kind, o);
        ASSERT_FALSE(s.values.empty());
        const auto d = decoded(GetParam().kind, s);
        EXPECT_EQ(values_of(d), s.values) << "seed " << seed;
        EXPECT_EQ(d.frames_with_errors(), 0) << "seed " << seed;
        Time last;
        for (const auto& f : d.frames) {
            EXPECT_LE(last, f.start) << "in order";
            EXPECT_LE(f.start, f.end);
            EXPECT_EQ(f.levels.size(), f.bit_times.size());
            last = f.start;
        }
    }
}

TEST_P(EveryFamily, BearsJitterAndSampling) {
    for (const std::uint64_t seed : {5U, 6U}) {
        SpeakOptions o;
        o.seed = seed;
        o.jitter = GetParam().jitter;
        o.samples = 10;
        const auto s = speak(GetParam().kind, o);
        const auto d = decoded(GetParam().kind, s);
        EXPECT_EQ(values_of(d), s.values) << "seed " << seed;
        EXPECT_EQ(d.frames_with_errors(), 0);
    }
}

TEST_P(EveryFamily, FindsItsWayIntoAndOutOfACutCapture) {
    SpeakOptions o;
    o.seed = 8;
    const auto s = speak(GetParam().kind, o);
    const auto whole = s.capture.extent;
    for (int part = 0; part < 12; ++part) {
        // Cuts fall anywhere, also into the middle of frames.
        const Time from = whole.from + whole.length() / 40 * part + Time::ns(1234 * part);
        const Time to = whole.to - whole.length() / 50 * part - Time::ns(777 * part);
        Spoken some = s;
        some.capture = cut(s.capture, {from, to});
        const auto got = values_of(decoded(GetParam().kind, some));
        const auto all = values_of(decoded(GetParam().kind, s));
        // A run of what was said, but for a few frames at each end.
        std::size_t best = 0;
        for (std::size_t offset = 0; offset < all.size(); ++offset) {
            std::size_t hits = 0;
            for (std::size_t i = 0; i < got.size() && offset + i < all.size(); ++i)
                hits += got[i] == all[offset + i] ? 1 : 0;
            best = std::max(best, hits);
        }
        EXPECT_GE(static_cast<double>(best), GetParam().exact * static_cast<double>(got.size()) - 3)
            << "part " << part;
        EXPECT_GT(got.size(), s.values.size() / 4);
    }
}

TEST_P(EveryFamily, OtherLinesDoNotMatter) {
    SpeakOptions o;
    o.seed = 9;
    o.unrelated = 4;
    const auto s = speak(GetParam().kind, o);
    EXPECT_EQ(values_of(decoded(GetParam().kind, s)), s.values);
}

TEST_P(EveryFamily, NonsenseIsReadToItsEnd) {
    Progress progress;
    const auto& decoder = *find_decoder(GetParam().kind).value();
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
        std::vector<standin::Wire> wires;
        for (std::uint64_t k = 0; k < 6; ++k)
            wires.push_back(
                standin::chatter("w" + std::to_string(k), seed * 100 + k, Time::us(300),
                                 Time::ns(static_cast<std::int64_t>(20 * (1 + seed % 7) * (k + 1)))));
        const auto capture = standin::capture_of(wires, Time::us(300), seed % 3 == 0 ? Time::ns(10) : Time{});
        RoleMap roles;
        std::size_t next = 0;
        for (const auto& r : decoder.roles()) {
            roles[r.name].push_back("w" + std::to_string(next++ % 6));
            if (r.repeated) roles[r.name].push_back("w" + std::to_string(next++ % 6));
        }
        const auto d = decoder.decode(capture, roles, {}, progress);
        ASSERT_TRUE(d) << d.error().message();
        EXPECT_LE(d->frames.size(), 60'000U);
    }
    // Nothing at all, one edge, two edges.
    for (int edges = 0; edges < 3; ++edges) {
        standin::Wire w("w0");
        for (int e = 0; e < edges; ++e) w.set(Time::us(e + 1), e % 2 == 1);
        RoleMap roles;
        for (const auto& r : decoder.roles()) roles[r.name].push_back("w0");
        EXPECT_TRUE(decoder.decode(standin::capture_of({w}, Time::us(9)), roles, {}, progress));
    }
}

TEST_P(EveryFamily, SettingsThatMakeNoSenseAreNamed) {
    Progress progress;
    const auto& decoder = *find_decoder(GetParam().kind).value();
    const auto s = speak(GetParam().kind, {});
    for (const auto& spec : decoder.settings()) {
        if (spec.name == "baud" || spec.name == "gap") continue;  // free values, tested below
        const auto d = decoder.decode(s.capture, s.roles, {{spec.name, "purple"}}, progress);
        ASSERT_FALSE(d) << spec.name;
        EXPECT_EQ(d.error().kind, Error::Kind::usage);
        EXPECT_THAT(d.error().message(), testing::HasSubstr(spec.name));
    }
    EXPECT_FALSE(decoder.decode(s.capture, s.roles, {{"no-such", "1"}}, progress));
    EXPECT_FALSE(decoder.decode(s.capture, {}, {}, progress)) << "roles are missing";
    Progress cancelled;
    cancelled.cancel();
    const auto d = decoder.decode(s.capture, s.roles, {}, cancelled);
    if (!d) {
        EXPECT_EQ(d.error().kind, Error::Kind::cancelled);
    }
}

INSTANTIATE_TEST_SUITE_P(All, EveryFamily,
                         testing::Values(Family{"async-serial", 0.06, 0.9}, Family{"latch-shift", 0.01, 0.9},
                                         Family{"select-bank", 0.01, 0.9}, Family{"pulse-width", 0.04, 0.9},
                                         Family{"framed-clock", 0.04, 0.9}, Family{"clocked", 0.015, 0.5},
                                         Family{"quadrature", 0.08, 0.9}, Family{"strobed-bus", 0.1, 0.9},
                                         Family{"usb-low-full", 0.05, 0.9}, Family{"matrix", 0.01, 0.7}),
                         [](const auto& family) {
                             std::string name;
                             for (const char* c = family.param.kind; *c != 0; ++c)
                                 if (*c != '-') name += *c;
                             return name;
                         });

}  // namespace
}  // namespace grayrelic
