// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/netlist.hpp"

#include <gmock/gmock.h>

#include "core/base/random.hpp"

namespace grayrelic {
namespace {

TEST(NetCsv, InAndOut) {
    const auto l =
        read_netlist("point,net,remark\nU1.1,GND,x\nU2.10,GND,\nU1.2,,free\n\"U3,1\",D0,\n", "a.csv");
    ASSERT_TRUE(l) << l.error().message();
    ASSERT_EQ(l->nets.size(), 3U);
    EXPECT_EQ(l->nets[0], (Net{"GND", {"U1.1", "U2.10"}}));
    EXPECT_EQ(l->nets[1], (Net{"", {"U1.2"}})) << "a point in no net is alone";
    EXPECT_EQ(l->nets[2].points.front(), "U3,1");
    const auto again = read_netlist(write_net_csv(l->nets), "b.csv");
    ASSERT_TRUE(again);
    EXPECT_EQ(again->nets, l->nets);
}

TEST(NetCsv, Broken) {
    struct Broken {
        const char* text;
        long line;
        const char* says;
    };
    for (const auto& c : {Broken{"", 1, "empty"}, Broken{"net,pin\nGND,U1.1\n", 1, "point"},
                          Broken{"net,point\nGND,U1.1\nVCC,U1.1\n", 3, "a second time"},
                          Broken{"net,point\nGND,\n", 2, "no point"}, Broken{"net,point\n", 1, "no nets"},
                          Broken{"net,point\nG\x01,U1.1\n", 2, "net's name"}}) {
        const auto l = read_netlist(c.text, "x.csv");
        ASSERT_FALSE(l) << c.text;
        EXPECT_EQ(l.error().line, c.line) << c.text;
        EXPECT_THAT(l.error().message(), testing::HasSubstr(c.says));
    }
    const auto twice = read_netlist("net,point\nGND,U1.1\nGND,U1.1\n", "x.csv");
    ASSERT_TRUE(twice);
    EXPECT_EQ(twice->notes.size(), 1U) << "said twice in one net: a note, not a fault";
}

/// Records laid out by hand after the columns of the standard: 4 net, 21 part, 27 dash, 28 pin, 42 X, 50 Y.
//                              1         2         3         4         5
//                     12345678901234567890123456789012345678901234567890123456789
const char* const ipc =
    "C  a comment\n"
    "P  JOB   card\n"
    "P  UNITS CUST 0\n"
    "P  NNAME00001 A_VERY_LONG_NET_NAME\n"
    "317GND              U1    -14         A00X+010000Y+020000X0600Y0600R000S0\n"
    "317GND              U2    -7          A00X+015000Y-000500\n"
    "327NNAME00001       U1    -1          A01X+000000Y+000000\n"
    "317N/C              U2    -3          A00X+000100Y+000100\n"
    "317GND              VIA               A00X+000200Y+000200\n"
    "378GND              X0001Y0001\n"
    "999\n";

TEST(IpcD356A, NetsPlacesAndUnits) {
    const auto l = read_netlist(ipc, "card.ipc");
    ASSERT_TRUE(l) << l.error().message();
    ASSERT_EQ(l->nets.size(), 3U);
    EXPECT_EQ(l->nets[0], (Net{"GND", {"U1.14", "U2.7"}}));
    EXPECT_EQ(l->nets[1], (Net{"A_VERY_LONG_NET_NAME", {"U1.1"}}));
    EXPECT_EQ(l->nets[2], (Net{"", {"U2.3"}}));
    // 10000 units of 0.0001 inch are one inch.
    ASSERT_GE(l->places.size(), 2U);
    EXPECT_DOUBLE_EQ(l->places[0].x_mm, 25.4);
    EXPECT_DOUBLE_EQ(l->places[0].y_mm, 50.8);
    EXPECT_DOUBLE_EQ(l->places[1].y_mm, -1.27);
    EXPECT_EQ(l->notes.size(), 1U) << "record 378 holds no nets";
}

TEST(IpcD356A, WhatIsWrittenReadsBack) {
    const std::vector<Net> nets = {{"GND", {"U1.14", "J1.15"}},
                                   {"A_VERY_LONG_NET_NAME", {"U1.1", "R1.2"}},
                                   {"", {"U2.3"}},
                                   {"with space", {"C1.1"}}};
    const std::vector<NetlistPoint> places = {{"U1.14", 12.7, 30.48}, {"J1.15", -1.5, 0.001}};
    const auto text = write_ipc_d_356a(nets, places, "card");
    const auto l = read_netlist(text, "x.ipc");
    ASSERT_TRUE(l) << l.error().message() << text;
    EXPECT_EQ(l->nets, nets);
    for (const auto& p : places) {
        const auto found = std::find_if(l->places.begin(), l->places.end(),
                                        [&](const auto& q) { return q.point == p.point; });
        ASSERT_NE(found, l->places.end());
        EXPECT_NEAR(found->x_mm, p.x_mm, 0.0005);
        EXPECT_NEAR(found->y_mm, p.y_mm, 0.0005);
    }
    // X stands in column 42 and Y in column 50 of each record.
    for (std::size_t at = text.find("\n317"); at != std::string::npos; at = text.find("\n317", at + 1)) {
        EXPECT_EQ(text[at + 42], 'X');
        EXPECT_EQ(text[at + 50], 'Y');
        EXPECT_TRUE(text[at + 27] == '-' || text[at + 27] == ' ');
    }
}

TEST(IpcD356A, BrokenOnesSayWhere) {
    const std::string head = "P  UNITS CUST 1\n";
    struct Broken {
        std::string text;
        long line;
        const char* says;
    };
    const Broken cases[] = {
        {head + "317A\x10"
                "B             U1    -1          A00X+000000Y+000000\n",
         2, "control character"},
        {"P  UNITS FURLONG\n", 1, "units"},
        {head + "317GND\n", 2, "record"},
        {head + "317                 U1    -14         A00X+010000Y+020000\n", 2, "net"},
        {head + "317GND              U1    -14         A00X+0100q0Y+020000\n", 2, "Y"},
        {head + "317GND              U1    -14         A00X+9999999Y+0000000\n", 2, "units"},
        {head + "317GND              U1    -14         A00X+000100Y+000100\n317VCC              U1    -14    "
                "     A00X+000100Y+000100\n",
         3, "one net"},
        {head + "999\n", 2, "no test record"},
        {head + "???GND              U1    -14\n", 2, "three digits"},
        {head + "317GND              U1    -14         A00X+000100Y+000100\nP  UNITS CUST 0\n", 3, "before"}};
    for (const auto& c : cases) {
        SCOPED_TRACE(c.text);
        const auto l = read_ipc_d_356a(c.text, "x.ipc");
        if (std::string(c.says) == "Y") {
            // A place that stops at a letter: X is read up to it, and Y is found behind.
            EXPECT_TRUE(l);
            continue;
        }
        ASSERT_FALSE(l);
        EXPECT_EQ(l.error().line, c.line);
        EXPECT_THAT(l.error().message(), testing::HasSubstr(c.says));
    }
}

TEST(IpcD356A, NoTextBreaksTheReader) {
    Random random(9);
    const std::string good = ipc;
    for (int i = 0; i < 2000; ++i) {
        auto text = good;
        for (auto n = 1 + random.below(8); n > 0; --n)
            text[random.below(text.size())] = static_cast<char>(random.below(256));
        text.resize(random.below(text.size() + 1));
        if (const auto l = read_netlist(text, "f"); l) {
            EXPECT_FALSE(l->nets.empty());
        }
    }
}

}  // namespace
}  // namespace grayrelic
