// SPDX-License-Identifier: GPL-3.0-or-later
// Log's tables and lines of text, in and out.
#include <gmock/gmock.h>

#include "core/dossier/edits.hpp"
#include "core/record/cover_study.hpp"
#include "core/record/degree.hpp"
#include "core/record/trial_table.hpp"
#include "core/record/trial_words.hpp"

namespace grayrelic {
namespace {

Dossier with_things() {
    Dossier d;
    JobUnit unit;
    unit.id = "adapter-1";
    unit.name = "First board";
    unit.revision = 2;
    ImageFile image;
    image.id = "fw";
    image.name = "pad";
    image.version = "1.2";
    image.sha256 = std::string(64, 'a');
    return put(put(d, unit), image);
}

TEST(TrialTables, OfTheLogHaveUnitRevisionAndImage) {
    auto d = with_things();
    TrialRun one;
    one.id = "run-1";
    one.unit = "adapter-1";
    one.image = "fw";
    one.outcome = TrialOutcome::partly;
    one.setup = {{"host", "first", {}}, {"lid", "on", {}}};
    auto two = one;
    two.id = "run-2";
    two.outcome = TrialOutcome::works;
    two.setup = {{"host", "second", {}}};
    auto open = one;
    open.id = "run-3";
    open.outcome = TrialOutcome::not_said;
    d = put(put(put(d, one), two), open);
    const auto t = trials_of(d);
    EXPECT_EQ(t.factors, (std::vector<std::string>{"unit", "revision", "image", "host"}));
    ASSERT_EQ(t.rows.size(), 2U);
    EXPECT_EQ(t.rows[0].values,
              (std::vector<std::string>{"First board", "2", "pad 1.2 (aaaaaaaa)", "first"}));
    EXPECT_TRUE(t.rows[0].bad);
    EXPECT_FALSE(t.rows[1].bad);
    // What does not count is said: the run without an outcome, the factor that one run does not say.
    EXPECT_THAT(t.left_out,
                testing::UnorderedElementsAre("trial run-3 has no outcome",
                                              "lid is not said of trial run-2: it does not count"));
}

TEST(TrialTables, GoOutAndComeBack) {
    auto d = with_things();
    TrialRun t;
    t.id = "run-1";
    t.day = "2026-11-02";
    t.unit = "adapter-1";
    t.image = "fw";
    t.outcome = TrialOutcome::fails;
    t.degree_of = "frames, %";
    t.degree = 12.5;
    t.expected = 0;
    t.plus_minus = 1;
    t.repeats = Repeats::yes;
    t.setup = {{"cable, long", "60 cm", {}}, {"host", "=second", {}}};
    t.note = "with \"quotes\", and commas";
    d = put(d, t);
    const auto back = trials_from_csv(trials_to_csv(d), "t.csv", d);
    ASSERT_TRUE(back) << back.error().message();
    ASSERT_EQ(back->size(), 1U);
    EXPECT_EQ(back->front(), t);
}

TEST(TrialTables, NameTheLineOfWhatIsUnknown) {
    const auto d = with_things();
    const auto message = [&](const char* text) {
        const auto t = trials_from_csv(text, "t.csv", d);
        return t ? std::string("taken") : t.error().message();
    };
    EXPECT_EQ(message("outcome,unit,host\nworks,First board,a\nfails,adapter-1,b\n"), "taken");
    EXPECT_THAT(message("outcome,unit\nworks,adapter-9\n"),
                testing::StartsWith("t.csv:2: found \"adapter-9\", expected a unit"));
    EXPECT_THAT(message("outcome,image\nworks,other\n"),
                testing::StartsWith("t.csv:2: found \"other\", expected an image"));
    EXPECT_THAT(message("outcome,day\nworks,2026-11-02\nworks,2026-11-01\n"),
                testing::StartsWith("t.csv:3: found \"2026-11-01\""));
    EXPECT_THAT(message("outcome,day\nworks,yesterday\n"),
                testing::StartsWith("t.csv:2: found \"yesterday\", expected a day"));
    EXPECT_THAT(message("outcome,degree\nworks,much\n"),
                testing::StartsWith("t.csv:2: found \"much\", expected a number"));
    EXPECT_THAT(message("outcome,id\nworks,a\nfails,a\n"),
                testing::StartsWith("t.csv:3: found \"a\", expected each id once"));
    EXPECT_THAT(message("outcome,beside\nworks,nobody\n"), testing::StartsWith("t.csv:2: found \"nobody\""));
    EXPECT_THAT(message("host\nfirst\n"), testing::StartsWith("t.csv:1: found no column outcome"));
    EXPECT_THAT(message("outcome\nperhaps\n"), testing::StartsWith("t.csv:2: found \"perhaps\""));
}

TEST(TrialWords, AreReadAsTheyAreTyped) {
    const auto d = with_things();
    const auto t =
        trial_from_text("fails 12 %: host second machine, R4 2.2 k, unit First board, image 1.2", d);
    ASSERT_TRUE(t) << t.error().message();
    EXPECT_EQ(t->outcome, TrialOutcome::fails);
    EXPECT_EQ(t->degree, 12);
    EXPECT_EQ(t->degree_of, "%");
    EXPECT_EQ(t->unit, "adapter-1");
    EXPECT_EQ(t->image, "fw");
    EXPECT_EQ(setup_text(*t), "host second machine, R4 2.2 k, unit adapter-1, image fw");
    const auto beside = trial_from_text(
        "works: host a, beside run-5, ran 1 h, ahead 0.31 s, expected 60 ± 5, read frames = 180000", d);
    ASSERT_TRUE(beside) << beside.error().message();
    EXPECT_EQ(beside->beside, "run-5");
    EXPECT_DOUBLE_EQ(beside->ran_s.value(), 3600);
    EXPECT_DOUBLE_EQ(beside->ahead_s.value(), 0.31);
    EXPECT_DOUBLE_EQ(beside->expected.value(), 60);
    EXPECT_DOUBLE_EQ(beside->plus_minus.value(), 5);
    ASSERT_EQ(beside->readings.size(), 1U);
    EXPECT_EQ(beside->readings[0].value, "180000");
    EXPECT_EQ(beside->setup.size(), 1U);
    for (const auto* bad : {"works: ran 0", "works: ahead much", "works: expected some",
                            "works: expected 3 ± x", "works: read frames"})
        EXPECT_FALSE(trial_from_text(bad, d)) << bad;
    EXPECT_FALSE(trial_from_text("", d));
    EXPECT_FALSE(trial_from_text("breaks: host a", d));
    EXPECT_FALSE(trial_from_text("fails: host", d));
    EXPECT_FALSE(trial_from_text("fails: host a, host b", d));
    EXPECT_FALSE(trial_from_text("fails: unit nobody", d));
}

TEST(CostWords, AreReadAsTheyAreTyped) {
    const auto c = cost_from_text("boards 24.50 a batch");
    ASSERT_TRUE(c);
    EXPECT_EQ(c->kind, CostKind::boards);
    EXPECT_EQ(c->per, CostPer::batch);
    EXPECT_DOUBLE_EQ(c->money, 24.5);
    EXPECT_EQ(cost_from_text("tools 80: plug crimper")->per, CostPer::once);
    EXPECT_EQ(cost_from_text("tools 80: plug crimper")->says, "plug crimper");
    for (const auto* bad : {"", "boards", "boards -1", "boards much", "cake 3", "boards 3 a week"})
        EXPECT_FALSE(cost_from_text(bad)) << bad;
    EXPECT_DOUBLE_EQ(hours_from_text("Solder a board 3.5 h")->hours, 3.5);
    EXPECT_EQ(hours_from_text("Solder a board 3.5")->task, "Solder a board");
    for (const auto* bad : {"", "3", "Solder", "Solder -2"}) EXPECT_FALSE(hours_from_text(bad)) << bad;
    EXPECT_EQ(card_line_from_text("green = fine", CardKind::light)->means, "fine");
    EXPECT_FALSE(card_line_from_text(" = fine", CardKind::light));
}

TEST(CoverWords, AreReadAsTheyAreTyped) {
    const auto i =
        cover_from_text("works: Plain pad: buttons, dial fast, current 18 mA, poll 4 ms", "2026-11-20");
    ASSERT_TRUE(i) << i.error().message();
    EXPECT_EQ(i->kind, CoverKind::device);
    EXPECT_EQ(i->uses, (std::vector<std::string>{"buttons", "dial fast"}));
    ASSERT_EQ(i->figures.size(), 2U);
    EXPECT_DOUBLE_EQ(i->figures[0].value.value, 0.018);
    EXPECT_DOUBLE_EQ(i->figures[1].value.value, 0.004);
    EXPECT_EQ(i->said.front().day, "2026-11-20");
    EXPECT_EQ(cover_from_text("not-said: Quay Side", {})->kind, CoverKind::title);
    EXPECT_TRUE(cover_from_text("not-said: Quay Side", {})->said.empty());
    for (const auto* bad :
         {"", "works", "works:", "perhaps: x", "works: pad: current much", "works: pad: poll 0"})
        EXPECT_FALSE(cover_from_text(bad, {})) << bad;
}

TEST(DecisionWords, AreReadAsTheyAreTyped) {
    const auto d = decision_from_text(
        "firmware or logic: logic: in time; firmware = no part more / late in 8 %; logic = in time");
    ASSERT_TRUE(d) << d.error().message();
    EXPECT_EQ(d->says, "firmware or logic");
    EXPECT_EQ(d->chosen, "logic");
    EXPECT_EQ(d->why, "in time");
    ASSERT_EQ(d->ways.size(), 2U);
    EXPECT_EQ(d->ways[0].against, "late in 8 %");
    EXPECT_EQ(d->ways[1].for_it, "in time");
    for (const auto* bad : {"", "a", "a:", ": b", "a: b; c", "a: b; = x"})
        EXPECT_FALSE(decision_from_text(bad)) << bad;
}

TEST(Degrees, OfTwoRunsStartedTogether) {
    // One hour, 0.9 s ahead: 250 ppm. By hand ±0.2 s at both ends: √2 · 0.2 / 3600 = 78.6 ppm.
    TrialRun t;
    t.ran_s = 3600;
    t.ahead_s = 0.9;
    t.expected = 200;
    auto s = degree_state(t);
    EXPECT_NEAR(s.degree.value(), 250, 1e-9);
    EXPECT_NEAR(s.plus_minus.value(), 78.567, 0.001);
    EXPECT_EQ(s.verdict, Verdict::holds);
    t.expected = 100;
    EXPECT_EQ(degree_state(t).verdict, Verdict::doubt);
    t.expected.reset();
    EXPECT_EQ(degree_state(t).verdict, Verdict::unknown);
    // As said, without knowing how sure: nobody can tell.
    TrialRun said;
    said.degree = 12;
    said.expected = 10;
    EXPECT_EQ(degree_state(said).verdict, Verdict::unknown);
    said.plus_minus = 2;
    EXPECT_EQ(degree_state(said).verdict, Verdict::holds);
    said.plus_minus = 1.9;
    EXPECT_EQ(degree_state(said).verdict, Verdict::doubt);
}

CoverItem item(const char* id, TrialOutcome outcome, std::vector<std::string> uses,
               std::vector<std::string> spares = {}) {
    CoverItem i;
    i.id = i.name = id;
    i.uses = std::move(uses);
    i.spares = std::move(spares);
    if (outcome != TrialOutcome::not_said) i.said.push_back({outcome, {}, {}, {}, {}});
    return i;
}

TEST(Cover, TheFunctionThatIsBehindAllGlitchesIsNamed) {
    using enum TrialOutcome;
    std::vector<CoverItem> items{item("A", works, {"dial", "fire"}), item("B", fails, {"fast", "fire"}),
                                 item("C", partly, {"fast", "bank"}), item("D", not_said, {"fast"}, {"bank"}),
                                 item("E", works, {"bank"})};
    const auto s = study_cover(items);
    EXPECT_EQ(s.common, std::vector<std::string>{"fast"});
    EXPECT_TRUE(s.unexplained.empty());
    EXPECT_EQ(s.next, "D");
    // dial, fire, fast and bank: A and C show them all, and no one item does.
    EXPECT_EQ(s.shows_all.size(), 2U);
}

TEST(Cover, TwoMissingFunctionsTogether) {
    using enum TrialOutcome;
    const auto s = study_cover({item("A", works, {"fire"}), item("B", fails, {"fast", "fire"}),
                                item("C", fails, {"bank"}), item("D", fails, {"fire"})});
    EXPECT_TRUE(s.common.empty());
    EXPECT_EQ(s.together, (std::vector<std::vector<std::string>>{{"fast", "bank"}}));
    EXPECT_EQ(s.unexplained, std::vector<std::string>{"D"});
}

TEST(Cover, OthersResultsStandUnderTheirSource) {
    using enum TrialOutcome;
    const auto more =
        cover_from_csv("item,outcome,uses,note\nA,fails,fast|bank,with the lid on\nZ,works,,\n", "list.csv");
    ASSERT_TRUE(more) << more.error().message();
    auto merged = merge_cover({item("A", works, {"fast"})}, *more, "a friend", "2026-11-20");
    merged = merge_cover(std::move(merged), *more, "a friend", "2026-11-20");  // twice is once
    ASSERT_EQ(merged.size(), 2U);
    EXPECT_EQ(merged[0].uses, (std::vector<std::string>{"fast", "bank"}));
    ASSERT_EQ(merged[0].said.size(), 2U);
    EXPECT_EQ(merged[0].said[1].source, "a friend");
    const auto s = study_cover(merged);
    EXPECT_EQ(s.items[0].outcome, works);  // one's own bench counts first
    EXPECT_EQ(s.items[0].says_otherwise, std::vector<std::string>{"a friend: fails"});
    EXPECT_EQ(s.items[1].outcome, works);
    EXPECT_EQ(s.items[1].source, "a friend");
    const auto back = cover_from_csv(cover_to_csv(merged), "back.csv");
    ASSERT_TRUE(back) << back.error().message();
    EXPECT_EQ(back->size(), 2U);
    EXPECT_EQ((*back)[0].said.size(), 2U);
    for (const auto* bad : {"item\nA\n", "item,outcome\n,works\n", "item,outcome\nA,perhaps\n",
                            "item,outcome,kind\nA,works,thing\n", "item,outcome,uses,spares\nA,works,x,x\n",
                            "item,outcome\nA,works\nA,fails\n"})
        EXPECT_FALSE(cover_from_csv(bad, "x.csv")) << bad;
}

}  // namespace
}  // namespace grayrelic
