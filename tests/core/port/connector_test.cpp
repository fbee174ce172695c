// SPDX-License-Identifier: GPL-3.0-or-later
// Connector files: the shipped faces against the rules of geometry that their standards give, and what the
// reader refuses.
#include <cmath>
#include <set>

#include "core/base/random.hpp"
#include "core/port/connector_library.hpp"
#include "core/port/contact_map.hpp"
#include "tests/core/port/shipped_connectors.hpp"

namespace grayrelic {
namespace {

using test::get;
using test::message;
using test::shipped_connectors;
using testing::HasSubstr;

Place at(const Connector& c, const std::string& number) {
    const auto i = c.contact_numbered(number);
    EXPECT_TRUE(i) << c.id << " " << number;
    return i ? c.contacts[*i].place() : Place{};
}

double apart(Place a, Place b) {
    return std::hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm);
}

double angle_deg(Place p) {
    const double a = std::atan2(p.y_mm, p.x_mm) * 180.0 / M_PI;
    return a < -90 - 1e-9 ? a + 360 : a;
}

/// One of every file; families at a size of the issue.
std::vector<std::string> every_id() {
    std::vector<std::string> out;
    for (const auto& f : shipped_connectors().files()) {
        ConnectorSize size;
        size.rows = f.rows > 0 ? f.rows : 5;
        size.columns = 7;
        out.push_back(ConnectorLibrary::id_of(f, size));
    }
    return out;
}

TEST(ConnectorLibrary, EveryShippedFileLoads) {
    for (const auto& problem : shipped_connectors().problems()) ADD_FAILURE() << problem.message();
    EXPECT_GE(shipped_connectors().files().size(), 50U);
}

struct Expected {
    const char* id;
    std::size_t contacts;
};
class Counts : public testing::TestWithParam<Expected> {};
TEST_P(Counts, HasItsContacts) {
    const auto c = get(GetParam().id);
    EXPECT_EQ(c.contacts.size(), GetParam().contacts);
    EXPECT_FALSE(c.source.empty());
    EXPECT_FALSE(c.rule.empty());
    for (const auto& n : c.numberings) {
        const std::set<std::string> different(n.numbers.begin(), n.numbers.end());
        EXPECT_EQ(different.size(), c.contacts.size()) << n.id;
    }
}
INSTANTIATE_TEST_SUITE_P(
    Kinds, Counts,
    testing::Values(Expected{"din-3", 3}, Expected{"din-5-180", 5}, Expected{"din-5-240", 5},
                    Expected{"din-6", 6}, Expected{"din-7", 7}, Expected{"din-8-262", 8},
                    Expected{"din-8-270", 8}, Expected{"din-13", 13}, Expected{"mini-din-3", 3},
                    Expected{"mini-din-4", 4}, Expected{"mini-din-5", 5}, Expected{"mini-din-6", 6},
                    Expected{"mini-din-7", 7}, Expected{"mini-din-8", 8}, Expected{"mini-din-9", 9},
                    Expected{"dsub-9", 9}, Expected{"dsub-15", 15}, Expected{"dsub-15-hd", 15},
                    Expected{"dsub-19", 19}, Expected{"dsub-23", 23}, Expected{"dsub-25", 25},
                    Expected{"dsub-37", 37}, Expected{"header-1x9", 9}, Expected{"header-2x10", 20},
                    Expected{"ribbon-2x17", 34}, Expected{"edge-2x15", 30}, Expected{"edge-1x20", 20},
                    Expected{"pin-grid-10x10", 100}, Expected{"grid-3x7", 21}, Expected{"dip-2x20", 40},
                    Expected{"av-21", 21}, Expected{"modular-4p4c", 4}, Expected{"modular-6p4c", 4},
                    Expected{"modular-6p6c", 6}, Expected{"modular-8p8c", 8}, Expected{"barrel-55-21", 2},
                    Expected{"phono", 2}, Expected{"jack-35-3", 3}, Expected{"jack-635-2", 2},
                    Expected{"usb-a", 4}, Expected{"usb-b", 4}, Expected{"usb-c", 24},
                    Expected{"usb-mini-b", 5}, Expected{"usb-micro-b", 5}, Expected{"drive-power-4", 4},
                    Expected{"board-power-20", 20}, Expected{"board-power-24", 24}),
    [](const auto& p) {
        std::string name = p.param.id;
        std::replace(name.begin(), name.end(), '-', '_');
        return name;
    });

// IEC 60130-9 / DIN 41524: a circle of 7.0 mm. Neighbours at 45° are 2·3.5·sin(22.5°) = 2.6788 mm apart.
TEST(ConnectorGeometry, CircularFiveOver180StandsAt45Degrees) {
    const auto c = get("din-5-180");
    double angle = 180;
    for (const char* number : {"1", "4", "2", "5", "3"}) {
        EXPECT_NEAR(angle_deg(at(c, number)), angle, 0.01) << number;
        EXPECT_NEAR(std::hypot(at(c, number).x_mm, at(c, number).y_mm), 3.5, 1e-6);
        angle -= 45;
    }
    EXPECT_NEAR(apart(at(c, "1"), at(c, "4")), 2.6788, 1e-3);
}

TEST(ConnectorGeometry, TheThreeOfTheSmallFormKeepTheirPlaces) {
    const auto small = get("din-3");
    for (const char* larger : {"din-5-180", "din-7", "din-8-270"})
        for (const char* number : {"1", "2", "3"})
            EXPECT_NEAR(apart(at(small, number), at(get(larger), number)), 0, 1e-6) << larger;
    EXPECT_EQ(small.shape, get("din-7").shape) << "they go into one another";
}

TEST(ConnectorGeometry, The240FormStandsAt60Degrees) {
    for (const char* id : {"din-5-240", "din-6"}) {
        const auto c = get(id);
        double angle = 210;
        for (const char* number : {"1", "2", "3", "4", "5"}) {
            EXPECT_NEAR(angle_deg(at(c, number)), angle, 0.01) << id << number;
            angle -= 60;
        }
    }
    EXPECT_NEAR(apart(at(get("din-6"), "6"), {0, 0}), 0, 1e-9);
}

// 6 and 7 of the two eight-contact forms stand 270° and 262° apart, seen from the middle over the top.
TEST(ConnectorGeometry, TheEightContactFormsDifferInTheirOuterTwo) {
    for (const auto& [id, over] : {std::pair{"din-8-270", 270.0}, {"din-8-262", 262.0}}) {
        const auto c = get(id);
        EXPECT_NEAR(angle_deg(at(c, "6")) - angle_deg(at(c, "7")), over, 0.01) << id;
        EXPECT_NEAR(apart(at(c, "8"), {0, 0}), 0, 1e-9);
    }
}

// IEC 60807-2: 2.77 mm along a row, 2.84 mm between rows, the second row half a step aside.
TEST(ConnectorGeometry, DSubRowsFollowTheStandard) {
    for (const int n : {9, 15, 19, 23, 25, 37}) {
        const auto c = get("dsub-" + std::to_string(n));
        const int upper = (n + 1) / 2;
        EXPECT_NEAR(apart(at(c, "1"), at(c, "2")), 2.77, 1e-6);
        EXPECT_GT(at(c, "1").x_mm, at(c, "2").x_mm) << "counted from the right, looking into the socket";
        EXPECT_NEAR(at(c, "1").y_mm - at(c, std::to_string(upper + 1)).y_mm, 2.84, 1e-6);
        EXPECT_NEAR(at(c, "1").x_mm - at(c, std::to_string(upper + 1)).x_mm, 2.77 / 2, 1e-6) << n;
        EXPECT_EQ(c.contacts.size(), static_cast<std::size_t>(n));
    }
}

// Seen from the plug, contact 1 of a D-sub stands at the upper left: as every drawing of the plug shows it.
TEST(ConnectorGeometry, ThePlugsFaceHasOneAtTheUpperLeft) {
    const auto c = get("dsub-9");
    const auto one = place_of(c.contacts[*c.contact_numbered("1")], Viewpoint::into_plug);
    for (const auto& contact : c.contacts)
        EXPECT_LE(one.x_mm, place_of(contact, Viewpoint::into_plug).x_mm + 1e-9);
}

TEST(ConnectorGeometry, GridsKeepTheirPitch) {
    EXPECT_NEAR(get("header-2x10").column_pitch_mm(), 2.54, 1e-9);
    EXPECT_NEAR(get("header-2x10-p2.0").column_pitch_mm(), 2.0, 1e-9);
    EXPECT_NEAR(get("header-2x10-p2.0").row_pitch_mm(), 2.0, 1e-9);
    EXPECT_NEAR(get("edge-2x15-p3.96").column_pitch_mm(), 3.96, 1e-9);
    EXPECT_NEAR(get("edge-2x15-p3.96").row_pitch_mm(), 3.0, 1e-9) << "the card's thickness, not its pitch";
    EXPECT_NEAR(get("dip-2x8").row_pitch_mm(), 7.62, 1e-9);
    EXPECT_NEAR(get("modular-8p8c").column_pitch_mm(), 1.02, 1e-9);
    EXPECT_NEAR(get("board-power-24").column_pitch_mm(), 4.2, 1e-9);
    EXPECT_EQ(get("header-1x9").row_pitch_mm(), 0.0);
}

TEST(ConnectorGeometry, NumberingSchemesCountAsTheyShould) {
    const auto header = get("header-2x3");  // contacts by rows: upper row, then lower
    EXPECT_THAT(header.numbering("zigzag").numbers, testing::ElementsAre("1", "3", "5", "2", "4", "6"));
    EXPECT_THAT(header.numbering("rows").numbers, testing::ElementsAre("1", "2", "3", "4", "5", "6"));
    EXPECT_THAT(header.numbering("around").numbers, testing::ElementsAre("1", "2", "3", "6", "5", "4"));
    EXPECT_EQ(header.numbering("nonsense").id, "zigzag");
    // G, I, O and Q are left out on card edges: A B C D E F H J K L M N P R S for 15.
    const auto edge = get("edge-2x15");
    EXPECT_EQ(edge.numbering({}).numbers[15], "A");
    EXPECT_EQ(edge.numbering({}).numbers[21], "H");
    EXPECT_EQ(edge.numbering({}).numbers[29], "S");
    const auto grid = get("pin-grid-9x2");  // A B C D E F G H J
    EXPECT_EQ(grid.numbering({}).numbers[16], "J1");
    const auto ribbon = get("dsub-9");  // wires 1, 6, 2, 7 … of a crimped ribbon
    EXPECT_EQ(ribbon.numbering("ribbon").numbers[*ribbon.contact_numbered("6")], "2");
    EXPECT_EQ(ribbon.numbering("ribbon").numbers[*ribbon.contact_numbered("2")], "3");
    EXPECT_EQ(ribbon.first_contact(), *ribbon.contact_numbered("1"));
}

TEST(ConnectorGeometry, TwoMirroringsAreIdentityAndViewpointPairsAreMirrorImages) {
    for (const auto& id : every_id()) {
        const auto c = get(id);
        for (const auto& contact : c.contacts)
            for (const auto v : all_viewpoints) {
                const auto p = place_of(contact, v);
                EXPECT_EQ(seen_from(seen_from(contact.place(), v), v), contact.place()) << id;
                const auto q = place_of(contact, counterpart(v));
                EXPECT_EQ(p.x_mm, -q.x_mm) << id;
                EXPECT_EQ(p.y_mm, q.y_mm) << id;
                EXPECT_EQ(counterpart(counterpart(v)), v);
            }
    }
}

TEST(ConnectorGeometry, EveryMotionLandsEachContactAtMostOnce) {
    Random random(7);
    for (const auto& id : every_id()) {
        const auto c = get(id);
        for (int i = 0; i < 40; ++i) {
            Motion m;
            m.mirror_x = random.below(2) == 1;
            m.mirror_y = random.below(2) == 1;
            m.dx_mm = (static_cast<double>(random.below(7)) - 3) * std::max(0.5, c.column_pitch_mm());
            m.dy_mm = (static_cast<double>(random.below(3)) - 1) * std::max(0.5, c.row_pitch_mm());
            const auto landing = land(c, c, m);
            ASSERT_EQ(landing.size(), c.contacts.size());
            std::set<std::size_t> hit;
            std::size_t missed = 0;
            for (const auto& l : landing) {
                if (!l) ++missed;
                if (l) {
                    EXPECT_TRUE(hit.insert(*l).second) << id;
                }
            }
            EXPECT_EQ(landed(landing) + missed, c.contacts.size());
        }
        const auto same = land(c, c, {});
        for (std::size_t i = 0; i < same.size(); ++i) EXPECT_EQ(same[i], std::optional(i)) << id;
    }
}

TEST(ConnectorGeometry, OutlinesSurroundTheContacts) {
    for (const auto& id : every_id()) {
        const auto c = get(id);
        const auto box = c.bounds();
        EXPECT_GT(box.width(), 0) << id;
        for (const auto& contact : c.contacts) {
            EXPECT_GE(contact.x_mm, box.left) << id;
            EXPECT_LE(contact.y_mm, box.top) << id;
        }
        EXPECT_FALSE(c.outlines.empty()) << id;
    }
}

TEST(ConnectorLibrary, IdsOfFamiliesNameTheirSize) {
    const auto m = shipped_connectors().member("edge-2x15-p3.96-k6");
    ASSERT_TRUE(m);
    EXPECT_EQ(m->size.rows, 2);
    EXPECT_EQ(m->size.columns, 15);
    EXPECT_EQ(m->size.key_column, 6);
    EXPECT_EQ(ConnectorLibrary::id_of(*m->file, m->size), "edge-2x15-p3.96-k6");
    for (const char* wrong : {"edge-2x0", "edge-2x999", "edge-2x15-k15", "edge-2x15-p0", "edge-2x15-zz",
                              "header-3x4", "header-2x10-k3", "edge-2xn", "-2x3", ""})
        EXPECT_FALSE(shipped_connectors().member(wrong)) << wrong;
    EXPECT_EQ(get("edge-2x15").name, "Card edge, 2 × 15");
    EXPECT_EQ(get("grid-3x4").name, "Grid of your own, 3 × 4");
}

TEST(ConnectorLibrary, AKeyPreventsWhatItPrevents) {
    EXPECT_EQ(get("edge-2x15").possible(WrongWay::reversed), Possible::easy);
    EXPECT_EQ(get("edge-2x15-k6").possible(WrongWay::reversed), Possible::prevented);
    EXPECT_EQ(get("edge-2x15-k6").possible(WrongWay::shifted), Possible::prevented);
    // A key in the middle of an even number of columns meets itself when the card is turned.
    EXPECT_EQ(get("edge-2x16-k8").possible(WrongWay::reversed), Possible::easy);
    EXPECT_EQ(get("dsub-9").possible(WrongWay::reversed), Possible::prevented);
    EXPECT_EQ(get("dsub-9").possible(WrongWay::mirrored), Possible::by_hand);
}

TEST(ConnectorLibrary, UnknownIdsSayWhatIsThere) {
    EXPECT_THAT(message(shipped_connectors().find("dsub-11")), HasSubstr("one of dsub-9"));
    EXPECT_THAT(message(shipped_connectors().find("../../etc/passwd")), HasSubstr("data/connectors"));
}

TEST(ConnectorLibrary, OwnFilesOverrideAndBrokenOnesAreSkipped) {
    const test::TempFolder folder;
    std::filesystem::create_directories(folder / "connectors");
    const std::string mine =
        R"({"id": "dsub-9", "name": "Mine", "group": "D-sub", "source": "own", "rule": "own",
            "contact": {"diameter_mm": 1}, "contacts": [{"number": "1", "x_mm": 0, "y_mm": 0}]})";
    test::write_file(folder / "connectors/mine.json", mine);
    test::write_file(folder / "connectors/broken.json", "{\"id\": \"x\",\n \"name\": 7}");
    test::write_file(folder / "connectors/odd.json", "\xff\xfe not json");
    const auto l = ConnectorLibrary::load(disk(), {test::source_folder() / "data", folder.path()});
    EXPECT_EQ(l.find("dsub-9")->name, "Mine");
    EXPECT_EQ(l.find("dsub-15")->contacts.size(), 15U);
    ASSERT_EQ(l.problems().size(), 2U);
    EXPECT_THAT(l.problems()[0].message(), HasSubstr("broken.json:2: found 7, expected text for name"));
}

