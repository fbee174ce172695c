// SPDX-License-Identifier: GPL-3.0-or-later
// Folders and archives of fabrication files: roles, hostile archives, digits that are cut.
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <zlib.h>

#include "core/board/board_files.hpp"
#include "core/board/outline.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::AllOf;
using testing::Contains;
using testing::ElementsAre;
using testing::Field;
using testing::HasSubstr;
using testing::IsEmpty;
using testing::SizeIs;

/// A zip archive as APPNOTE 6.3 lays it out, entry by entry.
class ZipWriter {
  public:
    void add(const std::string& name, const std::string& text, bool squeezed = false,
             std::uint32_t said_size = 0) {
        std::string packed = text;
        if (squeezed) {
            z_stream z{};
            deflateInit2(&z, 9, Z_DEFLATED, -15, 9, Z_DEFAULT_STRATEGY);
            packed.resize(deflateBound(&z, text.size()) + 64);
            z.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(text.data()));
            z.avail_in = static_cast<uInt>(text.size());
            z.next_out = reinterpret_cast<Bytef*>(packed.data());
            z.avail_out = static_cast<uInt>(packed.size());
            deflate(&z, Z_FINISH);
            packed.resize(z.total_out);
            deflateEnd(&z);
        }
        const auto crc = static_cast<std::uint32_t>(
            crc32(0, reinterpret_cast<const Bytef*>(text.data()), static_cast<uInt>(text.size())));
        const auto size = said_size != 0 ? said_size : static_cast<std::uint32_t>(text.size());
        std::string common;
        put(common, 20, 2);
        put(common, 0, 2);
        put(common, squeezed ? 8 : 0, 2);
        put(common, 0, 4);
        put(common, crc, 4);
        put(common, static_cast<std::uint32_t>(packed.size()), 4);
        put(common, size, 4);
        put(common, static_cast<std::uint32_t>(name.size()), 2);
        put(common, 0, 2);
        directory_ += "PK\1\2";
        put(directory_, 20, 2);
        directory_ += common;
        put(directory_, 0, 2);
        put(directory_, 0, 2);
        put(directory_, 0, 2);
        put(directory_, 0, 4);
        put(directory_, static_cast<std::uint32_t>(out_.size()), 4);
        directory_ += name;
        out_ += "PK\3\4" + common + name + packed;
        ++count_;
    }
    std::string done() {
        auto out = out_ + directory_ + std::string("PK\5\6\0\0\0\0", 8);
        put(out, count_, 2);
        put(out, count_, 2);
        put(out, static_cast<std::uint32_t>(directory_.size()), 4);
        put(out, static_cast<std::uint32_t>(out_.size()), 4);
        put(out, 0, 2);
        return out;
    }

  private:
    static void put(std::string& to, std::uint32_t v, int bytes) {
        for (int i = 0; i < bytes; ++i) to += static_cast<char>((v >> (8 * i)) & 0xFFU);
    }
    std::string out_, directory_;
    std::uint32_t count_ = 0;
};

const std::string layer_head = "%FSLAX33Y33*%\n%MOMM*%\n%ADD10C,1*%\nD10*\n";

TEST(BoardZip, FilesAreReadInMemory) {
    ZipWriter zip;
    zip.add("fab/copper-top.gbr", layer_head + "X1000Y1000D03*\nM02*\n", true);
    zip.add("fab/", "");
    zip.add("fab/holes.drl", "M48\nMETRIC\nT1C0.8\n%\nT1\nX1.0Y1.0\nM30\n");
    Progress progress;
    const auto folder = read_zip(zip.done(), "b.zip", progress);
    ASSERT_TRUE(folder) << folder.error().message();
    EXPECT_THAT(folder->problems, IsEmpty());
    const auto board = board_of(*folder, "b.zip", progress);
    EXPECT_THAT(board.problems, IsEmpty());
    ASSERT_THAT(board.files, SizeIs(2));
    EXPECT_EQ(board.files[0].role, FileRole::copper_top);
    EXPECT_EQ(board.files[1].role, FileRole::drill_plated);
}

TEST(BoardZip, PathsThatLeadOutsideAreLeftOutAndSaid) {
    ZipWriter zip;
    for (const auto* name :
         {"../evil.gbr", "/etc/evil.gbr", "a/../../evil.gbr", "C:\\evil.gbr", "..\\evil.gbr", "fine/top.gbr"})
        zip.add(name, layer_head + "M02*\n");
    Progress progress;
    const auto folder = read_zip(zip.done(), "b.zip", progress);
    ASSERT_TRUE(folder);
    EXPECT_THAT(folder->files, ElementsAre(Field(&PackedFile::name, "fine/top.gbr")));
    EXPECT_THAT(folder->problems, SizeIs(5));
    EXPECT_THAT(folder->problems[0].message(), AllOf(HasSubstr("evil"), HasSubstr("outside")));
}

