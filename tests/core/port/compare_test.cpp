// SPDX-License-Identifier: GPL-3.0-or-later
// Two tables held against each other, and a source taken over.
#include "core/port/pin_compare.hpp"

#include "core/port/connector_library.hpp"
#include "core/port/pin_table.hpp"
#include "tests/core/port/shipped_connectors.hpp"

namespace grayrelic {
namespace {

using test::get;

/// Names for the contacts numbered 1, 2, 3 …
std::vector<Pin> table(const std::vector<std::string>& names) {
    std::vector<Pin> out;
    for (std::size_t i = 0; i < names.size(); ++i) {
        Pin p;
        p.number = std::to_string(i + 1);
        p.name.value = names[i];
        out.push_back(p);
    }
    return out;
}

const std::vector<std::string> nine{"A", "B", "C", "D", "E", "F", "G", "H", "I"};

TEST(SameLine, NamesThatMeanOneLine) {
    for (const auto& [a, b] : {std::pair{"HOLD", "hold"},
                               {"GND", "Ground"},
                               {"0 V", "VSS"},
                               {"+5 V", "5V"},
                               {"VCC", "+5V"},
                               {"A_0", "A0"},
                               {"VCC", "Vdd"}})
        EXPECT_TRUE(same_line(a, b)) << a << b;
    for (const auto& [a, b] : {std::pair{"HOLD", "HOLD2"},
                               {"+5V", "+12V"},
                               {"+12V", "-12V"},
                               {"GND", "+5V"},
                               {"A1", "A10"},
                               {"VCC", "CLOCK"}})
        EXPECT_FALSE(same_line(a, b)) << a << b;
}

TEST(Compare, EqualTablesAgree) {
    const auto c = compare_tables(table(nine), table(nine));
    EXPECT_EQ(c.agree, 9);
    EXPECT_EQ(c.contradict, 0);
    EXPECT_EQ(c.straight.match, 1.0);
    EXPECT_EQ(c.best().kind, TableInterpretation::Kind::straight);
}

TEST(Compare, CountsWhatOnlyOneSays) {
    auto second = table(nine);
    second[0].name.value.clear();
    second[1].name.value = "X";
    second.pop_back();
    const auto c = compare_tables(table(nine), second);
    EXPECT_EQ(c.agree, 6);
    EXPECT_EQ(c.contradict, 1);
    EXPECT_EQ(c.only_first, 2);
    EXPECT_EQ(c.pins[1].differences.front().second, "X");
}

TEST(Compare, ADriverThatDiffersContradicts) {
    auto first = table(nine), second = table(nine);
    first[3].driver.value = Driver::relic;
    second[3].driver.value = Driver::bridge;
    first[4].volts_max.value = Volts(5.1);
    second[4].volts_max.value = Volts(5.2);
    const auto c = compare_tables(first, second);
    EXPECT_EQ(c.contradict, 1);
    EXPECT_EQ(c.pins[3].differences.front().field, "driver");
    EXPECT_EQ(c.pins[4].agreement, Agreement::agree) << "two measurements may differ";
    EXPECT_EQ(c.pins[4].differences.size(), 1U);
}

// D-sub 9: rows of 5 and 4. Mirrored, 1 2 3 4 5 reads 5 4 3 2 1 and 6 7 8 9 reads 9 8 7 6.
TEST(Compare, FindsAMirroredDSub) {
    const auto c9 = get("dsub-9");
    const auto second = table({"E", "D", "C", "B", "A", "I", "H", "G", "F"});
    const auto c = compare_tables(table(nine), second, &c9);
    EXPECT_EQ(c.mirrored.match, 1.0);
    EXPECT_EQ(c.best().how, "mirrored left to right");
    EXPECT_NEAR(c.straight.match, 1.0 / 9, 1e-9) << "only C stays in its place";
    EXPECT_EQ(c.rotated.match, 0.0) << "a trapezium does not turn";
    const auto put_right = compare_tables(table(nine), read_as(second, c.best()), &c9);
    EXPECT_EQ(put_right.agree, 9);
}

// A circle of five over 180°: 1 and 3 change places, so do 4 and 5; 2 stays.
TEST(Compare, FindsAMirroredCircle) {
    const auto din = get("din-5-180");
    const auto c = compare_tables(table({"A", "B", "C", "D", "E"}), table({"C", "B", "A", "E", "D"}), &din);
    EXPECT_EQ(c.mirrored.match, 1.0);
    EXPECT_EQ(c.mirrored.moves.at("4"), "5");
}

// 2 × 3, odd and even: columns (1,2) (3,4) (5,6). Turned by half 1 lands on 6, 2 on 5, 3 on 4.
TEST(Compare, FindsAHalfTurn) {
    const auto h = get("header-2x3");
    const auto c =
        compare_tables(table({"A", "B", "C", "D", "E", "F"}), table({"F", "E", "D", "C", "B", "A"}), &h);
    EXPECT_EQ(c.rotated.match, 1.0);
    EXPECT_EQ(c.best().kind, TableInterpretation::Kind::rotated);
}

// The same header with its rows exchanged: 1 and 2, 3 and 4, 5 and 6 change places.
TEST(Compare, FindsExchangedRows) {
    const auto h = get("header-2x3");
    const auto c =
        compare_tables(table({"A", "B", "C", "D", "E", "F"}), table({"B", "A", "D", "C", "F", "E"}), &h);
    EXPECT_EQ(c.mirrored.match, 1.0);
    EXPECT_EQ(c.mirrored.how, "with its rows swapped");
}

// Upper row 1 3 5, lower 2 4 6. Counted row after row the upper row is 1 2 3 and the lower 4 5 6: what the
// source calls 2 is the contact 3, what it calls 4 is the contact 2.
TEST(Compare, FindsAnotherNumbering) {
    const auto h = get("header-2x3");
    const auto second = table({"A", "C", "E", "B", "D", "F"});
    const auto c = compare_tables(table({"A", "B", "C", "D", "E", "F"}), second, &h);
    EXPECT_EQ(c.renumbered.match, 1.0);
    EXPECT_EQ(c.renumbered.how, "numbered row after row");
    EXPECT_EQ(c.renumbered.moves.at("2"), "3");
    const auto unknown = compare_tables(table({"A", "B", "C", "D", "E", "F"}), second);
    EXPECT_EQ(unknown.renumbered.match, 1.0) << "also without the connector";
}

TEST(Compare, FindsAShift) {
    auto second = table({"X", "A", "B", "C", "D", "E", "F", "G", "H"});
    const auto c = compare_tables(table(nine), second);
    EXPECT_NEAR(c.shifted.match, 8.0 / 9, 1e-9);
    EXPECT_EQ(c.shifted.how, "counted one too high");
    EXPECT_EQ(c.best().kind, TableInterpretation::Kind::shifted);
}

TEST(Compare, SmallLikenessIsNoReading) {
    const auto c = compare_tables(table({"A", "B", "C", "D", "E", "F", "G", "H"}),
                                  table({"H", "B", "C", "D", "E", "F", "G", "A"}));
    EXPECT_EQ(c.best().kind, TableInterpretation::Kind::straight);
    EXPECT_EQ(compare_tables({}, {}).best().match, 0.0);
}

TEST(Accept, TakesAPinOverAndKeepsBoth) {
    Port port;
    port.id = "J1";
    port.pins = table({"A", "B"});
    port.pins[0].note = "mine";
    PinSource source{"other", "Other", "", table({"X", "B", "C"}), ""};
    source.pins[0].name.evidence = {EvidenceKind::documented, "a book", "", ""};
    port.sources.push_back(source);
    const auto taken = accept_pin(port, source, "1");
    EXPECT_EQ(taken.pins[0].name.value, "X");
    EXPECT_EQ(taken.pins[0].name.evidence.source, "a book");
    EXPECT_EQ(taken.pins[0].note, "mine");
    const auto* earlier = taken.find_source("earlier");
    ASSERT_NE(earlier, nullptr);
    EXPECT_EQ(earlier->pins[0].name.value, "A");
    EXPECT_EQ(taken.find_source("other")->pins.size(), 3U) << "the source keeps its own";
    EXPECT_EQ(accept_pin(port, source, "2").find_source("earlier"), nullptr) << "nothing was lost";
    EXPECT_EQ(accept_pin(port, source, "3").pins.size(), 3U);
    EXPECT_EQ(accept_pin(port, source, "9"), port);
}

}  // namespace
}  // namespace grayrelic
