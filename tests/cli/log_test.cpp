// SPDX-License-Identifier: GPL-3.0-or-later
// log and diff on the command line; a pack opened by a script that knows nothing of the program.
#include <gmock/gmock.h>

#include <cstdlib>
#include <nlohmann/json.hpp>

#include "tests/cli/run.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::run;
using ::testing::HasSubstr;

const std::string pad_path = (test::source_folder() / "demos/calder-dial-pad.relic").string();
const std::string tile_of_log = (test::source_folder() / "demos/calder-sound-tile.relic").string();

nlohmann::json log_json(const std::string& command, int status = 0) {
    const auto a = run(command + " --json");
    EXPECT_EQ(a.status, status) << a.err;
    return nlohmann::json::parse(a.out);
}

TEST(CliLog, TrialsAnswerWithTheFixedKeys) {
    const test::TempFolder folder;
    test::write_file(folder / "t.csv", "host,cable,went\na,short,yes\nb,long,no\nb,long,no\na,short,yes\n");
    const auto path = (folder / "t.csv").string();
    const auto j = log_json("log trials " + path + " --outcome went --bad no");
    EXPECT_EQ(j["runs"], 4);
    ASSERT_EQ(j["single"].size(), 4U);
    const auto& b = j["single"][1];
    EXPECT_EQ(b["factor"], "host");
    EXPECT_EQ(b["value"], "b");
    EXPECT_EQ(b["bad_with"], 2);
    EXPECT_EQ(b["with"], 2);
    EXPECT_EQ(b["bad_without"], 0);
    EXPECT_EQ(b["without"], 2);
    EXPECT_EQ(b["explains"], true);
    // a with short, b with long.
    EXPECT_EQ(j["confounded"].size(), 2U);
    EXPECT_EQ(j["confounded"][1], (nlohmann::json{{"host", "b"}, {"cable", "long"}}));
    ASSERT_TRUE(j["next"].is_object());
    EXPECT_NE(j["next"]["host"] == "b", j["next"]["cable"] == "long");
    EXPECT_THAT(j["why"].get<std::string>(), HasSubstr("2 things"));
    const auto slip = log_json("log trials " + path + " --outcome went --bad perhaps");
    EXPECT_EQ(slip["next"], nullptr);
    EXPECT_THAT(slip["why"].get<std::string>(), HasSubstr("they say: yes, no"));
    EXPECT_EQ(run("log trials " + path).status, 2);
    EXPECT_EQ(run("log trials " + path + " --outcome gone --bad no").status, 3);
    EXPECT_EQ(run("log trials /nowhere.csv --outcome went --bad no").status, 3);
    test::write_file(folder / "d.csv", "host,went\na,yes\na,no\n");
    const auto twice = run("log trials " + (folder / "d.csv").string() + " --outcome went --bad no --json");
    EXPECT_EQ(twice.status, 1);
    EXPECT_THAT(twice.err, HasSubstr("d.csv:3: found \"no\", expected \"yes\" as in line 2"));
}

TEST(CliLog, PairsAreTriedWhereNoSingleValueExplains) {
    const test::TempFolder folder;
    test::write_file(folder / "t.csv", "a,b,went\n0,0,yes\n0,1,yes\n1,0,yes\n1,1,no\n");
    const auto j = log_json("log trials " + (folder / "t.csv").string() + " --outcome went --bad no");
    int explains = 0;
    for (const auto& p : j["pairs"])
        if (p["explains"] == true) {
            ++explains;
            EXPECT_EQ(p["factor"], (nlohmann::json{"a", "b"}));
            EXPECT_EQ(p["value"], (nlohmann::json{"1", "1"}));
        }
    EXPECT_EQ(explains, 1);
    EXPECT_EQ(j["next"], nullptr);
}

TEST(CliLog, TheDemoHoldsWhatTheIssueNames) {
    // A confounded pair that explains, four units, three revisions.
    const auto j = log_json("log trials " + pad_path);
    int explaining = 0;
    for (const auto& c : j["single"]) explaining += c["explains"] == true ? 1 : 0;
    EXPECT_EQ(explaining, 2);
    EXPECT_TRUE(j["next"].is_object());
    const auto units = log_json("log units " + pad_path);
    int boards_with_history = 0;
    for (const auto& u : units["units"])
        boards_with_history += u["events"].empty() || u["where"] == "" ? 0 : 1;
    EXPECT_EQ(boards_with_history, 4);
    for (const auto& i : units["images"])
        if (i["image"] == "usb-side-0.4") {
            EXPECT_EQ(i["verdict"], "holds");
        }
    const auto cover = log_json("log coverage " + pad_path, 1);
    EXPECT_EQ(cover["common"], (nlohmann::json{"dial fast"}));
    EXPECT_EQ(cover["next"], "marble-yard");
    const auto complaints = log_json("log complaints " + pad_path);
    EXPECT_EQ(complaints["complaints"].size(), 4U);
    EXPECT_EQ(run("log units " + pad_path + " --unit nobody").status, 2);
}

TEST(CliLog, MoneyIsWhatTheDossierHolds) {
    const auto j = log_json("log money " + pad_path);
    // 32 once; 6.50 postage and 16.50 of boards (five of them at 9.00 and 7.50) a batch of five; 14.20 a
    // piece.
    EXPECT_DOUBLE_EQ(j["once"].get<double>(), 32);
    EXPECT_NEAR(j["per_batch"].get<double>(), 23.0, 1e-9);
    EXPECT_DOUBLE_EQ(j["per_piece"].get<double>(), 14.2);
    // Two of two work; two cost 32 + 23 + 28.40 = 83.40.
    for (const auto& r : j["rows"])
        if (r["quantity"] == 2) {
            EXPECT_NEAR(r["cost"].get<double>(), 83.4, 1e-9);
        }
    // Sold at 39: 3 cost 97.60 ≤ 117, 2 bring 78. 5 cost 126, 6 (two batches) 163.20 ≤ 234: for good.
    EXPECT_EQ(j["pays"]["first"], 3);
    EXPECT_EQ(j["pays"]["for_good"], 3);
    // 12 hours in place of 9.
    EXPECT_NEAR(j["hours_factor"].get<double>(), 12.0 / 9, 1e-12);
}

