// SPDX-License-Identifier: GPL-3.0-or-later
// Nets from copper on boards that nobody rehearsed, and the union against a picture taken point by point.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/board/board_pads.hpp"
#include "core/board/outline.hpp"
#include "tests/unseen/fab_boards.hpp"

namespace grayrelic {
namespace {

using testing::ElementsAre;
using testing::IsEmpty;

BoardFiles files_of(const std::map<std::string, std::string>& texts) {
    PackedFolder folder;
    for (const auto& [name, text] : texts) folder.files.push_back({name, text});
    Progress progress;
    return board_of(folder, "board", progress);
}

std::shared_ptr<const BoardCopper> joined_copper(const BoardFiles& board) {
    Progress progress;
    return *copper_of(board, progress);
}

TEST(BoardNets, TwoHundredUnrehearsedBoards) {
    int wrong_nets = 0, wrong_counts = 0, wrong_size = 0, wrong_holes = 0, with_faults = 0;
    std::string first;
    for (std::uint64_t seed = 1; seed <= 200; ++seed) {
        const auto made = ::unseen::fab_board(seed);
        const auto board = files_of(made.files);
        ASSERT_THAT(board.refused, IsEmpty()) << made.story << ": " << board.refused.front().message();
        const auto pads = read_pads(made.pads_csv, "pads.csv");
        ASSERT_TRUE(pads) << pads.error().message();
        const auto wanted = read_net_csv(made.nets_csv, "nets.csv");
        ASSERT_TRUE(wanted) << wanted.error().message();
        auto found = compare_nets(*joined_copper(board), *pads, wanted->nets);
        for (auto& n : found.nets) std::sort(n.begin(), n.end());
        std::sort(found.nets.begin(), found.nets.end());
        if (found.nets != made.copper) {
            ++wrong_nets;
            if (first.empty()) first = made.story;
        }
        if (found.same != made.same || found.joined.size() != made.joined || found.split.size() != made.split)
            ++wrong_counts;
        with_faults += made.joined + made.split > 0 ? 1 : 0;
        const auto size = board_size(board, outline_of(board));
        if (std::abs(size.width_mm - made.width_mm) > 0.01 ||
            std::abs(size.height_mm - made.height_mm) > 0.01)
            ++wrong_size;
        std::map<std::pair<double, bool>, std::size_t> holes;
        for (const auto* f : board.drills())
            for (const auto& h : f->drill->holes) ++holes[{std::round(h.diameter / 1e4) / 100, h.plated}];
        if (holes != made.holes) ++wrong_holes;
    }
    EXPECT_EQ(wrong_nets, 0) << first;
    EXPECT_EQ(wrong_counts, 0);
    EXPECT_EQ(wrong_size, 0);
    EXPECT_EQ(wrong_holes, 0);
    EXPECT_GT(with_faults, 80);
}

/// Is this place dark? Asked of the objects in the file's order, by the arithmetic of each form, without
/// polygons.
struct Painted {
    enum class Form { disc, box, stroke } form;
    double x1, y1, x2, y2, r;
    bool dark;
    [[nodiscard]] bool covers(double x, double y) const {
        if (form == Form::box) return x >= x1 && x <= x2 && y >= y1 && y <= y2;
        const double ux = x2 - x1, uy = y2 - y1, long2 = ux * ux + uy * uy;
        const double t = long2 > 0 ? std::clamp(((x - x1) * ux + (y - y1) * uy) / long2, 0.0, 1.0) : 0;
        return std::hypot(x - x1 - t * ux, y - y1 - t * uy) <= r;
    }
    /// Nearer to its edge than the straight pieces of an arc may be off, twice.
    [[nodiscard]] bool at_edge(double x, double y) const {
        constexpr double off = 0.005;
        auto wide = *this, narrow = *this;
        wide.r += off;
        narrow.r -= off;
        return form != Form::box && wide.covers(x, y) != narrow.covers(x, y);
    }
};

TEST(BoardUnion, AgreesWithAPictureTakenPointByPoint) {
    // 8 × 8 mm at 0.02 mm, twelve seeds: a point that differs must lie within one step of an edge, where its
    // neighbours differ.
    constexpr double step = 0.02;
    constexpr int side = 400;
    for (unsigned seed = 1; seed <= 12; ++seed) {
        std::mt19937 chance(seed);
        const auto mm = [&](double most) {
            return static_cast<double>(chance() % static_cast<unsigned>(most * 1000)) / 1000;
        };
        std::string text = "%FSLAX33Y33*%\n%MOMM*%\nG01*\n";
        std::vector<Painted> objects;
        int code = 10;
        bool dark = true;
        const auto xy = [](double x, double y) {
            return "X" + std::to_string(std::lround(x * 1000)) + "Y" + std::to_string(std::lround(y * 1000));
        };
        for (int i = 0; i < 60; ++i) {
            if (chance() % 6 == 0) {
                dark = !dark;
                text += dark ? "%LPD*%\n" : "%LPC*%\n";
            }
            const double r = 0.1 + mm(0.6), x = mm(8), y = mm(8), x2 = mm(8), y2 = mm(8);
            ++code;
            if (chance() % 3 == 0) {
                const double w = 0.2 + mm(2), h = 0.2 + mm(2);
                text += "%ADD" + std::to_string(code) + "R," + std::to_string(w) + "X" + std::to_string(h) +
                        "*%\nD" + std::to_string(code) + "*\n" + xy(x, y) + "D03*\n";
                objects.push_back({Painted::Form::box, x - w / 2, y - h / 2, x + w / 2, y + h / 2, 0, dark});
                continue;
            }
            text += "%ADD" + std::to_string(code) + "C," + std::to_string(2 * r) + "*%\nD" +
                    std::to_string(code) + "*\n";
            if (chance() % 2 == 0) {
                text += xy(x, y) + "D03*\n";
                objects.push_back({Painted::Form::disc, x, y, x, y, r, dark});
            } else {
                text += xy(x, y) + "D02*\n" + xy(x2, y2) + "D01*\n";
                objects.push_back({Painted::Form::stroke, x, y, x2, y2, r, dark});
            }
        }
        Progress progress;
        const auto layer = read_gerber(text + "M02*\n", "t", progress);
        ASSERT_TRUE(layer) << layer.error().message();
        const auto pieces = *layer_pieces(*layer, progress);
        const EdgeIndex index(pieces);
        std::vector<char> truth(static_cast<std::size_t>(side * side), 0);
        for (int j = 0; j < side; ++j)
            for (int i = 0; i < side; ++i) {
                char now = 0;
                for (const auto& o : objects)
                    if (o.covers((i + 0.5) * step, (j + 0.5) * step)) now = o.dark ? 1 : 0;
                truth[static_cast<std::size_t>(j * side + i)] = now;
            }
        int wrong = 0;
        for (int j = 1; j + 1 < side; ++j)
            for (int i = 1; i + 1 < side; ++i) {
                const auto at = [&](int dx, int dy) {
                    return truth[static_cast<std::size_t>((j + dy) * side + i + dx)];
                };
                const bool seen =
                    index.piece_at({from_mm((i + 0.5) * step), from_mm((j + 0.5) * step)}).has_value();
                if (seen == (at(0, 0) == 1)) continue;
                bool edge = false;
                for (int dx = -1; dx <= 1; ++dx)
                    for (int dy = -1; dy <= 1; ++dy) edge = edge || at(dx, dy) != at(0, 0);
                for (const auto& o : objects) edge = edge || o.at_edge((i + 0.5) * step, (j + 0.5) * step);
                wrong += edge ? 0 : 1;
            }
        EXPECT_EQ(wrong, 0) << "seed " << seed;
    }
}

const char* const two_pads =
    "%FSLAX33Y33*%\n%MOMM*%\n%ADD10C,1*%\n%ADD11C,0.3*%\n%TO.P,J1,1*%\n%TO.N,A*%\nD10*\nX0Y0D03*\n%TO.P,J1,2*"
    "%\n%TO.N,B*%\nX5000Y0D03*\n%TD*%\n";

TEST(BoardNets, AnUnplatedHoleSeversTheTrackItGoesThrough) {
    const std::map<std::string, std::string> whole{
        {"copper-top.gbr", std::string(two_pads) + "D11*\nX0Y0D02*\nX5000Y0D01*\nM02*\n"}};
    auto drilled = whole;
    drilled["npth.drl"] = "M48\nMETRIC\nT1C1.0\n%\nT1\nX2.5Y0.0\nM30\n";
    const auto nets = [](const BoardFiles& b) {
        return nets_of(*joined_copper(b), pads_of_attributes(b)).nets;
    };
    EXPECT_THAT(nets(files_of(whole)), ElementsAre(ElementsAre("J1.1", "J1.2")));
    EXPECT_THAT(nets(files_of(drilled)), ElementsAre(ElementsAre("J1.1"), ElementsAre("J1.2")));
}

TEST(BoardNets, AnUnplatedHoleInItsPadLeavesThePad) {
    const auto b =
        files_of({{"copper-top.gbr", std::string(two_pads) + "D11*\nX0Y0D02*\nX5000Y0D01*\nM02*\n"},
                  {"non-plated.drl", "M48\nMETRIC\nT1C0.6\n%\nT1\nX0.0Y0.0\nX5.0Y0.0\nM30\n"}});
    const auto found = nets_of(*joined_copper(b), pads_of_attributes(b));
    EXPECT_THAT(found.nets, ElementsAre(ElementsAre("J1.1", "J1.2")));
    EXPECT_THAT(found.off_copper, IsEmpty());
}

TEST(BoardNets, ExchangedPairIsNamed) {
    // Four pads: 1-4 and 2-3 are joined, where 1-3 and 2-4 were wanted.
    const auto b = files_of({{"copper-top.gbr",
                              "%FSLAX33Y33*%\n%MOMM*%\n%ADD10C,1*%\n%ADD11C,0.3*%\nD10*\nX0Y0D03*"
                              "\nX0Y5000D03*\nX9000Y0D03*\nX9000Y5000D03*\n"
                              "X20000Y0D03*\nX20000Y5000D03*\nD11*\nX0Y0D02*\nX9000D01*\nX20000D01*"
                              "\nX0Y5000D02*\nX9000D01*\nX20000D01*\nM02*\n"}});
    const auto pads =
        *read_pads("ref,pin,x_mm,y_mm\nJ1,1,0,0\nJ1,2,0,5\nJ2,1,9,5\nJ2,2,9,0\nJ3,1,20,0\nJ3,2,20,5\n", "p");
    const auto wanted = *read_net_csv("net,point\nA,J1.1\nA,J2.1\nA,J3.1\nB,J1.2\nB,J2.2\nB,J3.2\n", "n");
    const auto found = compare_nets(*joined_copper(b), pads, wanted.nets);
    ASSERT_EQ(found.exchanged.size(), 1U);
    EXPECT_EQ(found.exchanged[0].point_a, "J2.1");
    EXPECT_EQ(found.exchanged[0].point_b, "J2.2");
    EXPECT_EQ(found.same, 0U);
}

TEST(BoardNets, PadsOffTheCopperAndPointsWithoutPadsAreSaid) {
    const auto b = files_of({{"copper-top.gbr", std::string(two_pads) + "M02*\n"}});
    const auto pads = *read_pads("ref,pin,x_mm,y_mm,side\nJ1,1,0,0,top\nJ1,3,0,20,top\n", "p");
    const auto found =
        compare_nets(*joined_copper(b), pads, read_net_csv("net,point\nA,J1.1\nA,J1.9\n", "n")->nets);
    EXPECT_THAT(found.off_copper, ElementsAre("J1.3"));
    EXPECT_THAT(found.missing, ElementsAre("J1.9"));
    EXPECT_THAT(found.extra, ElementsAre("J1.3"));
    EXPECT_EQ(found.same, 0U);
    EXPECT_FALSE(found.fine());
}

}  // namespace
}  // namespace grayrelic
