// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/holds.hpp"

#include <functional>

#include "tests/core/diagnose/bench_helpers.hpp"

namespace grayrelic {
namespace {

using ::testing::HasSubstr;

const std::string small = R"(port J1: 1=V5 2=GND 3=IN 4=OUT
rail V5 5V ±5%
U1 74x04 hct: 1A=IN 1Y=mid 2A=mid 2Y=OUT 3A=GND 4A=GND 5A=GND 6A=GND
power V5 GND: U1
R1 resistor 10k 1%: 1=IN 2=V5
D1 led: A=lamp K=GND
R2 resistor 330: 1=OUT 2=lamp
)";

struct Bench {
    std::shared_ptr<const Analysis> analysis;
    BenchBoard board;
    std::vector<Hold> holds;
};
Bench bench_of(const std::string& text, const std::function<Dossier(Dossier)>& more = {}) {
    auto d = test::with_circuit(text);
    if (more) d = more(d);
    Bench out;
    out.analysis = test::analysed(d);
    out.board = *bench_board(*out.analysis, "");
    out.holds = holds_of(*out.analysis, out.board);
    return out;
}
const Hold& hold(const std::vector<Hold>& holds, const std::string& id) {
    for (const auto& h : holds)
        if (h.id == id) return h;
    static const Hold none;
    ADD_FAILURE() << "no hold " << id;
    return none;
}
UnitBuild unit() {
    UnitBuild u;
    u.id = "one";
    return u;
}
std::size_t place(const BringUp& up, const std::string& id) {
    for (std::size_t i = 0; i < up.holds.size(); ++i)
        if (up.holds[i].id == id) return i;
    return 0;
}

TEST(Holds, StandInTheOrderThatHarmsNothing) {
    const auto b = bench_of(small);
    std::vector<std::string> ids;
    for (const auto& h : b.holds) ids.push_back(h.id);
    EXPECT_EQ(ids, (std::vector<std::string>{"incoming", "joints", "rails-cold", "rails-unloaded", "chips",
                                             "rails-loaded", "idle", "function", "installed", "back"}));
    EXPECT_TRUE(hold(b.holds, "rails-cold").firm);
    EXPECT_FALSE(hold(b.holds, "rails-cold").powered);
    EXPECT_TRUE(hold(b.holds, "rails-unloaded").powered);
    // 10 kΩ ± 1 % and 2 % for the meter: 9.7 to 10.3 kΩ.
    const auto* r1 = hold(b.holds, "incoming").find("part R1");
    ASSERT_NE(r1, nullptr);
    EXPECT_NEAR(*r1->least, 9700, 1e-6);
    EXPECT_NEAR(*r1->most, 10300, 1e-6);
    const auto* rail = hold(b.holds, "rails-loaded").find("volts V5");
    ASSERT_NE(rail, nullptr);
    EXPECT_NEAR(*rail->least, 4.75, 0.03);
    EXPECT_NEAR(*rail->most, 5.25, 0.03);
    EXPECT_EQ(rail->unit, Unit::volt);
    const auto* short_of = hold(b.holds, "rails-cold").find("ohms V5");
    ASSERT_NE(short_of, nullptr);
    EXPECT_NEAR(*short_of->least, 30, 1e-9);
    EXPECT_FALSE(short_of->most.has_value());
    // IN rests high through R1, so OUT too, and the lamp behind it is lit.
    const auto& idle = hold(b.holds, "idle");
    ASSERT_NE(idle.find("idle OUT"), nullptr);
    EXPECT_NEAR(*idle.find("idle OUT")->least, 2.0, 1e-9);
    ASSERT_NE(idle.find("lamp D1"), nullptr);
    EXPECT_THAT(idle.find("lamp D1")->what, HasSubstr("lit"));
    EXPECT_NE(hold(b.holds, "function").find("IN>OUT"), nullptr);
}

TEST(Holds, NoPowerGoesOnARailThatIsShortOrUnmeasured) {
    const auto b = bench_of(small);
    auto u = unit();
    const auto blocked = [&] {
        const auto up = bring_up(b.holds, u, nullptr);
        EXPECT_FALSE(up.may_power);
        for (std::size_t i = 0; i < up.holds.size(); ++i)
            EXPECT_TRUE(!up.holds[i].powered || !up.states[i].blocked_by.empty()) << up.holds[i].id;
    };
    blocked();
    // A reason does not help here, and a short least of all.
    u.passed.push_back({"rails-cold", "I am sure", "2026-12-01"});
    blocked();
    u.measured.push_back({"rails-cold", "ohms V5", 3.2, "2026-12-01", {}, {}});
    blocked();
    EXPECT_EQ(bring_up(b.holds, u, nullptr).states[2].verdict, Verdict::stop);
    u.measured.push_back({"rails-cold", "ohms V5", 5200, "2026-12-01", {}, {}});
    EXPECT_TRUE(bring_up(b.holds, u, nullptr).may_power) << "the last reading counts";
}

TEST(Holds, WhatFailsBlocksUntilAReasonStands) {
    const auto b = bench_of(small);
    auto u = unit();
    for (const auto& h : b.holds)
        for (const auto& p : h.points)
            u.measured.push_back({h.id,
                                  p.id,
                                  p.yes_no            ? 1.0
                                  : p.least && p.most ? (*p.least + *p.most) / 2
                                  : p.least           ? *p.least * 2
                                  : p.most            ? *p.most / 2
                                                      : 1.0,
                                  "2026-12-01",
                                  {},
                                  {}});
    auto up = bring_up(b.holds, u, nullptr);
    for (std::size_t i = 0; i < up.states.size(); ++i)
        EXPECT_EQ(up.states[i].verdict, Verdict::holds) << up.holds[i].id;
    EXPECT_FALSE(up.next.has_value());
    // A rail at 4.2 V: everything after it waits.
    u.measured.push_back({"rails-unloaded", "volts V5", 4.2, "2026-12-02", {}, {}});
    up = bring_up(b.holds, u, nullptr);
    const auto at = place(up, "rails-unloaded");
    EXPECT_EQ(up.states[at].verdict, Verdict::stop);
    EXPECT_EQ(up.next, at);
    EXPECT_EQ(up.states[at + 1].blocked_by, up.holds[at].name);
    EXPECT_TRUE(up.states[at - 1].blocked_by.empty());
    u.passed.push_back({"rails-unloaded", "the bench supply was set so", "2026-12-02"});
    up = bring_up(b.holds, u, nullptr);
    EXPECT_EQ(up.states[at].verdict, Verdict::doubt);
    EXPECT_EQ(up.states[at].reason, "the bench supply was set so");
    EXPECT_TRUE(up.states[at + 1].blocked_by.empty());
    // A temporary tie keeps the last hold open.
    u.ties.push_back({"1 kΩ from IN to ground", "2026-12-01", {}});
    up = bring_up(b.holds, u, nullptr);
    EXPECT_EQ(up.states.back().verdict, Verdict::stop);
    EXPECT_EQ(up.ties.size(), 1U);
    u.ties[0].off = "2026-12-03";
    EXPECT_EQ(bring_up(b.holds, u, nullptr).states.back().verdict, Verdict::holds);
}

TEST(Holds, WhatWasMeasuredBecomesAFact) {
    const auto settings = [](Dossier d) {
        UnitBuild u;
        u.id = "one";
        d = put(d, u);
        JobUnit j;
        j.id = "one";
        d = put(d, j);
        return edit(d, &Dossier::wire, [](Wire& w) {
            WireSetting s;
            s.id = "slider";
            s.name = "slider of the brick";
            s.source = "V5";
            s.positions = {{"5 V", 5.0, {}}, {"9 V", 9.0, {}}};
            s.want = 5.0;
            s.back = 9.0;
            w.settings.push_back(s);
        });
    };
    const auto b = bench_of(small, settings);
    const auto& d = b.analysis->dossier;
    const auto& cold = hold(b.holds, "rails-cold");
    auto next = with_hold_reading(d, "one", cold, cold.points.front(), 4700, "2026-12-01", "meter");
    ASSERT_EQ(next.readings->size(), 1U);
    EXPECT_EQ(next.readings->back().kind, MeterReadingKind::ohms);
    EXPECT_EQ(next.readings->back().unit, "one");
    EXPECT_DOUBLE_EQ(*next.readings->back().ohm, 4700);
    ASSERT_EQ(next.builds->size(), 1U);
    ASSERT_NE(next.builds->front().find_reading("rails-cold", "ohms V5"), nullptr);
    EXPECT_EQ(next.builds->front().find_reading("rails-cold", "ohms V5")->value, 4700);
    EXPECT_TRUE(next.builds->front().seen.empty()) << "it holds";
    // What does not hold is what the search for the fault begins with; measured again and well, no more.
    next = with_hold_reading(next, "one", cold, cold.points.front(), 2.5, "2026-12-01", "meter");
    ASSERT_EQ(next.builds->front().seen.size(), 1U);
    EXPECT_EQ(next.builds->front().seen[0], "ohms:J1.1+J1.2=2.5");
    next = with_hold_reading(next, "one", cold, cold.points.front(), 4700, "2026-12-01", "meter");
    EXPECT_TRUE(next.builds->front().seen.empty());
    EXPECT_EQ(next.builds->front().measured.size(), 1U) << "of a point the last counts";
    const auto& adjust = hold(b.holds, "adjustables");
    ASSERT_NE(adjust.find("setting slider"), nullptr);
    EXPECT_NEAR(*adjust.find("setting slider")->most, 5.15, 1e-9) << "3 %";
    next =
        with_hold_reading(next, "one", adjust, *adjust.find("setting slider"), 5.02, "2026-12-01", "meter");
    EXPECT_DOUBLE_EQ(*next.wire->settings[0].now.value, 5.02);
    EXPECT_EQ(next.wire->settings[0].now.evidence.kind, EvidenceKind::measured);
    EXPECT_NE(hold(b.holds, "back").find("back slider"), nullptr);
}

TEST(Holds, AnswersAreReadWithTheirUnit) {
    HoldPoint volts;
    volts.unit = Unit::volt;
    EXPECT_NEAR(*read_point(volts, "4.97 V"), 4.97, 1e-12);
    EXPECT_NEAR(*read_point(volts, " 812m "), 0.812, 1e-12);
    EXPECT_FALSE(read_point(volts, "4.97 Hz"));
    EXPECT_FALSE(read_point(volts, ""));
    HoldPoint asked;
    asked.yes_no = true;
    EXPECT_EQ(*read_point(asked, "yes"), 1);
    EXPECT_EQ(*read_point(asked, "n"), 0);
    EXPECT_FALSE(read_point(asked, "perhaps"));
}

TEST(Holds, ACircuitWithoutASupplyHasOnlyColdOnes) {
    const auto b = bench_of("R1 resistor 10k: 1=A 2=B\nR2 resistor 1k: 1=B 2=A\n");
    for (const auto& h : b.holds) EXPECT_FALSE(h.powered) << h.id;
    EXPECT_FALSE(b.board.problem.empty());
    EXPECT_FALSE(bring_up(b.holds, unit(), nullptr).may_power);
}

}  // namespace
}  // namespace grayrelic
