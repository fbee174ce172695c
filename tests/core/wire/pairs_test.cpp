// SPDX-License-Identifier: GPL-3.0-or-later
// Balanced lines: the right way round, terminated, at rest.
#include <gmock/gmock.h>

#include "core/dossier/edits.hpp"
#include "tests/core/wire/wire_helpers.hpp"

namespace grayrelic {
namespace {

using test::judged;
using test::with_text;

Dossier balanced_port() {
    Port j1;
    j1.id = "J1";
    j1.pins = {test::rail_pin("1", "+5 V", 4.75, 5.25), test::pin("2", "ground", Driver::supply),
               test::pin("3", "TX+", Driver::relic, "rs422"), test::pin("4", "TX-", Driver::relic, "rs422")};
    return put(Dossier{}, std::move(j1));
}

std::string receiver(const char* plus, const char* minus) {
    return std::string("port J1: 1=V5 2=GND 3=P 4=N\nU1 line-receiver-4: 1+=") + plus + " 1-=" + minus +
           " 1Y=OUT G=1 /G=0 VCC=V5 GND=GND\nM1 module-33: VIN=V5 GND=GND P0=X\nR9 resistor 10k: 1=OUT 2=X\n";
}

TEST(Pairs, ASwappedPairIsAStop) {
    const auto right = judged(with_text(balanced_port(), receiver("P", "N")));
    EXPECT_FALSE(right.has("TX+", LineFault::swapped_pair));
    // 2 V between the wires, 0.2 V are needed.
    EXPECT_NEAR(*right.link_to("U1.1+")->levels.high_margin_v, 1.8, 1e-9);
    const auto wrong = judged(with_text(balanced_port(), receiver("N", "P")));
    const bool said = wrong.has("TX+", LineFault::swapped_pair) || wrong.has("TX-", LineFault::swapped_pair);
    EXPECT_TRUE(said);
    // Through series resistors too.
    const auto far = judged(with_text(
        balanced_port(), receiver("A", "B") + "R1 resistor 33: 1=P 2=B\nR2 resistor 33: 1=N 2=A\n"));
    EXPECT_TRUE(far.has("TX+", LineFault::swapped_pair) || far.has("TX-", LineFault::swapped_pair));
}

TEST(Pairs, TerminationAndRestAreSaidWithoutWeight) {
    const auto bare = judged(with_text(balanced_port(), receiver("P", "N")));
    EXPECT_TRUE(bare.has("TX+", LineFault::no_termination));
    EXPECT_TRUE(bare.has("TX+", LineFault::no_idle));
    EXPECT_EQ(bare.line("TX+")->verdict, Verdict::holds);
    const auto whole = judged(
        with_text(balanced_port(),
                  receiver("P", "N") +
                      "R1 resistor 120: 1=P 2=N\nR2 resistor 1k: 1=P 2=V5\nR3 resistor 1k: 1=N 2=GND\n"));
    EXPECT_FALSE(whole.has("TX+", LineFault::no_termination));
    EXPECT_FALSE(whole.has("TX+", LineFault::no_idle));
}

}  // namespace
}  // namespace grayrelic
