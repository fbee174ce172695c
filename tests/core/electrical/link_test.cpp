// SPDX-License-Identifier: GPL-3.0-or-later
// Links between the shipped families: each margin from the families' published limits, the arithmetic beside
// it.
#include "core/electrical/link.hpp"

#include <gmock/gmock.h>

#include <set>

#include "core/base/random.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

const FamilyLibrary& families() {
    static const auto library = FamilyLibrary::load(disk(), {test::source_folder() / "data"});
    return library;
}

LinkVerdict link(const std::string& from, const std::string& to, double tolerance = 0.05, bool off = false) {
    const auto a = parse_named_supply(from), b = parse_named_supply(to);
    return judge_link(*families().find(a->family), around(a->volts, tolerance),
                      {families().find(b->family), around(b->volts, tolerance), off});
}

constexpr double none = 1e9;  // no margin: no such level is known or made

struct Case {
    const char* from;
    const char* to;
    double high, low;
    bool over;
    Verdict verdict;
    double tolerance = 0.05;
    bool off = false;
};

// A 5 V supply of 5 % is 4.75 to 5.25 V, one of 3.3 V 3.135 to 3.465 V. High-speed CMOS needs 0.7 of its
// supply above 4.5 V (3.675 at 5.25) and takes 0.3 of it as low (1.425 at 4.75); between 2 V and 4.5 V a
// straight line.
constexpr double hc_vih_low = 1.5 + 1.65 * (3.465 - 2) / 2.5, hc_vil_low = 0.5 + 0.85 * (3.135 - 2) / 2.5;
constexpr auto H = Verdict::holds;
constexpr auto S = Verdict::stop;
constexpr auto D = Verdict::doubt;
constexpr auto U = Verdict::unknown;

