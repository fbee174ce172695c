// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/latch_shift.hpp"

#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;
using test::waveform_ns;

/// A conversation made edge by edge, independent of the stand-in.
struct Talk {
    bool clock_idle = true;     ///< level at which the clock rests
    bool latch_high = true;     ///< level of the latch pulse
    bool shift_on_rise = true;  ///< the device shows its next bit after this edge
    bool bit_before_clock = true;
    std::vector<std::string> words;
    std::vector<std::size_t> clocks;  ///< per word; empty: as many as bits
};

Capture talk(const Talk& t) {
    std::vector<Time> latch;
    std::vector<Time> clock;
    std::vector<Time> data;
    bool level = true;
    const auto show = [&](bool to, Time at) {
        if (to == level) return;
        level = to;
        data.push_back(at);
    };
    Time now = Time::us(10);
    for (std::size_t w = 0; w < t.words.size(); ++w) {
        const auto& word = t.words[w];
        latch.push_back(now);
        if (t.bit_before_clock) show(word.front() == '1', now + Time::ns(200));
        latch.push_back(now + Time::us(2));
        now += Time::us(4);
        std::size_t bit = t.bit_before_clock ? 1 : 0;
        const auto n = t.clocks.empty() ? word.size() : t.clocks[w];
        for (std::size_t i = 0; i < n; ++i) {
            for (const bool leading : {true, false}) {
                clock.push_back(now);
                const bool rises = leading != t.clock_idle;
                if (rises == t.shift_on_rise) {
                    show(bit < word.size() ? word[bit] == '1' : true, now + Time::ns(150));
                    ++bit;
                }
                now += Time::us(1);
            }
        }
        now += Time::us(50);
    }
    const auto waveform = [](bool first, std::vector<Time> e) {
        return std::make_shared<const DigitalWaveform>(first, std::move(e));
    };
    return test::capture_of({{"p.latch", waveform(!t.latch_high, latch)},
                             {"p.clk", waveform(t.clock_idle, clock)},
                             {"p.data", waveform(true, data)}},
                            now);
}

const RoleMap roles{{"latch", {"latch"}}, {"clock", {"clk"}}, {"data", {"data"}}};

Result<Decoding> decode(const Capture& c, const SettingMap& settings = {}) {
    Progress progress;
    return (*find_decoder("latch-shift"))->decode(c, roles, settings, progress);
}

std::vector<std::string> levels(const Result<Decoding>& d) {
    std::vector<std::string> out;
    for (const auto& f : d->frames) out.push_back(f.levels);
    return out;
}

std::string setting(const Result<Decoding>& d, const char* name) {
    return std::get<std::string>(d->settings.at(name));
}

const std::vector<std::string> words{"10110010", "00000000", "11111111", "01010101", "10110011"};

struct Manner {
    const char* name;
    bool clock_idle, latch_high, shift_on_rise;
    const char* edge;  // the sampling edge that follows from the wiring
    const char* latch;
};
void PrintTo(const Manner& m, std::ostream* out) {
    *out << m.name;
}
class LatchShiftAutomatic : public testing::TestWithParam<Manner> {};

TEST_P(LatchShiftAutomatic, FindsEdgeAndLatchAndReadsEveryWord) {
    const auto& m = GetParam();
    const auto d = decode(talk({m.clock_idle, m.latch_high, m.shift_on_rise, true, words, {}}));
    ASSERT_TRUE(d) << message(d);
    EXPECT_EQ(levels(d), words);
    EXPECT_EQ(setting(d, "edge"), m.edge);
    EXPECT_EQ(setting(d, "latch"), m.latch);
    EXPECT_EQ(setting(d, "bits"), "auto");
    EXPECT_EQ(setting(d, "order"), "msb");
    EXPECT_EQ(d->frames_with_errors(), 0);
}

