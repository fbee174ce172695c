// SPDX-License-Identifier: GPL-3.0-or-later
// Scans drawn by the stand-in, whose copper is known, read back.
#include "core/trace/scan.hpp"

#include <gmock/gmock.h>

#include <cmath>

#include "core/trace/compare.hpp"
#include "standin/board_artist.hpp"
#include "standin/hidden_board.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using standin::ArtPad;
using standin::ArtTrack;
using standin::BoardArt;
using standin::paint_scan;
using standin::ScanStyle;

ScanPicture picture(const standin::PaintedScan& s, BoardSide side) {
    return {s.pixels, place_scan(s.references, side).value(), {}};
}

/// 40 × 30 mm: two pads joined on the front, one of them through its hole to a pad on the back, one alone.
BoardArt small_board() {
    BoardArt art;
    art.width = 40;
    art.height = 30;
    for (const double x : {3.175, 36.825})
        for (const double y : {3.175, 26.825}) art.pads.push_back({x, y, 4.0, 2.5});
    art.pads.push_back({10, 10, 1.5, 0.8});
    art.pads.push_back({20, 10, 1.5, 0.8});
    art.pads.push_back({20, 20, 1.5, 0.8});
    art.pads.push_back({30, 20, 1.5, 0.8});
    art.tracks.push_back({BoardSide::front, 10, 10, 20, 10, 0.5});
    art.tracks.push_back({BoardSide::back, 20, 10, 20, 20, 0.5});
    return art;
}

BoardModel spots(std::initializer_list<std::pair<const char*, BoardPlace>> list) {
    BoardModel m;
    for (const auto& [name, place] : list) m.points[static_cast<std::size_t>(m.add(name))].place = place;
    return m;
}

TEST(ScanPlace, TurnSkewMirrorAndResidual) {
    // A picture at 20 pixels to the millimetre, turned by 3°: places computed by hand.
    const double s = 20, a = 3.0 * 3.14159265358979 / 180, c = std::cos(a), q = std::sin(a);
    const auto px = [&](double x, double y) {
        return ScanReference{100 + s * (c * x - q * y), 50 + s * (q * x + c * y), x, y};
    };
    const auto two = place_scan({px(0, 0), px(80, 60)}, BoardSide::front).value();
    EXPECT_NEAR(two.px_per_mm, 20, 1e-9);
    EXPECT_NEAR(two.turn_deg, 3, 1e-9);
    EXPECT_NEAR(two.skew_deg, 0, 1e-9);
    EXPECT_FALSE(two.residual_mm) << "two points fit exactly; nothing is left to check";
    auto four = place_scan({px(0, 0), px(80, 0), px(0, 60), px(80, 60)}, BoardSide::front).value();
    EXPECT_NEAR(four.residual_mm.value(), 0, 1e-9);
    // One point out by 1 mm in x: of a square's affine fit a quarter of it stays at each corner, so the worst
    // is 0.25 mm, and the root mean square with 8 − 6 = 2 equations to spare is sqrt(4 · 0.0625 / 1) = 0.5.
    auto off = std::vector{px(0, 0), px(80, 0), px(0, 60), px(80, 60)};
    off[3].x_px += s * c;
    off[3].y_px += s * q;
    four = place_scan(off, BoardSide::front).value();
    EXPECT_NEAR(four.worst_mm.value(), 0.25, 0.01);
    EXPECT_NEAR(four.residual_mm.value(), 0.5, 0.01);
    const auto [x, y] = two.to_mm(two.to_px(12.5, 7.25).first, two.to_px(12.5, 7.25).second);
    EXPECT_NEAR(x, 12.5, 1e-9);
    EXPECT_NEAR(y, 7.25, 1e-9);
    // The back with two references: mirrored.
    const auto back = place_scan({{1000, 100, 0, 0}, {200, 700, 40, 30}}, BoardSide::back).value();
    EXPECT_TRUE(back.mirrored);
    EXPECT_NEAR(back.px_per_mm, 20, 1e-9);
}

TEST(ScanPlace, ReferencesThatTellNothing) {
    EXPECT_FALSE(place_scan({}, BoardSide::front));
    EXPECT_FALSE(place_scan({{1, 1, 1, 1}}, BoardSide::front));
    EXPECT_FALSE(place_scan({{1, 1, 5, 5}, {9, 9, 5, 5}}, BoardSide::front)) << "one place twice";
    EXPECT_FALSE(place_scan({{0, 0, 0, 0}, {10, 10, 1, 1}, {20, 20, 2, 2}}, BoardSide::front))
        << "on one line";
}