struct RefusedConnector {
    const char* text;
    const char* says;
};
class BadConnector : public testing::TestWithParam<RefusedConnector> {};
TEST_P(BadConnector, IsRefusedWithItsField) {
    auto text = std::string(R"({"id": "a", "name": "b", "group": "c", "source": "d", "rule": "e",)") + "\n" +
                GetParam().text + "}";
    EXPECT_THAT(message(connector_file_from_json(text, "c.json")), HasSubstr(GetParam().says)) << text;
}
INSTANTIATE_TEST_SUITE_P(
    Fields, BadConnector,
    testing::Values(
        RefusedConnector{R"("x": 1)", "\"contact\" in the file"},
        RefusedConnector{R"("contact": {"diameter_mm": 1})", "found no contacts"},
        RefusedConnector{R"("contact": {"diameter_mm": -1}, "contacts": [])", "expected millimetres"},
        RefusedConnector{
            R"("contact": {"diameter_mm": 1}, "contacts": [{"number": "1", "x_mm": 1e99, "y_mm": 0}])",
            "c.json:2: found"},
        RefusedConnector{R"("contact": {"diameter_mm": 1}, "contacts": [{"number": "1", "x_mm": 0}])",
                         "found no \"y_mm\""},
        RefusedConnector{
            R"("contact": {"diameter_mm": 1}, "rows": [{"y_mm": 0, "pitch_mm": 0, "numbers": ["1"]}])",
            "pitch_mm"},
        RefusedConnector{
            R"("contact": {"diameter_mm": 1}, "rows": [{"y_mm": 0, "pitch_mm": 1, "numbers": ["1", "1"]}])",
            "found number \"1\" twice, expected each number once"},
        RefusedConnector{R"("contact": {"diameter_mm": 1}, "grid": {"rows": 0, "columns": 2, "pitch_mm": 1})",
                         "rows"},
        RefusedConnector{R"("contact": {"diameter_mm": 1}, "grid": {"rows": 1, "columns": 2, "pitch_mm": 1},
                   "numberings": [{"id": "n", "name": "n", "rule": "spiral"}])",
                         "found \"spiral\""},
        RefusedConnector{R"("contact": {"diameter_mm": 1}, "grid": {"rows": 1, "columns": 2, "pitch_mm": 1},
                   "numberings": [{"id": "n", "name": "n", "numbers": ["1"]}])",
                         "2, one for each contact"},
        RefusedConnector{R"("contact": {"diameter_mm": 1}, "grid": {"rows": 1, "columns": 2, "pitch_mm": 1},
                   "numberings": [{"id": "n", "name": "n", "numbers": ["1", "1"]}])",
                         "each number once"},
        RefusedConnector{R"("contact": {"diameter_mm": 1}, "colour": "red",
                   "contacts": [{"number": "1", "x_mm": 0, "y_mm": 0}])",
                         "found \"colour\", expected a field of the connector format"},
        RefusedConnector{R"("contact": {"diameter_mm": 1}, "contacts": [{"number": "1", "x_mm": 0, "y_mm": 0},
                   {"number": "2", "x_mm": 0, "y_mm": 0}])",
                         "on top of another"},
        RefusedConnector{
            R"("contact": {"diameter_mm": 1}, "contacts": [{"number": "1", "x_mm": 0, "y_mm": 0}],
                   "outline": [{"role": "lid", "diameter_mm": 3}])",
            "shell, insert or key"},
        RefusedConnector{
            R"("contact": {"diameter_mm": 1}, "contacts": [{"number": "1", "x_mm": 0, "y_mm": 0}],
                   "wrong_ways": [{"way": "upside", "possible": "easy"}])",
            "reversed, mirrored"},
        RefusedConnector{
            R"("contact": {"diameter_mm": 1}, "contacts": [{"number": "1", "x_mm": 0, "y_mm": 0}],
                   "family": {"rows": 2, "most": 9})",
            "an id that ends in"}));

}  // namespace
}  // namespace grayrelic