const Case cases[] = {
    // TTL gives 2.4 and 0.4.
    {"ttl@5V", "ttl@5V", 2.4 - 2.0, 0.8 - 0.4, false, H},
    {"ttl@5V", "ls@5V", 2.4 - 2.0, 0.8 - 0.4, false, H},
    {"ttl@5V", "hc@5V", 2.4 - 3.675, 1.425 - 0.4, false, S},
    {"ttl@5V", "hct@5V", 2.4 - 2.0, 0.8 - 0.4, false, H},
    {"ttl@5V", "ahct@5V", 2.4 - 2.0, 0.8 - 0.4, false, H},
    {"ttl@5V", "lvc@3V3", 2.4 - 2.0, 0.8 - 0.4, false, H},
    {"ttl@5V", "4000b@5V", 2.4 - 3.675, 1.425 - 0.4, false, S},
    {"ttl@5V", "nmos@5V", 2.4 - 2.0, 0.8 - 0.4, false, H},
    {"ttl@5V", "module-33@3V3", 2.4 - 2.0, 0.8 - 0.4, true, S},  // 5.25 > 3.135 + 0.3
    // LS gives 2.7 and 0.5; a TTL input gives 1.6 mA, of which LS takes 8.
    {"ls@5V", "ttl@5V", 2.7 - 2.0, 0.8 - 0.5, false, H},
    {"ls@5V", "ls@5V", 2.7 - 2.0, 0.8 - 0.5, false, H},
    {"ls@5V", "hct@5V", 2.7 - 2.0, 0.8 - 0.5, false, H},
    {"ls@5V", "hc@5V", 2.7 - 3.675, 1.425 - 0.5, false, S},
    {"ls@5V", "lvc@3V3", 2.7 - 2.0, 0.8 - 0.5, false, H},
    {"ls@5V", "nmos@5V", 2.7 - 2.0, 0.8 - 0.5, false, H},
    // HC at 20 µA stands 0.1 V from its supplies, at 4 mA 0.66 V below and 0.33 V above.
    {"hc@5V", "ttl@5V", 4.75 - 0.66 - 2.0, 0.8 - 0.33, false, H},  // 40 µA and 1.6 mA
    {"hc@5V", "ls@5V", 4.75 - 0.1 - 2.0, 0.8 - 0.33, false, H},    // 20 µA and 0.4 mA
    {"hc@5V", "hc@5V", 4.75 - 0.1 - 3.675, 1.425 - 0.1, false, H},
    {"hc@5V", "hct@5V", 4.75 - 0.1 - 2.0, 0.8 - 0.1, false, H},
    {"hc@5V", "ahct@5V", 4.75 - 0.1 - 2.0, 0.8 - 0.1, false, H},
    {"hc@5V", "lvc@3V3", 4.75 - 0.1 - 2.0, 0.8 - 0.1, false, H},
    {"hc@5V", "4000b@5V", 4.75 - 0.1 - 3.675, 1.425 - 0.1, false, H},
    {"hc@3V3", "hct@5V", 3.135 - 0.1 - 2.0, 0.8 - 0.1, false, H},
    {"hc@3V3", "hc@5V", 3.135 - 0.1 - 3.675, 1.425 - 0.1, false, S},
    {"hc@5V", "hc@3V3", 4.75 - 0.1 - hc_vih_low, hc_vil_low - 0.1, true, S},  // 5.25 > 3.135 + 0.5
    {"hc@3V3", "hc@3V3", 3.135 - 0.1 - hc_vih_low, hc_vil_low - 0.1, false, H},
    {"hct@5V", "ttl@5V", 4.75 - 0.66 - 2.0, 0.8 - 0.33, false, H},
    {"hct@5V", "ls@5V", 4.75 - 0.1 - 2.0, 0.8 - 0.33, false, H},
    {"hct@5V", "hct@5V", 4.75 - 0.1 - 2.0, 0.8 - 0.1, false, H},
    {"hct@5V", "hc@5V", 4.75 - 0.1 - 3.675, 1.425 - 0.1, false, H},
    {"hct@5V", "lvc@3V3", 4.75 - 0.1 - 2.0, 0.8 - 0.1, false, H},
    {"hct@5V", "4000b@5V", 4.75 - 0.1 - 3.675, 1.425 - 0.1, false, H},
    {"hct@5V", "module-33@3V3", 4.75 - 0.1 - 2.0, 0.8 - 0.1, true, S},
    // AHCT: 0.1 V up to 50 µA, 0.7 and 0.44 V at 8 mA.
    {"ahct@5V", "ttl@5V", 4.75 - 0.1 - 2.0, 0.8 - 0.44, false, H},
    {"ahct@5V", "ls@5V", 4.75 - 0.1 - 2.0, 0.8 - 0.44, false, H},
    {"ahct@5V", "hc@5V", 4.75 - 0.1 - 3.675, 1.425 - 0.1, false, H},
    {"ahct@5V", "lvc@3V3", 4.75 - 0.1 - 2.0, 0.8 - 0.1, false, H},
    // LVC: 0.2 V up to 100 µA, 0.8 and 0.55 V at 24 mA.
    {"lvc@3V3", "ttl@5V", 3.135 - 0.2 - 2.0, 0.8 - 0.55, false, H},
    {"lvc@3V3", "ls@5V", 3.135 - 0.2 - 2.0, 0.8 - 0.55, false, H},
    {"lvc@3V3", "hct@5V", 3.135 - 0.2 - 2.0, 0.8 - 0.2, false, H},
    {"lvc@3V3", "hc@5V", 3.135 - 0.2 - 3.675, 1.425 - 0.2, false, S},
    {"lvc@3V3", "lvc@3V3", 3.135 - 0.2 - 2.0, 0.8 - 0.2, false, H},
    {"lvc@3V3", "4000b@5V", 3.135 - 0.2 - 3.675, 1.425 - 0.2, false, S},
    // 4000B: 0.05 V without load, 0.4 V at 0.42 mA; thresholds 0.7 and 0.3 of the supply.
    {"4000b@5V", "4000b@5V", 4.75 - 0.05 - 3.675, 1.425 - 0.05, false, H},
    {"4000b@5V", "ls@5V", 4.75 - 0.4 - 2.0, 0.8 - 0.4, false, H},
    {"4000b@5V", "ttl@5V", 4.75 - 0.4 - 2.0, none, false, S},  // 1.6 mA is more than it takes
    {"4000b@5V", "hc@5V", 4.75 - 0.05 - 3.675, 1.425 - 0.05, false, H},
    {"4000b@5V", "hct@5V", 4.75 - 0.05 - 2.0, 0.8 - 0.05, false, H},
    {"4000b@12V", "hct@5V", 11.4 - 0.05 - 2.0, 0.8 - 0.05, true, S},
    {"4000b@10V", "4000b@10V", 9.5 - 0.05 - (7.0 + 0.5 * 4.0 / 5.0), 0.3 * 9.5 - 0.05, true,
     S},  // 11 V at 15; 10.5 > 9.5 + 0.5
    // NMOS of the era: 2.4 V at 0.1 mA, 0.4 V at 1.6 mA.
    {"nmos@5V", "ttl@5V", 2.4 - 2.0, 0.8 - 0.4, false, H},
    {"nmos@5V", "ls@5V", 2.4 - 2.0, 0.8 - 0.4, false, H},
    {"nmos@5V", "hct@5V", 2.4 - 2.0, 0.8 - 0.4, false, H},
    {"nmos@5V", "hc@5V", 2.4 - 3.675, 1.425 - 0.4, false, S},
    {"nmos@5V", "lvc@3V3", 2.4 - 2.0, 0.8 - 0.4, false, H},
    // Lines: RS-232 gives 5 V either way and needs 3; RS-422 2 V between the wires and needs 0.2; RS-423 3.6.
    {"rs232@5V", "rs232@5V", 5.0 - 3.0, -3.0 + 5.0, false, H},
    {"rs232@5V", "hct@5V", 5.0 - 2.0, 0.8 + 5.0, true, S},
    {"rs232@5V", "lvc@3V3", 5.0 - 2.0, 0.8 + 5.0, true, S},
    {"rs422@5V", "rs422@5V", 2.0 - 0.2, -0.2 + 2.0, false, H},
    {"rs423@5V", "rs423@5V", 3.6 - 0.2, -0.2 + 3.6, false, H},
    {"rs423@5V", "rs422@5V", 3.6 - 0.2, -0.2 + 3.6, false, H},
    {"rs423@5V", "rs232@5V", 3.6 - 3.0, -3.0 + 3.6, false, H},
    {"rs232@5V", "rs423@5V", 5.0 - 0.2, -0.2 + 5.0, true, S},  // 15 > 10
    {"hct@5V", "rs422@5V", none, none, false, U},              // what stands at the other wire?
    // An open collector makes no high by itself.
    {"oc@5V", "ttl@5V", none, 0.8 - 0.4, false, U},
    {"oc@5V", "hc@5V", none, 1.425 - 0.4, false, U},
    // A receiver without supply: its diodes carry the line from 0.5 V on, unless it has none.
    {"hct@5V", "hct@5V", 2.65, 0.7, true, S, 0.05, true},
    {"ttl@5V", "hct@5V", 0.4, 0.4, true, S, 0.05, true},
    {"hct@5V", "lvc@3V3", 2.65, 0.7, false, H, 0.05, true},
    {"hc@5V", "ahct@5V", 2.65, 0.7, false, H, 0.05, true},
    {"ls@5V", "nmos@5V", 0.7, 0.3, false, H, 0.05, true},
    // The module's pins: 0.1 V at 20 µA, 0.5 V at 4 mA.
    {"module-33@3V3", "hct@5V", 3.135 - 0.1 - 2.0, 0.8 - 0.1, false, H},
    {"module-33@3V3", "ttl@5V", 3.135 - 0.5 - 2.0, 0.8 - 0.5, false, H},
    {"module-33@3V3", "hc@5V", 3.135 - 0.1 - 3.675, 1.425 - 0.1, false, S},
    // Other tolerances: 10 % of 3.3 V is beyond LVC's 3.6 V; none at all.
    {"hct@5V", "lvc@3V3", 4.5 - 0.1 - 2.0, 0.8 - 0.1, false, D, 0.10},
    {"hc@5V", "hc@5V", 4.9 - 3.5, 1.5 - 0.1, false, H, 0.0},
    {"lvc@5V", "lvc@5V", 4.75 - 0.2 - 2.0, 0.8 - 0.2, false, S},  // it works up to 3.6 V
};

