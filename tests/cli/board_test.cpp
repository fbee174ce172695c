// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli board …: keys, statuses, places.
#include <fmt/format.h>

#include <cmath>
#include <set>

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

/// A package of eight pins, 2.54 apart, rows 7.62 (the dimensions that everybody drills): pin 1 upper left.
std::string eight_holes(double x, double y) {
    std::string out = "M48\nMETRIC\nT1C0.8\n%\nT1\n";
    for (int n = 1; n <= 8; ++n)
        out += fmt::format("X{:.3f}Y{:.3f}\n", x + (n <= 4 ? -3.81 : 3.81),
                           y + (n <= 4 ? (2.5 - n) : (n - 6.5)) * 2.54);
    return out + "X50.000Y50.000\nM30\n";
}

TEST_F(BoardVerbs, PartsAreFoundByTheirPadsAndPlacedByATable) {
    std::filesystem::create_directory(folder / "fab");
    test::write_file(folder / "fab/copper-top.gbr",
                     "%FSLAX33Y33*%\n%MOMM*%\n%ADD10C,1*%\nD10*\nX50000Y50000D03*\nM02*\n");
    test::write_file(folder / "fab/holes.drl", eight_holes(20, 15));
    const auto find = "board find " + at("fab") + " --package dip-8 --json --ref U1 --side top";
    const auto two = run(find);
    EXPECT_EQ(two.status, 0) << two.err;
    ASSERT_EQ(two.json()["ways"].size(), 2U) << "it may stand either way round";
    EXPECT_EQ(keys(two.json()["ways"][0]),
              (std::vector<std::string>{"pads", "residual_mm", "side", "turn_deg", "x_mm", "y_mm"}));
    const auto one = run(find + " --at 1=16.19,18.81");
    ASSERT_EQ(one.json()["ways"].size(), 1U);
    EXPECT_NEAR(one.json()["ways"][0]["x_mm"].get<double>(), 20, 0.01);
    EXPECT_EQ(run("board find " + at("fab") + " --package dip-16").status, 1);
    EXPECT_EQ(run("board find " + at("fab")).status, 2);
    EXPECT_EQ(run(find + " --at here").status, 2);
    test::write_file(folder / "parts.csv",
                     "ref,mid x,mid y,rotation,layer,package\nU1,20.1mm,15mm,180,top,dip-8\nR1,1,1,0,top,\n");
    const auto placed = run("board place " + at("fab") + " --placements " + at("parts.csv") + " --out " +
                            at("pads.csv") + " --json");
    EXPECT_EQ(placed.status, 1) << "of R1 nothing is known";
    EXPECT_EQ(placed.json()["parts"][0]["pads"].size(), 8U);
    EXPECT_THAT(placed.json()["parts"][1]["problem"].get<std::string>(), HasSubstr("package is not known"));
    // Turned by half, pin 1 lies where pin 5 lay.
    EXPECT_THAT(test::read_file(folder / "pads.csv"), HasSubstr("U1,1,23.8100,11.1900,both"));
    test::write_file(folder / "parts.csv", "ref,x\n");
    const auto broken = run("board place " + at("fab") + " --placements " + at("parts.csv"));
    EXPECT_EQ(broken.status, 3);
    EXPECT_THAT(broken.err, HasSubstr("parts.csv:1: found a heading without y"));
}

