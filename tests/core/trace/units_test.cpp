// SPDX-License-Identifier: GPL-3.0-or-later
// Boards kept apart: what contradicts within one is a difference between two.
#include "core/trace/units.hpp"

#include <gmock/gmock.h>

#include "core/dossier/edits.hpp"
#include "core/trace/ledger.hpp"

namespace grayrelic {
namespace {

std::vector<MeterReading> ledger(const std::string& rows) {
    return read_ledger("a,b,reading,unit\n" + rows, "l.csv")->readings;
}

/// The nets of one unit, from a ledger of several.
struct Looked {
    PointTable points;
    NetState nets;
    Looked(const std::vector<MeterReading>& readings, std::string_view unit) {
        auto links = links_of(readings, points, 2.0, unit);
        nets = derive_nets(points.size(), std::move(links));
    }
};

TEST(Units, AContradictionIsOneBoardsOwn) {
    const auto readings = ledger("U1.1,U2.1,beep,a\nU2.1,U3.1,beep,a\nU1.1,U3.1,open,b\n");
    EXPECT_EQ(Looked(readings, "").nets.contradictions.size(), 1U) << "as one board they contradict";
    EXPECT_EQ(Looked(readings, "a").nets.contradictions.size(), 0U);
    const Looked a(readings, "a");
    const auto differ = compare_units(readings, a.nets, a.points, 2.0, "a");
    ASSERT_EQ(differ.size(), 1U);
    EXPECT_EQ(differ[0].unit, "b");
    EXPECT_EQ(differ[0].row, 2);
    EXPECT_EQ(differ[0].says, Says::apart);
}

TEST(Units, WhatNamesNoneMayBeOfAny) {
    const auto readings = ledger("U1.1,U2.1,beep,\nU1.1,U2.1,open,b\nU1.2,U2.2,open,a\nU1.2,U2.2,beep,b\n");
    EXPECT_EQ(Looked(readings, "b").nets.contradictions.size(), 1U);
    const Looked a(readings, "a");
    const auto differ = compare_units(readings, a.nets, a.points, 2.0, "a");
    ASSERT_EQ(differ.size(), 2U);
    EXPECT_EQ(differ[1].says, Says::joined) << "apart on a, joined on b";
    const auto named = units_named(readings);
    EXPECT_THAT(named.units, testing::ElementsAre("b", "a"));
    EXPECT_EQ(named.without, 1);
}

TEST(Units, WhatIsNotProvenHereIsNoDifference) {
    const auto readings = ledger("U1.1,U2.1,beep,a\nU1.1,U3.1,open,b\nU5.1,U6.1,beep,b\n");
    const Looked a(readings, "a");
    EXPECT_TRUE(compare_units(readings, a.nets, a.points, 2.0, "a").empty());
}

TEST(Units, TheOneThatIsLookedAt) {
    auto d = put(Dossier{}, ledger("U1.1,U2.1,beep,b\nU1.1,U2.2,open,a\nU1.2,U2.2,open,a\n"));
    EXPECT_EQ(shown_unit(d), "a") << "that with the most readings";
    JobUnit b;
    b.id = "b";
    d = edit(put(d, b), &Dossier::trace, [](Trace& t) { t.unit = "b"; });
    EXPECT_EQ(shown_unit(d), "b") << "the chosen one";
    EXPECT_EQ(shown_unit(edit(d, &Dossier::trace, [](Trace& t) { t.unit = "gone"; })), "a");
    EXPECT_EQ(shown_unit(put(Dossier{}, ledger("U1.1,U2.1,beep,\n"))), "");
}

TEST(Units, TheLedgerKeepsThemAndOldOnesAreRead) {
    const auto readings = ledger("U1.1,U2.1,beep,\"first, board\"\n");
    EXPECT_EQ(readings[0].unit, "first, board");
    EXPECT_EQ(read_ledger(write_ledger(readings), "again.csv")->readings, readings);
    const auto old =
        read_ledger("a,b,reading,tool,date,note,set_aside\nU1.1,U2.1,beep,meter,,,\n", "old.csv");
    ASSERT_TRUE(old);
    EXPECT_EQ(old->readings[0].unit, "");
    EXPECT_EQ(old->readings[0].tool, "meter");
}

}  // namespace
}  // namespace grayrelic