TEST(Links, MarginsAreThoseOfThePublishedLimits) {
    static_assert(std::size(cases) >= 60);
    for (const auto& c : cases) {
        const auto v = link(c.from, c.to, c.tolerance, c.off);
        SCOPED_TRACE(std::string(c.from) + " to " + c.to + (c.off ? " off" : "") + ": " + v.why);
        ASSERT_EQ(v.high_margin_v.has_value(), c.high != none);
        ASSERT_EQ(v.low_margin_v.has_value(), c.low != none);
        if (v.high_margin_v) {
            EXPECT_NEAR(*v.high_margin_v, c.high, 1e-9);
        }
        if (v.low_margin_v) {
            EXPECT_NEAR(*v.low_margin_v, c.low, 1e-9);
        }
        EXPECT_EQ(v.over_limit, c.over);
        EXPECT_EQ(v.verdict, c.verdict);
        EXPECT_FALSE(v.why.empty());
    }
}

TEST(Links, AMarginBelowAFifthOfAVoltIsADoubt) {
    ArrivingLevels a;
    a.low_most_v = 0.1;
    a.highest_v = 3.0;
    const Receiver to{families().find("hct"), {4.75, 5.25}, false};
    for (const auto& [high, verdict] : {std::pair(1.99, Verdict::stop),
                                        {2.0, Verdict::doubt},
                                        {2.19, Verdict::doubt},
                                        {2.2, Verdict::holds}}) {
        a.high_least_v = high;
        EXPECT_EQ(judge_levels(a, to).verdict, verdict) << high;
    }
}

