// SPDX-License-Identifier: GPL-3.0-or-later
// What passes both ways, and plain parts, in networks that compute: tables by the definition of each.
#include <gmock/gmock.h>

#include "core/logic/truth.hpp"
#include "tests/core/logic/logic_helpers.hpp"

namespace grayrelic {
namespace {

std::string column_of(const std::string& text, std::size_t output = 0) {
    Progress progress;
    const auto n = test::network(text);
    const auto t = truth_table(n, progress);
    EXPECT_TRUE(t) << t.error().message();
    std::string s;
    if (t)
        for (const auto& row : t->rows) s += letter(row[output]);
    return s;
}

TEST(Switches, PassAwayFromWhatDrives) {
    const std::string rest = " 2E=0 3E=0 4E=0\npull OUT 0\n";
    // Driven at Y, and at Z: open it rests at the pull.
    EXPECT_EQ(column_of("input E IN\noutput OUT\nU1 74x4066 hc: 1Y=IN 1Z=OUT 1E=E" + rest), "0001");
    EXPECT_EQ(column_of("input E IN\noutput OUT\nU1 74x4066 hc: 1Z=IN 1Y=OUT 1E=E" + rest), "0001");
    EXPECT_EQ(column_of("input E IN\noutput OUT\nU1 4066 4000b: 1Z=IN 1Y=OUT 1E=E" + rest), "0001");
    // Two in a row, the second turned, through a net that nobody else drives.
    EXPECT_EQ(column_of("input E IN\noutput OUT\nU1 74x4066 hc: 1Z=IN 1Y=M 1E=E 2Z=OUT 2Y=M 2E=1 3E=0 "
                        "4E=0\npull OUT 0\npull M 0\n"),
              "0001");
    // Driven by another part's output.
    EXPECT_EQ(column_of("input E IN\noutput OUT\nU2 74x04 hc: 1A=IN 1Y=N 2A=0 3A=0 4A=0 5A=0 6A=0\nU1 "
                        "bus-switch-4 ahct: 1B=N 1A=OUT /1E=E /2E=1 /3E=1 /4E=1\npull OUT 0\n"),
              "1000");
}

TEST(Switches, SelectAndDistribute) {
    // One of eight to Z: with S = 5, Y5.
    const std::string sel = " S0=A S1=B S2=C /E=0\n";
    EXPECT_EQ(column_of("input C B A IN\noutput OUT\npull OUT 0\nU1 74x4051 hct: Y5=IN Y0=0 Y1=0 Y2=0 Y3=0 "
                        "Y4=0 Y6=0 Y7=0 Z=OUT" +
                        sel),
              "0000000000010000");
    // Z to one of eight: Y5 follows only then, else the pull holds it.
    EXPECT_EQ(column_of("input C B A IN\noutput OUT\npull OUT 0\nU1 74x4051 hct: Z=IN Y5=OUT" + sel),
              "0000000000010000");
    // Change-over: Y1 while S is high.
    EXPECT_EQ(column_of("input S X Y\noutput OUT\nU1 74x4053 hct: 1Y0=X 1Y1=Y 1Z=OUT S1=S S2=0 S3=0 /E=0\n"),
              "00110101");
    EXPECT_EQ(
        column_of("input S IN\noutput OUT\npull OUT 1\nU1 74x4053 hct: 1Z=IN 1Y1=OUT S1=S S2=0 S3=0 /E=0\n"),
        "1101");
    EXPECT_EQ(
        column_of("input B A IN\noutput OUT\npull OUT 0\nU1 74x4052 hct: 2Z=IN 2Y2=OUT S0=A S1=B /E=0\n"),
        "00000100");
}

TEST(Plain, ResistorsPassOnAndPull) {
    const std::string gate = "U1 74x04 hct: 1A=X 1Y=OUT 2A=0 3A=0 4A=0 5A=0 6A=0\n";
    EXPECT_EQ(column_of("input IN\noutput OUT\nR1 resistor 330: 1=IN 2=X\n" + gate), "10");
    EXPECT_EQ(column_of("input IN\noutput OUT\nR1 resistor 330: 1=X 2=M\nF1 fuse: 1=M 2=IN\n" + gate), "10")
        << "whichever way round";
    // An open collector with a pull to a rail.
    EXPECT_EQ(column_of("input IN\noutput OUT\nrail V5 5V\nR1 resistor 4k7: 1=OUT 2=V5\nU1 74x05 hct: 1A=IN "
                        "1Y=OUT 2A=0 3A=0 4A=0 5A=0 6A=0\n"),
              "10");
    EXPECT_EQ(column_of("input IN\noutput OUT\nR1 resistor 4k7: 1=OUT 2=GND\nU2 74x125 hct: 1A=1 1Y=OUT "
                        "/1OE=IN 2A=0 /2OE=1 3A=0 /3OE=1 4A=0 /4OE=1 GND=GND\n"),
              "10");
    // Two drivers with a resistor between stay two nets.
    EXPECT_EQ(column_of("input A B\noutput OUT\nR1 resistor 1k: 1=OUT 2=B\nU1 74x04 hct: 1A=A 1Y=OUT 2A=0 "
                        "3A=0 4A=0 5A=0 6A=0\n"),
              "1100");
}

TEST(Plain, PortsBringTheirSignals) {
    const auto n = test::network(
        "port J1: 3=HOLD 5=REPLY\noutput REPLY\nU1 74x04 hct: 1A=HOLD 1Y=REPLY 2A=0 3A=0 4A=0 5A=0 6A=0\n");
    EXPECT_TRUE(n.computable()) << n.problems.front().says;
    ASSERT_EQ(n.inputs.size(), 1U);
    EXPECT_EQ(n.net_name(n.inputs[0].net), "HOLD");
    EXPECT_EQ(n.inputs[0].from, NetworkInput::From::signal);
    // Behind a resistor too, and not where a part drives.
    const auto far = test::network(
        "port J1: 3=HOLD 5=REPLY\noutput REPLY\nR1 resistor 1k: 1=HOLD 2=X\nR2 resistor 100: 1=Y 2=REPLY\nU1 "
        "74x04 hct: 1A=X 1Y=Y 2A=0 3A=0 4A=0 5A=0 6A=0\n");
    EXPECT_TRUE(far.computable()) << far.problems.front().says;
    ASSERT_EQ(far.inputs.size(), 1U);
    EXPECT_EQ(far.net_name(far.inputs[0].net), "HOLD");
    ASSERT_EQ(far.all.size(), 3U);
    EXPECT_EQ(far.all[0].called(), "resistor 1k");
}

}  // namespace
}  // namespace grayrelic
