// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli board …: keys, statuses, places.
#include <fmt/format.h>

#include "tests/cli/run.hpp"
#include "tests/unseen/fab_boards.hpp"

namespace grayrelic {
namespace {

using test::keys;
using test::run;
using test::TempFolder;
using testing::HasSubstr;

class BoardVerbs : public testing::Test {
  protected:
    void make(std::uint64_t seed, bool faults) {
        ::unseen::FabWish wish;
        wish.faults = faults;
        board = ::unseen::fab_board(seed, wish);
        std::filesystem::create_directory(folder / "fab");
        for (const auto& [name, text] : board.files) test::write_file(folder / "fab" / name, text);
        test::write_file(folder / "pads.csv", board.pads_csv);
        test::write_file(folder / "nets.csv", board.nets_csv);
    }
    [[nodiscard]] std::string at(const char* name) const { return (folder / name).string(); }
    ::unseen::FabBoard board;
    TempFolder folder;
};

TEST_F(BoardVerbs, ReadGivesSizeFilesAndHoles) {
    make(5, false);
    const auto a = run("board read " + at("fab") + " --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto j = a.json();
    EXPECT_NEAR(j["size_mm"][0].get<double>(), board.width_mm, 0.01);
    EXPECT_NEAR(j["size_mm"][1].get<double>(), board.height_mm, 0.01);
    EXPECT_EQ(j["files"].size(), board.files.size());
    EXPECT_EQ(keys(j["holes"][0]), (std::vector<std::string>{"count", "mm", "plated", "slots"}));
    EXPECT_TRUE(j["problems"].empty()) << j["problems"].dump();
    EXPECT_EQ(run("board read " + at("pads.csv")).status, 3);
    EXPECT_EQ(run("board read " + at("none")).status, 3);
    test::write_file(folder / "fab" / "copper-top.gbr", "%FSLAX33Y33*%\n%MOMM*%\nX1Y");
    const auto cut = run("board read " + at("fab") + " --json");
    EXPECT_EQ(cut.status, 3);
    EXPECT_THAT(cut.err, HasSubstr("copper-top.gbr:3: found"));
    EXPECT_EQ(cut.json()["files"].size(), board.files.size()) << "the others are read";
    EXPECT_EQ(run("board rules " + at("fab") + " --process house-basic").status, 3)
        << "a board that was not read whole is not judged";
}

TEST_F(BoardVerbs, NetsAgainstANetlist) {
    make(8, false);
    const auto args = "board nets " + at("fab") + " --pads " + at("pads.csv");
    const auto plain = run(args + " --json");
    EXPECT_EQ(plain.status, 0) << plain.err;
    EXPECT_TRUE(plain.json()["same"].is_null());
    const auto held = run(args + " --against " + at("nets.csv") + " --json");
    EXPECT_EQ(held.status, 0);
    EXPECT_EQ(held.json()["same"], board.same);
    EXPECT_TRUE(held.json()["joined"].empty());
    EXPECT_TRUE(held.json()["split"].empty());
    // Two nets made one in the list: it is open on the board.
    auto wrong = board.nets_csv;
    for (auto i = wrong.find("N1,"); i != std::string::npos; i = wrong.find("N1,", i))
        wrong.replace(i, 3, "N0,");
    test::write_file(folder / "wrong.csv", wrong);
    const auto open = run(args + " --against " + at("wrong.csv") + " --json");
    EXPECT_EQ(open.status, 1);
    EXPECT_EQ(open.json()["split"][0]["net"], "N0");
    EXPECT_EQ(open.json()["split"][0]["pieces"].size(), 2U);
    EXPECT_EQ(run("board nets " + at("fab")).status, 2) << "no pads";
    test::write_file(folder / "bad.csv", "ref,pin,x_mm,y_mm,side\nJ1,1,0,0,inside\n");
    const auto bad = run("board nets " + at("fab") + " --pads " + at("bad.csv"));
    EXPECT_EQ(bad.status, 3);
    EXPECT_THAT(bad.err, HasSubstr("bad.csv:2: found"));
}

TEST_F(BoardVerbs, FaceOfANineContactPlug) {
    make(5, false);
    // IEC 60807: into the plug, contact 1 upper left, 2.77 apart, rows 2.84 apart; here turned by 90° about
    // the origin.
    std::string plug = "ref,pin,x_mm,y_mm,side\n", mirrored = plug;
    for (int n = 1; n <= 9; ++n) {
        const double x = n <= 5 ? (n - 3) * 2.77 : (n - 7.5) * 2.77, y = n <= 5 ? 1.42 : -1.42;
        plug += fmt::format("J1,{},{},{},both\n", n, -y, x);
        mirrored += fmt::format("J1,{},{},{},both\n", n, y, x);
    }
    test::write_file(folder / "plug.csv", plug);
    test::write_file(folder / "mirrored.csv", mirrored);
    const auto ask = [&](const char* pads, const char* rest) {
        return run("board face " + at("fab") + " --pads " + at(pads) + " --ref J1 --connector dsub-9 " +
                   rest + " --json");
    };
    const auto fine = ask("plug.csv", "--gender plug");
    EXPECT_EQ(fine.status, 0);
    EXPECT_EQ(fine.json()["is"], "as-drawn");
    EXPECT_EQ(fine.json()["verdict"], "holds");
    EXPECT_EQ(fine.json()["rotation_deg"], 90);
    const auto stop = ask("mirrored.csv", "--gender plug");
    EXPECT_EQ(stop.status, 1);
    EXPECT_EQ(stop.json()["is"], "mirrored");
    // Below the board the same pads are a plug's mirror image, and so right for it.
    EXPECT_EQ(ask("mirrored.csv", "--gender plug --side bottom").json()["is"], "as-drawn");
    EXPECT_EQ(ask("plug.csv", "").json()["is"], "mirrored") << "a socket's face, unless the gender is said";
    EXPECT_EQ(ask("plug.csv", "--gender both").status, 2);
    EXPECT_EQ(
        run("board face " + at("fab") + " --pads " + at("plug.csv") + " --ref J7 --connector dsub-9").status,
        2);
    EXPECT_EQ(
        run("board face " + at("fab") + " --pads " + at("plug.csv") + " --ref J1 --connector nothing").status,
        2);
}

TEST_F(BoardVerbs, RulesOfAProcess) {
    make(5, false);
    const auto basic = run("board rules " + at("fab") + " --process house-basic --json");
    EXPECT_EQ(basic.status, 0) << basic.out;
    EXPECT_EQ(basic.json()["makeable"], true);
    const auto toner = run("board rules " + at("fab") + " --process home-toner --json");
    EXPECT_EQ(toner.status, 1);
    EXPECT_EQ(toner.json()["makeable"], false);
    EXPECT_FALSE(toner.json()["to_do"].empty());
    for (const auto& v : toner.json()["violations"])
        EXPECT_TRUE(v.contains("limit_mm") && v.contains("x_mm") && v.contains("file"));
    const auto unknown = run("board rules " + at("fab") + " --process laser");
    EXPECT_EQ(unknown.status, 2);
    EXPECT_THAT(unknown.err, HasSubstr("home-photo"));
}

}  // namespace
}  // namespace grayrelic
