// SPDX-License-Identifier: GPL-3.0-or-later
// What is asked, what being wrong costs, and in which order: worked out by hand.
#include "core/job/questions.hpp"

#include <gmock/gmock.h>

#include "tests/core/job/job.hpp"

namespace grayrelic {
namespace {

using test::Job;
using test::known_pin;
using test::measured;
using test::relic_port;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;

PlanQuestion asked(const std::string& id, double chance, AtStake stake, double minutes) {
    PlanQuestion q;
    q.id = id;
    q.says = id + "?";
    q.chance = chance;
    q.at_stake = stake;
    q.minutes = minutes;
    return q;
}

std::vector<std::string> ids(const Outlook& o) {
    std::vector<std::string> out;
    for (const auto& q : o.questions.open) out.push_back(q.id);
    return out;
}

Job with_stakes() {
    Job job;
    job.plan([](JobPlan& p) {
        p.respin_money = 40;
        p.respin_days = 10;
    });
    job.person.bench.day_worth = 2;
    job.person.bench.hour_worth = 6;
    return job;
}

/// A board: 40 + 10 × 2 = 60. The relic: 60 + 300 = 360. Little: an hour, 6.
TEST(Questions, LossIsChanceTimesWhatIsLost) {
    auto job = with_stakes();
    JobUnit relic;
    relic.id = "machine";
    relic.name = "the machine";
    relic.worth = 300;
    job.add(relic);
    job.add(asked("board", 0.5, AtStake::respin, 10));
    job.add(asked("kill", 0.1, AtStake::relic, 10));
    job.add(asked("hour", 0.5, AtStake::little, 10));
    const auto o = job.look();
    EXPECT_DOUBLE_EQ(o.questions.find("board")->loss, 30);
    EXPECT_DOUBLE_EQ(o.questions.find("kill")->loss, 36);
    EXPECT_DOUBLE_EQ(o.questions.find("hour")->loss, 3);
    EXPECT_FALSE(o.questions.find("kill")->before_all) << "it has a worth";
    EXPECT_EQ(o.questions.find("kill")->arithmetic,
              "0.1 × (40.00 + 10 days × 2 + 300.00 for the machine) = 36.00");
    EXPECT_EQ(wrong_cost(*o.questions.find("kill"), o.stakes), "may kill the machine, 40 and 10 days");
    EXPECT_THAT(ids(o), ElementsAre("kill", "board", "hour"));
}

/// 30 in 10 minutes are 3 a minute; 24 in 4 are 6; 6 in 1 are 6 as well: by chance a minute, 0.1 against 0.1,
/// then by name.
TEST(Questions, OrderIsLossForEachMinute) {
    auto job = with_stakes();
    job.add(asked("slow", 0.5, AtStake::respin, 10));
    job.add(asked("b-quick", 0.4, AtStake::respin, 4));
    job.add(asked("a-short", 0.1, AtStake::respin, 1));
    EXPECT_THAT(ids(job.look()), ElementsAre("a-short", "b-quick", "slow"));
}

TEST(Questions, WhatHasNoWorthComesBeforeAllMoney) {
    auto job = with_stakes();
    job.add(asked("dear", 1, AtStake::respin, 1));
    job.add(asked("kill", 0.05, AtStake::relic, 60));
    job.add(asked("kill sooner", 0.05, AtStake::relic, 30));
    auto o = job.look();
    EXPECT_THAT(ids(o), ElementsAre("kill sooner", "kill", "dear"));
    EXPECT_EQ(o.stakes.dies, "the relic") << "no unit is named";
    // Of two originals the one without a worth counts.
    JobUnit cheap, dear;
    cheap.id = "cheap";
    cheap.worth = 5;
    dear.id = "dear";
    job.add(cheap);
    job.add(dear);
    o = job.look();
    EXPECT_EQ(o.stakes.dies, "dear");
    EXPECT_FALSE(o.stakes.worth.has_value());
    job.dossier = edit<JobUnit>(job.dossier, "dear", [](JobUnit& u) { u.worth = 100; });
    EXPECT_EQ(job.look().stakes.worth, 100);
    job.dossier = edit<JobUnit>(job.dossier, "dear", [](JobUnit& u) { u.state = UnitState::dead; });
    EXPECT_EQ(job.look().stakes.worth, 5) << "what is dead can't die";
}

TEST(Questions, AnAssumedAnswerNeverRaisesTheLossAndAKnownOneEndsIt) {
    for (const double chance : {-1.0, 0.1, 0.3, 0.5}) {
        auto job = with_stakes();
        auto q = asked("q", 0, AtStake::respin, 10);
        q.chance = chance < 0 ? std::nullopt : std::optional(chance);
        job.add(q);
        const double before = job.look().questions.find("q")->loss;
        q.answer.value = "probably";
        job.add(q);
        EXPECT_LE(job.look().questions.find("q")->loss, before) << chance;
        EXPECT_EQ(job.look().questions.find("q")->assumed, "probably");
        q.answer.evidence.kind = EvidenceKind::measured;
        job.add(q);
        const auto o = job.look();
        EXPECT_EQ(o.questions.find("q"), nullptr);
        ASSERT_EQ(o.questions.settled.size(), 1U);
        EXPECT_EQ(o.questions.settled.front().answer.value, "probably");
    }
}

TEST(Questions, OfPinsAreAskedOnceByTheirWeakestFact) {
    Job job;
    auto nameless = known_pin("1", "");
    nameless.name = {};
    nameless.driver = {};
    nameless.function = {};
    nameless.volts_max = {};
    auto undriven = known_pin("2", "BANK");
    undriven.driver = {};
    auto level = known_pin("3", "STEP");
    level.volts_max = {};
    auto assumed = known_pin("4", "HOLD");
    assumed.volts_max.evidence.kind = EvidenceKind::assumed;
    job.add(relic_port({nameless, undriven, level, assumed, known_pin("5", "REPLY")}));
    const auto o = job.look();
    EXPECT_EQ(o.questions.find("pin J1/1")->says, "What is pin 1 of J1 for?");
    EXPECT_EQ(o.questions.find("pin J1/2")->says, "Who drives BANK?");
    EXPECT_EQ(o.questions.find("pin J1/3")->says, "How high does STEP go?");
    EXPECT_EQ(o.questions.find("pin J1/3")->at_stake, AtStake::relic);
    EXPECT_DOUBLE_EQ(o.questions.find("pin J1/3")->chance, 0.5);
    EXPECT_DOUBLE_EQ(o.questions.find("pin J1/4")->chance, 0.3) << "assumed";
    EXPECT_EQ(o.questions.find("pin J1/5"), nullptr) << "all of it is measured";
    std::set<std::string> places;
    for (const auto& q : o.questions.open)
        if (q.place.kind == "pin") {
            EXPECT_TRUE(places.insert(q.place.id).second) << q.place.id << " twice";
        }
}

TEST(Questions, ComeFromDimensionsPartsAndTheKind) {
    Job job;
    Dimension lid;
    lid.id = "lid";
    lid.name = "lid";
    lid.mm.value = 12;
    lid.decides = "whether it closes";
    job.add(lid);
    PartLine part;
    part.id = part.part = "shifter";
    part.per_board = 1;
    part.question = "Is it needed?";
    job.add(part);
    job.plan([](JobPlan& p) { p.kind = "new-device-old-host"; });
    auto o = job.look();
    EXPECT_EQ(o.questions.find("part shifter")->says, "Is it needed?");
    EXPECT_NE(o.questions.find("finding dimension-assumed dimension lid"), nullptr);
    ASSERT_NE(o.kind, nullptr);
    for (const auto& q : o.kind->questions) EXPECT_NE(o.questions.find("kind " + q.id), nullptr) << q.id;
    // The dimension measured, the part decided, the kind's question answered: none of them is asked any more.
    job.dossier = edit<Dimension>(job.dossier, "lid",
                                  [](Dimension& d) { d.mm.evidence.kind = EvidenceKind::measured; });
    job.dossier = edit<PartLine>(job.dossier, "shifter", [](PartLine& p) { p.question.clear(); });
    PlanQuestion said;
    said.id = "kind host-supply";
    said.answer = measured<std::string>("120 mA");
    job.add(said);
    o = job.look();
    EXPECT_EQ(o.questions.find("part shifter"), nullptr);
    EXPECT_EQ(o.questions.find("finding dimension-assumed dimension lid"), nullptr);
    EXPECT_EQ(o.questions.find("kind host-supply"), nullptr);
    EXPECT_EQ(o.questions.settled.size(), 1U);
}

TEST(Questions, NameTheInstrumentOfTheBench) {
    Job job;
    auto pin = known_pin("3", "STEP");
    pin.volts_max = {};
    job.add(relic_port({pin}));
    const auto how = [&] { return job.look().questions.find("pin J1/3")->how; };
    EXPECT_THAT(how(), testing::Not(HasSubstr("our"))) << "nobody said what there is";
    job.person.bench.instruments.push_back({"wide caliper", InstrumentKind::caliper, {}, {}, {}, {}, {}, ""});
    EXPECT_THAT(how(), HasSubstr("Your bench has no meter"));
    job.person.bench.instruments.push_back({"hand meter", InstrumentKind::meter, {}, {}, {}, {}, {}, ""});
    EXPECT_THAT(how(), HasSubstr("Yours: hand meter."));
}

TEST(Questions, WhatIsSaidOfAGoneOneAsksNothing) {
    Job job;
    for (const auto* id : {"pin J9/1", "finding dimension-assumed dimension gone", "part gone", "kind gone"})
        job.add(asked(id, 0.5, AtStake::respin, 5));
    EXPECT_THAT(job.look().questions.open, IsEmpty());
}

TEST(Stakes, ComeFromThePartsListUnlessTheyAreSaid) {
    Job job;
    auto s = job.look().stakes;
    EXPECT_TRUE(s.money_taken && s.days_taken && s.day_taken && s.hour_taken);
    PartLine board;
    board.id = board.part = "bare board";
    board.kind = PartKind::board;
    board.per_board = 1;
    board.prices = {{1, 4.0}, {5, 2.0}};
    board.lead_days_from = 9;
    board.lead_days_to = 21;
    job.add(board);
    job.dossier = edit(job.dossier, &Dossier::supply, [](Supply& x) { x.boards = 5; });
    s = job.look().stakes;
    EXPECT_DOUBLE_EQ(s.respin_money, 10) << "five at 2";
    EXPECT_DOUBLE_EQ(s.respin_days, 21) << "the late one";
    EXPECT_FALSE(s.money_taken || s.days_taken);
    job.plan([](JobPlan& p) { p.respin_money = 33; });
    EXPECT_DOUBLE_EQ(job.look().stakes.respin_money, 33);
}

TEST(Chances, FallFromNothingKnownToMeasured) {
    double before = 1;
    for (const auto g : {Grade::missing, Grade::assumed, Grade::unproven, Grade::deduced, Grade::documented,
                         Grade::measured}) {
        EXPECT_LT(chance_of(g), before);
        before = chance_of(g);
    }
    EXPECT_EQ(chance_of(Grade::contradicted), chance_of(Grade::missing));
}

}  // namespace
}  // namespace grayrelic
