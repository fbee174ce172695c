// SPDX-License-Identifier: GPL-3.0-or-later
// Faces on boards: places worked out from the standards' dimensions, turned, mirrored and stretched by
// arithmetic.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/board/face_match.hpp"
#include "core/library/data_library.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

const DataLibrary& face_data() {
    static const auto data = DataLibrary::load(disk(), {test::source_folder() / "data"});
    return *data;
}

struct FacePlace {
    std::string number;
    double x, y;
};

/// IEC 60807: nine contacts, 2.77 apart, rows 2.84 apart; looking into the socket contact 1 stands upper
/// right.
std::vector<FacePlace> nine_into_socket() {
    std::vector<FacePlace> out;
    for (int n = 1; n <= 5; ++n) out.push_back({std::to_string(n), (3 - n) * 2.77, 1.42});
    for (int n = 6; n <= 9; ++n) out.push_back({std::to_string(n), (7.5 - n) * 2.77, -1.42});
    return out;
}

/// Two rows of five, 2.54 apart, seen looking down on a pin header with contact 1 upper left and odd ones
/// above.
std::vector<FacePlace> ten_from_above() {
    std::vector<FacePlace> out;
    for (int n = 1; n <= 10; ++n)
        out.push_back({std::to_string(n), ((n - 1) / 2) * 2.54, n % 2 == 1 ? 1.27 : -1.27});
    return out;
}

BoardPads pads_at_places(const std::vector<FacePlace>& face, int quarter, double dx, double dy, double scale,
                         bool mirror, PadSide side, double noise = 0, unsigned seed = 1) {
    std::mt19937 chance(seed);
    std::uniform_real_distribution<double> off(-noise, noise);
    BoardPads out;
    for (const auto& p : face) {
        double x = p.x * scale * (mirror ? -1 : 1), y = p.y * scale;
        for (int i = 0; i < quarter; ++i) std::tie(x, y) = std::pair(-y, x);
        // Of what stands below, the files show the mirror image.
        if (side == PadSide::bottom) x = -x;
        out.push_back({"J1", p.number, {from_mm(x + dx + off(chance)), from_mm(y + dy + off(chance))}, side});
    }
    return out;
}

FaceMatch ask(const BoardPads& pads, const std::string& connector, FaceGender gender = FaceGender::socket) {
    FaceQuestion q;
    q.ref = "J1";
    q.gender = gender;
    const auto c = face_data().connectors.find(connector);
    EXPECT_TRUE(c) << connector;
    return *match_face(pads, *c, q);
}

TEST(Face, EveryTurnEitherSideIsAsDrawnAndItsMirrorImageIsAStop) {
    // 9 contacts of a D connector; 400 seeds: turn, place, side, drawing noise up to 0.05 mm, as drawn or
    // mirrored.
    std::mt19937 chance(4);
    int wrong = 0;
    for (unsigned seed = 0; seed < 400; ++seed) {
        const int quarter = static_cast<int>(chance() % 4);
        const bool mirror = chance() % 2 == 0;
        const auto side = chance() % 2 == 0 ? PadSide::top : PadSide::bottom;
        const auto pads = pads_at_places(nine_into_socket(), quarter, static_cast<double>(chance() % 100),
                                         static_cast<double>(chance() % 80), 1, mirror, side, 0.05, seed);
        const auto m = ask(pads, "dsub-9");
        const bool right = mirror ? m.is == FaceIs::mirrored && m.verdict == Verdict::stop
                                  : m.is == FaceIs::as_drawn && m.verdict == Verdict::holds &&
                                        m.rotation_deg == quarter * 90;
        wrong += right ? 0 : 1;
        // A plug's face is the socket's mirror image.
        const auto p = ask(pads, "dsub-9", FaceGender::plug);
        wrong += (p.is == (mirror ? FaceIs::as_drawn : FaceIs::mirrored)) ? 0 : 1;
    }
    EXPECT_EQ(wrong, 0);
}

TEST(Face, HeaderOfAnotherPitch) {
    for (const double pitch : {2.0, 2.5, 1.27, 3.96}) {
        const auto m =
            ask(pads_at_places(ten_from_above(), 1, 5, 5, pitch / 2.54, false, PadSide::top), "header-2x5");
        EXPECT_EQ(m.is, FaceIs::other_pitch) << pitch << m.why;
        EXPECT_NEAR(m.scale, pitch / 2.54, 1e-3);
        EXPECT_EQ(m.verdict, Verdict::stop);
    }
}