/// Law: raising what a driver gives never lowers the high margin, nor makes a verdict worse that rested on
/// it.
TEST(Links, RaisingAHighNeverLowersItsMargin) {
    Random random(24);
    const std::vector<std::string> names{"ttl", "ls",    "hc",   "hct",      "ahct",
                                         "lvc", "4000b", "nmos", "module-33"};
    int tried = 0;
    for (int i = 0; i < 2000; ++i) {
        const auto& from = *families().find(names[random.below(names.size())]);
        const auto& to = *families().find(names[random.below(names.size())]);
        const double tolerance = 0.01 * static_cast<double>(random.below(11));
        auto raised = from;
        const double by = 0.01 * static_cast<double>(1 + random.below(80));
        for (auto& load : raised.high_loads) load.v += load.below_supply ? -by : by;
        const Receiver receiver{&to, around(to.supply_typ_v, tolerance), false};
        const auto a = judge_link(from, around(from.supply_typ_v, tolerance), receiver);
        const auto b = judge_link(raised, around(from.supply_typ_v, tolerance), receiver);
        ASSERT_EQ(a.high_margin_v.has_value(), b.high_margin_v.has_value());
        if (!a.high_margin_v) continue;
        ++tried;
        EXPECT_NEAR(*b.high_margin_v - *a.high_margin_v, by, 1e-9) << from.id << " to " << to.id;
        EXPECT_EQ(a.low_margin_v, b.low_margin_v);
    }
    EXPECT_GT(tried, 1000);
}

