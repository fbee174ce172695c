// SPDX-License-Identifier: GPL-3.0-or-later
// Gates, musts, ways and hedges.
#include <gmock/gmock.h>

#include "core/report/question_sheet.hpp"
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
using testing::Not;

std::string in_the_way(const Outlook& o, JobGate g) {
    std::string out;
    for (const auto& b : o.gate(g).blocked_by) out += b.says + "\n";
    return out;
}

const MustState* must(const Outlook& o, const std::string& id) {
    for (const auto& m : o.musts)
        if (m.must.id == id) return &m;
    return nullptr;
}

Must on_dimension(double least, double most) {
    Must m;
    m.id = m.says = "fits";
    m.tie = MustTie::dimension;
    m.thing = "lid";
    m.least = least;
    m.most = most;
    return m;
}

Verdict fits(double mm, double tolerance, EvidenceKind kind = EvidenceKind::measured) {
    Job job;
    Dimension lid;
    lid.id = lid.name = "lid";
    lid.mm.value = mm;
    lid.mm.uncertainty = tolerance;
    lid.mm.evidence.kind = kind;
    job.add(lid);
    job.add(on_dimension(10, 12));
    return must(job.look(), "fits")->verdict;
}

TEST(Musts, OfADimensionHoldAtTheWholeTolerance) {
    EXPECT_EQ(fits(11, 0.5), Verdict::holds);
    EXPECT_EQ(fits(11.5, 0.5), Verdict::holds) << "12 is allowed";
    EXPECT_EQ(fits(11.8, 0.5), Verdict::doubt);
    EXPECT_EQ(fits(12.4, 0.5), Verdict::doubt);
    EXPECT_EQ(fits(12.6, 0.5), Verdict::stop);
    EXPECT_EQ(fits(9.4, 0.5), Verdict::stop);
    EXPECT_EQ(fits(11, 0.5, EvidenceKind::assumed), Verdict::unknown) << "an assumption shows nothing";
    EXPECT_EQ(fits(14, 0.5, EvidenceKind::assumed), Verdict::stop);
}

TEST(Musts, AreOpenUntilSomethingShowsThem) {
    Job job;
    Must m;
    m.id = m.says = "no ghosts";
    job.add(m);
    EXPECT_EQ(must(job.look(), "no ghosts")->verdict, Verdict::unknown);
    m.met.value = true;
    job.add(m);
    EXPECT_EQ(must(job.look(), "no ghosts")->verdict, Verdict::unknown) << "only assumed";
    m.met = measured<std::optional<bool>>(true);
    job.add(m);
    EXPECT_EQ(must(job.look(), "no ghosts")->verdict, Verdict::holds);
    m.met = measured<std::optional<bool>>(false);
    job.add(m);
    EXPECT_EQ(must(job.look(), "no ghosts")->verdict, Verdict::stop);
    EXPECT_EQ(job.look().gate(JobGate::order).verdict, Verdict::stop);
    m.waived = "nobody types chords on it";
    job.add(m);
    EXPECT_EQ(must(job.look(), "no ghosts")->verdict, Verdict::holds);
    EXPECT_THAT(in_the_way(job.look(), JobGate::order), Not(HasSubstr("no ghosts")));
}

TEST(Musts, OfAPinNeedItsFacts) {
    Job job;
    auto pin = known_pin("3", "STEP");
    pin.volts_max.evidence.kind = EvidenceKind::assumed;
    job.add(relic_port({pin}));
    Must m;
    m.id = m.says = "level";
    m.tie = MustTie::pin;
    m.thing = "J1/3";
    job.add(m);
    EXPECT_EQ(must(job.look(), "level")->verdict, Verdict::unknown);
    job.dossier = put_pin(job.dossier, "J1", known_pin("3", "STEP"));
    EXPECT_EQ(must(job.look(), "level")->verdict, Verdict::holds);
    m.thing = "J1/9";
    job.add(m);
    const auto o = job.look();
    EXPECT_EQ(must(o, "level")->verdict, Verdict::unknown);
    const auto a = job.analysed();
    EXPECT_TRUE(std::any_of(a->findings.begin(), a->findings.end(),
                            [](const Finding& f) { return f.id == "must-astray"; }));
}

