// SPDX-License-Identifier: GPL-3.0-or-later
// Contracts derived from captures: against conversations whose cause and delays are known (tests/unseen; 200
// a kind with the program unseen-replies), and by hand on a few edges.
#include "core/timing/derive_contract.hpp"

#include <limits>

#include "core/timing/contract.hpp"
#include "core/timing/replay_line.hpp"
#include "tests/core/helpers.hpp"
#include "tests/unseen/judge.hpp"
#include "tests/unseen/judge_replies.hpp"

namespace grayrelic {
namespace {

using test::waveform_ns;

class EveryTalk : public testing::TestWithParam<std::string> {};

TEST_P(EveryTalk, IsAskedForItsReplyAndMeasuredRight) {
    unseen::ReplyTable table;
    std::string wrong;
    for (std::uint64_t seed = 9'001; seed <= 9'030; ++seed) {
        const auto j = unseen::judge(unseen::talk(seed, GetParam()));
        if (!j.wrong.empty()) wrong += std::to_string(seed) + ":" + j.wrong + "\n";
        table.add(GetParam(), j);
    }
    EXPECT_EQ(table.right_or_open(), 1.0) << table.text() << wrong;
    EXPECT_EQ(table.looks(), 1.0) << table.text() << wrong;
    EXPECT_EQ(table.within(), 1.0) << table.text() << wrong;
    EXPECT_GE(table.fits(), 0.9) << table.text() << wrong;
}

INSTANTIATE_TEST_SUITE_P(Kinds, EveryTalk, testing::ValuesIn(unseen::talk_kinds()), [](const auto& each) {
    auto name = each.param;
    std::erase(name, '-');
    return name;
});

std::shared_ptr<const DigitalWaveform> wave(bool first, const std::vector<Time>& edges) {
    return std::make_shared<const DigitalWaveform>(first, edges);
}

DerivedContract derive(const Capture& c, const char* kind, const RoleMap& roles,
                       const SettingMap& settings = {}) {
    Progress progress;
    auto d = (*find_decoder(kind))->decode(c, roles, settings, progress);
    EXPECT_TRUE(d) << test::message(d);
    auto made = derive_contract({"c", c, roles, *d, std::nullopt}, progress);
    EXPECT_TRUE(made) << test::message(made);
    return made ? std::move(*made) : DerivedContract{};
}

ContractFigure figure(const Capture& c, const ContractInterval& i, const Decoding* decoding = nullptr) {
    return figure_of(i, {{"c", "c", &c, decoding, std::nullopt}});
}

/// Ten polls, 10 µs apart: the latch 100 ns high, then the clock, which rests high, falls and rises eight
/// times in a period of 200 ns; the data changes `delay` behind each edge of `cause`, every second time.
Capture shift_talk(bool on_fall, std::int64_t delay, std::int64_t low = 80) {
    std::vector<long> latch, clock, data;
    for (long poll = 0; poll < 10; ++poll) {
        const long at = 1'000 + poll * 10'000;
        latch.insert(latch.end(), {at, at + 100});
        for (long k = 0; k < 8; ++k) {
            const long fall = at + 300 + 200 * k, rise = fall + low;
            clock.insert(clock.end(), {fall, rise});
            if (k % 2 == 0) data.push_back((on_fall ? fall : rise) + delay);
        }
    }
    const auto times = [](const std::vector<long>& ns) {
        std::vector<Time> out;
        for (const auto t : ns) out.push_back(Time::ns(t));
        return out;
    };
    return test::capture_of({{"latch", wave(false, times(latch))},
                             {"clk", wave(true, times(clock))},
                             {"q", wave(false, times(data))}});
}
const RoleMap shift_roles{{"latch", {"latch"}}, {"clock", {"clk"}}, {"data", {"q"}}};

TEST(Derive, TheEdgeThatCausesIsFoundOnEitherSideOfTheClock) {
    for (const bool on_fall : {true, false}) {
        const auto c = shift_talk(on_fall, 30);
        const auto made = derive(c, "latch-shift", shift_roles);
        EXPECT_EQ(made.question.trigger, on_fall ? "clk:fall" : "clk:rise");
        EXPECT_EQ(made.question.answer, "q:any");
        const auto f = figure(c, made.intervals.front());
        // Four changes in each of ten polls, 30 ns each.
        EXPECT_EQ(f.n, 40);
        EXPECT_EQ(f.min, Time::ns(30));
        EXPECT_EQ(f.max, Time::ns(30));
    }
}

TEST(Derive, WhatPulsesOfOneWidthDoNotSettleIsNamed) {
    // Behind the rise, 30 ns: as well 110 ns behind the fall before it, in every pulse.
    const auto made = derive(shift_talk(false, 30), "latch-shift", shift_roles);
    const auto* open = made.find_unsure("trigger");
    ASSERT_NE(open, nullptr);
    EXPECT_THAT(open->values, testing::UnorderedElementsAre("clk:rise", "clk:fall"));
    EXPECT_NE(open->would_tell, "");
    // Behind the fall the first change of each burst has no rise before it: that settles it.
    EXPECT_EQ(derive(shift_talk(true, 30), "latch-shift", shift_roles).find_unsure("trigger"), nullptr);
}

TEST(Derive, WhatTheEnableCausesIsNoAnswerToTheSelect) {
    // The select turns every 1,000 ns; line d follows 28 ns later, or stays where both banks are alike; the
    // enable forces it at the end of each poll.
    std::vector<Time> select, enable, data;
    for (long poll = 0; poll < 12; ++poll) {
        const long at = 2'000 + poll * 20'000;
        enable.push_back(Time::ns(at));
        data.push_back(Time::ns(at + 40));  // low: bank 0
        select.push_back(Time::ns(at + 1'000));
        data.push_back(Time::ns(at + 1'028));
        select.push_back(Time::ns(at + 2'000));
        data.push_back(Time::ns(at + 2'028));
        select.push_back(Time::ns(at + 3'000));
        data.push_back(Time::ns(at + 3'028));  // high
        select.push_back(Time::ns(at + 4'000));
        data.push_back(Time::ns(at + 4'028));  // low
        enable.push_back(Time::ns(at + 8'130));
        data.push_back(Time::ns(at + 8'170));  // forced high, 4.17 µs behind the select
    }
    const auto c =
        test::capture_of({{"sel", wave(false, select)}, {"en", wave(true, enable)}, {"d", wave(true, data)}});
    const auto made = derive(c, "select-bank", {{"select", {"sel"}}, {"data", {"d"}}, {"enable", {"en"}}});
    EXPECT_EQ(made.question.trigger, "sel:any");
    const auto f = figure(c, made.intervals.front());
    EXPECT_EQ(f.interval.to, "d:any");
    EXPECT_EQ(f.n, 48);
    EXPECT_EQ(f.max, Time::ns(28));
    const auto enabled = std::find_if(made.intervals.begin(), made.intervals.end(),
                                      [](const auto& i) { return i.from == "en:any"; });
    ASSERT_NE(enabled, made.intervals.end());
    EXPECT_EQ(figure(c, *enabled).max, Time::ns(40));
}

TEST(Derive, FewChangesFarBehindAllOthersAreLeftOutAndNamed) {
    std::vector<Time> select, data;
    for (long k = 0; k < 60; ++k) {
        select.push_back(Time::ns(1'000 + k * 10'000));
        // A button in the middle of a pause once, no answer.
        data.push_back(select.back() + Time::ns(k == 30 ? 6'000 : 20));
    }
    const auto c = test::capture_of({{"sel", wave(false, select)}, {"d", wave(true, data)}});
    const auto made = derive(c, "select-bank", {{"select", {"sel"}}, {"data", {"d"}}});
    const auto f = figure(c, made.intervals.front());
    EXPECT_EQ(f.max, Time::ns(20));
    EXPECT_EQ(f.n, 59);
    EXPECT_NE(made.find_unsure(f.interval.name), nullptr) << "one of 60 came later";
}

TEST(Derive, ACharacterLastsAsLongAsItLasts) {
    // 9600 baud, 8N1, back to back: a character is 10 bits of 104.167 µs, and no gap is below 0.
    std::vector<Time> edges;
    bool level = true;
    double now = 1e9;
    const auto put = [&](bool to) {
        if (to != level) edges.push_back(Time::ps(static_cast<std::int64_t>(now))), level = to;
        now += 1e12 / 9600;
    };
    for (unsigned n = 0; n < 200; ++n) {
        const unsigned value = n * 73 & 255U;
        put(false);
        for (int k = 0; k < 8; ++k) put((value >> k & 1U) != 0);
        put(true);
    }
    const auto c = test::capture_of({{"tx", wave(true, edges)}});
    Progress progress;
    const RoleMap roles{{"data", {"tx"}}};
    const auto d = (*find_decoder("async-serial"))->decode(c, roles, {}, progress);
    ASSERT_TRUE(d);
    ASSERT_EQ(d->frames.size(), 200U);
    const auto made = derive_contract({"c", c, roles, *d, std::nullopt}, progress);
    ASSERT_TRUE(made);
    EXPECT_TRUE(made->question.trigger.empty());
    EXPECT_NE(made->find_unsure("trigger"), nullptr) << "says why nobody answers";
    for (const auto& i : made->intervals) {
        const auto f = figure(c, i, &*d);
        if (i.id == "frame") {
            EXPECT_EQ(f.n, 200);
            EXPECT_NEAR(f.min->seconds(), 10 / 9600.0, 1e-6);
            EXPECT_NEAR(f.max->seconds(), 10 / 9600.0, 1e-6);
        }
        if (i.id == "frame-gap") {
            EXPECT_EQ(f.n, 199);
            EXPECT_GE(*f.min, Time{});
            EXPECT_LT(f.max->seconds(), 2e-6);
        }
    }
}

TEST(Derive, AReadingThatDoesNotFitMeasuresNothing) {
    // Unrelated lines, read as if they belonged together.
    int called_measured = 0;
    std::string which;
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
        unseen::Dice dice(seed);
        const auto noise = [&](double mean) {
            std::vector<Time> edges;
            double t = 1e6;
            for (int k = 0; k < 600; ++k) {
                t += mean * (0.05 - std::log(1 - dice.unit()));
                edges.push_back(Time::ps(static_cast<std::int64_t>(t)));
            }
            return wave(false, edges);
        };
        const auto c =
            test::capture_of({{"a", noise(3e6)}, {"b", noise(5e6)}, {"c", noise(2e6)}, {"d", noise(4e6)}});
        for (const auto& [kind, roles] : std::map<std::string, RoleMap>{
                 {"select-bank", {{"select", {"a"}}, {"data", {"b", "c"}}}},
                 {"latch-shift", {{"latch", {"a"}}, {"clock", {"b"}}, {"data", {"c"}}}},
                 {"quadrature", {{"a", {"a"}}, {"b", {"b"}}}},
                 {"clocked", {{"clock", {"c"}}, {"data", {"d"}}}},
                 {"async-serial", {{"data", {"d"}}}}}) {
            const auto made = derive(c, kind.c_str(), roles);
            if (made.fits) ++called_measured, which += kind + " ";
            for (const auto& i : made.intervals) {
                EXPECT_TRUE(made.fits || i.evidence.kind == EvidenceKind::assumed) << kind;
            }
        }
    }
    EXPECT_LE(called_measured, 4) << "of 200: " << which;
}

ContractInterval plain(const char* from, const char* to) {
    ContractInterval i;
    i.from = from;
    i.to = to;
    return i;
}

TEST(Derive, AnIntervalEndsWhereItsRulesSay) {
    const auto c = test::capture_of({{"a", waveform_ns(false, {100, 150, 300, 350})},
                                     {"b", waveform_ns(false, {130, 330})},
                                     {"q", waveform_ns(false, {100, 120, 160, 340})}});
    const auto lengths = [&](const ContractInterval& i) {
        const auto m = measure_interval(i, c, nullptr);
        EXPECT_TRUE(m) << test::message(m);
        std::vector<Time> out;
        if (m)
            for (const auto& x : m->answered) out.push_back(x.length());
        return out;
    };
    auto i = plain("a:rise", "q:any");
    EXPECT_THAT(lengths(i), testing::ElementsAre(Time::ns(20), Time::ns(40)));
    i.at_once = true;  // q changes at 100, with a
    EXPECT_THAT(lengths(i), testing::ElementsAre(Time::ns(0), Time::ns(40)));
    i.at_once = false;
    i.until = {"b:any"};  // b at 330 comes before q at 340
    EXPECT_THAT(lengths(i), testing::ElementsAre(Time::ns(20)));
    i.until.clear();
    i.beyond = Time::ns(20);  // up to 20 ns is another thing
    EXPECT_THAT(lengths(i), testing::ElementsAre(Time::ns(40)));
    // Rises of a behind a low of 150 ns and more: only the second, low since 150.
    EXPECT_THAT(lengths(plain("a:rise after 150ns", "a:fall")), testing::ElementsAre(Time::ns(50)));
    EXPECT_FALSE(parse_event("a:rise after lunch"));
    EXPECT_FALSE(parse_event("a:rise after 0"));
    EXPECT_EQ(show_event(*parse_event("poll:end")), "poll's end");
}

/// The definition, word by word, on the wires as they were drawn: the first `to` behind each `from`, before
/// the next `from` and before whatever else ends the wait. Nothing of src/ looks at the edges here.
struct ByHand {
    const unseen::Made& made;

    /// Edges of "line:rise"; nothing for what is no plain edge.
    [[nodiscard]] std::optional<std::vector<std::int64_t>> times(const std::string& event) const {
        const auto colon = event.rfind(':');
        const auto direction = event.substr(colon + 1);
        for (const auto& w : made.wires) {
            if (w.name != event.substr(0, colon)) continue;
            std::vector<std::int64_t> out;
            bool level = w.first;
            for (const auto t : w.edges) {
                level = !level;
                if (direction == "any" || (direction == "rise") == level) out.push_back(t);
            }
            return direction == "any" || direction == "rise" || direction == "fall" ? std::optional(out)
                                                                                    : std::nullopt;
        }
        return std::nullopt;
    }

    /// Lengths, shortest first; nothing where an event is no plain edge.
    [[nodiscard]] std::optional<std::vector<std::int64_t>> lengths(const ContractInterval& i) const {
        const auto from = times(i.from), to = times(i.to);
        if (!from || !to) return std::nullopt;
        std::vector<std::int64_t> ends;
        for (const auto& u : i.until) {
            const auto more = times(u);
            if (!more) return std::nullopt;
            ends.insert(ends.end(), more->begin(), more->end());
        }
        std::vector<std::int64_t> out;
        for (std::size_t k = 0; k < from->size(); ++k) {
            const auto begin = (*from)[k];
            std::int64_t limit = std::numeric_limits<std::int64_t>::max();
            if (i.from != i.to && k + 1 < from->size()) limit = (*from)[k + 1];
            for (const auto e : ends)
                if (e > begin) limit = std::min(limit, e);
            std::optional<std::int64_t> first;
            for (const auto t : *to)
                if ((t > begin || (t == begin && i.at_once)) && t < limit && (!first || t < *first))
                    first = t;
            if (!first) continue;
            const auto length = *first - begin;
            if (i.within && length > i.within->count()) continue;
            if (i.beyond && length <= i.beyond->count()) continue;
            out.push_back(length);
        }
        std::sort(out.begin(), out.end());
        return out;
    }
};

TEST(Derive, EveryIntervalBetweenEdgesIsWhatItsDefinitionSays) {
    long compared = 0;
    for (const auto& kind : unseen::talk_kinds())
        for (std::uint64_t seed = 9'200; seed < 9'208; ++seed) {
            const auto talk = unseen::talk(seed, kind);
            const auto c = unseen::capture_of(talk.made);
            Progress progress;
            const auto d = (*find_decoder(talk.kind))->decode(c, talk.roles, talk.settings, progress);
            ASSERT_TRUE(d);
            const auto made = derive_contract({"c", c, talk.roles, *d, std::nullopt}, progress);
            ASSERT_TRUE(made);
            for (const auto& i : made->intervals) {
                const auto by_hand = ByHand{talk.made}.lengths(i);
                if (!by_hand) continue;  // frames, polls and answers: held against their truth elsewhere
                ++compared;
                const auto f = figure(c, i, &*d);
                ASSERT_EQ(f.n, static_cast<long>(by_hand->size())) << kind << " " << seed << " " << i.name;
                if (by_hand->empty()) continue;
                EXPECT_EQ(f.min->count(), by_hand->front()) << kind << " " << seed << " " << i.name;
                EXPECT_EQ(f.max->count(), by_hand->back()) << kind << " " << seed << " " << i.name;
            }
        }
    EXPECT_GT(compared, 800);
}

TEST(Derive, VisitingGivesWhatMeasuringLists) {
    for (const auto& kind : unseen::talk_kinds()) {
        const auto talk = unseen::talk(9'100, kind);
        const auto c = unseen::capture_of(talk.made);
        Progress progress;
        const auto d = (*find_decoder(talk.kind))->decode(c, talk.roles, talk.settings, progress);
        ASSERT_TRUE(d);
        const auto made = derive_contract({"c", c, talk.roles, *d, std::nullopt}, progress);
        ASSERT_TRUE(made);
        for (const auto& i : made->intervals) {
            std::vector<std::pair<Time, Time>> visited, listed;
            EXPECT_TRUE(
                visit_interval(i, c, &*d, [&](const Interval& x) { visited.emplace_back(x.from, x.to); }));
            const auto measured = measure_interval(i, c, &*d);
            ASSERT_TRUE(measured);
            for (const auto& x : measured->answered) listed.emplace_back(x.from, x.to);
            EXPECT_EQ(visited, listed) << kind << " " << i.name;
        }
    }
}

TEST(Derive, AQuestionOfOnesOwnHasFigures) {
    const auto c = shift_talk(true, 30);
    const auto i = reply_interval("c", "latch:rise", "clk:fall");
    const auto f = figure(c, i);
    EXPECT_EQ(f.n, 10);
    EXPECT_EQ(f.typ, Time::ns(300));
}

TEST(ReplayTurns, AnAnswerBeginsWhenTheOptionAnswersAndIsOtherwiseTheOriginals) {
    // A poll ends at 100; the original's answer rises at 180, falls at 200, rises at 230, falls at 240.
    const auto original = test::waveform_ns(false, {10, 20, 180, 200, 230, 240, 910, 920});
    const std::vector<ReplyTask> tasks{{Time::ns(100), Time::ns(300)}};
    ReplySummary replies;
    replies.outcomes = {{Time::ns(130)}};  // 50 ns sooner
    const auto edges = [&](Span window) {
        const auto line = replay_turns(*original, tasks, replies, window);
        return std::vector<Time>(line.edges().begin(), line.edges().end());
    };
    EXPECT_THAT(edges({Time::ns(0), Time::ns(400)}),
                testing::ElementsAre(Time::ns(10), Time::ns(20), Time::ns(130), Time::ns(150), Time::ns(180),
                                     Time::ns(190)));
    EXPECT_THAT(edges({Time::ns(90), Time::ns(185)}),
                testing::ElementsAre(Time::ns(130), Time::ns(150), Time::ns(180)));
    replies.outcomes = {{std::nullopt}};  // lost: nothing is known of it, so the line stays
    EXPECT_EQ(edges({Time::ns(0), Time::ns(400)}).size(), 6U);
}

}  // namespace
}  // namespace grayrelic
