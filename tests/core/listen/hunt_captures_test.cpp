// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/listen/hunt_captures.hpp"

#include "core/base/random.hpp"

#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

/// A word of two bits, each lasting a microsecond, at a whole millisecond.
Frame word_at(int ms, const char* bits) {
    Frame f;
    f.start = Time::ms(ms);
    f.end = f.start + Time::us(2);
    f.levels = bits;
    return f;
}

std::shared_ptr<const CaptureAnalysis> recording(const std::string& id, const std::string& title,
                                                 std::vector<Frame> words) {
    auto c = std::make_shared<CaptureAnalysis>();
    c->ref.id = id;
    c->ref.title = title;
    c->ref.decode.kind = "latch-shift";
    auto d = std::make_shared<Decoding>();
    d->kind = "latch-shift";
    d->frames = std::move(words);
    c->decoding = d;
    return c;
}

TEST(HuntCaptures, TitlesAreAFirstGuessAndWhatSomebodySaidStands) {
    const std::vector<std::shared_ptr<const CaptureAnalysis>> all{
        recording("a", "Idle, nothing pressed", {}), recording("button-left", "x", {}),
        recording("b", "Button FIRE held", {}), recording("c", "A minute of play", {}),
        recording("d", "at REST again", {})};
    const auto guessed = guess_pressed(all, {});
    EXPECT_EQ(guessed, (Pressed{{"a", ""}, {"button-left", "left"}, {"b", "Button FIRE held"}}))
        << "one is at rest; what says nothing is left out";
    // Left out on purpose, it is not guessed again; named, it keeps its name.
    EXPECT_EQ(guess_pressed(all, {{"a", ""}, {"b", "fire"}}, {"button-left"}),
              (Pressed{{"a", ""}, {"b", "fire"}}));
}

TEST(HuntCaptures, TheBitThatDiffersIsNamed) {
    const std::vector<std::shared_ptr<const CaptureAnalysis>> all{
        recording("rest", "rest", {word_at(0, "110"), word_at(1, "110")}),
        recording("button-a", "a", {word_at(0, "010"), word_at(1, "010")}),
        recording("other", "of another family", {word_at(0, "001")})};
    const auto found = hunt_captures(all, {{"rest", ""}, {"button-a", "a"}});
    ASSERT_TRUE(found.ready);
    ASSERT_EQ(found.result.answers.size(), 1U);
    EXPECT_EQ(found.result.answers[0].bits, std::vector<std::size_t>{0});
    EXPECT_TRUE(found.result.bits[0].active_low);
    EXPECT_FALSE(hunt_captures(all, {{"rest", ""}}).ready) << "nothing was pressed";
    EXPECT_FALSE(hunt_captures(all, {{"button-a", "a"}}).any) << "nothing at rest";
}

/// Against counting one by one, over seeded spans.
TEST(HuntCaptures, WordsWithinAreCountedAsOneByOne) {
    std::vector<Frame> words;
    for (int i = 0; i < 50; ++i) words.push_back(word_at(i, "1"));
    const auto c = recording("x", "x", words);
    Random rng(20261128);
    for (int n = 0; n < 300; ++n) {
        const Time a = Time::us(static_cast<long long>(rng.below(52'000))),
                   b = Time::us(static_cast<long long>(rng.below(52'000)));
        const Span span{std::min(a, b), std::max(a, b)};
        const auto one_by_one = std::count_if(words.begin(), words.end(), [&](const Frame& f) {
            return f.start >= span.from && f.end <= span.to;
        });
        EXPECT_EQ(words_within(*c->decoding, span), one_by_one);
    }
}

}  // namespace
}  // namespace grayrelic