TEST(BoardZip, BombsAreRefusedBeforeTheyBurst) {
    ZipWriter zip;
    zip.add("bomb.gbr", std::string(64U << 20U, '0'), true);
    // One that lies about its size.
    zip.add("liar.gbr", std::string(4U << 20U, '0'), true, 100);
    Progress progress;
    PackedLimits limits;
    limits.bytes = 1U << 20U;
    const auto folder = read_zip(zip.done(), "b.zip", progress, limits);
    ASSERT_TRUE(folder);
    EXPECT_THAT(folder->files, IsEmpty());
    EXPECT_THAT(folder->problems, SizeIs(2));
    limits.bytes = 128U << 20U;
    EXPECT_THAT(read_zip(zip.done(), "b.zip", progress, limits)->problems[0].message(), HasSubstr("times"));
}

TEST(BoardZip, BrokenArchives) {
    ZipWriter zip;
    zip.add("top.gbr", layer_head + "M02*\n");
    const auto whole = zip.done();
    Progress progress;
    EXPECT_FALSE(read_zip(whole.substr(0, whole.size() / 2), "b.zip", progress));
    EXPECT_FALSE(read_zip("PK", "b.zip", progress));
    auto damaged = whole;
    damaged[50] ^= 1;  // within the layer: its check sum is wrong
    const auto folder = read_zip(damaged, "b.zip", progress);
    ASSERT_TRUE(folder);
    EXPECT_THAT(folder->files, IsEmpty());
    EXPECT_THAT(folder->problems, SizeIs(1));
}

struct NameCase {
    const char* name;
    FileRole role;
};
class RoleNames : public testing::TestWithParam<NameCase> {};
TEST_P(RoleNames, FromTheirWords) {
    int inner = 0;
    EXPECT_EQ(role_of_name(GetParam().name, false, inner), GetParam().role);
}
INSTANTIATE_TEST_SUITE_P(
    Words, RoleNames,
    testing::Values(
        NameCase{"board-copper-top.gbr", FileRole::copper_top},
        NameCase{"Bottom Copper.ger", FileRole::copper_bottom}, NameCase{"top.gbr", FileRole::copper_top},
        NameCase{"fab/BOT.GBR", FileRole::copper_bottom}, NameCase{"TopSolderMask.gbr", FileRole::mask_top},
        NameCase{"solder_mask_bottom.gbr", FileRole::mask_bottom},
        NameCase{"silk-top.gbr", FileRole::silk_top}, NameCase{"legend_bot.gbr", FileRole::silk_bottom},
        NameCase{"solderpaste-top.gbr", FileRole::paste_top}, NameCase{"outline.gbr", FileRole::outline},
        NameCase{"board_edge.gbr", FileRole::outline}, NameCase{"profile.gbr", FileRole::outline},
        NameCase{"adapter.gtl", FileRole::copper_top}, NameCase{"adapter.GBS", FileRole::mask_bottom},
        NameCase{"adapter.gko", FileRole::outline}, NameCase{"inner-2.gbr", FileRole::copper_inner},
        NameCase{"adapter.g1", FileRole::copper_inner}, NameCase{"notes.gbr", FileRole::unknown},
        NameCase{"copper.gbr", FileRole::unknown}, NameCase{"mask-top-silk-top.gbr", FileRole::unknown},
        NameCase{"back_silkscreen.gbr", FileRole::silk_bottom}));

TEST(BoardFiles, AttributesGoBeforeNamesAndThePersonBeforeBoth) {
    PackedFolder folder;
    folder.files = {{"top.gbr", "%TF.FileFunction,Copper,L2,Bot*%\n" + layer_head + "M02*\n"},
                    {"x.gbr", layer_head + "X0Y0D03*\nM02*\n"}};
    Progress progress;
    const auto board = board_of(folder, "b", progress);
    EXPECT_EQ(board.find(FileRole::copper_bottom)->name, "top.gbr");
    EXPECT_EQ(board.find(FileRole::copper_bottom)->from, RoleFrom::attribute);
    EXPECT_THAT(board.problems, Contains(testing::Property(&Error::message, HasSubstr("unknown role"))));
    const auto corrected =
        board_of(folder, "b", progress, {{"x.gbr", FileRole::copper_top}, {"top.gbr", FileRole::mask_top}});
    EXPECT_EQ(corrected.find(FileRole::copper_top)->name, "x.gbr");
    EXPECT_EQ(corrected.find(FileRole::copper_bottom), nullptr);
}

TEST(BoardFiles, AnOutlineIsKnownByWhatItHolds) {
    PackedFolder folder;
    folder.files = {{"a.gbr",
                     "%FSLAX33Y33*%\n%MOMM*%\n%ADD10C,0.1*%\nD10*\nX0Y0D02*\nX50000D01*\nY30000D01*\nX0D01*"
                     "\nY0D01*\nM02*\n"},
                    {"top.gbr", layer_head + "X10000Y10000D03*\nM02*\n"}};
    Progress progress;
    const auto board = board_of(folder, "b", progress);
    ASSERT_NE(board.find(FileRole::outline), nullptr);
    const auto size = board_size(board, outline_of(board));
    EXPECT_DOUBLE_EQ(size.width_mm, 50);
    EXPECT_DOUBLE_EQ(size.height_mm, 30);
    EXPECT_TRUE(size.from_outline);
}

