// SPDX-License-Identifier: GPL-3.0-or-later
// build gates, diagnose, symptoms, practice, rework on the command line.
#include <gmock/gmock.h>

#include <nlohmann/json.hpp>
#include <set>

#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using test::run;
using ::testing::HasSubstr;

const std::string tile_path = (test::source_folder() / "demos/calder-sound-tile.relic").string();

nlohmann::json json_of(const std::string& command, int status = 0) {
    const auto a = run(command + " --json");
    EXPECT_EQ(a.status, status) << a.err;
    return nlohmann::json::parse(a.out);
}

TEST(CliBench, GatesComeInTheirOrderWithTheirFigures) {
    const auto j = json_of("build gates " + tile_path + " --board tile");
    std::vector<std::string> ids;
    for (const auto& g : j["gates"]) {
        ids.push_back(g["id"]);
        EXPECT_FALSE(g["name"].get<std::string>().empty());
        for (const auto& r : g["readings"]) {
            EXPECT_FALSE(r["what"].get<std::string>().empty());
            EXPECT_FALSE(r["expected"].get<std::string>().empty());
            const bool both = r["min"].is_number() && r["max"].is_number();
            EXPECT_TRUE(!both || r["min"].get<double>() <= r["max"].get<double>()) << r.dump();
        }
    }
    ASSERT_GE(ids.size(), 8U);
    const auto at = [&](const char* id) { return std::find(ids.begin(), ids.end(), id) - ids.begin(); };
    EXPECT_LT(at("rails-cold"), at("rails-unloaded"));
    EXPECT_LT(at("rails-unloaded"), at("chips"));
    EXPECT_LT(at("chips"), at("rails-loaded"));
    EXPECT_LT(at("function"), at("installed"));
    EXPECT_EQ(j["may_power"], false) << "nothing was measured yet";
    EXPECT_EQ(run("build gates " + tile_path + " --unit nobody").status, 2);
    EXPECT_EQ(run("build gates /nowhere.relic").status, 3);
}

TEST(CliBench, ADiagnosisNamesSuspectsAndTheNextMeasurement) {
    const auto j = json_of("build diagnose " + tile_path +
                           " --board tile --seen 'D3>d3=low' --seen 'D2>d2=ok' --seen 'D4>d4=ok' --seen "
                           "'beep:R4.1+R4.1 pad=open'");
    ASSERT_FALSE(j["suspects"].empty());
    EXPECT_EQ(j["suspects"][0]["fault"], "open: R4.1");
    EXPECT_GT(j["suspects"][0]["chance"].get<double>(), 0.5);
    double sum = j["healthy"].get<double>();
    for (const auto& s : j["suspects"]) sum += s["chance"].get<double>();
    EXPECT_LE(sum, 1.0 + 1e-9);
    const auto open = json_of("build diagnose " + tile_path + " --board tile --seen 'D3>d3=low'");
    EXPECT_FALSE(open["next"]["measure"].get<std::string>().empty());
    EXPECT_FALSE(open["next"]["why"].get<std::string>().empty());
    EXPECT_THAT(run("build diagnose " + tile_path + " --board tile --seen 'volts:U9.1=5'").err,
                HasSubstr("U9.1"));
    EXPECT_EQ(run("build diagnose " + tile_path + " --board tile --seen 'volts:U9.1=5'").status, 2);
    EXPECT_EQ(run("build diagnose " + tile_path + " --seen rubbish").status, 2);
}

TEST(CliBench, PracticePlaysItself) {
    std::set<std::string> kinds;
    int first = 0, games = 0;
    for (int seed = 1; seed < 30; seed += 2, ++games) {
        const auto a = run("build practice --skill fault --seed " + std::to_string(seed) + " --auto --json");
        const auto j = nlohmann::json::parse(a.out);
        const auto hidden = j["hidden"].get<std::string>();
        ASSERT_NE(hidden.find(": "), std::string::npos);
        kinds.insert(hidden.substr(0, hidden.find(':')));
        EXPECT_EQ(a.status, j["rank"] == 1 ? 0 : 1);
        first += j["rank"] == 1 ? 1 : 0;
        EXPECT_GE(j["measurements"].get<int>(), 0);
        EXPECT_GE(j["best_measurements"].get<double>(), 0);
        EXPECT_EQ(j["path"].size(), j["measurements"].get<std::size_t>());
    }
    EXPECT_GE(first * 10, games * 8);
    EXPECT_GE(kinds.size(), 4U);
    EXPECT_EQ(run("build practice --skill fault --seed 3 --auto").out,
              run("build practice --skill fault --seed 3 --auto").out);
    EXPECT_EQ(run("build practice --skill juggling --auto").status, 2);
    EXPECT_EQ(run("build practice --skill fault").status, 2);
}

TEST(CliBench, SymptomsAndReworkAreTables) {
    const auto table = json_of("build symptoms " + tile_path + " --board tile");
    bool row = false;
    for (const auto& r : table["rows"])
        for (const auto& s : r["says"]) row = row || s == "D3 at d3 is unclear";
    EXPECT_TRUE(row);
    const auto j = json_of("build rework " + tile_path + " --board tile --part M1 --hour 20");
    ASSERT_EQ(j["ways"].size(), 3U);
    for (const auto& w : j["ways"]) {
        EXPECT_GT(w["chance"].get<double>(), 0);
        EXPECT_LE(w["chance"].get<double>(), 1);
        EXPECT_GE(w["expected_money"].get<double>(), w["money"].get<double>());
    }
    EXPECT_EQ(run("build rework " + tile_path + " --part X99").status, 2);
    EXPECT_EQ(run("build rework " + tile_path + " --part R8 --hour -3").status, 2);
}

}  // namespace
}  // namespace grayrelic