TEST_F(BoardVerbs, FitAndOrderAnswerAsTheyAreWritten) {
    // 12.4 −1.6 −8.5 −0.2 = 2.1; least 12.3 −1.7 −9.0 −0.2 = 1.4; most 12.6 −1.5 −8.3 −0.2 = 2.6
    test::write_file(folder / "s.csv",
                     "what,mm,plus,minus,sign\nlid,12.4,0.2,0.1,+\nboard,1.6,0.1,0.1,-\nmodule,8.5,0.5,0.2,-"
                     "\njoint,0.2,0,0,-\n");
    const auto fit = run("board fit " + at("s.csv") + " --json");
    EXPECT_EQ(fit.status, 0) << fit.err;
    EXPECT_EQ(keys(fit.json()), (std::vector<std::string>{"nominal_mm", "rss_max_mm", "rss_min_mm", "verdict",
                                                          "worst_max_mm", "worst_min_mm"}));
    EXPECT_DOUBLE_EQ(fit.json()["nominal_mm"].get<double>(), 2.1);
    EXPECT_DOUBLE_EQ(fit.json()["worst_min_mm"].get<double>(), 1.4);
    EXPECT_EQ(fit.json()["verdict"], "holds");
    test::write_file(folder / "s.csv", "what,mm,plus,minus,sign\nlid,9,0,0,+\nmodule,9,0,0,-\n");
    EXPECT_EQ(run("board fit " + at("s.csv")).status, 1);
    test::write_file(folder / "s.csv", "what,mm,plus,minus,sign\nlid,9,0,-1,+\n");
    EXPECT_EQ(run("board fit " + at("s.csv")).status, 3);
    EXPECT_EQ(run("board fit " + at("none.csv")).status, 3);

    test::write_file(folder / "t.csv", "quantity,price,shipping\n3,6,4\n5,9,4\n10,14,4\n");
    const auto order = run("board order " + at("t.csv") + " --want 3 --yield 0.8 --respin 0.25 --json");
    EXPECT_EQ(order.status, 0) << order.err;
    EXPECT_EQ(order.json()["best"]["quantity"], 5);
    EXPECT_NEAR(order.json()["best"]["cost"].get<double>(), 16.25, 1e-9);  // 13 × 1.25
    EXPECT_NEAR(order.json()["best"]["per_working"].get<double>(), 4.0625, 1e-9);
    EXPECT_EQ(order.json()["rows"].size(), 3U);
    EXPECT_EQ(
        keys(order.json()["rows"][0]),
        (std::vector<std::string>{"chance_of_want", "cost", "expected_working", "per_working", "quantity"}));
    const auto none = run("board order " + at("t.csv") + " --want 40 --yield 0.8 --json");
    EXPECT_EQ(none.status, 1);
    EXPECT_TRUE(none.json()["best"].is_null());
    for (const char* wrong : {" --want 0 --yield 0.8", " --want 2 --yield 0", " --want 2 --yield 1.2",
                              " --want 2", " --want 2 --yield 0.8 --respin 2"})
        EXPECT_EQ(run("board order " + at("t.csv") + wrong).status, 2) << wrong;
}

/// The page's own figures, read from the file: a hole of the board lies as far from another as the board has
/// it.
TEST_F(BoardVerbs, TheTemplateIsTrueToScale) {
    std::filesystem::create_directory(folder / "fab");
    test::write_file(
        folder / "fab/copper-top.gbr",
        "%FSLAX33Y33*%\n%MOMM*%\n%ADD10C,1*%\nD10*\nX0Y0D03*\nX50000Y0D03*\nX50000Y30000D03*\nM02*\n");
    test::write_file(folder / "fab/holes.drl",
                     "M48\nMETRIC\nT1C0.8\n%\nT1\nX0.0Y0.0\nX50.0Y0.0\nX50.0Y30.0\nM30\n");
    const auto made = run("board template " + at("fab") + " " + at("t.svg") + " --json");
    EXPECT_EQ(made.status, 0) << made.err;
    const auto svg = test::read_file(folder / "t.svg");
    // The sheet: 210 mm are so many of its units.
    const auto number_after = [&](const std::string& text, std::size_t from) {
        return std::stod(svg.substr(svg.find(text, from) + text.size()));
    };
    const auto view = svg.find("viewBox=\"0 0 ");
    const double unit = 210.0 / number_after("viewBox=\"0 0 ", view);
    EXPECT_THAT(svg, HasSubstr("width=\"210mm\""));
    std::vector<std::pair<double, double>> circles;
    for (auto c = svg.find("<circle"); c != std::string::npos; c = svg.find("<circle", c + 1))
        circles.emplace_back(number_after("cx=\"", c) * unit, number_after("cy=\"", c) * unit);
    ASSERT_GE(circles.size(), 3U);
    std::set<long> apart;
    for (const auto& a : circles)
        for (const auto& b : circles)
            apart.insert(std::lround(std::hypot(a.first - b.first, a.second - b.second) * 20));
    // 50, 30 and the diagonal of 50 and 30 (58.31), within a twentieth
    EXPECT_EQ(apart, (std::set<long>{0, 600, 1000, 1166}));
    EXPECT_EQ(run("board template " + at("fab") + " " + at("t.svg") + " --side left").status, 2);
}

}  // namespace
}  // namespace grayrelic
