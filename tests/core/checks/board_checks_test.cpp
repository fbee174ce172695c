// SPDX-License-Identifier: GPL-3.0-or-later
// Fabrication files in a dossier: what is found in them, and the demos' boards.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/board/board_analysis.hpp"
#include "core/checks/analyse.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "standin/fab_dossier.hpp"
#include "standin/sound_tile.hpp"
#include "tests/core/helpers.hpp"
#include "tests/unseen/fab_boards.hpp"

namespace grayrelic {
namespace {

using testing::Contains;
using testing::Not;

std::shared_ptr<const DataLibrary> board_data() {
    static const auto data = DataLibrary::load(disk(), {test::source_folder() / "data"});
    return data;
}

std::shared_ptr<const Analysis> judged(const Dossier& d, const std::filesystem::path& folder) {
    CaptureStore store;
    Progress progress;
    return *analyse(d, folder, store, progress, nullptr, board_data());
}

std::multiset<std::string> board_findings(const Analysis& a, Severity least = Severity::note) {
    std::multiset<std::string> out;
    for (const auto& f : a.findings)
        if (f.stage == Stage::board && static_cast<int>(f.severity) <= static_cast<int>(least))
            out.insert(f.id);
    return out;
}

class BoardChecks : public testing::Test {
  protected:
    void SetUp() override {
        ::unseen::FabWish wish;
        wish.faults = false;
        made = ::unseen::fab_board(8, wish);
        PackedFolder packed;
        for (const auto& [name, text] : made.files) packed.files.push_back({name, text});
        test::write_file(folder / "b.zip", *pack(packed));
        Fabrication f;
        f.id = "main";
        f.outside = (folder / "b.zip").string();
        f.against = "meant";
        const auto pads = read_pads(made.pads_csv, "pads.csv");
        for (const auto& p : *pads)
            f.pads.push_back({p.ref, p.pin, to_mm(p.at.x), to_mm(p.at.y), StandsOn::pads});
        NetSource list;
        list.id = "meant";
        list.nets = read_net_csv(made.nets_csv, "nets.csv")->nets;
        dossier = put(put(Dossier{}, std::move(list)), std::move(f));
    }
    Dossier with(const std::function<void(Fabrication&)>& change) {
        return edit<Fabrication>(dossier, "main", change);
    }
    test::TempFolder folder;
    ::unseen::FabBoard made;
    Dossier dossier;
};

TEST_F(BoardChecks, WhatIsAsMeantIsNotAFinding) {
    const auto a = judged(with([](Fabrication& f) { f.process = "house-basic"; }), folder.path());
    EXPECT_THAT(board_findings(*a, Severity::doubt), testing::IsEmpty());
    EXPECT_EQ(a->board->boards.front()->nets.same, made.same);
}

TEST_F(BoardChecks, OpenJoinedAndExchangedNets) {
    // Two contacts exchanged in the list: the copper is right, the list wrong; the finding names both.
    auto wrong = dossier.trace->netlists.front();
    std::swap(wrong.nets[0].points[0], wrong.nets[1].points[0]);
    const auto ids = board_findings(*judged(put(dossier, wrong), folder.path()), Severity::stop);
    EXPECT_TRUE(ids.count("board-exchanged") + ids.count("board-nets-joined") > 0);
    auto one = dossier.trace->netlists.front();
    one.nets[0].points.insert(one.nets[0].points.end(), one.nets[1].points.begin(), one.nets[1].points.end());
    one.nets.erase(one.nets.begin() + 1);
    EXPECT_THAT(board_findings(*judged(put(dossier, one), folder.path()), Severity::stop),
                Contains("board-net-open"));
}

TEST_F(BoardChecks, AVanishedFileAndAnUnchosenProcessAreSaid) {
    EXPECT_THAT(board_findings(*judged(dossier, folder.path())), Contains("board-process"));
    std::filesystem::remove(folder / "b.zip");
    EXPECT_THAT(board_findings(*judged(dossier, folder.path())), Contains("board-unreadable"));
}

TEST_F(BoardChecks, NoisyNetsBesideDelicateOnes) {
    const auto d = with([&](Fabrication& f) {
        f.kinds = {{"N0", NetKind::clock}, {"N1", NetKind::picture}};
        f.apart_mm = 3;
    });
    EXPECT_THAT(board_findings(*judged(d, folder.path()), Severity::doubt), Contains("nets-too-near"));
    EXPECT_THAT(
        board_findings(*judged(with([](Fabrication& f) { f.apart_mm = 3; }), folder.path()), Severity::doubt),
        Not(Contains("nets-too-near")));
}

TEST_F(BoardChecks, ItAllComesBackFromItsFile) {
    const auto d = with([](Fabrication& f) {
        f.outside.clear();
        f.file = "boards/b.zip";
        f.title = "Adapter";
        f.process = "home-photo";
        f.roles = {{"a.gbr", "mask-top"}};
        f.connectors = {{"J1", "J1", "dsub-9", "standard", StandsOn::bottom, Half::plug}};
        f.kinds = {{"CLK", NetKind::clock}};
        f.apart_mm = 2.5;
        f.note = "n";
    });
    const auto named = edit(d, &Dossier::about, [](About& a) { a.name = "Boards"; });
    const auto again = dossier_from_json(dossier_to_json(named), "d.json");
    ASSERT_TRUE(again) << again.error().message();
    EXPECT_EQ(*again->boards, *d.boards);
}

TEST(BoardNames, TellKinds) {
    EXPECT_EQ(kind_told("CLK14"), NetKind::clock);
    EXPECT_EQ(kind_told("Video out"), NetKind::picture);
    EXPECT_EQ(kind_told("AUDIO_L"), NetKind::sound);
    EXPECT_EQ(kind_told("D7"), NetKind::plain);
}

std::shared_ptr<const Analysis> demo(const char* name) {
    const auto folder = test::source_folder() / "demos" / name;
    return judged(*load_dossier(folder), folder);
}

TEST(BoardDemos, TheDialPadsAdapterHolds) {
    const auto a = demo("calder-dial-pad.relic");
    // Its files hold; of its case a height is assumed that decides.
    EXPECT_EQ(board_findings(*a, Severity::doubt),
              (std::multiset<std::string>{"fit-assumed", "fits-barely"}));
    const auto& b = *a->board->boards.front();
    EXPECT_EQ(b.nets.same, b.nets.named);
    ASSERT_FALSE(b.faces.empty());
    EXPECT_EQ(b.faces.front().match.is, FaceIs::as_drawn);
}

TEST(BoardDemos, ThePageCardHasThreeFaults) {
    const auto stops = board_findings(*demo("calder-page-card.relic"), Severity::stop);
    EXPECT_EQ(stops, (std::multiset<std::string>{"board-net-open", "board-rule", "face-mirrored"}));
}

TEST(BoardDemos, TheirFilesAreMadeAgainAlike) {
    for (const auto& [name, zip, faults] : {std::tuple("calder-dial-pad.relic", "boards/adapter.zip", false),
                                            {"calder-page-card.relic", "boards/reproduction.zip", true}}) {
        const auto folder = test::source_folder() / "demos" / name;
        const auto plan = standin::fab_plan_of(*load_dossier(folder), *board_data(), faults);
        ASSERT_TRUE(plan) << plan.error().message();
        std::map<std::string, std::string> committed;
        Progress progress;
        const auto packed = read_packed(folder / zip, progress);
        ASSERT_TRUE(packed) << packed.error().message();
        for (const auto& f : packed->files) committed[f.name] = f.text;
        EXPECT_EQ(standin::make_fabrication(*plan), committed) << name;
    }
}

TEST(BoardDemos, TheSoundTileIsMadeAgainAlike) {
    const auto made = standin::make_sound_tile(*board_data());
    ASSERT_TRUE(made) << made.error().message();
    const auto folder = test::source_folder() / "demos/calder-sound-tile.relic";
    EXPECT_EQ(test::read_file(folder / "dossier.json"), dossier_to_json(made->dossier));
    for (const auto& [id, files] : made->boards) {
        std::map<std::string, std::string> committed;
        Progress progress;
        const auto packed = read_packed(folder / "boards" / (id + ".zip"), progress);
        ASSERT_TRUE(packed) << packed.error().message();
        for (const auto& f : packed->files) committed[f.name] = f.text;
        EXPECT_EQ(files, committed) << id;
    }
}

TEST(BoardDemos, TheSoundTileHasTwoDoubtsAboutItsStack) {
    const auto a = demo("calder-sound-tile.relic");
    std::multiset<std::string> ids;
    for (const auto& f : a->findings)
        if (f.place.kind == "stack" && f.severity != Severity::note) ids.insert(f.id);
    EXPECT_EQ(ids, (std::multiset<std::string>{"fit-assumed", "stack-conflict", "stack-undriven"}));
    for (const auto& b : a->board->boards) EXPECT_EQ(b->nets.same, b->nets.named) << b->id;
}

}  // namespace
}  // namespace grayrelic
