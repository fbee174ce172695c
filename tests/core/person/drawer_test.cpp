// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/person/drawer.hpp"

#include <gmock/gmock.h>

#include <thread>

#include "core/person/person.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

class DrawerFile : public testing::Test {
  protected:
    test::TempFolder folder;
    std::filesystem::path file = drawer_file(folder.path());
};

TEST_F(DrawerFile, IsEmptyUntilItIsWritten) {
    EXPECT_EQ(*read_drawer(disk(), file), Drawer{});
    const auto made = change_drawer(disk(), file, [](Drawer& d) {
        d.entry("74x165 HCT", PartKind::logic).count = 3;
        d.entry("  74X165   hct ", PartKind::other).count += 2;
    });
    ASSERT_TRUE(made) << made.error().message();
    EXPECT_EQ(made->parts.size(), 1U) << "one part, however it is spelt";
    EXPECT_EQ(read_drawer(disk(), file)->count_of("74x165 hct"), 5);
    EXPECT_EQ(made->count_of("74x04 hct"), 0);
}

TEST_F(DrawerFile, TwoProgramsLoseNothingOfEachOther) {
    constexpr int rounds = 20;
    const auto add = [this](const std::string& part) {
        for (int i = 0; i < rounds; ++i)
            while (!change_drawer(disk(), file, [&](Drawer& d) { ++d.entry(part, PartKind::other).count; })) {
            }
    };
    std::thread one(add, "a"), other(add, "b");
    one.join();
    other.join();
    const auto d = read_drawer(disk(), file);
    ASSERT_TRUE(d);
    EXPECT_EQ(d->count_of("a"), rounds);
    EXPECT_EQ(d->count_of("b"), rounds);
}

TEST_F(DrawerFile, OneThatCannotBeReadIsLeftAsItIs) {
    test::write_file(file,
                     "{\n \"format\": \"gray-relic-drawer\",\n \"version\": 1,\n \"parts\": [\n  {\"part\": "
                     "\"a\", \"count\": -1}]}");
    const auto before = test::read_file(file);
    const auto made = change_drawer(disk(), file, [](Drawer& d) { d.entry("b", PartKind::other).count = 1; });
    ASSERT_FALSE(made);
    EXPECT_EQ(made.error().line, 5);
    EXPECT_THAT(made.error().message(), HasSubstr("drawer.json:5"));
    EXPECT_EQ(test::read_file(file), before);
    const auto person = read_person(disk(), folder.path());
    ASSERT_EQ(person->problems.size(), 1U);
    EXPECT_EQ(person->drawer, Drawer{});
}

TEST_F(DrawerFile, WhatANewerVersionWroteIsKept) {
    test::write_file(file, R"({"format": "gray-relic-drawer", "version": 1, "shelf": [1],
        "parts": [{"part": "a", "count": 1, "colour": "red"}]})");
    ASSERT_TRUE(change_drawer(disk(), file, [](Drawer& d) { d.entry("a", PartKind::other).count = 7; }));
    const auto text = test::read_file(file);
    EXPECT_THAT(text, HasSubstr("\"colour\": \"red\""));
    EXPECT_THAT(text, HasSubstr("\"shelf\""));
    EXPECT_THAT(text, HasSubstr("\"count\": 7"));
}

TEST(Drawer, ACountIsOfAllEntriesOfAPart) {
    auto d = *drawer_from_csv("part,count,place\nplug,3,box 1\nPlug,2,box 2\nsocket,1,\n", "d.csv");
    EXPECT_EQ(d.count_of("plug"), 5);
    d.set_count("plug", PartKind::connector, 4);
    EXPECT_EQ(d.count_of("plug"), 4);
    EXPECT_EQ(d.count_of("socket"), 1);
    d.set_count("lamp", PartKind::other, 7);
    EXPECT_EQ(d.count_of("lamp"), 7);
}

TEST(Drawer, RefusesWhatItCannotMean) {
    const auto of = [](const std::string& part) {
        return drawer_from_json(R"({"format": "gray-relic-drawer", "version": 1, "parts": [)" + part + "]}",
                                "d.json");
    };
    EXPECT_THAT(of(R"({"part": "", "count": 1})").error().found, HasSubstr("an empty text"));
    EXPECT_THAT(of(R"({"part": "a"})").error().message(), HasSubstr("count"));
    EXPECT_THAT(of(R"({"part": "a", "count": 1, "kind": "elf"})").error().expected,
                HasSubstr("logic, module"));
    EXPECT_THAT(of(R"({"part": "a", "count": 1.5})").error().message(), HasSubstr("1.5"));
    EXPECT_FALSE(drawer_from_json(R"({"format": "other", "version": 1})", "d.json"));
    EXPECT_THAT(
        drawer_from_json(R"({"format": "gray-relic-drawer", "version": 2})", "d.json").error().expected,
        HasSubstr("newer"));
}

TEST(Drawer, GoesThroughATable) {
    const auto d =
        drawer_from_csv("Count;Part;Place;Kind\n3;74x00 hct;\"box; 1\";logic\n0;'=odd;;\n", "d.csv");
    ASSERT_TRUE(d) << d.error().message();
    ASSERT_EQ(d->parts.size(), 2U);
    EXPECT_EQ(d->parts[0].place, "box; 1");
    EXPECT_EQ(d->parts[0].kind, PartKind::logic);
    EXPECT_EQ(d->parts[1].part, "=odd");
    EXPECT_EQ(*drawer_from_csv(drawer_to_csv(*d), "again.csv"), *d);
    EXPECT_EQ(*drawer_from_json(drawer_to_json(*d), "d.json"), *d);
    EXPECT_THAT(drawer_from_csv("part,count\na,two\n", "d.csv").error().message(), HasSubstr("d.csv:2"));
    EXPECT_THAT(drawer_from_csv("part,count\na,-2\n", "d.csv").error().expected, HasSubstr("from 0"));
    EXPECT_THAT(drawer_from_csv("part,number\na,2\n", "d.csv").error().found, HasSubstr("count"));
    EXPECT_THAT(drawer_from_csv("part,count,kind\na,2,elf\n", "d.csv").error().found, HasSubstr("elf"));
}

}  // namespace
}  // namespace grayrelic