TEST(Gates, AnOpenMustOrAnUndecidedPartKeepsFromOrdering) {
    Job job;
    PartLine part;
    part.id = part.part = "socket";
    part.per_board = 1;
    job.add(part);
    EXPECT_EQ(job.look().gate(JobGate::order).verdict, Verdict::holds);
    Must m;
    m.id = "lid";
    m.says = "the lid closes";
    job.add(m);
    EXPECT_EQ(job.look().gate(JobGate::order).verdict, Verdict::stop);
    EXPECT_THAT(in_the_way(job.look(), JobGate::order), HasSubstr("must, open: the lid closes"));
    job.dossier = drop<Must>(job.dossier, "lid");
    job.dossier = edit<PartLine>(job.dossier, "socket", [](PartLine& p) { p.question = "Which gender?"; });
    const auto o = job.look();
    EXPECT_EQ(o.gate(JobGate::order).verdict, Verdict::stop);
    EXPECT_THAT(in_the_way(o, JobGate::order), HasSubstr("Which gender?"));
}

TEST(Gates, GoingOnNeedsAReasonWhichStays) {
    Job job;
    Must m;
    m.id = m.says = "lid";
    job.add(m);
    job.plan([](JobPlan& p) {
        p.overrides.push_back({JobGate::order, "the case is not sold yet", "2026-11-29"});
    });
    const auto o = job.look();
    EXPECT_EQ(o.gate(JobGate::order).verdict, Verdict::doubt) << "never open";
    EXPECT_EQ(o.gate(JobGate::order).passed_with, "the case is not sold yet");
    EXPECT_THAT(o.gate(JobGate::order).blocked_by, Not(IsEmpty()));
}

TEST(Gates, NotReachedIsNoFindingAndNotOpen) {
    Job job;
    const auto a = job.analysed();
    EXPECT_THAT(a->findings, IsEmpty());
    const auto o = job.look();
    for (const auto g : {JobGate::solder, JobGate::power, JobGate::plug, JobGate::publish})
        EXPECT_EQ(o.gate(g).verdict, Verdict::unknown) << word(g);
    EXPECT_THAT(in_the_way(o, JobGate::solder), HasSubstr("no parts list yet"));
    EXPECT_THAT(in_the_way(o, JobGate::power), HasSubstr("nothing is built yet"));
}

TEST(Gates, SolderWaitsForWhatIsNotHere) {
    Job job;
    PartLine part;
    part.id = part.part = "socket";
    part.per_board = 1;
    job.add(part);
    EXPECT_EQ(in_the_way(job.look(), JobGate::solder), "1 part is not ordered\n");
    Order order;
    order.id = "o";
    order.from = "shop";
    order.lines = {{"socket", 1}};
    order.ordered = "2026-11-20";
    job.add(order);
    EXPECT_EQ(in_the_way(job.look(), JobGate::solder), "1 part is in the post\n");
    job.dossier = edit<Order>(job.dossier, "o", [](Order& o) { o.arrived = "2026-11-28"; });
    EXPECT_EQ(job.look().gate(JobGate::solder).verdict, Verdict::holds);
}

TEST(Gates, PowerIsForTheRevisionThatIsBuilt) {
    Job job;
    JobUnit unit;
    unit.id = "first";
    unit.state = UnitState::built;
    unit.revision = 1;
    job.add(unit);
    EXPECT_EQ(job.look().gate(JobGate::power).verdict, Verdict::unknown) << "nobody has measured it";
    EXPECT_THAT(in_the_way(job.look(), JobGate::plug), HasSubstr("under power are not on record"));
    MeterReading rail;
    rail.a = "+5 V";
    rail.b = "GND";
    rail.kind = MeterReadingKind::ohms;
    rail.ohm = 1200;
    rail.unit = "another";
    job.dossier = add_reading(job.dossier, rail);
    EXPECT_EQ(job.look().gate(JobGate::power).verdict, Verdict::unknown) << "of another unit";
    rail.unit = "first";
    job.dossier = add_reading(job.dossier, rail);
    EXPECT_EQ(job.look().gate(JobGate::power).verdict, Verdict::holds);
    job.dossier = edit(job.dossier, &Dossier::about, [](About& a) { a.revision = 2; });
    EXPECT_EQ(in_the_way(job.look(), JobGate::power), "nothing of revision 2 is built yet\n");
}