TEST(Scan, PicturesOfAbsurdSizeAreRefused) {
    EXPECT_FALSE(check_raster({}, "x"));
    EXPECT_FALSE(check_raster({5, 5, std::vector<std::uint8_t>(75)}, "x"));
    EXPECT_FALSE(check_raster({100'000, 100'000, {}}, "x"));
    EXPECT_FALSE(check_raster({100, 100, std::vector<std::uint8_t>(7)}, "x")) << "bytes that do not fit";
    EXPECT_TRUE(check_raster({16, 16, std::vector<std::uint8_t>(768)}, "x"));
}

TEST(Scan, NetsHolesPadsAndDimensionsAt600Dpi) {
    const auto art = small_board();
    for (const bool noisy : {false, true}) {
        ScanStyle style;
        style.noise = noisy ? 10 : 0;
        style.uneven = noisy ? 20 : 0;
        style.turn_deg = noisy ? 2.2 : 0;
        const auto front = picture(paint_scan(art, BoardSide::front, style), BoardSide::front);
        style.turn_deg *= -0.5;
        style.seed = 2;
        const auto back = picture(paint_scan(art, BoardSide::back, style), BoardSide::back);
        EXPECT_TRUE(back.placement.mirrored);
        Progress progress;
        const auto r = read_scans(front, &back, progress);
        ASSERT_TRUE(r) << r.error().message();
        EXPECT_NEAR(r->width_mm, 40, 0.05);
        EXPECT_NEAR(r->height_mm, 30, 0.05);
        EXPECT_LT(r->registration_mm.value(), 0.05);
        ASSERT_EQ(r->holes.size(), art.pads.size());
        for (const auto& pad : art.pads) {
            const auto h = std::find_if(r->holes.begin(), r->holes.end(), [&](const ScanHole& x) {
                return std::hypot(x.x_mm - pad.x, x.y_mm - pad.y) < 0.2;
            });
            ASSERT_NE(h, r->holes.end());
            EXPECT_NEAR(h->x_mm, pad.x, 0.05);
            EXPECT_NEAR(h->y_mm, pad.y, 0.05);
            EXPECT_NEAR(h->diameter_mm, pad.hole, 0.1);
            EXPECT_TRUE(h->both_sides);
        }
        for (const auto& p : r->pads) {
            const bool corner = p.x_mm < 5 || p.x_mm > 35;
            EXPECT_NEAR(std::min(p.width_mm, p.height_mm), corner ? 4.0 : 1.5, 0.12);
        }
        const auto board = spots({{"A", {10, 10, {}}},
                                  {"B", {20, 10, {}}},
                                  {"C", {20, 20, {}}},
                                  {"D", {30, 20, {}}},
                                  {"nowhere", {25, 5, {}}}});
        const auto nets = nets_of_scan(*r, board);
        ASSERT_EQ(nets.nets.size(), 2U);
        EXPECT_THAT(nets.nets[0].points, testing::ElementsAre(0, 1, 2))
            << "over the front, through the hole, over the back";
        EXPECT_THAT(nets.nets[1].points, testing::ElementsAre(3));
        EXPECT_THAT(nets.unseen, testing::ElementsAre(4));
        EXPECT_GT(nets.nets[0].confidence, 0.7);
        // The width of the track, across it.
        const auto runs = copper_along(r->layers[0], 15, 8, 15, 12);
        ASSERT_EQ(runs.size(), 1U);
        EXPECT_NEAR(runs[0].to_mm - runs[0].from_mm, 0.5, 0.05);
        EXPECT_NEAR((runs[0].to_mm + runs[0].from_mm) / 2, 2.0, 0.05);
    }
}

