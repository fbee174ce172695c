// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli build …, board stack|state|solder: keys, statuses.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <set>

#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using test::run;
using test::TempFolder;
using ::testing::HasSubstr;

const std::string tile_demo = (test::source_folder() / "demos/calder-sound-tile.relic").string();

TEST(CliBuild, PlansEveryPartOnce) {
    const auto a = run("build plan " + tile_demo + " --board ladder --variant driven --json");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    std::multiset<std::string> refs;
    int n = 0;
    for (const auto& s : j["steps"]) {
        EXPECT_EQ(s["n"], ++n);
        EXPECT_FALSE(s["why"].get<std::string>().empty());
        for (const auto& r : s["refs"]) refs.insert(r.get<std::string>());
    }
    // All of the ladder but the oscillator, which this role leaves out; S1 is its jack.
    EXPECT_EQ(refs, (std::multiset<std::string>{"C1", "C2", "J1", "JP1", "N1", "R1", "S1", "U1", "U2"}));
    EXPECT_EQ(run("build plan " + tile_demo + " --board attic").status, 2);
    EXPECT_EQ(run("build plan /nowhere.relic").status, 3);
}

TEST(CliBuild, TheJointSheetNamesBothEnds) {
    const auto a = run("build joints " + tile_demo + " --board tile --json");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    int beeps = 0, opens = 0;
    for (const auto& l : j["joints"]) {
        EXPECT_FALSE(l["a"].get<std::string>().empty() || l["b"].get<std::string>().empty());
        const auto expect = l["expect"].get<std::string>();
        ASSERT_TRUE(expect == "beep" || expect == "open");
        ++(expect == "beep" ? beeps : opens);
    }
    EXPECT_GT(beeps, 10);
    EXPECT_GT(opens, 10);
    const auto tracks =
        nlohmann::json::parse(run("build joints " + tile_demo + " --board tile --tracks --json").out);
    EXPECT_GT(tracks["joints"].size(), j["joints"].size());
    EXPECT_EQ(run("build joints " + tile_demo + " --beeps-below 0").status, 2);
}

TEST(CliBuild, AMarkingIsReadInAllItsWays) {
    const auto j = nlohmann::json::parse(run("build marking '104' --json").out);
    ASSERT_EQ(j["values"].size(), 2U);
    std::set<double> values;
    for (const auto& v : j["values"]) values.insert(v["value"].get<double>());
    EXPECT_NEAR(*values.begin(), 100e-9, 1e-15);
    EXPECT_NEAR(*values.rbegin(), 100e3, 1e-6);
    EXPECT_EQ(run("build marking 104 --as capacitor --json").status, 0);
    EXPECT_EQ(run("build marking 104 --as bead").status, 2);
    const auto bad = run("build marking 'brown mauve'");
    EXPECT_EQ(bad.status, 2);
    EXPECT_THAT(bad.err, HasSubstr("expected"));
}

TEST(CliBoard, AStackIsJudged) {
    const auto a = run("board stack " + tile_demo + " --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    ASSERT_EQ(j["stacks"].size(), 1U);
    const auto& s = j["stacks"][0];
    EXPECT_EQ(s["verdict"], "doubt");
    ASSERT_EQ(s["joins"].size(), 1U);
    EXPECT_EQ(s["joins"][0]["used"], 10);
    EXPECT_EQ(s["joins"][0]["by_place"], true);
    std::set<std::string> kinds;
    for (const auto& f : s["faults"]) kinds.insert(f["kind"].get<std::string>());
    EXPECT_EQ(kinds, (std::set<std::string>{"may-conflict", "undriven"}));
    EXPECT_EQ(run("board stack " + tile_demo + " --stack attic").status, 2);
    EXPECT_EQ(run("board stack " + (test::source_folder() / "demos/calder-dial-pad.relic").string()).status,
              2);
    EXPECT_EQ(nlohmann::json::parse(run("board state " + tile_demo + " --json").out)["boards"].size(), 2U);
    const auto solder =
        nlohmann::json::parse(run("board solder " + tile_demo + " --board ladder --json").out);
    ASSERT_EQ(solder["boards"].size(), 1U);
    EXPECT_GT(solder["boards"][0]["joints"].get<int>(), 60);
}

TEST(CliBoard, TiersOfAnotherSizeAreLeftOut) {
    const TempFolder folder;
    test::write_file(folder / "t.csv",
                     "quantity,price,shipping,width_mm,height_mm\n5,5,1,50,50\n5,9,1,100,100\n10,30,1,,\n");
    const auto order = [&](const std::string& size) {
        return nlohmann::json::parse(
                   run("board order " + (folder / "t.csv").string() + " --want 3 --yield 1 --json" + size)
                       .out)["best"]["cost"]
            .get<double>();
    };
    EXPECT_EQ(order(""), 6);
    EXPECT_EQ(order(" --size 50x40"), 6);
    EXPECT_EQ(order(" --size 60x40"), 10);
    EXPECT_EQ(order(" --size 40x120"), 31);
    EXPECT_EQ(run("board order " + (folder / "t.csv").string() + " --want 3 --yield 1 --size big").status, 2);
}

}  // namespace
}  // namespace grayrelic
