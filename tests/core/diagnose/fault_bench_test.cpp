// SPDX-License-Identifier: GPL-3.0-or-later
// The bench that faults are held against, held against arithmetic itself.
#include "standin/fault_bench.hpp"

#include <map>
#include <set>

#include "standin/bench_chips.hpp"
#include "tests/core/diagnose/bench_helpers.hpp"

namespace grayrelic {
namespace {

using standin::FaultBench;

const std::string divider = R"(port J1: 1=V5 2=GND 3=IN 4=OUT
rail V5 5V
R1 resistor 1k 1%: 1=V5 2=mid
R2 resistor 3k 1%: 1=mid 2=GND
D1 led: A=lit K=GND
R3 resistor 330 1%: 1=OUT 2=lit
U1 74x04 hct: 1A=IN 1Y=OUT 2A=GND 3A=GND 4A=GND 5A=GND 6A=GND
power V5 GND: U1
)";

double read(FaultBench& b, const char* said) {
    return b.read(*read_said(said)->reading);
}

TEST(FaultBench, MeasuresWhatOhmAndKirchhoffSay) {
    const auto board = test::board_of(divider);
    ASSERT_NE(board, nullptr);
    FaultBench sound(*board, 5, "nothing");
    EXPECT_EQ(sound.unable(), "");
    EXPECT_NEAR(read(sound, "volts:R1.2=0"), 3.75, 0.15) << "3 of 4 kΩ at 5 V";
    EXPECT_NEAR(read(sound, "ohms:R1.1+R2.2=0"), 4000, 100);
    EXPECT_NEAR(read(sound, "ohms:R1.1+R1.2=0"), 1000, 30);
    EXPECT_LT(read(sound, "beep:R1.2+R2.1=beep"), 1);
    EXPECT_EQ(read(sound, "beep:R1.2+R1.1 pad=beep") < 30, false);
    for (const auto& s : sound.complaint()) EXPECT_EQ(s.value, "ok") << s.key;
    FaultBench open(*board, 5, "open: R2.2");
    EXPECT_NEAR(read(open, "volts:R1.2=0"), 5, 0.2) << "nothing pulls it down";
    EXPECT_GT(read(open, "beep:R2.2+R2.2 pad=beep"), 1e6);
    FaultBench slip(*board, 5, "value: R2 x10");
    EXPECT_NEAR(read(slip, "volts:R1.2=0"), 5 * 30.0 / 31, 0.15);
    EXPECT_EQ(read(slip, "look:R2=as-drawn"), static_cast<double>(Looks::other_marking));
    FaultBench bridge(*board, 5, "short: IN+OUT");
    bool unclear = false;
    for (const auto& s : bridge.complaint()) unclear = unclear || s.value != "ok";
    EXPECT_TRUE(unclear);
    FaultBench turned(*board, 5, "reversed: D1");
    EXPECT_GT(read(turned, "diode:D1.2 pad+D1.1 pad=open"), 2.5);
    EXPECT_NEAR(read(sound, "diode:D1.2 pad+D1.1 pad=open"), 1.9, 0.4) << "it glows in the diode range";
    FaultBench none(*board, 5, "supply: V5");
    EXPECT_LT(read(none, "volts:R1.1=0"), 0.5);
}

TEST(FaultBench, HidesEachKindOfFaultThatABoardCanHave) {
    const auto board = test::board_of(divider);
    std::map<std::string, int> kinds;
    for (const auto& f : standin::hidden_faults(*board)) ++kinds[f.substr(0, f.find(':'))];
    for (const auto* kind :
         {"open", "short", "swapped", "value", "reversed", "missing", "supply", "mirrored"})
        EXPECT_GT(kinds[kind], 0) << kind;
    EXPECT_EQ(kinds["value"], 6) << "three resistors, up and down";
    // The same seed hides the same fault; others hide others.
    std::set<std::string> hidden;
    for (std::uint64_t seed = 0; seed < 60; ++seed) {
        const FaultBench one(*board, seed), again(*board, seed);
        EXPECT_EQ(one.hidden(), again.hidden());
        hidden.insert(one.hidden());
    }
    EXPECT_GT(hidden.size(), 20U);
}

/// Truth tables as data books print them.
TEST(FaultBench, ChipsDoWhatTheirTablesSay) {
    std::vector<bool> in(64, false);
    const auto nand = standin::bench_chip("74x00"), nor = standin::bench_chip("74x02"),
               inverter = standin::bench_chip("74x04"), either = standin::bench_chip("74x86");
    for (const bool a : {false, true})
        for (const bool b : {false, true}) {
            in[1] = in[2] = a;
            in[2] = b;
            EXPECT_EQ(nand->level(3, in), !(a && b));
            EXPECT_EQ(either->level(3, in), a != b);
            EXPECT_EQ(inverter->level(2, in), !a);
            in[3] = b;
            in[2] = a;
            EXPECT_EQ(nor->level(1, in), !(a || b));
        }
    // Eight bits loaded while pin 1 is low, then one place on at each rising edge of pin 2.
    auto shift = standin::bench_chip("74x165");
    std::vector<bool> before(64, false), now(64, false);
    now[6] = true;  // H
    now[4] = true;  // F
    shift->change(before, now);
    EXPECT_TRUE(shift->level(9, now));
    EXPECT_FALSE(shift->level(7, now));
    std::string out;
    now[1] = true;
    before = now;
    for (int i = 0; i < 3; ++i) {
        now[2] = true;
        shift->change(before, now);
        before = now;
        now[2] = false;
        shift->change(before, now);
        before = now;
        out += shift->level(9, now) ? '1' : '0';
    }
    EXPECT_EQ(out, "010") << "G, F, E";
    // Twelve stages: after 5 falling edges the first and the third are high.
    auto count = standin::bench_chip("74x4040");
    before.assign(64, false);
    now.assign(64, false);
    for (int i = 0; i < 5; ++i) {
        now[10] = true;
        count->change(before, now);
        before = now;
        now[10] = false;
        count->change(before, now);
        before = now;
    }
    EXPECT_TRUE(count->level(9, now));
    EXPECT_FALSE(count->level(7, now));
    EXPECT_TRUE(count->level(6, now));
    EXPECT_EQ(standin::bench_chip("74x688"), nullptr) << "not known: the bench says so";
    const auto board = test::board_of(
        "port J1: 1=V5 2=GND 3=A 4=Q\nrail V5 5V\nU1 74x30 hct: A=A B=A C=A D=A E=A F=A G=A H=A Y=Q\npower "
        "V5 GND: U1\n");
    ASSERT_NE(board, nullptr);
    EXPECT_NE(FaultBench(*board, 1, "nothing").unable(), "");
}

}  // namespace
}  // namespace grayrelic
