// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/matrix_model.hpp"

#include <fmt/format.h>

#include <random>

#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

std::string refused(const std::string& text) {
    return test::message(read_matrix_table(text, "k.csv"));
}

TEST(MatrixTable, IsReadWithPlacesAndDiodes) {
    const auto m =
        read_matrix_table("Key;Row;Column;Diode;x;y\n7;2;10;no;0;0\n8;0;9;yes;1;0\n+;0;10;;2;0\n+;2;9;;3;0\n",
                          "k.csv")
            .value();
    EXPECT_EQ(m.rows, (std::vector<std::string>{"0", "2"}));
    EXPECT_EQ(m.columns, (std::vector<std::string>{"9", "10"})) << "by number, not by letter";
    ASSERT_EQ(m.keys.size(), 4U);
    EXPECT_EQ(m.keys[0].row, 1U);
    EXPECT_EQ(m.keys[0].column, 1U);
    EXPECT_TRUE(m.keys[1].diode);
    EXPECT_EQ(m.same_legends(), (std::vector<std::string>{"+"}));
    EXPECT_EQ(m.vacancies(), 0U);
    const auto again = read_matrix_table(write_matrix_table(m), "k.csv").value();
    EXPECT_EQ(write_matrix_table(again), write_matrix_table(m));
}

TEST(MatrixTable, IsRefusedWithLineAndReason) {
    EXPECT_EQ(refused("key,row,column\na,0,0\nb,1,1\nc,0,0\n"),
              "k.csv:4: found \"c\" at row 0, column 0, where \"a\" of line 2 stands, expected one key a "
              "position; two contacts "
              "beside each other are one row, such as \"ENTER / ENTER\"");
    EXPECT_EQ(refused("key,row,column\na,0,300\n"),
              "k.csv:2: found column 300, expected a column from 0 to 255");
    EXPECT_EQ(refused("key,row,column\na,-1,3\n"), "k.csv:2: found row -1, expected a row from 0 to 255");
    EXPECT_EQ(refused("key,row\na,0\n"),
              "k.csv:1: found no column \"column\", expected the columns key, row, column, and diode where "
              "there are any");
    EXPECT_EQ(refused("key,row,column,diode\na,0,0,perhaps\n"),
              "k.csv:2: found \"perhaps\", expected yes or no in the column diode");
    EXPECT_EQ(refused("key,row,column\na,,0\n"),
              "k.csv:2: found no row for \"a\", expected the row's name or number");
    EXPECT_EQ(refused("key,row,column\n,0,0\n"), "k.csv:2: found no key, expected the key's legend");
    EXPECT_EQ(refused("key,row,column\n"), "k.csv:1: found no key, expected a row for each key");
    EXPECT_THAT(refused("key,row,column,width\na,0,0,-2\n"), testing::HasSubstr("k.csv:2: found \"-2\""));
    EXPECT_THAT(refused(""), testing::HasSubstr("k.csv:1:"));
}

TEST(MatrixFromWalk, SaysWhatAnsweredNotOnce) {
    const auto r = matrix_from_walk({{"7", {{"R0", "C0"}}},
                                     {"8", {{"R0", "C1"}}},
                                     {"9", {}},
                                     {"=", {{"R0", "C0"}}},
                                     {"-", {{"R1", "C0"}, {"R1", "C1"}}}});
    EXPECT_EQ(r.model.rows, (std::vector<std::string>{"R0", "R1"}));
    EXPECT_EQ(r.model.keys.size(), 5U);
    ASSERT_EQ(r.doubts.size(), 3U);
    EXPECT_EQ(r.doubts[0], "9 closed nothing");
    EXPECT_EQ(r.doubts[1], "7 and = close the same position R0 × C0");
    EXPECT_EQ(r.doubts[2], "- closed 2 positions: two keys held, a ghost, or two contacts");
    EXPECT_EQ(r.model.doubles().size(), 1U);
}

TEST(MatrixFromProbing, LinesArePartedIntoTwoSides) {
    std::mt19937 random(3);
    const auto pick = [&](int n) { return std::uniform_int_distribution<int>(0, n - 1)(random); };
    int found = 0;
    for (int i = 0; i < 100; ++i) {
        // Pins of one connector, rows and columns mixed up.
        const int rows = 2 + pick(5), columns = rows + pick(4);
        std::vector<std::string> pins;
        for (int p = 0; p < rows + columns; ++p) pins.push_back(fmt::format("P{}", p + 1));
        std::shuffle(pins.begin(), pins.end(), random);
        std::vector<ProbedKey> keys;
        for (int r = 0; r < rows; ++r)
            for (int c = 0; c < columns; ++c) {
                ProbedKey k{fmt::format("K{}-{}", r, c), pins[static_cast<std::size_t>(r)],
                            pins[static_cast<std::size_t>(rows + c)]};
                if (pick(2) == 0) std::swap(k.a, k.b);
                keys.push_back(k);
            }
        std::shuffle(keys.begin(), keys.end(), random);
        const auto result = matrix_from_probing(keys);
        ASSERT_TRUE(result.model);
        EXPECT_FALSE(result.several);
        EXPECT_LE(result.model->rows.size(), result.model->columns.size());
        EXPECT_EQ(result.model->rows.size() * result.model->columns.size(),
                  static_cast<std::size_t>(rows * columns));
        bool all = result.model->keys.size() == keys.size();
        for (std::size_t k = 0; k < keys.size(); ++k) {
            const auto& key = result.model->keys[k];
            const auto row = result.model->rows[key.row], column = result.model->columns[key.column];
            all = all &&
                  ((row == keys[k].a && column == keys[k].b) || (row == keys[k].b && column == keys[k].a));
        }
        found += all ? 1 : 0;
    }
    EXPECT_EQ(found, 100);
}

TEST(MatrixFromProbing, AnOddRingIsNoMatrix) {
    const auto r = matrix_from_probing({{"a", "1", "2"}, {"b", "2", "3"}, {"c", "3", "1"}});
    EXPECT_FALSE(r.model);
    EXPECT_EQ(r.contradicting.size(), 1U);
    EXPECT_TRUE(matrix_from_probing({{"a", "1", "2"}, {"b", "3", "4"}}).several);
}

TEST(ProbeTable, IsReadAndRefusedWithItsLine) {
    EXPECT_EQ(read_probe_table("key,a,b\n7,P1,P9\n", "p.csv").value().front().b, "P9");
    EXPECT_EQ(test::message(read_probe_table("key,a,b\n7,P1,P1\n", "p.csv")),
              "p.csv:2: found \"P1\" joined with itself, expected two lines");
    EXPECT_THAT(test::message(read_probe_table("key,a,b\n7,,P1\n", "p.csv")),
                testing::HasSubstr("p.csv:2: found no a"));
    EXPECT_THAT(test::message(read_probe_table("key,a,b\n", "p.csv")),
                testing::HasSubstr("p.csv:1: found no key"));
}

TEST(MatrixOf, KeysOutsideAreNamed) {
    DeviceMap map;
    map.matrix.rows = {"R0"};
    map.matrix.columns = {"C0"};
    MapKey a, b, c;
    a.id = "a", a.row = "R0", a.column = "C0";
    b.id = "b", b.row = "R1", b.column = "C0";
    c.id = "c";
    map.keys = {a, b, c};
    std::vector<std::string> outside;
    EXPECT_EQ(matrix_of(map, &outside).keys.size(), 1U);
    EXPECT_EQ(outside, (std::vector<std::string>{"b"}));
}

}  // namespace
}  // namespace grayrelic
