// SPDX-License-Identifier: GPL-3.0-or-later
// Rails as text: what is taken, what is refused, and with which line.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/base/random.hpp"
#include "core/electrical/rails_study.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

TEST(RailsText, EveryLineIsTaken) {
    const auto tree = rails_from_text(
        "\xEF\xBB\xBFsource USB 5V +-5% limit 500mA ri 0.2ohm rise 3ms relic\r\n"
        "battery CELL 3.7V capacity 900mAh empty 3V full 4.2V charge 300mA shutdown 150mA 2s\n"
        "harvest RTS 12V ri 300Ω limit 8mA\n"
        "\n  # nothing\n"
        "drop D1 USB->VIN 0.35V max 1A theta 200\n"
        "drop D2 RTS → VIN 0.35V\n"
        "switch Q1 VIN -> PAD ron 60mΩ max 2A start 1ms gate 0V off 3.3V at 4.5V vth 1V 2.5V\n"
        "linear U1 VIN -> V3 3.3V ± 2% dropout 1.1V iq 5mA theta 60 max 1A start 1ms\n"
        "switcher U2 CELL -> VIN 5V eff 90% max 1A\n"
        "load A V3 40mA in idle 12mA in off 0A works 3V dies 3.6V\n"
        "load B PAD 5W reset 1V\nload C PAD 82Ω\nload D PAD 47R\n"
        "capacitor C1 VIN 470µF esr 0.1Ω\n"
        "line TX V3 -> PAD 1kΩ clamp 0.7V low 0.4V needs 0.8V\n"
        "mode off off USB Q1\nbefore VIN V3\n",
        "x.rails");
    ASSERT_TRUE(tree) << tree.error().message();
    EXPECT_EQ(tree->rails(), (std::vector<std::string>{"USB", "CELL", "RTS", "VIN", "PAD", "V3"}));
    EXPECT_EQ(tree->mode_names(), (std::vector<std::string>{"off", "idle"}));
    const auto& usb = tree->sources[0];
    EXPECT_DOUBLE_EQ(usb.tolerance, 0.05);
    EXPECT_DOUBLE_EQ(usb.ohm, 0.2);
    EXPECT_TRUE(usb.relic);
    EXPECT_DOUBLE_EQ(tree->sources[1].battery->coulomb, 0.9 * 3600);
    EXPECT_DOUBLE_EQ(tree->sources[1].battery->shutdown_coulomb, 0.3);
    EXPECT_TRUE(tree->sources[2].harvested);
    EXPECT_DOUBLE_EQ(tree->parts[3].tolerance, 0.02);
    EXPECT_DOUBLE_EQ(*tree->parts[2].gate->threshold_most, 2.5);
    EXPECT_EQ(tree->loads[1].amount.kind, RailAmount::Kind::watts);
    EXPECT_DOUBLE_EQ(tree->loads[3].amount.value, 47);
    EXPECT_DOUBLE_EQ(tree->capacitors[0].farad, 470e-6);
    EXPECT_EQ(tree->loads[0].place.line, 11);
}

struct Refused {
    const char* text;
    long line;
    const char *found, *expected;
};

