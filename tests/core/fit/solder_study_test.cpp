// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/solder_study.hpp"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/board/zip_folder.hpp"
#include "core/fit/board_states.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic {
namespace {

using ::testing::HasSubstr;

struct Flash {
    double x, y;
    bool top = true, bottom = true;
    double hole = 0.8, size = 1.6;
};
struct Track {
    std::size_t from, to;
    bool top;
};

std::string layer(const char* function, const std::vector<Flash>& flashes, const std::vector<Track>& tracks,
                  bool top) {
    std::string out = fmt::format("%FSLAX46Y46*%\n%MOMM*%\n%TF.FileFunction,{}*%\n%ADD11C,0.3*%\n", function);
    const auto at = [](double mm) { return static_cast<long long>(mm * 1e6 + (mm < 0 ? -0.5 : 0.5)); };
    for (std::size_t i = 0; i < flashes.size(); ++i)
        out += fmt::format("%ADD{}C,{}*%\n", 20 + i, flashes[i].size);
    for (std::size_t i = 0; i < flashes.size(); ++i)
        if (top ? flashes[i].top : flashes[i].bottom)
            out += fmt::format("D{}*\nX{}Y{}D03*\n", 20 + i, at(flashes[i].x), at(flashes[i].y));
    out += "D11*\n";
    for (const auto& t : tracks)
        if (t.top == top)
            out += fmt::format("X{}Y{}D02*\nX{}Y{}D01*\n", at(flashes[t.from].x), at(flashes[t.from].y),
                               at(flashes[t.to].x), at(flashes[t.to].y));
    return out + "M02*\n";
}

/// A board as its files have it, with the pads of parts as said.
FabricationAnalysis board(const std::vector<Flash>& flashes, const std::vector<Track>& tracks, BoardPads pads,
                          const char* process) {
    PackedFolder folder;
    folder.files.push_back({"top.gbr", layer("Copper,L1,Top", flashes, tracks, true)});
    folder.files.push_back({"bottom.gbr", layer("Copper,L2,Bot", flashes, tracks, false)});
    std::string drill = "M48\nMETRIC,TZ\n";
    for (std::size_t i = 0; i < flashes.size(); ++i)
        if (flashes[i].hole > 0) drill += fmt::format("T{}C{:.2f}\n", i + 1, flashes[i].hole);
    drill += "%\n";
    for (std::size_t i = 0; i < flashes.size(); ++i)
        if (flashes[i].hole > 0)
            drill += fmt::format("T{}\nX{:.3f}Y{:.3f}\n", i + 1, flashes[i].x, flashes[i].y);
    folder.files.push_back({"holes.drl", drill + "M30\n"});
    Progress progress;
    auto read = std::make_shared<ReadBoard>();
    read->files = board_of(folder, "test", progress);
    read->copper = copper_of(read->files, progress).value();
    FabricationAnalysis a;
    a.read = read;
    a.pads = std::move(pads);
    const auto data = DataLibrary::load_installed();
    if (*process != '\0') a.process = std::make_shared<BoardProcess>(*data->processes.find(process));
    return a;
}

SolderAdvice advice(const char* ref, const char* package, double chance = 0.9) {
    SolderAdvice s;
    s.part = "a part";
    s.refs = {ref};
    s.package = package;
    s.chance = chance;
    s.own_record = true;
    s.verdict = Verdict::holds;
    return s;
}

BoardPad pad_at(const char* ref, const char* pin, double x, double y, PadSide side = PadSide::both) {
    return {ref, pin, {from_mm(x), from_mm(y)}, side, {}, {}, 0};
}

const PackageLibrary& packages() {
    static const auto data = DataLibrary::load_installed();
    return data->packages;
}

const SolderTroubleAt* trouble(const SolderStudy& s, SolderTrouble kind) {
    for (const auto& t : s.troubles)
        if (t.kind == kind) return &t;
    return nullptr;
}

TEST(SolderStudies, MultiplyTheChancesOfAllParts) {
    auto unknown = advice("L1", "a coil");
    unknown.known = false;
    auto chips = advice("U1", "dip-16");
    chips.refs = {"U1", "U2"};
    const auto s = solder_study({chips, unknown}, nullptr, packages(), {});
    EXPECT_EQ(s.parts.size(), 3U);
    EXPECT_EQ(s.joints, 32);
    EXPECT_NEAR(s.chance, 0.81, 1e-12);
    EXPECT_EQ(s.unknown, std::vector<std::string>{"L1"});
    EXPECT_EQ(s.without_record, 0);
    EXPECT_TRUE(s.troubles.empty());
}

TEST(SolderStudies, WithoutAMaskFinePitchBridges) {
    // Of 0.65 mm pitch less than 0.4 mm lies between the pads, of 1.27 mm more.
    for (const auto& [package, process, bridges] : {std::tuple("tssop-16", "home-toner", true),
                                                    {"tssop-16", "house-basic", false},
                                                    {"soic-16", "home-toner", false},
                                                    {"tssop-16", "", false}}) {
        const auto b = board({}, {}, {}, process);
        const auto s = solder_study({advice("U1", package)}, &b, packages(), {});
        EXPECT_EQ(trouble(s, SolderTrouble::bridges) != nullptr, bridges) << package << " " << process;
        EXPECT_NEAR(s.chance, bridges ? 0.72 : 0.9, 1e-12);
    }
}

TEST(SolderStudies, APadBelowTheBodyAsksForAHole) {
    const auto four = [](double hole) {
        std::vector<Flash> f;
        if (hole > 0) f.push_back({10, 10, true, true, hole, hole + 0.6});
        return board(f, {}, {pad_at("U1", "1", 8, 12, PadSide::top), pad_at("U1", "9", 12, 8, PadSide::top)},
                     "house-basic");
    };
    const auto closed = four(0), small = four(0.4), open = four(1.8);
    auto a = advice("U1", "qfn-16");
    if (!packages().find("qfn-16")) GTEST_FAIL() << "no such package in the data";
    ASSERT_TRUE(packages().find("qfn-16")->shape->belly);
    Bench iron;
    EXPECT_EQ(trouble(solder_study({a}, &closed, packages(), iron), SolderTrouble::belly_closed)->verdict,
              Verdict::stop);
    EXPECT_THAT(trouble(solder_study({a}, &small, packages(), iron), SolderTrouble::belly_closed)->says,
                HasSubstr("the largest hole in it has 0.4 mm"));
    const auto s = solder_study({a}, &open, packages(), iron);
    EXPECT_EQ(trouble(s, SolderTrouble::belly_closed), nullptr);
    EXPECT_THAT(trouble(s, SolderTrouble::belly_hole)->says, HasSubstr("1.8 mm"));
    Instrument hot;
    hot.kind = InstrumentKind::hot_air;
    iron.instruments.push_back(hot);
    EXPECT_TRUE(solder_study({a}, &closed, packages(), iron).troubles.empty());
}

TEST(SolderStudies, PadsThatEndWithTheLeads) {
    const double whole = packages().find("soic-8")->shape->pad_length;
    for (const bool is_short : {false, true}) {
        const double size = is_short ? whole - 0.7 : whole;
        const auto b = board(
            {{5, 5, true, false, 0, size}, {5, 6.27, true, false, 0, size}}, {},
            {pad_at("U1", "1", 5, 6.27, PadSide::top), pad_at("U1", "2", 5, 5, PadSide::top)}, "house-basic");
        // 1.27 mm are easily soldered whatever the pads; of 0.65 mm it matters.
        EXPECT_EQ(
            trouble(solder_study({advice("U1", "soic-8")}, &b, packages(), {}), SolderTrouble::short_pads),
            nullptr);
    }
    const double fine =
        std::max(packages().find("tssop-8")->shape->pad_length, packages().find("tssop-8")->shape->pad_width);
    for (const bool is_short : {false, true}) {
        const double size = is_short ? fine - 0.7 : fine;
        const auto b =
            board({{5, 5, true, false, 0, size}}, {}, {pad_at("U1", "1", 5, 5, PadSide::top)}, "house-basic");
        const auto s = solder_study({advice("U1", "tssop-8")}, &b, packages(), {});
        EXPECT_EQ(trouble(s, SolderTrouble::short_pads) != nullptr, is_short);
    }
}

TEST(SolderStudies, UnplatedHolesWithTracksOnBothSidesAreSolderedTwice) {
    // Pins 10.16 mm apart; a track leads on from pin 1 on either side, from pin 2 only below.
    const std::vector<Flash> flashes{{10, 10}, {20.16, 10}, {10, 20}, {30, 10}};
    const std::vector<Track> tracks{{0, 2, true}, {0, 3, false}, {1, 3, false}};
    const BoardPads pads{pad_at("R1", "1", 10, 10), pad_at("R1", "2", 20.16, 10)};
    const auto home = board(flashes, tracks, pads, "home-photo");
    auto s = solder_study({advice("R1", "axial-10.16")}, &home, packages(), {});
    ASSERT_NE(trouble(s, SolderTrouble::both_sides), nullptr);
    EXPECT_EQ(trouble(s, SolderTrouble::both_sides)->pins, std::vector<std::string>{"1"});
    EXPECT_EQ(s.joints, 3);
    EXPECT_EQ(s.twice, 1);
    EXPECT_EQ(s.wires, 0);
    const auto house = board(flashes, tracks, pads, "house-basic");
    s = solder_study({advice("R1", "axial-10.16")}, &house, packages(), {});
    EXPECT_TRUE(s.troubles.empty());
    EXPECT_EQ(s.joints, 2);
    // A header's body stands over its own pins: nobody gets there from above.
    const BoardPads pins{pad_at("J1", "1", 10, 10), pad_at("J1", "2", 12.54, 10)};
    const auto strip =
        board({{10, 10}, {12.54, 10}, {10, 20}, {30, 10}}, {{0, 2, true}, {0, 3, false}}, pins, "home-photo");
    s = solder_study({advice("J1", "header-1x2")}, &strip, packages(), {});
    ASSERT_NE(trouble(s, SolderTrouble::body_over), nullptr);
    EXPECT_EQ(trouble(s, SolderTrouble::body_over)->verdict, Verdict::stop);
    // A hole without a part wants a wire.
    const auto via = board({{10, 10}, {20, 10}, {10, 20}}, {{0, 1, true}, {0, 2, false}}, {}, "home-photo");
    EXPECT_EQ(solder_study({}, &via, packages(), {}).wires, 1);
}

TEST(BoardStates, SayWhatIsDrawnOrderedAndHere) {
    Dossier d;
    Fabrication low, up;
    low.id = "low";
    low.title = "Tile";
    low.file = "boards/low.zip";
    up.id = "up";
    d.boards = Section(std::vector<Fabrication>{low, up});
    Supply supply;
    const auto order = [&](const char* id, const char* part, int count, const char* arrived,
                           const char* sha) {
        Order o;
        o.id = id;
        o.lines = {{part, count, {}}};
        o.ordered = "2026-11-20";
        o.expected_to = "2026-12-04";
        o.arrived = arrived;
        if (*sha != '\0') o.files = {{"low.zip", sha, {}}};
        supply.orders.push_back(o);
    };
    const auto says = [&](std::size_t i) {
        d.supply = Section(supply);
        return board_states(d, {{"low", "bb"}})[i].says;
    };
    EXPECT_EQ(says(0), "drawn, not ordered");
    EXPECT_EQ(says(1), "not drawn yet");
    order("1", "board Tile", 5, "", "bb");
    order("2", "74x165 hct", 9, "", "");
    EXPECT_EQ(says(0), "5 ordered 2026-11-20, expected 2026-12-04");
    supply.orders[0].arrived = "2026-12-02";
    EXPECT_EQ(says(0), "5 here");
    order("3", "board low", 10, "2026-10-01", "aa");
    EXPECT_EQ(says(0), "15 here, 10 of an older state");
    order("4", "board up", 2, "", "");
    EXPECT_EQ(says(1), "2 ordered 2026-11-20, expected 2026-12-04");
    EXPECT_FALSE(board_states(d, {})[0].batches[0].older.has_value())
        << "without the archive nothing can be compared";
}

}  // namespace
}  // namespace grayrelic
