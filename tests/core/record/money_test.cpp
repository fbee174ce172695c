// SPDX-License-Identifier: GPL-3.0-or-later
// Money by hand, hours, yields, days in the post; what closes a complaint; units and images.
#include <gmock/gmock.h>

#include "core/dossier/edits.hpp"
#include "core/record/economics.hpp"
#include "core/record/learned.hpp"
#include "core/record/revisions.hpp"
#include "core/record/unit_history.hpp"

namespace grayrelic {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

CostLine line(const char* id, CostKind kind, CostPer per, double money) {
    CostLine c;
    c.id = id;
    c.kind = kind;
    c.per = per;
    c.money = money;
    return c;
}

TEST(Money, IsAsCountedByHand) {
    Economics e;
    e.costs = {line("crimper", CostKind::tools, CostPer::once, 60),
               line("post", CostKind::shipping, CostPer::batch, 8),
               line("boards", CostKind::boards, CostPer::batch, 12),
               line("parts", CostKind::parts, CostPer::piece, 9)};
    e.batch = 5;
    e.price = 25;
    CostInputs in;
    in.yield = 0.8;
    in.yield_known = true;
    const auto s = study_costs(e, in, 4);
    EXPECT_TRUE(s.missing.empty());
    // 4 that work: 4/0.8 = 5 begun, one batch: 60 + 20 + 5·9 = 125; 31.25 each; 4·25 − 125 = −25.
    const auto four = cost_of(s, 4, e.price);
    EXPECT_EQ(four.begun, 5);
    EXPECT_EQ(four.batches, 1);
    EXPECT_DOUBLE_EQ(four.cost, 125);
    EXPECT_DOUBLE_EQ(four.each, 31.25);
    EXPECT_DOUBLE_EQ(four.profit.value(), -25);
    // 5: 6.25 → 7 begun, two batches: 60 + 40 + 63 = 163.
    EXPECT_DOUBLE_EQ(cost_of(s, 5, {}).cost, 163);
    // Sold at 25: 8 → 10 begun, 2 batches: 60+40+90 = 190 ≤ 200: pays. 7 → 9 begun: 60+40+81 = 181 > 175. 9 →
    // 12 begun, 3 batches: 60+60+108 = 228 > 225: not. 10 → 13 begun: 60+60+117 = 237 ≤ 250. 11 → 14: 246 ≤
    // 275. 12 → 15: 255 ≤ 300. 13 → 17, 4 batches: 60+80+153 = 293 ≤ 325.
    EXPECT_EQ(s.pays.first, 8);
    EXPECT_EQ(s.pays.for_good, 10);
}

TEST(Money, ThatNeverComesBackSaysSo) {
    Economics e;
    e.costs = {line("parts", CostKind::parts, CostPer::piece, 30),
               line("boards", CostKind::boards, CostPer::piece, 1)};
    e.price = 25;
    e.original.value = 31;
    e.ready_made.value = 10;
    CostInputs in;
    in.yield_known = true;
    const auto s = study_costs(e, in, 1);
    EXPECT_FALSE(s.pays.first);
    EXPECT_FALSE(s.pays.for_good);
    EXPECT_EQ(s.below_original.first, 1);
    EXPECT_FALSE(s.below_ready.first);
    EXPECT_THAT(s.says, HasSubstr("they pay never"));
}

TEST(Money, HoursCountWhereAnHourHasAWorth) {
    Economics e;
    e.costs = {line("parts", CostKind::parts, CostPer::piece, 10),
               line("boards", CostKind::boards, CostPer::batch, 5)};
    e.hours_each = 2;
    CostInputs in;
    in.parts_each = 99;  // entered: not counted again
    auto s = study_costs(e, in, 3);
    EXPECT_DOUBLE_EQ(cost_of(s, 1, {}).cost, 15);
    EXPECT_DOUBLE_EQ(cost_of(s, 1, {}).hours.value(), 2);
    e.hour_worth = 20;
    EXPECT_DOUBLE_EQ(cost_of(study_costs(e, in, 3), 1, {}).cost, 55);
    // Nobody finished one yet: that all work is an assumption, and said.
    EXPECT_THAT(s.missing, ElementsAre(HasSubstr("how many boards work")));
    // Nothing entered and nothing known.
    const auto none = study_costs({}, {}, 1);
    EXPECT_EQ(none.missing.size(), 3U);
    EXPECT_DOUBLE_EQ(none.rows[0].cost, 0);
}

TEST(Learned, HoursYieldAndPost) {
    JobLog log;
    log.money.hours = {{"Solder", 3, "2026-11-01", {}},
                       {"Solder", 2, "2026-11-02", {}},
                       {"Draw", 4, "2026-11-03", {}},
                       {"Talk", 9, {}, {}}};
    std::vector<PlanTask> tasks(3);
    tasks[0].id = "Solder";
    tasks[0].likely_h = 4;
    tasks[0].done = "2026-11-02";
    tasks[1].id = "Draw";
    tasks[1].likely_h = 2;
    tasks[2].id = "Order";
    auto h = learned_hours(log, tasks);
    EXPECT_DOUBLE_EQ(h.factor.value(), 5.0 / 4);  // Draw is not done, Talk was never estimated
    tasks[1].done = "2026-11-03";
    h = learned_hours(log, tasks);
    EXPECT_DOUBLE_EQ(h.factor.value(), 9.0 / 6);
    EXPECT_EQ(h.counted, 2);

    Dossier d;
    for (const auto& [id, state] :
         {std::pair{"a", UnitState::built}, std::pair{"b", UnitState::dead}, std::pair{"c", UnitState::given},
          std::pair{"d", UnitState::breadboard}, std::pair{"e", UnitState::blank}}) {
        JobUnit u;
        u.id = id;
        u.revision = 1;
        u.state = state;
        d = put(d, u);
    }
    const auto y = learned_yield(d);
    EXPECT_EQ(y.begun, 3);
    EXPECT_DOUBLE_EQ(y.yield.value(), 2.0 / 3);
    // Jeffreys: beta(2.5, 1.5) at 5 and 95 %; 0.23553 and 0.93759 by adding up x^1.5 (1 - x)^0.5 in steps of
    // 5e-7.
    EXPECT_NEAR(y.least, 0.23553, 1e-4);
    EXPECT_NEAR(y.most, 0.93759, 1e-4);
    EXPECT_FALSE(learned_yield({}).yield);

    Supply supply;
    for (const auto& [sent, here] :
         {std::pair{"2026-11-01", "2026-11-05"}, std::pair{"2026-11-10", "2026-11-19"},
          std::pair{"2026-11-20", ""}, std::pair{"2026-11-20", "2026-11-01"}}) {
        Order o;
        o.from = "parts house";
        o.ordered = sent;
        o.arrived = here;
        supply.orders.push_back(o);
    }
    const auto post = learned_post(supply);
    ASSERT_EQ(post.size(), 1U);
    EXPECT_EQ(post[0].orders, 2);
    EXPECT_EQ(post[0].least_days, 4);
    EXPECT_EQ(post[0].most_days, 9);
}

TEST(Complaints, AreClosedByEvidenceOnly) {
    JobLog log;
    Complaint c;
    c.id = "c";
    c.says = "late";
    log.complaints = {c};
    const auto verdict = [&] { return complaint_states(log)[0].verdict; };
    EXPECT_EQ(verdict(), Verdict::stop);
    log.complaints[0].change = "register";
    EXPECT_EQ(verdict(), Verdict::stop);  // no revision has it
    log.complaints[0].changed_in = 2;
    EXPECT_EQ(verdict(), Verdict::doubt);
    log.complaints[0].closed.value = "looks fine";  // assumed
    EXPECT_EQ(verdict(), Verdict::doubt);
    log.complaints[0].closed.evidence.kind = EvidenceKind::measured;
    EXPECT_EQ(verdict(), Verdict::holds);
    log.complaints[0].closed = {};
    log.complaints[0].kind = ComplaintKind::idea;
    EXPECT_EQ(verdict(), Verdict::unknown);
}

TEST(Bodges, MustBeCarriedOrLeftOutWithAReason) {
    Dossier d;
    UnitBuild b;
    b.id = "u";
    b.found = {{"swapped: J2.5, J2.6", "2026-11-02", {}, {}}, {"open: U1.3", "2026-11-02", {}, {}}};
    d = put(d, b);
    Bodge wire;
    wire.id = "w";
    wire.unit = "u";
    wire.what = "wire to U3.10";
    d = put(d, wire);
    auto states = bodge_states(d);
    ASSERT_EQ(states.size(), 2U);  // an open joint is the iron's, not the board's
    EXPECT_TRUE(states[0].is_open() && states[1].is_open());
    Complaint c;
    c.id = "c";
    c.unit = "u";
    c.cause = "swapped: J2.5, J2.6 in the files";
    d = edit<Bodge>(put(d, c), "w", [](Bodge& x) { x.left_out = "only for the measurement"; });
    for (const auto& s : bodge_states(d)) EXPECT_FALSE(s.is_open()) << s.what;
    // The complaint goes, and the fault is open again.
    int open = 0;
    for (const auto& s : bodge_states(drop<Complaint>(d, "c"))) open += s.is_open() ? 1 : 0;
    EXPECT_EQ(open, 1);
}

TEST(Stock, ThatARevisionMakesUseless) {
    Dossier d;
    JobUnit blank;
    blank.id = "blank";
    blank.revision = 1;
    blank.state = UnitState::blank;
    auto second = blank;
    second.id = "blank-2";
    RevisionNote two;
    two.id = "2";
    d = put(put(put(d, blank), second), two);
    PartLine old;
    old.id = "old";
    old.part = "level shifter";
    old.per_board = 0;
    old.prices = {{1, 2.0, {}}, {10, 1.5, {}}};
    Order o;
    o.id = "o";
    o.ordered = "2026-11-01";
    o.lines = {{"level shifter", 12, {}}, {"resistor 10k", 20, {}}};
    d = put(put(d, old), o);
    PartsList parts;
    parts.rows.resize(1);
    parts.rows[0].part = "resistor 10k";
    parts.rows[0].need = 4;
    const auto stock = useless_stock(d, parts);
    ASSERT_EQ(stock.size(), 2U);
    EXPECT_EQ(stock[0].count, 12);
    EXPECT_DOUBLE_EQ(stock[0].money.value(), 18);  // 12 at the price from 10 on
    EXPECT_THAT(stock[1].what, HasSubstr("revision 1"));
    EXPECT_EQ(stock[1].count, 1);  // the other stays for reference
}

TEST(Units, HaveAHistoryAndImagesASum) {
    Dossier d;
    JobUnit u;
    u.id = "u";
    d = put(d, u);
    UnitBuild b;
    b.id = "u";
    b.work = {{WorkKind::reflow, 12, {}, 245, "2026-11-10", {}, {}},
              {WorkKind::solder, 30, 40, {}, "2026-11-01", {}, {}}};
    d = put(d, b);
    MeterReading joint;
    joint.a = "R1.1";
    joint.b = "U1.2";
    joint.unit = "u";
    joint.date = "2026-11-05";
    d = add_reading(d, joint);
    TrialRun t;
    t.id = "t";
    t.unit = "u";
    t.image = "fw";
    t.day = "2026-11-12";
    t.outcome = TrialOutcome::fails;
    ImageFile image;
    image.id = "fw";
    image.file = "images/fw.bin";
    image.sha256 = std::string(64, '1');
    d = put(put(d, t), image);
    d = edit(d, &Dossier::log, [](JobLog& log) {
        log.runs = {{"fw", "u", "2026-11-11", {}}};
        log.places = {{"u", "on the desk", "2026-11-11", {}, {}},
                      {"u", "with a friend", "2026-11-20", {}, {}}};
    });
    const auto h = unit_histories(d);
    ASSERT_EQ(h.size(), 1U);
    std::vector<std::string> kinds;
    for (const auto& e : h[0].events) kinds.push_back(e.kind);
    EXPECT_THAT(kinds, ElementsAre("work", "reading", "work", "image", "place", "trial", "place"));
    EXPECT_EQ(h[0].where, "with a friend");
    EXPECT_EQ(h[0].image, "fw");
    EXPECT_EQ(h[0].reflows, 1);
    EXPECT_EQ(h[0].joints_before_reflow, 1);
    EXPECT_DOUBLE_EQ(h[0].minutes, 42);
    EXPECT_EQ(h[0].failed, 1);
    EXPECT_EQ(image_states(d, {})[0].verdict, Verdict::unknown);
    EXPECT_EQ(image_states(d, {{"fw", std::string(64, '1')}})[0].verdict, Verdict::holds);
    EXPECT_EQ(image_states(d, {{"fw", std::string(64, '2')}})[0].verdict, Verdict::stop);
    EXPECT_EQ(image_states(edit<ImageFile>(d, "fw", [](ImageFile& i) { i.sha256.clear(); }), {})[0].verdict,
              Verdict::doubt);
}

}  // namespace
}  // namespace grayrelic
