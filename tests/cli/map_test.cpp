// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli map …: keys, statuses, places.
#include <fmt/format.h>

#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using test::keys;
using test::run;
using test::TempFolder;

const std::string keypad_demo = (test::source_folder() / "demos/calder-counter-keypad.relic").string();

class MapVerbs : public testing::Test {
  protected:
    [[nodiscard]] std::string write(const char* name, const std::string& text) {
        test::write_file(folder / name, text);
        return (folder / name).string();
    }
    TempFolder folder;
};

TEST_F(MapVerbs, MatrixKeepsItsKeysAndCountsAFullGrid) {
    std::string table = "key,row,column,diode\n";
    for (int r = 0; r < 3; ++r)
        for (int c = 0; c < 4; ++c) table += fmt::format("K{}{},{},{},no\n", r, c, r, c);
    const auto a =
        run("map matrix " + write("k.csv", table) + " --r-foil 500 --c 200p --pull 9k5 --debounce 5 --json");
    EXPECT_EQ(a.status, 0);
    const auto j = a.json();
    EXPECT_EQ(j["keys"], 12);
    EXPECT_EQ(j["rows"], 3);
    EXPECT_EQ(j["columns"], 4);
    EXPECT_EQ(j["pins"]["direct"], 7);
    EXPECT_EQ(j["pins"]["folded"], 7);
    EXPECT_TRUE(j["pins"].contains("register"));
    EXPECT_EQ(j["ghost_sets"], 4 * 3 * 6);
    EXPECT_EQ(j["longer_ghost_sets"], 36 * 1 * 4) << "36 · C(3,3) · C(4,3)";
    EXPECT_NEAR(j["scan_s"].get<double>(), 3 * 5 * 10e3 * 200e-12, 1e-12);
    EXPECT_TRUE(j["worst"].is_array());
    const auto twice = run("map matrix " + write("t.csv", "key,row,column\na,0,0\nb,0,0\n"));
    EXPECT_EQ(twice.status, 3);
    EXPECT_THAT(twice.err, testing::HasSubstr("t.csv:3: found \"b\" at row 0, column 0"));
    EXPECT_EQ(run("map matrix " + (folder / "k.csv").string() + " --c much").status, 2);
    EXPECT_EQ(run("map matrix " + (folder / "none.csv").string()).status, 3);
    EXPECT_EQ(run("map matrix " + keypad_demo + " --json").json()["keys"], 47);
}

TEST_F(MapVerbs, DescriptorsGoOutAndComeBack) {
    const auto out = (folder / "d.bin").string();
    const auto a = run("map descriptor --profile pointer:buttons=3,wheel=0 --out " + out + " --json").json();
    EXPECT_EQ(a["report_bytes"], 3);
    EXPECT_EQ(test::read_file(out).size(), 50U) << "as in HID 1.11, appendix E.10";
    const auto back = run("map descriptor-read " + out + " --json");
    EXPECT_EQ(back.status, 0);
    const auto j = back.json();
    EXPECT_EQ(keys(j), (std::vector<std::string>{"problems", "reports"}));
    const auto& field = j["reports"][0]["fields"][1];
    EXPECT_EQ(field["usages"], nlohmann::json::parse("[[1,48],[1,49]]"));
    EXPECT_EQ(field["bit"], 8);
    EXPECT_EQ(field["relative"], true);
    EXPECT_EQ(field["logical_min"], -127);
    EXPECT_EQ(run("map descriptor-read --hex '05 01 09'").status, 1);
    const auto wrong = run("map descriptor-read --hex '05 0X'");
    EXPECT_EQ(wrong.status, 3);
    EXPECT_THAT(wrong.err, testing::StartsWith("--hex:1: found \"0X\""));
    EXPECT_EQ(run("map descriptor --profile mouse").status, 2);
    EXPECT_EQ(run("map descriptor-read").status, 3);
}