TEST(Gates, ThatTheKindDoesNotNameAreNotNeeded) {
    Job job;
    const auto needed = job.look();
    for (const auto& g : needed.ready) EXPECT_TRUE(g.needed) << "without a kind all are";
    EXPECT_EQ(needed.ready.size(), 6U);
}

TEST(Stages, AreThoseOfTheKindAndWhatIsBroughtBack) {
    Job job;
    job.plan([](JobPlan& p) { p.kind = "signal-selector"; });
    const auto o = job.look();
    ASSERT_NE(o.kind, nullptr);
    EXPECT_FALSE(stage_needed(*job.dossier.plan, o.kind, Stage::listen));
    job.plan([](JobPlan& p) {
        p.wanted = {Stage::listen};
        p.unwanted = {Stage::board};
    });
    EXPECT_TRUE(stage_needed(*job.dossier.plan, o.kind, Stage::listen));
    EXPECT_FALSE(stage_needed(*job.dossier.plan, o.kind, Stage::board));
    EXPECT_TRUE(stage_needed(JobPlan{}, nullptr, Stage::map));
}

TEST(Tasks, AreProposedByTheKindWithWhatIsKnown) {
    Job job;
    job.plan([](JobPlan& p) {
        p.kind = "new-device-old-host";
        p.unwanted = {Stage::map};
    });
    job.dossier = edit(job.dossier, &Dossier::supply, [](Supply& s) { s.boards = 3; });
    PartLine part;
    part.id = part.part = "socket";
    part.per_board = 1;
    part.lead_days_from = 9;
    part.lead_days_to = 14;
    job.add(part);
    const auto o = job.look();
    EXPECT_TRUE(o.tasks_proposed);
    EXPECT_EQ(o.task_problem, "");
    const auto find = [&](const std::string& id) {
        return *std::find_if(o.tasks.begin(), o.tasks.end(), [&](const PlanTask& t) { return t.id == id; });
    };
    EXPECT_EQ(find("Order boards and parts").wait_least_d, 9);
    EXPECT_EQ(find("Order boards and parts").wait_most_d, 14);
    EXPECT_DOUBLE_EQ(find("Assemble").likely_h, 3 * 1.2) << "each board";
    for (const auto& t : o.tasks) EXPECT_NE(t.stage, Stage::map) << t.id << ": the stage is left out";
    EXPECT_EQ(o.tasks.front().id, "Settle the open questions");
}

TEST(Tasks, ComeAfterTheParcelThatFreesThem) {
    Job job;
    PlanTask t;
    t.id = "Firmware";
    job.add(t);
    Order order;
    order.id = "o";
    order.from = "module shop";
    order.lines = {{"module", 1}};
    order.ordered = "2026-11-20";
    order.expected_from = "2026-12-02";
    order.expected_to = "2026-12-06";
    order.frees = {"firmware"};
    job.add(order);
    const auto o = job.look();
    ASSERT_EQ(o.dated.size(), 2U);
    EXPECT_THAT(o.dated[0].after, ElementsAre("In the post: module shop"));
    EXPECT_EQ(o.dated[1].wait_least_d, 3) << "from 29 November";
    EXPECT_EQ(o.dated[1].wait_most_d, 7);
    EXPECT_EQ(o.tasks.size(), 1U) << "what is edited is the person's own";
}

/// 0.4 × (30 + 10 × 2) − 6 = 14.
TEST(Hedges, AreWorthChanceTimesLossAvoidedLessTheirPrice) {
    Job job;
    job.person.bench.day_worth = 2;
    Hedge h;
    h.id = h.says = "second board";
    job.add(h);
    EXPECT_FALSE(job.look().hedges.front().worth.has_value());
    h.chance = 0.4;
    h.price = 6;
    h.avoids_money = 30;
    h.avoids_days = 10;
    job.add(h);
    EXPECT_DOUBLE_EQ(*job.look().hedges.front().worth, 14);
    // Against a question, what it avoids is what being wrong would cost: 0.5 × (8 + 3 × 2) − 6 = 1.
    PlanQuestion q;
    q.id = q.says = "gender";
    q.chance = 0.5;
    q.money = 8;
    q.days = 3;
    job.add(q);
    h.question = "gender";
    h.chance = h.avoids_money = h.avoids_days = std::nullopt;
    job.add(h);
    EXPECT_DOUBLE_EQ(*job.look().hedges.front().worth, 1);
    q.answer = measured<std::string>("plug");
    job.add(q);
    EXPECT_EQ(job.look().hedges.front().arithmetic, "its question is settled");
}

