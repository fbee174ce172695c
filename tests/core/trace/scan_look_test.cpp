// SPDX-License-Identifier: GPL-3.0-or-later
// A click answered at once says what the whole reading says afterwards.
#include "core/trace/scan_look.hpp"

#include <gmock/gmock.h>

#include "tests/unseen/judge_boards.hpp"

namespace grayrelic {
namespace {

using namespace unseen;

struct Painted {
    BoardLayout board;
    ScanPicture front, back;
};

Painted painted(std::uint64_t seed, const std::string& look) {
    Painted out;
    auto c = board_case(seed, false);
    c.wish.thin_track = 0;
    out.board = lay_out(seed, c.wish);
    const auto picture = [&](int side) {
        return picture_of(paint(out.board, side, board_look(seed, look), {}, 400, seed), side);
    };
    out.front = picture(0);
    out.back = picture(1);
    return out;
}

ScannedBoard read(const Painted& p) {
    Progress progress;
    return read_scans(p.front, &p.back, progress).value();
}

/// Of the places that are copper, board, hole or ink for both: the share that is the same.
double alike(const ScanSight& sight, const ScanLayer& layer) {
    double same = 0, all = 0;
    for (int y = 0; y < sight.height; ++y)
        for (int x = 0; x < sight.width; ++x) {
            const auto a = sight.ground[static_cast<std::size_t>(y) * static_cast<std::size_t>(sight.width) +
                                        static_cast<std::size_t>(x)];
            const auto b = layer.at(sight.x0_mm + x / sight.px_per_mm, sight.y0_mm + y / sight.px_per_mm);
            if (a == Ground::outside || b == Ground::outside || b == Ground::unknown) continue;
            all += 1;
            same += a == b ? 1 : 0;
        }
    return all > 0 ? same / all : 0;
}

const BoardWindow everywhere{-10, -10, 200, 200};

TEST(ScanLook, WithoutAClickItShowsWhatWasRead) {
    for (const char* look : {"green", "white", "bare"}) {
        const auto p = painted(3, look);
        const auto r = read(p);
        for (std::size_t k = 0; k < 2; ++k) {
            const auto& picture = k == 0 ? p.front : p.back;
            for (const BoardWindow& w : {everywhere, BoardWindow{8, 6, 20, 16}, BoardWindow{20, 16, 8, 6}}) {
                const auto sight = look_again(picture.pixels, r.layers[k], {}, w);
                ASSERT_TRUE(sight) << look;
                EXPECT_LE(sight->ground.size(), 400'000U);
                EXPECT_GT(alike(*sight, r.layers[k]), 0.96) << look << " side " << k;
                EXPECT_EQ(sight->changed_mm2, 0);
            }
        }
    }
}

TEST(ScanLook, SayingTheOtherToneTurnsBoardAndCopper) {
    auto p = painted(5, "blue");
    const auto r = read(p);
    // The middle of a place that is board: between pads, well inside.
    ScanClick click{ClickKind::copper, 0, 0};
    const auto& layer = r.layers[0];
    for (double y = 4; y < r.height_mm - 4 && click.x_mm == 0; y += 0.5)
        for (double x = 4; x < r.width_mm - 4; x += 0.5) {
            bool board = true;
            for (const double dx : {-0.4, 0.0, 0.4})
                for (const double dy : {-0.4, 0.0, 0.4})
                    board = board && layer.at(x + dx, y + dy) == Ground::board;
            if (board) click.x_mm = x, click.y_mm = y;
        }
    ASSERT_GT(click.x_mm, 0);
    const auto at_once = look_again(p.front.pixels, layer, {click}, everywhere);
    ASSERT_TRUE(at_once);
    // Most of a board is one or the other.
    EXPECT_GT(at_once->changed_mm2, 0.5 * r.width_mm * r.height_mm);
    p.front.clicks = {click};
    EXPECT_GT(alike(*at_once, read(p).layers[0]), 0.9);
}

TEST(ScanLook, AClickOnInkChangesTheInkAlone) {
    auto p = painted(3, "green");
    const auto r = read(p);
    const auto& layer = r.layers[0];
    ScanClick click{ClickKind::board, 0, 0};
    long ink = 0;
    for (int y = 2; y + 2 < layer.height; ++y)
        for (int x = 2; x + 2 < layer.width; ++x) {
            const auto at = [&](int i, int j) {
                return layer.ground[static_cast<std::size_t>(j) * static_cast<std::size_t>(layer.width) +
                                    static_cast<std::size_t>(i)];
            };
            if (at(x, y) != Ground::silk) continue;
            ++ink;
            if (at(x - 1, y) == Ground::silk && at(x + 1, y) == Ground::silk &&
                at(x, y - 1) == Ground::silk && at(x, y + 1) == Ground::silk)
                click.x_mm = layer.x0_mm + x / layer.px_per_mm,
                click.y_mm = layer.y0_mm + y / layer.px_per_mm;
        }
    ASSERT_GT(ink, 100);
    const double ink_mm2 = static_cast<double>(ink) / (layer.px_per_mm * layer.px_per_mm);
    const auto sight = look_again(p.front.pixels, layer, {click}, everywhere);
    ASSERT_TRUE(sight);
    EXPECT_GT(sight->changed_mm2, 0.5 * ink_mm2);
    EXPECT_LT(sight->changed_mm2, 1.6 * ink_mm2);
    // Said to be ink again, nothing has changed.
    auto back = click;
    back.kind = ClickKind::silk;
    const auto twice = look_again(p.front.pixels, layer, {click, back}, everywhere);
    EXPECT_LT(twice->changed_mm2, 0.3 * ink_mm2);
}

TEST(ScanLook, BeyondThePictureThereIsNothing) {
    const auto p = painted(3, "green");
    const auto r = read(p);
    EXPECT_FALSE(look_again(p.front.pixels, r.layers[0], {}, {500, 500, 600, 600}));
    EXPECT_FALSE(look_again({}, r.layers[0], {}, everywhere));
    EXPECT_FALSE(look_again(p.front.pixels, {}, {}, everywhere));
    const auto far = look_again(p.front.pixels, r.layers[0], {{ClickKind::hole, 1e9, -1e9}}, everywhere);
    ASSERT_TRUE(far);
    EXPECT_EQ(far->changed_mm2, 0);
}

}  // namespace
}  // namespace grayrelic
