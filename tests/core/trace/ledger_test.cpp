// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/ledger.hpp"

#include <gmock/gmock.h>

#include <cmath>

#include "core/base/random.hpp"
#include "core/trace/meter.hpp"
#include "core/trace/points.hpp"

namespace grayrelic {
namespace {

struct Case {
    const char* text;
    MeterReadingKind kind;
    double value;  ///< ohm or forward volts; ignored for beep and open
    Says says;
};

TEST(Ledger, ReadingsAsPeopleTypeThem) {
    const double over = std::numeric_limits<double>::infinity();
    const Case cases[] = {{"beep", MeterReadingKind::beep, 0, Says::joined},
                          {"BEEP", MeterReadingKind::beep, 0, Says::joined},
                          {"b", MeterReadingKind::beep, 0, Says::joined},
                          {"open", MeterReadingKind::open, 0, Says::apart},
                          {" o ", MeterReadingKind::open, 0, Says::apart},
                          {"4k7", MeterReadingKind::ohms, 4700, Says::apart},
                          {"0", MeterReadingKind::ohms, 0, Says::joined},
                          {"0.3", MeterReadingKind::ohms, 0.3, Says::joined},
                          {"1.99", MeterReadingKind::ohms, 1.99, Says::joined},
                          {"2", MeterReadingKind::ohms, 2, Says::apart},
                          {"330 ohm", MeterReadingKind::ohms, 330, Says::apart},
                          {"1M", MeterReadingKind::ohms, 1e6, Says::apart},
                          {"OL", MeterReadingKind::ohms, over, Says::apart},
                          {"0.62V", MeterReadingKind::diode, 0.62, Says::apart},
                          {"620mV", MeterReadingKind::diode, 0.62, Says::apart},
                          {"0.61V/OL", MeterReadingKind::diode, 0.61, Says::apart}};
    for (const auto& c : cases) {
        SCOPED_TRACE(c.text);
        const auto r = parse_reading(c.text);
        ASSERT_TRUE(r);
        EXPECT_EQ(r->kind, c.kind);
        if (c.kind == MeterReadingKind::ohms) {
            EXPECT_DOUBLE_EQ(r->ohm.value(), c.value);
        }
        if (c.kind == MeterReadingKind::diode) {
            EXPECT_DOUBLE_EQ(r->forward_v.value(), c.value);
        }
        EXPECT_EQ(says(*r, 2.0), c.says);
        // What is written reads back to the same.
        for (const auto& text : {write_reading(*r), show_reading(*r)}) {
            const auto again = parse_reading(text);
            ASSERT_TRUE(again) << text;
            EXPECT_EQ(*again, *r) << text;
        }
    }
    EXPECT_EQ(says(parse_reading("5").value(), 10.0), Says::joined) << "the threshold is a setting";
    EXPECT_TRUE(std::isinf(parse_reading("0.61V/OL")->backward_v.value()));
}

TEST(Ledger, ImpossibleReadingsAreRefused) {
    for (const char* text : {"", "  ", "bep", "-3", "-4k7", "12V", "nan", "inf ohm x", "2e15", "1/2/3",
                             "0.6V/", "/", "4k7V9", "beep open", "3 A"})
        EXPECT_FALSE(parse_reading(text)) << text;
    EXPECT_THAT(parse_reading("-3").error().expected, testing::HasSubstr("0 or more"));
    EXPECT_THAT(parse_reading("12V").error().expected, testing::HasSubstr("10 V"));
}

TEST(Ledger, EntriesOfOneLine) {
    const auto r = parse_entry("  J1.3,U2.14 4k7 after cleaning ");
    ASSERT_TRUE(r);
    EXPECT_EQ(r->a, "J1.3");
    EXPECT_EQ(r->b, "U2.14");
    EXPECT_EQ(r->note, "after cleaning");
    EXPECT_DOUBLE_EQ(r->ohm.value(), 4700);
    EXPECT_FALSE(parse_entry("J1.3 U2.14")) << "a pair that was only named is no beep";
    EXPECT_EQ(parse_entry("via7\tU2.14\to")->kind, MeterReadingKind::open);
    for (const char* line : {"", "J1.3", "J1.3 J1.3 beep", "J1.3 U2.14 perhaps"})
        EXPECT_FALSE(parse_entry(line)) << line;
}

TEST(Ledger, TableInAndOut) {
    const auto l = read_ledger(
        "\xEF\xBB\xBF# first evening\r\nb;a;reading;note\r\nU1.2;J1.1;beep;\r\nU1.3;J1.2;\"0.62V\";\"with a; "
        "in it\"\r\nGND;J1.15;alias;\r\n",
        "x.csv");
    ASSERT_TRUE(l) << l.error().message();
    ASSERT_EQ(l->readings.size(), 2U);
    EXPECT_EQ(l->readings[0].a, "J1.1");
    EXPECT_EQ(l->readings[1].note, "with a; in it");
    ASSERT_EQ(l->aliases.size(), 1U);
    EXPECT_EQ(l->aliases[0], (PointAlias{"J1.15", "GND"}));
    const auto again = read_ledger(write_ledger(l->readings, l->aliases), "y.csv");
    ASSERT_TRUE(again) << again.error().message();
    EXPECT_EQ(again->readings, l->readings);
    EXPECT_EQ(again->aliases, l->aliases);
    EXPECT_TRUE(read_ledger("J1.1,U1.2,beep\n", "bare.csv"))
        << "without a heading when it is plain what is what";
}

TEST(Ledger, BrokenTablesSayWhereAndWhy) {
    struct Broken {
        const char* text;
        long line;
        const char* says;
    };
    const Broken cases[] = {{"", 1, "empty"},
                            {"a,b\nx,y\n", 1, "reading"},
                            {"a,b,reading\nJ1.1,J1.2,4q7\n", 2, "4q7"},
                            {"a,b,reading\nJ1.1,J1.1,beep\n", 2, "itself"},
                            {"a,b,reading\nJ1.1,,beep\n", 2, "column b"},
                            {"a,b,reading\nJ1.1,J1.2,-5\n", 2, "0 or more"},
                            {"a,b,reading,a\nJ1.1,J1.2,beep,x\n", 1, "two columns"},
                            {"a,b,reading\nx,y,alias\ny,x,alias\n", 1, "leads back"},
                            {"a,b,reading\nx,y,alias\nx,z,alias\n", 1, "for"},
                            {"a,b,reading\n\"J1.1,J1.2,beep\n", 2, "quote"},
                            {"a,b,reading\nJ1\xFF,J1.2,beep\n", 2, "UTF-8"}};
    for (const auto& c : cases) {
        SCOPED_TRACE(c.text);
        const auto l = read_ledger(c.text, "x.csv");
        ASSERT_FALSE(l);
        EXPECT_EQ(l.error().line, c.line);
        EXPECT_THAT(l.error().message(), testing::HasSubstr(c.says));
    }
}

TEST(Ledger, NoTextBreaksTheReader) {
    Random random(7);
    const std::string alphabet = "ab,;\n\"#U1.3beepopen4k7V/\r\t\xC3\xA9=";
    for (int i = 0; i < 3000; ++i) {
        std::string text = i % 2 == 0 ? "a,b,reading\n" : "";
        for (auto n = random.below(60); n > 0; --n) text += alphabet[random.below(alphabet.size())];
        if (const auto l = read_ledger(text, "f.csv"); l) {
            const auto again = read_ledger(write_ledger(l->readings, l->aliases), "g.csv");
            if (!l->readings.empty()) {
                ASSERT_TRUE(again) << again.error().message();
                EXPECT_EQ(again->readings, l->readings);
            }
        }
    }
}

TEST(Points, NamesAndTheirOrder) {
    EXPECT_EQ(split_point("U2.14").ref, "U2");
    EXPECT_EQ(split_point("U2.14").pin, "14");
    EXPECT_EQ(split_point("via7").ref, "");
    EXPECT_EQ(split_point(".x").ref, "") << "a leading dot names no part";
    EXPECT_TRUE(natural_less("U2.9", "U2.10"));
    EXPECT_TRUE(natural_less("U2.9", "U10.1"));
    EXPECT_FALSE(natural_less("U2.9", "U2.9"));
    EXPECT_FALSE(point_name_problem("").empty());
    EXPECT_FALSE(point_name_problem(std::string(200, 'x')).empty());
    EXPECT_FALSE(point_name_problem("a\x01").empty());
}

TEST(Points, OtherNamesLeadToThePoint) {
    auto t = PointTable::with_aliases({{"GND", "J1.15"}, {"0V", "GND"}});
    ASSERT_TRUE(t);
    const int p = t->add("0V");
    EXPECT_EQ(t->name(p), "J1.15");
    EXPECT_EQ(t->find("GND"), p);
    EXPECT_EQ(t->find("nowhere"), -1);
    EXPECT_FALSE(PointTable::with_aliases({{"a", "b"}, {"b", "c"}, {"c", "a"}}));
    EXPECT_FALSE(PointTable::with_aliases({{"a", "a"}}));
    EXPECT_FALSE(PointTable::with_aliases({{"a", "b"}, {"a", "c"}}));
    EXPECT_TRUE(PointTable::with_aliases({{"a", "b"}, {"a", "b"}})) << "said twice is no contradiction";
}

TEST(Meter, Answers) {
    EXPECT_DOUBLE_EQ(parse_meter_answer("+1.2000E-01")->ohm.value(), 0.12);
    EXPECT_TRUE(std::isinf(parse_meter_answer("9.9E37")->ohm.value()));
    EXPECT_DOUBLE_EQ(parse_meter_answer("-0.0002")->ohm.value(), 0.0) << "a hair below zero is zero";
    for (const char* bad : {"", "ERR", "1.2 OHM", "nan", "-5"}) EXPECT_FALSE(parse_meter_answer(bad)) << bad;
}

}  // namespace
}  // namespace grayrelic