TEST(Links, NamesAndTolerancesAreReadAndRefused) {
    EXPECT_EQ(parse_named_supply("hct@5V")->family, "hct");
    EXPECT_DOUBLE_EQ(parse_named_supply("lvc@3V3")->volts, 3.3);
    for (const char* bad : {"", "hct", "@5V", "hct@", "hct@-5V", "hct@5A", "hct@1e9"})
        EXPECT_FALSE(parse_named_supply(bad)) << bad;
    for (const auto& [text, share] :
         {std::pair("5%", 0.05), {"±10 %", 0.1}, {"+-2%", 0.02}, {"0.05", 0.05}, {"0", 0.0}})
        EXPECT_DOUBLE_EQ(*parse_tolerance(text), share) << text;
    for (const char* bad : {"", "-1%", "100%", "x", "1e9"}) EXPECT_FALSE(parse_tolerance(bad)) << bad;
}

TEST(Families, EveryShippedOneIsWholeAndOrdered) {
    EXPECT_TRUE(families().problems.empty()) << families().problems.front().message();
    std::set<std::string> ids;
    for (const auto& f : families().families) {
        SCOPED_TRACE(f.id);
        ids.insert(f.id);
        EXPECT_FALSE(f.low_loads.empty());
        EXPECT_LE(f.works_min_v, f.supply_typ_v);
        EXPECT_GE(f.works_max_v, f.supply_typ_v);
        // More load never gives more.
        for (std::size_t i = 1; i < f.high_loads.size(); ++i)
            EXPECT_LE(*f.high_at(f.supply_typ_v, f.high_loads[i].a),
                      *f.high_at(f.supply_typ_v, f.high_loads[i - 1].a));
        for (std::size_t i = 1; i < f.low_loads.size(); ++i)
            EXPECT_GE(f.low_loads[i].v, f.low_loads[i - 1].v);
        // The single figures that Port judges by are those of one of the loads, at the lowest supply.
        const auto needs = f.needs_at(f.supply_typ_v);
        EXPECT_LT(needs.low_max_v, needs.high_min_v);
    }
    for (const char* id : {"ttl", "ls", "hc", "hct", "ahct", "lvc", "4000b", "nmos", "rs232", "rs422",
                           "rs423", "oc", "module-33"})
        EXPECT_EQ(ids.count(id), 1U) << id;
}

TEST(Families, BrokenLoadsAndLevelsAreRefused) {
    const auto broken = [](const std::string& output, const std::string& input) {
        const auto f = family_from_json(
            R"({"id":"x","name":"x","source":"s","supply_v":{"min":4.5,"typ":5,"max":5.5},"output":{"high_min_v":2.4,"low_max_v":0.4,"high_max_v":5)" +
                output + R"(},"input":{"high_min_v":2,"low_max_v":0.8)" + input +
                R"(},"limits":{"high_v":7,"low_v":-0.5}})",
            "x.json");
        return f ? std::string() : f.error().message();
    };
    EXPECT_EQ(broken("", ""), "");
    EXPECT_THAT(broken(R"(,"high":[{"a":0.01,"v":3},{"a":0.001,"v":4}])", ""),
                testing::HasSubstr("rising order"));
    EXPECT_THAT(broken(R"(,"low":[{"a":-1,"v":0.4}])", ""), testing::HasSubstr("rising order"));
    EXPECT_THAT(broken("", R"(,"at":[{"supply_v":5,"high_min_v":1,"low_max_v":2}])"),
                testing::HasSubstr("low_max_v up to high_min_v"));
    EXPECT_THAT(
        broken(
            "",
            R"(,"at":[{"supply_v":5,"high_min_v":3,"low_max_v":2},{"supply_v":5,"high_min_v":3,"low_max_v":2}])"),
        testing::HasSubstr("rising order"));
}

}  // namespace
}  // namespace grayrelic