// In every manner the first bit stands before the first clock, so the leading edge is the one to read at:
// falling for a clock that rests high, rising for one that rests low.
INSTANTIATE_TEST_SUITE_P(Manners, LatchShiftAutomatic,
                         testing::Values(Manner{"RestsHighShiftsOnRise", true, true, true, "fall", "high"},
                                         Manner{"RestsHighShiftsOnFall", true, true, false, "fall", "high"},
                                         Manner{"RestsLowShiftsOnRise", false, true, true, "rise", "high"},
                                         Manner{"RestsLowShiftsOnFall", false, true, false, "rise", "high"},
                                         Manner{"ActiveLowLatch", true, false, true, "fall", "low"},
                                         Manner{"ActiveLowLatchRestsLow", false, false, true, "rise", "low"}),
                         [](const auto& given) { return given.param.name; });

TEST(LatchShift, ReadsAtTheTrailingEdgeWhenTheFirstBitComesWithTheFirstClock) {
    Talk t{false, true, true, false, {"10110010", "00000001", "11111111", "01010100"}, {}};
    const auto d = decode(talk(t));
    ASSERT_TRUE(d);
    EXPECT_EQ(setting(d, "edge"), "fall");
    EXPECT_EQ(levels(d), t.words);
}

TEST(LatchShift, AnIdleLineIsReadAtTheLeadingEdge) {
    const auto d = decode(talk({true, true, true, true, {"1111", "1111"}, {}}));
    ASSERT_TRUE(d);
    EXPECT_EQ(setting(d, "edge"), "fall");
    EXPECT_EQ(levels(d), (std::vector<std::string>{"1111", "1111"}));
}

TEST(LatchShift, StatedSettingsAreObeyed) {
    const auto c = talk({true, true, true, true, words, {}});
    const auto d = decode(c, {{"edge", "rise"}, {"latch", "low"}, {"order", "lsb"}, {"bits", "8"}});
    ASSERT_TRUE(d) << message(d);
    EXPECT_EQ(setting(d, "edge"), "rise");
    EXPECT_EQ(setting(d, "latch"), "low");
    EXPECT_EQ(setting(d, "order"), "lsb");
    EXPECT_EQ(std::get<long long>(d->settings.at("bits")), 8);
    // the value just before the rise is still the bit that the fall would read
    EXPECT_EQ(d->frames[0].levels, words[0]);
}

TEST(LatchShift, ValuesFollowTheOrder) {
    const auto c = talk({true, true, true, true, {"10110010"}, {}});
    EXPECT_EQ(decode(c)->frames[0].value, 0xB2U);
    EXPECT_EQ(decode(c, {{"order", "lsb"}})->frames[0].value, 0x4DU);  // 10110010 read backwards is 01001101
}

TEST(LatchShift, ShortPollsAreFramesAndEmptyPollsLeaveAGap) {
    const auto c = talk({true, true, true, true, {"1010", "0101", "1100", "0011"}, {4, 2, 0, 4}});
    const auto d = decode(c);
    ASSERT_TRUE(d);
    EXPECT_EQ(levels(d), (std::vector<std::string>{"1010", "01", "0011"}));
    EXPECT_EQ(d->frames[0].poll, 1U);
    EXPECT_EQ(d->frames[1].poll, 2U);
    EXPECT_EQ(d->frames[2].poll, 4U);
}

TEST(LatchShift, AFixedLengthTellsShortAndLong) {
    const auto c = talk({true, true, true, true, {"1010", "0101", "110011"}, {4, 2, 6}});
    const auto d = decode(c, {{"bits", "4"}});
    ASSERT_TRUE(d);
    EXPECT_TRUE(d->frames[0].errors.empty());
    EXPECT_EQ(d->frames[1].errors, std::vector<std::string>{"short"});
    EXPECT_EQ(d->frames[2].errors, std::vector<std::string>{"long"});
    EXPECT_EQ(d->frames[2].levels, "1100");
    EXPECT_EQ(d->error_counts.at("short"), 1);
    EXPECT_EQ(d->frames_with_errors(), 2);
}