TEST(Scan, UnevenLightAndNoiseTogetherLoseNothing) {
    auto art = small_board();
    // Forty tracks from rim to rim over the whole board, as real boards have them; every other is cut at x
    // = 20.
    art.height = 60;
    BoardModel board;
    for (int k = 0; k < 20; ++k) {
        const double y = 32 + 1.27 * k;
        const bool cut = k % 2 == 1;
        art.tracks.push_back({BoardSide::front, 5, y, cut ? 19.5 : 35, y, 0.35});
        if (cut) art.tracks.push_back({BoardSide::front, 20.5, y, 35, y, 0.35});
        for (const double x : {6.0, 34.0})
            board.points[static_cast<std::size_t>(board.add((x < 20 ? "L" : "R") + std::to_string(k)))]
                .place = BoardPlace{x, y, BoardSide::front};
    }
    ScanStyle style;
    style.noise = 12;
    style.uneven = 40;
    style.turn_deg = 1.6;
    style.blur_px = 1.2;
    Progress progress;
    const auto r =
        read_scans(picture(paint_scan(art, BoardSide::front, style), BoardSide::front), nullptr, progress);
    ASSERT_TRUE(r) << r.error().message();
    const auto nets = nets_of_scan(*r, board);
    EXPECT_TRUE(nets.unseen.empty());
    EXPECT_EQ(nets.nets.size(), 30U) << "ten whole tracks and ten in two pieces";
    EXPECT_EQ(r->holes.size(), art.pads.size());
}

TEST(Scan, CharredCopperIsUnknownAndStrokesCorrect) {
    auto art = small_board();
    ScanStyle style;
    style.dpi = 400;
    style.noise = 5;
    style.charred = {15, 10, 2.5};
    const auto painted = paint_scan(art, BoardSide::front, style);
    auto front = picture(painted, BoardSide::front);
    Progress progress;
    auto r = read_scans(front, nullptr, progress);
    ASSERT_TRUE(r);
    const auto board = spots({{"A", {10, 10, {}}}, {"B", {20, 10, {}}}, {"D", {30, 20, {}}}});
    auto nets = nets_of_scan(*r, board);
    ASSERT_EQ(nets.nets.size(), 3U) << "the track is hidden in the middle";
    EXPECT_TRUE(nets.nets[0].touches_unknown);
    EXPECT_TRUE(nets.nets[1].touches_unknown);
    EXPECT_FALSE(nets.nets[2].touches_unknown);
    EXPECT_EQ(r->layers[0].at(15, 10), Ground::unknown);
    // The spot is about 0.85 to 0.95 of its radius: 14 to 19 mm².
    EXPECT_GT(r->layers[0].unknown_mm2, 11);
    EXPECT_LT(r->layers[0].unknown_mm2, 22);
    front.strokes = {{StrokeKind::join, 11, 10, 19, 10, 0.5, {}}};
    r = read_scans(front, nullptr, progress);
    nets = nets_of_scan(*r, board);
    ASSERT_EQ(nets.nets.size(), 2U) << "joined by hand";
    front.strokes.push_back({StrokeKind::cut, 12, 8, 12, 12, 0.4, {}});
    nets = nets_of_scan(*read_scans(front, nullptr, progress), board);
    EXPECT_EQ(nets.nets.size(), 3U) << "cut again";
    front.strokes = {{StrokeKind::unknown, 30, 18, 30, 22, 3, {}}};
    EXPECT_THAT(nets_of_scan(*read_scans(front, nullptr, progress), board).unseen, testing::ElementsAre(2));
}

TEST(Scan, WholeBoardsAgreeWithTheirTruth) {
    const auto parts = PartLibrary::load(disk(), {test::source_folder() / "data"});
    const auto board = standin::random_board(5, parts);
    const auto art = standin::draw_board(board.width_mm, board.height_mm, board.parts, parts, board.nets);
    const auto model = BoardModel::build(board.known(), parts);
    ScanStyle style;
    style.noise = 12;
    style.uneven = 20;
    style.turn_deg = 1.3;
    const auto front = picture(paint_scan(art, BoardSide::front, style), BoardSide::front);
    style.seed = 9;
    style.turn_deg = -0.8;
    const auto back = picture(paint_scan(art, BoardSide::back, style), BoardSide::back);
    Progress progress;
    const auto r = read_scans(front, &back, progress);
    ASSERT_TRUE(r);
    std::vector<Net> seen;
    for (const auto& n : nets_of_scan(*r, model).nets) {
        Net net;
        for (const int p : n.points) net.points.push_back(model.table.name(p));
        seen.push_back(std::move(net));
    }
    const auto c = compare_nets(art.nets, seen);
    EXPECT_GE(static_cast<double>(c.same), 0.95 * static_cast<double>(art.nets.size()));
}

