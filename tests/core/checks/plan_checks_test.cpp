// SPDX-License-Identifier: GPL-3.0-or-later
// The checks of Plan: each fires, and each rests.
#include <gmock/gmock.h>

#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "core/trace/ledger.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

Findings of(const Dossier& d, const std::string& id, std::shared_ptr<const Person> person = nullptr) {
    static const auto data = DataLibrary::load_installed();
    CaptureStore store;
    Progress progress;
    Findings out;
    const auto a = *analyse(d, {}, store, progress, nullptr, data, {}, std::move(person));
    for (const auto& f : a->findings)
        if (f.id == id) out.push_back(f);
    return out;
}

Dossier with_part(PartLine p, int boards = 2) {
    Supply s;
    s.boards = boards;
    p.id = p.part = "plug";
    p.per_board = 1;
    s.parts = {std::move(p)};
    return put(Dossier{}, std::move(s));
}

std::shared_ptr<const Person> owns(const char* part, int count) {
    auto p = std::make_shared<Person>();
    p->drawer.entry(part, PartKind::other).count = count;
    return p;
}

TEST(PlanChecks, APartThatIsNotToBeHad) {
    PartLine p;
    EXPECT_TRUE(of(with_part(p), "part-unavailable").empty());
    p.not_to_be_had = "three shops in May";
    const auto stop = of(with_part(p), "part-unavailable");
    ASSERT_EQ(stop.size(), 1U);
    EXPECT_EQ(stop[0].severity, Severity::stop);
    EXPECT_THAT(stop[0].why, HasSubstr("2 needed, 0 in the drawer; three shops in May"));
    EXPECT_EQ(stop[0].place, (FindingPlace{"part", "plug"}));
    EXPECT_TRUE(of(with_part(p), "part-unavailable", owns("plug", 2)).empty()) << "there are enough";
    p.alternates = {"other plug"};
    EXPECT_EQ(of(with_part(p), "part-unavailable").at(0).severity, Severity::stop)
        << "it is not there either";
    const auto helped = of(with_part(p), "part-unavailable", owns("other plug", 2));
    EXPECT_EQ(helped.at(0).severity, Severity::doubt);
    EXPECT_THAT(helped.at(0).todo, HasSubstr("other plug: 2 in the drawer"));
}

TEST(PlanChecks, OrdersBeforeDecisionsAndDaysThatCannotBe) {
    PartLine p;
    p.question = "which?";
    auto d = with_part(p);
    Order o;
    o.id = "o";
    o.from = "shop";
    o.lines = {{"Plug", 2}};
    d = put(d, o);
    EXPECT_TRUE(of(d, "order-undecided").empty()) << "it is planned only";
    o.ordered = "2026-11-10";
    o.expected_from = "2026-11-12";
    o.expected_to = "2026-11-14";
    EXPECT_THAT(of(put(d, o), "order-undecided").at(0).why, HasSubstr("which?"));
    EXPECT_TRUE(of(put(d, o), "order-days").empty());
    o.arrived = "2026-11-09";
    EXPECT_THAT(of(put(d, o), "order-days").at(0).why, HasSubstr("2026-11-09, before 2026-11-10"));
    o.arrived.clear();
    o.expected_to = "2026-11-11";
    EXPECT_EQ(of(put(d, o), "order-days").size(), 1U) << "the last day lies before the first";
    o.expected_from.clear();
    o.expected_to = "2026-11-01";
    EXPECT_EQ(of(put(d, o), "order-days").size(), 1U) << "expected before it was ordered";
}

TEST(PlanChecks, ReadingsWithoutUnitAmongSeveral) {
    const auto ledger = [](const char* rows) {
        return put(Dossier{}, read_ledger(std::string("a,b,reading,unit\n") + rows, "l.csv")->readings);
    };
    EXPECT_TRUE(of(ledger("U1.1,U2.1,beep,\nU1.2,U2.2,open,\n"), "reading-without-unit").empty());
    EXPECT_TRUE(of(ledger("U1.1,U2.1,beep,a\nU1.2,U2.2,open,\n"), "reading-without-unit").empty());
    EXPECT_TRUE(of(ledger("U1.1,U2.1,beep,a\nU1.2,U2.2,open,b\n"), "reading-without-unit").empty());
    const auto found =
        of(ledger("U1.1,U2.1,beep,a\nU1.2,U2.2,open,b\nU1.3,U2.3,open,\n"), "reading-without-unit");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_THAT(found[0].says, HasSubstr("1 reading names no unit"));
    EXPECT_EQ(of(ledger("U1.1,U2.1,beep,a\n"), "unit-unknown").size(), 1U);
}

TEST(PlanChecks, AUnitThatIsGoneButStillLookedAt) {
    JobUnit u;
    u.id = "a";
    u.name = "First";
    auto d = put(put(Dossier{}, read_ledger("a,b,reading,unit\nU1.1,U2.1,beep,a\n", "l.csv")->readings), u);
    EXPECT_TRUE(of(d, "unit-retired").empty());
    EXPECT_TRUE(of(d, "unit-unknown").empty());
    for (const auto state : {UnitState::dead, UnitState::given}) {
        u.state = state;
        EXPECT_THAT(of(put(d, u), "unit-retired").at(0).says,
                    HasSubstr("First is " + std::string(word(state))));
    }
    u.state = UnitState::spoken_for;
    EXPECT_TRUE(of(put(d, u), "unit-retired").empty());
}

TEST(PlanChecks, BoardsThatDiffer) {
    const auto d =
        put(Dossier{}, read_ledger("a,b,reading,unit\nU1.1,U2.1,beep,a\nU1.3,U2.1,open,a\nU1.1,U2.1,"
                                   "open,b\n",
                                   "l.csv")
                           ->readings);
    const auto found = of(d, "units-differ");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_THAT(found[0].why, HasSubstr("U1.1 to U2.1 apart on \"b\""));
    EXPECT_TRUE(of(d, "readings-contradict").empty());
}

TEST(PlanChecks, ADimensionThatDecidesAndIsAssumed) {
    Dimension m;
    m.id = "lid";
    m.name = "lid to board";
    m.mm.value = 12;
    EXPECT_TRUE(of(put(Dossier{}, m), "dimension-assumed").empty()) << "nothing is decided by it";
    m.decides = "whether the module fits";
    EXPECT_THAT(of(put(Dossier{}, m), "dimension-assumed").at(0).why,
                HasSubstr("12 mm rests on no measurement"));
    m.mm.evidence.kind = EvidenceKind::measured;
    EXPECT_TRUE(of(put(Dossier{}, m), "dimension-assumed").empty());
    m.mm.value.reset();
    EXPECT_THAT(of(put(Dossier{}, m), "dimension-assumed").at(0).says, HasSubstr("not known"));
}

TEST(PlanChecks, ADrawerThatCannotBeRead) {
    auto p = std::make_shared<Person>();
    EXPECT_TRUE(of({}, "drawer-unreadable", p).empty());
    auto broken = std::make_shared<Person>();
    broken->problems.push_back({Error::Kind::unreadable, "drawer.json", 5, "-1", "0 or more"});
    EXPECT_THAT(of({}, "drawer-unreadable", broken).at(0).why, HasSubstr("drawer.json:5"));
}

}  // namespace
}  // namespace grayrelic