TEST(LatchShift, UnknownLevelsAreMarked) {
    auto c = talk({true, true, true, true, {"1111"}, {}});
    const auto& data = *c.signals[2].digital;
    c.signals[2].digital = std::make_shared<const DigitalWaveform>(
        true, std::vector<Time>(data.edges().begin(), data.edges().end()),
        std::vector<Span>{{Time{}, Time::ns(14'500)}});
    const auto d = decode(c);
    ASSERT_TRUE(d);
    EXPECT_EQ(d->frames[0].levels, "x111");
    EXPECT_FALSE(d->frames[0].value);
    EXPECT_EQ(d->frames[0].errors, std::vector<std::string>{"unknown"});
}

TEST(LatchShift, TimesAreThoseOfLatchAndReadings) {
    const auto d = decode(talk({true, true, true, true, {"10"}, {}}));
    ASSERT_TRUE(d);
    EXPECT_EQ(d->frames[0].start, Time::us(10));
    EXPECT_EQ(d->frames[0].bit_times, (BitTimes{Time::us(14), Time::us(16)}));
    EXPECT_EQ(d->frames[0].end, Time::us(16));
}

TEST(LatchShift, LongWordsHaveNoNumber) {
    const std::string word(65, '1');
    const auto d = decode(talk({true, true, true, true, {word}, {}}));
    ASSERT_TRUE(d);
    EXPECT_EQ(d->frames[0].levels, word);
    EXPECT_FALSE(d->frames[0].value);
    EXPECT_TRUE(d->frames[0].errors.empty());
    EXPECT_EQ(value_of(std::string(64, '1'), true), 0xFFFFFFFFFFFFFFFFULL);
}

// --- one conformance suite for every decoder
// ---------------------------------------------------------------------

class EveryDecoder : public testing::TestWithParam<const Decoder*> {};

TEST_P(EveryDecoder, DescribesItself) {
    const auto& d = *GetParam();
    EXPECT_FALSE(d.kind().empty());
    EXPECT_FALSE(d.about().empty());
    EXPECT_FALSE(d.roles().empty());
    for (const auto& r : d.roles()) EXPECT_FALSE(r.about.empty()) << r.name;
    for (const auto& s : d.settings()) EXPECT_FALSE(s.about.empty()) << s.name;
    EXPECT_EQ(*find_decoder(d.kind()), &d);
}

RoleMap one_signal_each(const Decoder& d) {
    RoleMap map;
    int i = 0;
    for (const auto& r : d.roles()) map[r.name] = {"s" + std::to_string(i++)};
    return map;
}

Capture quiet(const Decoder& d) {
    std::vector<std::pair<std::string, std::shared_ptr<const DigitalWaveform>>> wires;
    for (std::size_t i = 0; i < d.roles().size(); ++i)
        wires.emplace_back("s" + std::to_string(i), waveform_ns(false, {}));
    return test::capture_of(std::move(wires));
}

TEST_P(EveryDecoder, FindsNothingInSilence) {
    Progress progress;
    const auto result = GetParam()->decode(quiet(*GetParam()), one_signal_each(*GetParam()), {}, progress);
    ASSERT_TRUE(result) << message(result);
    EXPECT_TRUE(result->frames.empty());
    EXPECT_EQ(result->kind, GetParam()->kind());
}

TEST_P(EveryDecoder, NamesEveryMissingRole) {
    Progress progress;
    for (const auto& r : GetParam()->roles()) {
        if (r.optional) continue;
        auto map = one_signal_each(*GetParam());
        map.erase(r.name);
        const auto result = GetParam()->decode(quiet(*GetParam()), map, {}, progress);
        EXPECT_THAT(message(result), testing::HasSubstr("no signal for the role " + r.name));
        EXPECT_EQ(result.error().kind, Error::Kind::usage);
    }
}

TEST_P(EveryDecoder, RefusesUnknownRolesSettingsSignalsAndChoices) {
    Progress progress;
    const auto map = one_signal_each(*GetParam());
    auto odd = map;
    odd["elbow"] = {"s0"};
    EXPECT_THAT(message(GetParam()->decode(quiet(*GetParam()), odd, {}, progress)),
                testing::HasSubstr("role \"elbow\""));
    EXPECT_THAT(message(GetParam()->decode(quiet(*GetParam()), map, {{"colour", "red"}}, progress)),
                testing::HasSubstr("setting \"colour\""));
    auto missing = map;
    missing.begin()->second = {"nobody"};
    EXPECT_THAT(message(GetParam()->decode(quiet(*GetParam()), missing, {}, progress)),
                testing::HasSubstr("signal \"nobody\""));
    for (const auto& s : GetParam()->settings()) {
        EXPECT_FALSE(GetParam()->decode(quiet(*GetParam()), map, {{s.name, "no such value"}}, progress))
            << s.name;
        EXPECT_TRUE(GetParam()->decode(quiet(*GetParam()), map, {{s.name, "auto"}}, progress)) << s.name;
        for (const auto& choice : s.choices)
            EXPECT_TRUE(GetParam()->decode(quiet(*GetParam()), map, {{s.name, choice}}, progress))
                << s.name << "=" << choice;
    }
}

std::vector<const Decoder*> all_decoders() {
    std::vector<const Decoder*> out;
    for (const auto& d : decoders()) out.push_back(d.get());
    return out;
}
INSTANTIATE_TEST_SUITE_P(Families, EveryDecoder, testing::ValuesIn(all_decoders()), [](const auto& given) {
    auto name = given.param->kind();
    std::erase_if(name, [](char c) { return c == '-'; });
    return name;
});

TEST(Decoders, AnUnknownFamilyListsTheKnownOnes) {
    EXPECT_THAT(message(find_decoder("morse")), testing::HasSubstr("expected one of latch-shift"));
}

TEST(Decoders, CancelledWorkGivesNothing) {
    Progress progress;
    progress.cancel();
    const auto d = (*find_decoder("latch-shift"))
                       ->decode(talk({true, true, true, true, words, {}}), roles, {}, progress);
    ASSERT_FALSE(d);
    EXPECT_EQ(d.error().kind, Error::Kind::cancelled);
}

// --- a capture that another program wrote
// --------------------------------------------------------------------------

TEST(CaptureOfAnHdlSimulator, IsReadAndDecoded) {
    Progress progress;
    const auto c = read_capture_file(test::source_folder() / "tests/data/hdl/pad.vcd", progress);
    ASSERT_TRUE(c) << message(c);
    EXPECT_EQ(c->resolution, Time::ps(10));
    EXPECT_EQ(c->find("supply").value()->real->values.size(), 5U);
    EXPECT_EQ(c->find_digital("shifter[11]").value()->edges().size() > 4, true);
    const auto d =
        (*find_decoder("latch-shift"))
            ->decode(*c, {{"latch", {"latch"}}, {"clock", {"clk"}}, {"data", {"data"}}}, {}, progress);
    ASSERT_TRUE(d) << message(d);
    // the words of the table in pad.v
    std::vector<std::uint64_t> values;
    for (const auto& f : d->frames) values.push_back(f.value.value_or(~0ULL));
    EXPECT_EQ(values, (std::vector<std::uint64_t>{0xA5C, 0x000, 0xFFF, 0x123, 0x801}));
    EXPECT_EQ(setting(d, "edge"), "fall");
    EXPECT_EQ(setting(d, "latch"), "high");
    // the first latch is at 1,000 ns; pad.v delays the answer by 37.5 ns after each rise
    EXPECT_EQ(d->frames[0].start, Time::ns(1000));
}

}  // namespace
}  // namespace grayrelic