TEST(RailsText, WhatIsWrongIsSaidAtItsPlace) {
    const Refused cases[] = {
        {"", 1, "no source", "source USB"},
        {"# only a remark\n", 1, "no source", "source USB"},
        {"voltage A 5V\n", 1, "\"voltage\"", "source, battery"},
        {"source A\n", 1, "the end of the line", "volts above 0 V"},
        {"source A 5\nsource B 5mA\n", 2, "\"5mA\"", "volts above 0 V"},
        {"source A -5V\n", 1, "\"-5V\"", "volts above 0 V"},
        {"source A 1e9V\n", 1, "\"1e9V\"", "up to 1 kV"},
        {"source A nanV\n", 1, "\"nanV\"", "volts"},
        {"source A 5V ±120%\n", 1, "±120%", "below ±100%"},
        {"source A 5V limit 0A\n", 1, "\"0A\"", "above 0 A"},
        {"source A 5V limit\n", 1, "the end of the line", "a current"},
        {"source A 5V loud\n", 1, "\"loud\"", "limit, ri, rise or relic"},
        {"source A 5V\nsource A 9V\n", 2, "source \"A\" a second time", "a rail of its own"},
        {"source A 5V\nload L A 3\n", 2, "\"3\"", "320mA, 5W, 82Ω"},
        {"source A 5V\nload L A 0Ω\n", 2, "\"0Ω\"", "from 1 mΩ"},
        {"source A 5V\nload L B 3mA\n", 2, "load \"L\" on rail \"B\", which nothing feeds",
         "a source named \"B\""},
        {"source A 5V\ndrop D X -> A 1V\n", 2, "part \"D\" on rail \"X\"", "a source named"},
        {"source A 5V\ndrop D A B 1V\n", 2, "\"B\"", "-> and the rail"},
        {"source A 5V\nswitch Q A -> B 1Ω\n", 2, "\"1Ω\"", "ron"},
        {"source A 5V\nswitch Q A -> B ron 1Ω gate 3V vth 3V 1V\n", 2, "least above its most", "vth"},
        {"source A 5V\nswitcher U A -> B 3V max 1A\n", 2, "without efficiency", "eff"},
        {"source A 5V\nswitcher U A -> B 3V eff 0% max 1A\n", 2, "\"0%\"", "1% to 100%"},
        {"source A 5V\nlinear U A -> B 3V dropout 1V theta -4\n", 2, "\"-4\"", "K/W"},
        // A loop of parts, and a regulator that is fed from its own output.
        {"source A 5V\nswitch S A -> B ron 1Ω\nswitch T B -> C ron 1Ω\nswitch V C -> B ron 1Ω\n", 3, "loop",
         "never back"},
        {"source A 5V\nlinear U A -> B 3V dropout 1V\nswitch S B -> A ron 1Ω\n", 2, "fed from its own output",
         "never back"},
        {"source A 5V\nlinear U B -> B 3V dropout 1V\n", 2, "fed from its own output", "never back"},
        {"source A 5V\nsource B 9V\nswitch S A -> B ron 0Ω\n", 3, "joined by 0 Ω", "above 0 Ω"},
        {"source A 5V\nsource B 9V\nswitch S A -> C ron 0Ω\nswitch T B -> C ron 0Ω\n", 4, "joined by 0 Ω",
         "above 0 Ω"},
        {"source A 5V\nmode m off B\n", 2, "\"B\"", "a source or of a switch"},
        {"source A 5V\nload L A 1mA in m 1mA in m 2mA\n", 2, "a second time", "each mode once"},
        {"battery B 3.7V\n", 1, "without capacity", "capacity 900mAh"},
        {"battery B 3.7V capacity 5A\n", 1, "\"5A\"", "900mAh"},
        {"harvest H 12V\n", 1, "without a resistance", "ri"},
    };
    for (const auto& c : cases) {
        SCOPED_TRACE(c.text);
        const auto tree = rails_from_text(c.text, "f.rails");
        ASSERT_FALSE(tree);
        EXPECT_EQ(tree.error().file, "f.rails");
        EXPECT_EQ(tree.error().line, c.line);
        EXPECT_THAT(tree.error().found, HasSubstr(c.found));
        EXPECT_THAT(tree.error().expected, HasSubstr(c.expected));
    }
}

TEST(RailsText, BoundsHold) {
    std::string many;
    for (int i = 0; i < 500; ++i) many += "# line\n";
    EXPECT_THAT(rails_from_text(many, "f").error().found, HasSubstr("400"));
    EXPECT_THAT(rails_from_text(std::string(70'000, 'x'), "f").error().expected, HasSubstr("64 KiB"));
}

/// Whatever is written from the reader's words, judging it ends, and no figure is not a number.
TEST(RailsText, AnyTreeIsJudgedToItsEnd) {
    Random random(404);
    long judged = 0;
    for (int n = 0; n < 2000; ++n) {
        std::string text;
        const auto rail = [&] { return "R" + std::to_string(random.below(4)); };
        const auto ohm = [&] {
            return random.below(4) == 0 ? std::string("0Ω")
                                        : fmt::format("{:.3g}Ω", std::pow(10.0, random.uniform() * 8 - 3));
        };
        for (std::size_t i = 1 + random.below(3); i-- > 0;)
            text += fmt::format("source R{} {:.3g}V ±{}% {}\n", i, 0.5 + 20 * random.uniform(),
                                random.below(30), random.below(2) == 0 ? "limit 200mA" : "");
        for (std::size_t i = random.below(8); i-- > 0;) {
            const auto from = random.below(4);
            const auto way = fmt::format("P{} R{} -> R{}", i, from, from + 1 + random.below(5 - from));
            switch (random.below(4)) {
                case 0: text += fmt::format("drop {} {:.2g}V\n", way, random.uniform()); break;
                case 1:
                    text += fmt::format("switch {} ron {} {}\n", way, ohm(),
                                        random.below(2) == 0 ? "gate 0V off 3.3V" : "");
                    break;
                case 2:
                    text += fmt::format("linear {} {:.3g}V dropout 1V max 100mA\n", way,
                                        1 + 10 * random.uniform());
                    break;
                default:
                    text += fmt::format("switcher {} {:.3g}V eff 80%\n", way, 1 + 10 * random.uniform());
                    break;
            }
        }
        for (std::size_t i = random.below(5); i-- > 0;)
            text += fmt::format("load L{} {} {}\n", i, rail(), random.below(2) == 0 ? "5W" : "300mA in m 1A");
        for (std::size_t i = random.below(3); i-- > 0;)
            text +=
                fmt::format("capacitor C{} {} 100µF\nline X{} {} -> {} 1kΩ\n", i, rail(), i, rail(), rail());
        auto tree = rails_from_text(text, "f");
        if (!tree) continue;
        ++judged;
        SCOPED_TRACE(text);
        const auto s = study_rails(*tree);
        for (const auto& m : s.modes)
            for (const auto& r : m.rails) {
                EXPECT_TRUE(std::isfinite(r.volts) && std::isfinite(r.load_a));
                EXPECT_LE(r.least, r.most);
            }
    }
    EXPECT_GT(judged, 60);
}

}  // namespace
}  // namespace grayrelic