/// 31 + 9 × 8 + 19 × 1.5 = 131.5.
TEST(Ways, AreComparedByMoneyHoursAndDays) {
    Job job;
    job.person.bench.hour_worth = 8;
    job.person.bench.day_worth = 1.5;
    WayThere w;
    w.id = w.says = "adapt";
    w.money = 31;
    w.hours = 9;
    w.days = 19;
    job.add(w);
    const auto o = job.look();
    ASSERT_EQ(o.ways.size(), 2U);
    EXPECT_DOUBLE_EQ(*o.ways[1].total, 131.5);
    EXPECT_EQ(o.ways[1].missing, "its licence");
    EXPECT_THAT(in_the_way(o, JobGate::publish), HasSubstr("its licence is not known"));
}

/// Two questions at 0.5 and 0.2: one of them is wrong with 1 − 0.5 × 0.8 = 0.6; 0.6 × 50 = 30 against 3 h
/// × 8.
TEST(Breadboards, PayWhereTheyMaySaveMoreThanTheyTake) {
    Job job;
    job.person.bench.hour_worth = 8;
    job.person.bench.day_worth = 1;
    job.plan([](JobPlan& p) {
        p.respin_money = 40;
        p.respin_days = 10;
    });
    for (const auto& [id, chance] : {std::pair("a", 0.5), std::pair("b", 0.2)}) {
        PlanQuestion q;
        q.id = q.says = id;
        q.chance = chance;
        q.stage = Stage::timing;
        job.add(q);
    }
    const auto o = job.look();
    ASSERT_EQ(o.breadboards.size(), 1U);
    EXPECT_NEAR(o.breadboards[0].chance, 0.6, 1e-12);
    EXPECT_NEAR(o.breadboards[0].saves, 30, 1e-9);
    EXPECT_NEAR(o.breadboards[0].costs, 24, 1e-9);
    EXPECT_TRUE(o.breadboards[0].breadboard_first());
}

TEST(Evenings, HoldWhatFitsFirstThingsFirst) {
    Job job;
    for (const auto& [id, minutes] :
         {std::pair("first", 30.0), std::pair("long", 70.0), std::pair("short", 20.0)}) {
        PlanQuestion q;
        q.id = q.says = id;
        q.chance = 0.5;
        q.minutes = minutes;
        q.money = id == std::string("first") ? 900 : id == std::string("long") ? 700 : 100;
        job.add(q);
    }
    const auto list = evening(job.look(), nullptr, 60);
    ASSERT_EQ(list.size(), 2U) << "30 + 70 does not fit, 30 + 20 does";
    EXPECT_EQ(list[0].question, "first");
    EXPECT_EQ(list[1].question, "short");
}

TEST(QuestionSheets, HoldTheFactsAndNothingPrivate) {
    Job job;
    auto pin = known_pin("3", "STEP <b>");
    pin.volts_max.evidence.kind = EvidenceKind::assumed;
    pin.volts_max.evidence.source = "read off /home/somebody/photos/port.png";
    pin.note = "borrowed from the neighbour";
    job.add(relic_port({pin}));
    PlanQuestion said;
    said.id = "pin J1/3";
    said.tried = "Looked at it with the meter; it moves.";
    job.add(said);
    const auto o = job.look();
    const auto a = job.analysed();
    const auto sheet = question_sheet(*a, o, "pin J1/3");
    ASSERT_TRUE(sheet) << sheet.error().message();
    EXPECT_THAT(*sheet, HasSubstr("STEP &lt;b&gt;"));
    EXPECT_THAT(*sheet, Not(HasSubstr("STEP <b>")));
    EXPECT_THAT(*sheet, HasSubstr("port.png"));
    EXPECT_THAT(*sheet, Not(HasSubstr("/home/somebody")));
    EXPECT_THAT(*sheet, Not(HasSubstr("neighbour")));
    EXPECT_THAT(*sheet, HasSubstr("it moves"));
    EXPECT_THAT(*sheet, HasSubstr("entered with your words as its source"));
    const auto none = question_sheet(*a, o, "pin J1/9");
    ASSERT_FALSE(none);
    EXPECT_THAT(none.error().message(), HasSubstr("pin J1/3"));
}

}  // namespace
}  // namespace grayrelic