TEST(Scan, ABackThatIsOffIsLaidOntoTheFrontByItsHoles) {
    const auto art = small_board();
    ScanStyle style;
    const auto front = picture(paint_scan(art, BoardSide::front, style), BoardSide::front);
    auto painted = paint_scan(art, BoardSide::back, style);
    for (auto& r : painted.references) {  // read off badly, all by the same
        r.x_mm += 0.9;
        r.y_mm -= 0.7;
    }
    const auto back = picture(painted, BoardSide::back);
    Progress progress;
    const auto r = read_scans(front, &back, progress);
    ASSERT_TRUE(r);
    const auto nets = nets_of_scan(*r, spots({{"B", {20, 10, {}}}, {"C", {20, 20, {}}}}));
    EXPECT_EQ(nets.nets.size(), 1U);
    EXPECT_LT(r->registration_mm.value(), 0.05);
}

TEST(Scan, CancelledAndEmptyPictures) {
    const auto art = small_board();
    ScanStyle style;
    style.dpi = 150;
    auto front = picture(paint_scan(art, BoardSide::front, style), BoardSide::front);
    Progress cancelled;
    cancelled.cancel();
    EXPECT_FALSE(read_scans(front, nullptr, cancelled));
    for (const int value : {0, 128, 255}) {  // nothing on it at all
        front.pixels.rgb.assign(front.pixels.rgb.size(), static_cast<std::uint8_t>(value));
        Progress progress;
        const auto r = read_scans(front, nullptr, progress);
        ASSERT_TRUE(r);
        EXPECT_TRUE(r->pads.empty());
    }
}

TEST(Scan, MergedJoinsCarryTheirEvidenceAndContradictNothing) {
    BoardModel board;
    for (const char* n : {"A", "B", "C", "D"}) (void)board.add(n);
    ScanNets scan;
    scan.nets.resize(2);
    scan.nets[0].points = {0, 1, 2};
    scan.nets[0].paths = {{0.9, {}}, {0.9, {}}, {0.7, UnknownPlace{4, 5, BoardSide::back, 1, 2, "guessed"}}};
    scan.nets[1].points = {3};
    scan.nets[1].paths = {{0.9, {}}};
    // A and B are joined already; C is proven apart from A.
    const auto ledger = derive_nets(4, {{0, 1, Says::joined, 0}, {0, 2, Says::apart, 1}});
    EXPECT_TRUE(merge_scan(scan, board, ledger).empty());
    const auto none = derive_nets(4, {});
    const auto merged = merge_scan(scan, board, none);
    ASSERT_EQ(merged.size(), 2U);
    EXPECT_EQ(merged[0].tool, "scan");
    EXPECT_THAT(merged[0].note, testing::HasSubstr("0.90"));
    EXPECT_THAT(merged[1].note, testing::HasSubstr("0.70: guessed at 4.00, 5.00 mm, back"));
    // Only the join that rests on too little is left out.
    scan.nets[0].paths[2].confidence = 0.3;
    ASSERT_EQ(merge_scan(scan, board, none).size(), 1U);
    EXPECT_EQ(merge_scan(scan, board, none)[0].b, "B");
}

TEST(Scan, OutlineAndPadsOut) {
    ScannedBoard r;
    r.outline = {{0, 0}, {40, 0}, {40, 30}, {0, 30}};
    r.holes = {{10, 10, 0.8, true}};
    r.pads = {{10, 10, 1.5, 1.6, BoardSide::back}};
    EXPECT_EQ(scan_csv(r),
              "kind,side,x_mm,y_mm,width_mm,height_mm,hole_mm\noutline,both,0.000,0.000,,,\noutline,both,40."
              "000,0.000,,,\n"
              "outline,both,40.000,30.000,,,\noutline,both,0.000,30.000,,,\npad,back,10.000,10.000,1.500,1."
              "600,\nhole,both,10.000,10.000,,,0.800\n");
    const auto svg = scan_svg(r);
    EXPECT_THAT(svg, testing::HasSubstr("width=\"44.000mm\""));
    EXPECT_THAT(svg, testing::HasSubstr("cx=\"10.000\""));
}

}  // namespace
}  // namespace grayrelic