TEST_F(MapVerbs, TextSaysWhatItCannotType) {
    const auto a = run("map text 'a€' --layout us --json");
    EXPECT_EQ(a.status, 1);
    EXPECT_EQ(a.json()["unreachable"], nlohmann::json::parse("[\"€\"]"));
    EXPECT_EQ(a.json()["reports_hex"].size(), 2U);
    EXPECT_EQ(run("map text 'AB' --json").json()["reports_hex"].size(), 8U);
    EXPECT_EQ(run("map text 'AB' --merge --json").json()["reports_hex"].size(), 6U);
    const auto wrong = run("map text a --layout moon");
    EXPECT_EQ(wrong.status, 2);
    EXPECT_THAT(wrong.err, testing::HasSubstr("de, fr, uk, us"));
}

TEST_F(MapVerbs, PointerCarriesWhatItDoesNotSend) {
    const auto moves = write("m.csv", "counts\n3\n3\n-7\n40\n0\n0\n0\n");
    const auto j = run("map pointer " + moves + " --counts-per-step 4 --dead 10 --limit 13 --json").json();
    EXPECT_EQ(j["out"], nlohmann::json::parse("[0,11,-11,13,13,13,0]"));
    EXPECT_EQ(j["carried"], 3);
    EXPECT_EQ(j["lost"], 0);
    EXPECT_EQ(run("map pointer " + moves + " --counts-per-step 0").status, 2);
    EXPECT_EQ(run("map pointer " + moves + " --counts-per-step 4 --dead 13 --limit 13").status, 2);
    const auto falls = write("c.csv", "out,speed\n0,0\n5,3\n9,1\n");
    const auto wrong = run("map pointer " + moves + " --counts-per-step 4 --curve " + falls);
    EXPECT_EQ(wrong.status, 3);
    EXPECT_THAT(wrong.err, testing::HasSubstr("c.csv:4:"));
}

TEST_F(MapVerbs, ReportsAreUnderstood) {
    const auto dump = write("d.txt", "0: 02 00 00 00 00 00 00 00\n0.008: 02 00 04 00 00 00 00 00\n");
    const auto a = run("map reports " + dump + " --layout us --json");
    EXPECT_EQ(a.status, 1) << "two keys stay down";
    EXPECT_EQ(a.json()["text"], "A");
    EXPECT_EQ(a.json()["stuck"], nlohmann::json::parse("[[7,4],[7,225]]"));
}

TEST_F(MapVerbs, TheDemosMapIsCheckedExportedAndCompared) {
    const auto check = run("map check " + keypad_demo + " --json");
    EXPECT_EQ(check.status, 1) << "00 is carried by nothing";
    EXPECT_EQ(check.json()["codes"], 47);
    EXPECT_EQ(check.json()["codes_with_meaning"], 45);
    for (const auto* name : {"map.h", "map.json", "map.csv"}) {
        const auto out = (folder / name).string();
        EXPECT_EQ(run("map export " + keypad_demo + " " + out + " --json").json()["entries"], 47);
        EXPECT_FALSE(test::read_file(out).empty());
    }
    EXPECT_EQ(run("map export " + keypad_demo + " " + (folder / "map.pdf").string()).status, 2);
    EXPECT_EQ(run("map compare " + keypad_demo + " " + (folder / "map.json").string()).status, 0);
    auto text = test::read_file(folder / "map.csv");
    text.replace(text.find("key:f1,"), 7, "key:f9,");
    const auto edited = write("edited.csv", text);
    const auto diff = run("map compare " + keypad_demo + " " + edited + " --json");
    EXPECT_EQ(diff.status, 1);
    ASSERT_EQ(diff.json()["changes"].size(), 1U);
    EXPECT_EQ(diff.json()["changes"][0]["after"], "key:f9");
    const auto copy = folder / "copy.relic";
    std::filesystem::copy(keypad_demo, copy, std::filesystem::copy_options::recursive);
    EXPECT_EQ(run("map compare " + copy.string() + " " + edited + " --take").status, 0);
    EXPECT_EQ(run("map compare " + copy.string() + " " + edited).status, 0);
    const auto form = write("form.txt", "{code}: {meaning}\n{nothing}\n");
    const auto wrong =
        run("map export " + keypad_demo + " " + (folder / "own.txt").string() + " --form " + form);
    EXPECT_EQ(wrong.status, 3);
    EXPECT_THAT(wrong.err, testing::HasSubstr("form.txt:2: found \"{nothing}\""));
    EXPECT_FALSE(std::filesystem::exists(folder / "own.txt")) << "never half a file";
}

}  // namespace
}  // namespace grayrelic