TEST(BoardFiles, DigitsThatAreCutAreHeldAgainstThePads) {
    // Pads at 12.5/3.25 and 40/20; the drill file says neither zeros nor digits, and means 4.2.
    PackedFolder folder;
    folder.files = {{"holes.drl", "M48\nMETRIC\nT1C0.8\n%\nT1\nX1250Y325\nX4000Y2000\nM30\n"},
                    {"top.gbr", layer_head + "X12500Y3250D03*\nX40000Y20000D03*\nM02*\n"}};
    Progress progress;
    const auto board = board_of(folder, "b", progress);
    const auto* drill = board.find(FileRole::drill_plated);
    EXPECT_NEAR(to_mm(drill->drill->holes[0].middle().x), 12.5, 1e-6);
    EXPECT_NEAR(to_mm(drill->drill->holes[1].middle().y), 20, 1e-6);
    EXPECT_THAT(board.problems, Contains(testing::Property(&Error::message, HasSubstr("4.2"))));
}

TEST(BoardFiles, HolesMayStandInALayer) {
    PackedFolder folder;
    folder.files = {{"d.gbr", "%TF.FileFunction,NonPlated,1,2,NPTH,Drill*%\n" + layer_head +
                                  "X1000Y2000D03*\nX5000Y5000D02*\nX8000D01*\nM02*\n"}};
    Progress progress;
    const auto board = board_of(folder, "b", progress);
    ASSERT_EQ(board.drills().size(), 1U);
    const auto& holes = board.drills()[0]->drill->holes;
    ASSERT_THAT(holes, SizeIs(2));
    EXPECT_FALSE(holes[0].plated);
    EXPECT_EQ(holes[0].middle(), (BoardXY{from_mm(1), from_mm(2)}));
    EXPECT_TRUE(holes[1].slot());
    EXPECT_DOUBLE_EQ(holes[1].diameter, 1e6);
}

TEST(BoardFiles, WhatTheFormatMeansIsNotAGuessWhereTheHolesLieOnPads) {
    PackedFolder folder;
    folder.files = {{"holes.drl", "M48\nMETRIC,TZ\nT1C0.8\n%\nT1\nX12500Y3250\nX40000Y20000\nM30\n"},
                    {"top.gbr", layer_head + "X12500Y3250D03*\nX40000Y20000D03*\nM02*\n"}};
    Progress progress;
    EXPECT_THAT(board_of(folder, "b", progress).problems, IsEmpty());
}

TEST(BoardFiles, AFileThatCannotBeReadIsNamedAndTheOthersAreRead) {
    PackedFolder folder;
    folder.files = {{"copper-bottom.gbr", layer_head + "X0Y0D03*\n"},
                    {"copper-top.gbr", layer_head + "X0Y0D03*\nM02*\n"},
                    {"readme.txt", "hello"},
                    {"x.gbr", "nonsense"}};
    Progress progress;
    const auto board = board_of(folder, "b", progress);
    EXPECT_THAT(board.refused, SizeIs(2));
    EXPECT_THAT(board.refused[0].message(), AllOf(HasSubstr("copper-bottom.gbr:6"), HasSubstr("cut")));
    EXPECT_NE(board.find(FileRole::copper_top), nullptr);
    EXPECT_EQ(board.find(FileRole::copper_bottom), nullptr);
}

TEST(BoardOutline, GapsDoublesAndCutouts) {
    const auto outline = [](const std::string& body) {
        Progress progress;
        return outline_of(*read_gerber(
            "%FSLAX33Y33*%\n%MOMM*%\n%ADD10C,0.1*%\nG75*\nD10*\n" + body + "M02*\n", "o", progress));
    };
    const std::string square = "X0Y0D02*\nX10000D01*\nY10000D01*\nX0D01*\nY0D01*\n";
    EXPECT_THAT(outline(square + square).cutouts, IsEmpty());
    // A round hole of radius 2 in the middle, drawn as one arc.
    const auto holed = outline(square + "X7000Y5000D02*\nG03*\nX7000Y5000I-2000J0D01*\n");
    ASSERT_THAT(holed.cutouts, SizeIs(1));
    // Straight pieces lie up to 2.5 µm inside of the circle, 12.6 mm around.
    EXPECT_NEAR(signed_area(holed.cutouts[0]) * 1e-12, -3.14159 * 4, 0.0025 * 12.6);
    const auto open = outline("X0Y0D02*\nX10000D01*\nY10000D01*\nX0D01*\n");
    EXPECT_FALSE(open.known());
    EXPECT_THAT(open.gaps, SizeIs(2));
    // Pieces in any order and direction, ends 0.02 mm apart.
    const auto scattered = outline(
        "X0Y10000D02*\nX10000D01*\nX0Y0D02*\nX10000D01*\nX10020Y10000D02*\nX10000Y0D01*\nX0Y0D02*\nY10000D01*"
        "\n");
    EXPECT_TRUE(scattered.known());
    EXPECT_NEAR(signed_area(scattered.outer) * 1e-12, 100, 0.3);
}

}  // namespace
}  // namespace grayrelic
