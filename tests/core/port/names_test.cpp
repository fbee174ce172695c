// SPDX-License-Identifier: GPL-3.0-or-later
// Names of one line as people write them, and connectors found by what is measured.
#include <fmt/format.h>

#include <cmath>
#include <random>

#include "core/port/by_measure.hpp"
#include "core/port/signal_names.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

TEST(SignalNames, UsualSpellingsOfOneSignalAgree) {
    const std::vector<std::vector<const char*>> same{
        {"/RESET", "RESET*", "nRESET", "RST", "RESET#", "!reset", "RESET_N", "RESETn", "~RESET", "n_RESET",
         "Reset", "RESET_L"},
        {"TXD", "TX", "TxD", "tx"},
        {"RXD1", "RX1", "rx 1"},
        {"GND", "0V", "Ground", "VSS", "0 V", "GND2"},
        {"VBUS", "+5V", "5 V", "+5 V", "VCC"},
        {"CLK", "CLOCK", "clk", "CK"},
        {"D+", "d+", "DP"},
        {"D-", "DM"},
        {"-12V", "-12 V", "−12 V"},
        {"3V3", "+3.3V", "3.3 V"},
        {"/CS", "CS#", "nCS", "CSn"},
        {"IRQ", "/INT", "nIRQ"},
        {"LATCH", "LAT"},
    };
    for (const auto& group : same)
        for (const auto* a : group)
            for (const auto* b : group) EXPECT_TRUE(same_line(a, b)) << a << " and " << b;
}

TEST(SignalNames, OthersDoNot) {
    const std::vector<std::pair<const char*, const char*>> apart{
        {"RESET", "READY"},  {"TX", "RX"},       {"+5V", "+12V"}, {"VBUS", "+12V"},  {"D+", "D-"},
        {"CLK", "CLK2"},     {"A1", "A10"},      {"GND", "+5V"},  {"CS", "CE"},      {"TX+", "TX-"},
        {"TX+", "TX"},       {"-12V", "+12V"},   {"RD", "WR"},    {"NMI", "INT"},    {"5V", "3V3"},
        {"VCC", "+12V"},     {"SEL", "SELECT2"}, {"D1", "D2"},    {"DP", "DM"},      {"UP", "DOWN"},
        {"N", "E"},          {"EN", "E"},        {"", "GND"},     {"LEFT", "RIGHT"}, {"BEN", "BE"},
        {"SCREEN", "SCREE"}, {"Hn", "Hm"}};
    for (const auto& [a, b] : apart) {
        EXPECT_FALSE(same_line(a, b)) << a << " and " << b;
        EXPECT_FALSE(same_line(b, a)) << b << " and " << a;
    }
}

const ConnectorLibrary& library() {
    static const auto l = ConnectorLibrary::load(disk(), {test::source_folder() / "data"});
    return l;
}

TEST(ByMeasure, TextsAreReadOrLeftToTheSearch) {
    const auto f = measured_from_text("2.77 mm 2 rows 9 contacts");
    ASSERT_TRUE(f);
    EXPECT_EQ(f->pitch_mm, 2.77);
    EXPECT_EQ(f->rows, 2);
    EXPECT_EQ(f->contacts, 9);
    EXPECT_EQ(measured_from_text("2x10 2,54mm")->contacts, 20);
    EXPECT_EQ(measured_from_text("2.77mm 2.84mm 9 pins")->row_pitch_mm, 2.84);
    for (const char* words : {"din", "15", "card edge", "2x10", "9 pins", "-3 mm", "mm", "5 mmm", "1e9 mm"})
        EXPECT_EQ(measured_from_text(words).has_value(), std::string_view(words) == "2x10") << words;
}

TEST(ByMeasure, ADsubIsFoundByItsPitch) {
    // DIN 41652: 2.77 mm from contact to contact, 2.84 mm from row to row.
    const auto m = connectors_by_measure(library(), *measured_from_text("2.8mm 2 rows 9 contacts"));
    ASSERT_FALSE(m.empty());
    EXPECT_EQ(m.front().id, "dsub-9");
    EXPECT_TRUE(connectors_by_measure(library(), *measured_from_text("7.77mm 2 rows 9 contacts")).empty());
}

// Faces painted at random places, turned and jittered, in a picture of a random scale.
TEST(ByMeasure, ShippedKindsAreFoundFromTheirPlacesInAPicture) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> turn(0, 6.283), jitter(-0.04, 0.04), scale(8, 60),
        shift(-500, 500);
    long tried = 0, found = 0;
    std::string missed;
    for (int round = 0; round < 4; ++round)
        for (const auto& id :
             {"dsub-9", "dsub-15", "dsub-25", "dsub-37", "header-1x9", "header-2x10", "header-2x5",
              "header-1x6", "ribbon-2x8", "dip-2x8", "edge-2x15", "edge-2x18-p3.96"}) {
            const auto c = library().find(id);
            ASSERT_TRUE(c) << id;
            const double a = turn(random), s = scale(random), dx = shift(random), dy = shift(random);
            std::vector<Place> places;
            for (const auto& x : c->contacts) {
                const double px = x.x_mm + jitter(random), py = x.y_mm + jitter(random);
                places.push_back({s * (px * std::cos(a) - py * std::sin(a)) + dx,
                                  s * (px * std::sin(a) + py * std::cos(a)) + dy});
            }
            std::shuffle(places.begin(), places.end(), random);
            const auto face = measure_face(places, s);
            ASSERT_TRUE(face) << id;
            const auto list = connectors_by_measure(library(), *face);
            ++tried;
            const bool is =
                std::any_of(list.begin(), list.end(), [&](const MeasureMatch& m) { return m.id == id; });
            found += is ? 1 : 0;
            if (!is) missed += fmt::format("{} ", id);
        }
    EXPECT_GE(found, tried - 1) << missed;
    EXPECT_FALSE(measure_face({}, 10));
    EXPECT_FALSE(measure_face({{0, 0}, {0, 0}}, 10));
    EXPECT_FALSE(measure_face({{0, 0}, {1, 0}}, 0));
}

}  // namespace
}  // namespace grayrelic
