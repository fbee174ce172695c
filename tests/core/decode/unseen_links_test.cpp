// SPDX-License-Identifier: GPL-3.0-or-later
// 220 links that nobody rehearsed (tests/unseen; 2,000 with the program unseen-links), and captures of the
// kinds on which the readers once failed, made here from the standard alone.
#include "core/decode/identify.hpp"
#include "tests/core/helpers.hpp"
#include "tests/unseen/judge.hpp"

namespace grayrelic {
namespace {

using unseen::Dice;

TEST(UnseenLinks, AreNamedSetAndRead) {
    unseen::Table table;
    std::string wrong;
    for (std::uint64_t seed = 70'001; seed <= 70'220; ++seed) {
        const auto made = unseen::make(seed);
        const auto j = unseen::judge(made);
        if (!j.roles || !j.wrong.empty())
            wrong += std::to_string(seed) + " " + j.kind + " (" + made.about + "): " + j.wrong + "\n";
        table.add(j);
    }
    // 97 %, 95 %, 99 % and 98 % over 2,000; a small sample may miss one more.
    EXPECT_GE(table.named(), 0.965) << table.text() << wrong;
    EXPECT_GE(table.all_links(), 0.95) << table.text() << wrong;
    EXPECT_GE(table.settings(), 0.95) << table.text() << wrong;
    EXPECT_GE(table.words(), 0.99) << table.text() << wrong;
    EXPECT_GE(table.refused(), 0.95) << table.text() << wrong;
}

/// A line with characters as a sender makes them: bit time 100 µs, least significant bit first.
struct Sender {
    std::vector<Time> edges;
    bool level = true;
    Time now = Time::ms(2);
    int bits = 8;
    void put(bool to) {
        if (to != level) edges.push_back(now), level = to;
        now += Time::us(100);
    }
    void rest(int n) {
        for (int k = 0; k < n; ++k) put(true);
    }
    void character(unsigned value, bool good_stop = true, std::string_view parity = "none",
                   bool wrong = false) {
        put(false);
        bool odd = false;
        for (int k = 0; k < bits; ++k) {
            const bool one = (value >> k & 1U) != 0;
            odd = odd != one;
            put(one);
        }
        if (parity == "even") put(odd != wrong);
        put(good_stop);
        if (!good_stop) rest(3);
    }
    [[nodiscard]] Capture capture() const {
        Capture c;
        c.format = "vcd";
        c.resolution = Time::ns(1);
        c.extent = {Time{}, now + Time::ms(2)};
        Signal s;
        s.name = "rx";
        s.digital = std::make_shared<const DigitalWaveform>(true, edges);
        c.signals.push_back(std::move(s));
        return c;
    }
};

Decoding serial(const Capture& c, const SettingMap& settings = {}) {
    Progress progress;
    auto d = (*find_decoder("async-serial"))->decode(c, {{"data", {"rx"}}}, settings, progress);
    EXPECT_TRUE(d) << d.error().message();
    return std::move(*d);
}

std::string setting(const Decoding& d, const char* name) {
    const auto& v = d.settings.at(name);
    if (const auto* n = std::get_if<long long>(&v)) return std::to_string(*n);
    return std::get<std::string>(v);
}

bool unsure_of(const Decoding& d, std::string_view what) {
    return std::any_of(d.unsure.begin(), d.unsure.end(), [&](const Unsure& u) { return u.what == what; });
}

const SettingMap all_given = {
    {"baud", "10000"}, {"bits", "8"}, {"parity", "none"}, {"stop", "1"}, {"invert", "no"}};

TEST(UnseenSerial, ABurstOfTextHasThePolarityOfItsRest) {
    Dice dice(4);
    const std::string text = "The quick brown fox jumps over the lazy dog. 0123456789\r\n";
    for (int length : {10, 21, 40, 100, 400})
        for (int round = 0; round < 12; ++round) {
            Sender s;
            std::string said;
            const auto from = static_cast<std::size_t>(dice.whole(0, 40));
            for (int k = 0; k < length; ++k) said += text[(from + static_cast<std::size_t>(k)) % text.size()];
            for (const char c : said) s.character(static_cast<unsigned char>(c));
            const auto d = serial(s.capture());
            std::string read;
            for (const auto& f : d.frames) read += static_cast<char>(f.value.value_or(0));
            ASSERT_EQ(setting(d, "invert"), "no") << length << " from " << from;
            ASSERT_EQ(read, said);
        }
}

TEST(UnseenSerial, WithAllSettingsGivenWhatIsOddIsAnErrorInItsPlace) {
    Dice dice(5);
    for (int round = 0; round < 320; ++round) {
        Sender s;
        std::vector<std::string> expected;
        const long odd_one = dice.whole(0, 4), kind = dice.whole(0, 2);
        for (long k = 0; k < 6; ++k) {
            const auto value = static_cast<unsigned>(dice.whole(0, 255));
            if (k != odd_one) {
                s.character(value);
                expected.push_back(std::to_string(value));
            } else if (kind == 0) {  // a bad stop bit; zero with one is a break
                s.character(value | 1U, false);
                expected.push_back(std::to_string(value | 1U) + " framing");
            } else if (kind == 1) {  // a break
                for (int b = 0; b < 14; ++b) s.put(false);
                s.rest(2);
                expected.push_back("0 break");
            } else {  // a glitch of 5 % of a bit while the line rests
                s.rest(3);
                s.edges.push_back(s.now);
                s.edges.push_back(s.now + Time::us(5));
                s.rest(3);
                s.character(value);
                expected.push_back(std::to_string(value));
            }
            s.rest(static_cast<int>(dice.whole(0, 3)));
        }
        const auto d = serial(s.capture(), all_given);
        std::vector<std::string> read;
        Time end;
        for (const auto& f : d.frames) {
            read.push_back(std::to_string(*f.value) + (f.errors.empty() ? "" : " " + f.errors.front()));
            EXPECT_GE(f.start, end) << "words never overlap";
            end = f.end;
        }
        ASSERT_EQ(read, expected) << "round " << round;
    }
}

TEST(UnseenSerial, AFewParityErrorsStayErrorsAndNineBitsAreNine) {
    Dice dice(6);
    for (int round = 0; round < 40; ++round) {
        Sender s;
        const long count = dice.one_of<long>({30, 60, 120}), wrong = dice.whole(0, count - 1);
        for (long k = 0; k < count; ++k)
            s.character(static_cast<unsigned>(dice.whole(0, 255)), true, "even", k == wrong);
        const auto d = serial(s.capture());
        ASSERT_EQ(setting(d, "parity"), "even") << round;
        ASSERT_EQ(setting(d, "bits"), "8");
        ASSERT_EQ(d.frames_with_errors(), 1);
        ASSERT_EQ(d.frames[static_cast<std::size_t>(wrong)].errors, std::vector<std::string>{"parity"});
        Sender nine;
        nine.bits = 9;
        for (int k = 0; k < 40; ++k) nine.character(static_cast<unsigned>(dice.whole(0, 511)));
        const auto n = serial(nine.capture());
        ASSERT_EQ(setting(n, "bits"), "9") << round;
        ASSERT_EQ(n.frames_with_errors(), 0);
    }
}

TEST(UnseenSerial, LittleIsReadAsEightBitsAndSaysSo) {
    Dice dice(7);
    for (const int count : {3, 5, 8, 12})
        for (int round = 0; round < 25; ++round) {
            Sender s;
            std::vector<std::uint64_t> said;
            for (int k = 0; k < count; ++k) {
                said.push_back(static_cast<std::uint64_t>(dice.whole(32, 126)));
                s.character(static_cast<unsigned>(said.back()));
                s.rest(static_cast<int>(dice.whole(6, 30)));
            }
            const auto d = serial(s.capture());
            ASSERT_EQ(setting(d, "bits"), "8") << count << ", round " << round;
            ASSERT_EQ(d.frames.size(), said.size());
            for (std::size_t k = 0; k < said.size(); ++k) ASSERT_EQ(d.frames[k].value, said[k]);
            EXPECT_TRUE(unsure_of(d, "bits")) << "7-bit characters never set the last one";
        }
}

TEST(UnseenSerial, WhatIsStatedIsNotUnsure) {
    Sender s;
    for (unsigned k = 0; k < 60; ++k) s.character(k * 37 & 255U);
    const auto found = serial(s.capture());
    EXPECT_TRUE(unsure_of(found, "order"));
    EXPECT_FALSE(unsure_of(found, "bits"));
    EXPECT_FALSE(unsure_of(found, "stop")) << "back to back, with one stop bit";
    auto given = all_given;
    given["order"] = "lsb";
    EXPECT_TRUE(serial(s.capture(), given).unsure.empty());
}

TEST(UnseenSerial, ChatteringContactsDoNotMakeTheRate) {
    // After some edges the line bounces once to three times, each bounce a 20th to a 60th of a bit (100 µs).
    Dice dice(8);
    for (int round = 0; round < 60; ++round) {
        Sender s;
        std::vector<std::uint64_t> said;
        for (int k = 0; k < 120; ++k) {
            said.push_back(static_cast<std::uint64_t>(dice.whole(0, 255)));
            s.character(static_cast<unsigned>(said.back()));
            s.rest(static_cast<int>(dice.whole(0, 4)));
        }
        const double share = dice.real(0.03, 0.3);
        std::vector<Time> edges;
        for (const auto t : s.edges) {
            edges.push_back(t);
            if (!dice.chance(share)) continue;
            auto at = t;
            for (long n = 2 * dice.whole(1, 3); n > 0; --n)
                edges.push_back(at += Time::ns(static_cast<long>(dice.real(1'660, 5'000))));
        }
        s.edges = edges;
        const auto d = serial(s.capture());
        const auto baud = std::get<double>(d.settings.at("baud"));
        ASSERT_NEAR(baud, 10'000, 100) << round << ": " << share;
        ASSERT_EQ(d.frames.size(), said.size()) << round << ": " << share;
        for (std::size_t k = 0; k < said.size(); ++k) ASSERT_EQ(d.frames[k].value, said[k]) << round;
        // Under a twentieth of all edges are glitches, which tell nothing about the rate anyway.
        if (share > 0.1) {
            EXPECT_NE(d.notes.size(), 0U) << "says that edges chatter";
        }
    }
}

TEST(UnseenLinks, SeveralInOneCaptureHoldTogether) {
    int with_two = 0;
    for (std::uint64_t seed = 80'000; seed < 80'200 && with_two < 12; ++seed) {
        const auto made = unseen::make(seed);
        if (made.links.size() != 2) continue;
        ++with_two;
        Progress progress;
        const auto list = identify(unseen::capture_of(made), {}, progress);
        ASSERT_TRUE(list);
        const auto sets = links_of(*list);
        ASSERT_FALSE(sets.empty()) << seed;
        for (const auto& link : made.links)
            EXPECT_TRUE(std::any_of(sets.front().begin(), sets.front().end(),
                                    [&](std::size_t i) { return (*list)[i].kind == link.kind; }))
                << seed << " " << made.about << ": no " << link.kind;
        std::set<std::string> lines;
        for (const auto i : sets.front())
            for (const auto& [role, names] : (*list)[i].roles)
                for (const auto& n : names) EXPECT_TRUE(lines.insert(n).second) << "disjoint: " << n;
    }
    EXPECT_EQ(with_two, 12);
}

}  // namespace
}  // namespace grayrelic