TEST(CliLog, SearchAndTimeLine) {
    EXPECT_FALSE(log_json("log find " + pad_path + " ribbon")["hits"].empty());
    EXPECT_EQ(run("log find " + pad_path + " nowhereatall").status, 1);
    const auto events = log_json("log time " + pad_path)["events"];
    ASSERT_GT(events.size(), 20U);
    for (std::size_t i = 1; i < events.size(); ++i)
        EXPECT_LE(events[i - 1]["day"].get<std::string>(), events[i]["day"].get<std::string>());
}

TEST(CliLog, DiffIsEmptyOnItselfAndMirrors) {
    EXPECT_TRUE(log_json("diff " + pad_path + " " + pad_path)["changes"].empty());
    const auto there = log_json("diff " + pad_path + " " + tile_of_log)["changes"],
               back = log_json("diff " + tile_of_log + " " + pad_path)["changes"];
    ASSERT_EQ(there.size(), back.size());
    for (std::size_t i = 0; i < there.size(); ++i) {
        EXPECT_EQ(there[i]["before"], back[i]["after"]);
        EXPECT_EQ(there[i]["what"], back[i]["what"]);
    }
    EXPECT_EQ(run("diff " + pad_path + " /nowhere.relic").status, 3);
}

TEST(CliLog, MergesAListUnderItsSource) {
    const test::TempFolder folder;
    std::filesystem::copy(pad_path, folder / "p.relic", std::filesystem::copy_options::recursive);
    test::write_file(folder / "list.csv",
                     "item,outcome,uses\nHarbour Run,fails,dial slow\nQuay Side,works,buttons\n");
    const auto dossier = (folder / "p.relic").string(), list = (folder / "list.csv").string();
    EXPECT_EQ(run("log merge " + dossier + " " + list).status, 2);  // whose?
    const auto j = log_json("log merge " + dossier + " " + list + " --source 'a club' --day 2026-11-28");
    EXPECT_EQ(j["added"], 1);
    const auto cover = log_json("log coverage " + dossier, 1);
    for (const auto& i : cover["items"])
        if (i["name"] == "Harbour Run") {
            EXPECT_EQ(i["outcome"], "works");
            EXPECT_EQ(i["otherwise"], (nlohmann::json{"a club: fails"}));
        }
    test::write_file(folder / "bad.csv", "item,outcome\nX,perhaps\n");
    EXPECT_THAT(run("log merge " + dossier + " " + (folder / "bad.csv").string() + " --source x").err,
                HasSubstr("bad.csv:2: found \"perhaps\""));
}

TEST(CliLog, AStrangerCanOpenThePack) {
    const test::TempFolder folder;
    const auto zip = (folder / "release.zip").string();
    const auto j = log_json("log release " + pad_path + " " + zip);
    ASSERT_EQ(j["written"], true) << j.dump(1);
    EXPECT_GT(j["files"].get<int>(), 8);
    const auto checker = "python3 " + (test::source_folder() / "tests/pack/check_pack.py").string() + " " +
                         zip + " > " + (folder / "says.txt").string() + " 2>&1";
    EXPECT_EQ(std::system(checker.c_str()), 0) << test::read_file(folder / "says.txt");
    // The same again is the same to the byte, and a folder holds the same files.
    ASSERT_EQ(log_json("log release " + pad_path + " " + (folder / "again.zip").string())["written"], true);
    const auto out = (folder / "as-folder").string();
    EXPECT_EQ(log_json("log release " + pad_path + " " + out)["written"], true);
    EXPECT_TRUE(std::filesystem::exists(out + "/SHA256SUMS"));
    EXPECT_EQ(run("log release " + pad_path + " " + out).status, 3) << "the folder is not empty";
}

TEST(CliLog, NothingPrivateIsPublished) {
    const test::TempFolder folder;
    std::filesystem::copy(pad_path, folder / "p.relic", std::filesystem::copy_options::recursive);
    auto text = test::read_file(folder / "p.relic/dossier.json");
    const std::string with = "\"purpose\": \"Ask somebody@example.org. ";
    const std::string begin = "\"purpose\": \"";
    const auto at = text.find(begin);
    ASSERT_NE(at, std::string::npos);
    text.replace(at, begin.size(), with);
    test::write_file(folder / "p.relic/dossier.json", text);
    const auto zip = (folder / "release.zip").string();
    const auto j = log_json("log release " + (folder / "p.relic").string() + " " + zip, 1);
    EXPECT_EQ(j["written"], false);
    EXPECT_FALSE(std::filesystem::exists(zip));
    EXPECT_THAT(j["problems"][0]["says"].get<std::string>(),
                HasSubstr("an e-mail address (somebody@example.org)"));
}

TEST(CliLog, ACardIsOnePage) {
    const test::TempFolder folder;
    const auto j = log_json("log card " + pad_path + " " + (folder / "card.pdf").string());
    EXPECT_EQ(j["pages"], 1);
    EXPECT_EQ(test::read_file(folder / "card.pdf").substr(0, 5), "%PDF-");
}

}  // namespace
}  // namespace grayrelic
