// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/person/bench_text.hpp"

#include <gmock/gmock.h>

#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::Contains;
using testing::HasSubstr;

TEST(Bench, AllOfItComesBack) {
    Bench b;
    b.instruments = {*parse_instrument("analyser 24 MHz 8 inputs 5.5 V 1.4 V threshold small one"),
                     *parse_instrument("scope 20MHz 300V"), *parse_instrument("iron fine tip")};
    b.processes = {Process::home_toner, Process::prototype_house};
    b.solder = {*parse_solder("soic 120 2")};
    b.hours_per_week = 6.5;
    b.currency = "€";
    EXPECT_EQ(*bench_from_json(bench_to_json(b), "b.json"), b);
    EXPECT_EQ(b.instruments[0].name, "small one");
    EXPECT_EQ(b.instruments[0].rate, Hertz(24e6));
    EXPECT_EQ(b.instruments[0].most_volts, Volts(5.5));
    EXPECT_EQ(b.instruments[0].threshold, Volts(1.4));
    EXPECT_EQ(b.instruments[0].inputs, 8);
    EXPECT_EQ(b.instruments[1].bandwidth, Hertz(20e6)) << "Hz of a scope are its bandwidth";
    EXPECT_EQ(b.instruments[1].rate, std::nullopt);
    EXPECT_EQ(b.best_rate(), Hertz(24e6));
    EXPECT_TRUE(b.has(InstrumentKind::iron));
    EXPECT_FALSE(b.has(InstrumentKind::meter));
}

TEST(Bench, OwnYieldIsCautiousWhereLittleWasDone) {
    // Rule of succession: (good + 1) ÷ (done + 2).
    EXPECT_DOUBLE_EQ(own_yield({"dip", 0, 0}), 1.0 / 2);
    EXPECT_DOUBLE_EQ(own_yield({"dip", 1, 1}), 1.0 / 3);
    EXPECT_DOUBLE_EQ(own_yield({"dip", 98, 0}), 99.0 / 100);
}

TEST(Bench, SaysWhatItDoesNotReach) {
    Bench b;
    b.instruments = {*parse_instrument("analyser 100 MHz 5.5 V blue"), *parse_instrument("scope old")};
    BenchNeeds needs;
    needs.highest_volts = 12;
    needs.where = "J1.5 +12 V";
    needs.shortest = Time::from_seconds(20e-9);
    needs.shortest_where = "STEP in minute";
    const auto said = bench_reach(b, needs);
    EXPECT_THAT(said, Contains(HasSubstr("blue takes 5.50 V: keep it off J1.5 +12 V, which reaches 12.0 V")));
    EXPECT_THAT(said, Contains(HasSubstr("old: what its inputs take is not on record")));
    // Four samples in 20 ns are 200 MHz.
    EXPECT_THAT(said,
                Contains(HasSubstr("needs 200 MHz for four samples; the bench reaches 100 MHz: too few")));
    EXPECT_THAT(said, Contains(HasSubstr("No meter")));
    needs.shortest = Time::from_seconds(40e-9);
    EXPECT_THAT(bench_reach(b, needs), Contains(testing::EndsWith("the bench reaches 100 MHz.")));
    EXPECT_THAT(bench_reach(b, needs), Contains(HasSubstr("of a line without glitches")));
    needs.may_be_a_glitch = true;
    EXPECT_THAT(bench_reach(b, needs), Contains(HasSubstr("perhaps a glitch")));
    EXPECT_TRUE(bench_reach({}, {}).empty());
}

TEST(Bench, RefusesWhatItCannotMean) {
    EXPECT_THAT(parse_instrument("wand 3 V").error().expected, HasSubstr("meter, scope"));
    EXPECT_FALSE(parse_instrument(""));
    EXPECT_FALSE(parse_instrument("analyser 0 inputs"));
    for (const auto* text : {"", "soic", "soic x", "soic 3 4", "soic 1 0 0", "soic -1"})
        EXPECT_FALSE(parse_solder(text)) << text;
    const auto of = [](const std::string& members) {
        return bench_from_json(R"({"format": "gray-relic-bench", "version": 1, )" + members + "}", "b.json");
    };
    EXPECT_THAT(of(R"("hours_per_week": 0)").error().expected, HasSubstr("168"));
    EXPECT_THAT(of(R"("processes": ["magic"])").error().expected, HasSubstr("home-toner"));
    EXPECT_THAT(of(R"("instruments": [{"kind": "meter", "most_volts": "-5 V"}])").error().message(),
                HasSubstr("-5 V"));
    EXPECT_THAT(of(R"("solder": [{"package": "dip", "done": 1, "bad": 2}])").error().message(),
                HasSubstr("2"));
}

}  // namespace
}  // namespace grayrelic