TEST(Face, HeaderAsDrawnOrWithItsRowsExchanged) {
    const auto fine = ask(pads_at_places(ten_from_above(), 0, 0, 0, 1, false, PadSide::top), "header-2x5",
                          FaceGender::plug);
    const auto also = ask(pads_at_places(ten_from_above(), 0, 0, 0, 1, false, PadSide::top), "header-2x5",
                          FaceGender::socket);
    // One of the two halves has this face, the other its mirror image.
    EXPECT_NE(fine.is, also.is);
    EXPECT_TRUE(fine.is == FaceIs::as_drawn || also.is == FaceIs::as_drawn);
}

TEST(Face, NoMatchNamesHowFar) {
    auto pads = pads_at_places(nine_into_socket(), 0, 0, 0, 1, false, PadSide::top);
    std::swap(pads[0].at, pads[3].at);
    const auto m = ask(pads, "dsub-9");
    EXPECT_EQ(m.is, FaceIs::no_match);
    EXPECT_EQ(m.verdict, Verdict::stop);
    EXPECT_GT(m.residual_mm, 2);
}

TEST(Face, ContactsInALineTellNothingAboutMirroring) {
    auto pads = pads_at_places(nine_into_socket(), 0, 0, 0, 1, false, PadSide::top);
    pads.resize(5);
    EXPECT_EQ(ask(pads, "dsub-9").verdict, Verdict::unknown);
    pads.resize(1);
    EXPECT_EQ(ask(pads, "dsub-9").verdict, Verdict::unknown);
}

TEST(Face, BodyPadsDoNotMatterButANumberTooManyIsADoubt) {
    auto pads = pads_at_places(nine_into_socket(), 0, 0, 0, 1, false, PadSide::top);
    pads.push_back({"J1", "SH", {from_mm(12.5), 0}, PadSide::top});
    EXPECT_EQ(ask(pads, "dsub-9").verdict, Verdict::holds);
    pads.push_back({"J1", "10", {from_mm(15), 0}, PadSide::top});
    const auto m = ask(pads, "dsub-9");
    EXPECT_EQ(m.verdict, Verdict::doubt);
    EXPECT_THAT(m.why, HasSubstr("1 contact"));
}

TEST(Face, FootprintOfAPackage) {
    // 16 pins in two rows 7.62 apart: 1 upper left, down to 8, up the other side.
    BoardPads pads, wrong;
    for (int n = 1; n <= 16; ++n) {
        const double x = n <= 8 ? 0 : 7.62, y = n <= 8 ? -(n - 1) * 2.54 : -(16 - n) * 2.54;
        pads.push_back({"U1", std::to_string(n), {from_mm(x), from_mm(y)}, PadSide::both});
        wrong.push_back({"U1", std::to_string(n), {from_mm(-x), from_mm(y)}, PadSide::both});
    }
    FaceQuestion q;
    q.ref = "U1";
    const auto package = face_data().packages.find("dip-16");
    ASSERT_TRUE(package);
    EXPECT_EQ(match_footprint(pads, *package, q)->is, FaceIs::as_drawn);
    EXPECT_EQ(match_footprint(wrong, *package, q)->is, FaceIs::mirrored);
    // Drawn with 15.24 between the rows.
    for (auto& p : pads)
        if (p.at.x > 0) p.at.x = from_mm(15.24);
    EXPECT_EQ(match_footprint(pads, *package, q)->is, FaceIs::no_match);
}

TEST(Face, BoardsThatMateAreMirrorImagesOfEachOther) {
    const auto below = pads_at_places(ten_from_above(), 0, 3, 4, 1, false, PadSide::top);
    // The upper board carries its half on its lower side: seen through the board both lie over each other.
    BoardPads above;
    for (auto p : below) {
        p.side = PadSide::bottom;
        p.at.x += from_mm(40);
        above.push_back(p);
    }
    FaceQuestion q;
    q.ref = "J1";
    EXPECT_EQ(match_mates(below, q, above, q)->is, FaceIs::as_drawn);
    for (auto& p : above) p.at.x = -p.at.x;
    EXPECT_EQ(match_mates(below, q, above, q)->is, FaceIs::mirrored);
}

}  // namespace
}  // namespace grayrelic
