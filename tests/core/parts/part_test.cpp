// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/part.hpp"

#include <gmock/gmock.h>

#include <map>

#include "core/parts/package.hpp"
#include "core/trace/board_model.hpp"
#include "core/trace/part_checks.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

const PartLibrary& library() {
    static const auto parts = PartLibrary::load(disk(), {test::source_folder() / "data"});
    return parts;
}

TEST(Parts, EveryShippedPartIsWhole) {
    EXPECT_TRUE(library().problems.empty()) << library().problems.front().message();
    EXPECT_GE(library().parts.size(), 40U);
    for (const auto& p : library().parts) {
        SCOPED_TRACE(p.id);
        EXPECT_FALSE(p.source.empty());
        if (p.function == "logic" || p.function == "memory") {
            std::map<PinKind, int> count;
            for (const auto& pin : p.pins) ++count[pin.kind];
            EXPECT_EQ(count[PinKind::supply], 1);
            EXPECT_EQ(count[PinKind::ground], 1);
            EXPECT_GT(count[PinKind::output] + count[PinKind::three_state] + count[PinKind::both] +
                          count[PinKind::open_collector],
                      0);
            // In these packages the supply is the last pin and the ground the last of the left side.
            EXPECT_EQ(p.pins.back().kind, PinKind::supply);
            EXPECT_EQ(p.pins[p.pins.size() / 2 - 1].kind, PinKind::ground);
            for (std::size_t i = 0; i < p.pins.size(); ++i)
                EXPECT_EQ(p.pins[i].number, std::to_string(i + 1));
        }
        // A package's pads are those of the part, whether its pins are placed here or in data/packages.
        static const auto packages = PackageLibrary::load(disk(), {test::source_folder() / "data"});
        for (const auto& name : p.packages) {
            if (const auto placed = package_pins(name)) {
                EXPECT_EQ(placed->size(), p.pins.size()) << name;
            }
            const auto found = packages.find(name);
            EXPECT_TRUE(found || name.starts_with("edge")) << name;
            if (found) {
                EXPECT_EQ(static_cast<std::size_t>(found->size.pins), p.pins.size()) << name;
            }
        }
        EXPECT_FALSE(p.packages.empty());
        for (const auto& other : p.instead) EXPECT_NE(library().find(other), nullptr) << other;
        const PartElectrical& e = p.electrical;
        if (e.drop_min_v) {
            EXPECT_LE(*e.drop_min_v, e.drop_max_v.value_or(0));
        }
    }
    // A few pins as published for these functions.
    const std::map<std::string, std::map<std::string, std::string>> known = {
        {"74x00", {{"3", "1Y"}, {"8", "3Y"}, {"14", "VCC"}}},
        {"74x02", {{"1", "1Y"}, {"13", "4Y"}}},
        {"74x138", {{"15", "/Y0"}, {"7", "/Y7"}, {"6", "G1"}}},
        {"74x245", {{"1", "DIR"}, {"19", "/OE"}, {"11", "B7"}}},
        {"74x165", {{"1", "/LD"}, {"9", "QH"}, {"10", "SER"}}},
        {"74x595", {{"15", "Q0"}, {"9", "QS"}, {"14", "SER"}}},
        {"74x373", {{"11", "LE"}, {"2", "Q0"}, {"19", "Q7"}}},
        {"sram-8kx8", {{"20", "/CE"}, {"22", "/OE"}, {"27", "/WE"}, {"26", "CE2"}}},
        {"rom-32kx8", {{"1", "VPP"}, {"27", "A14"}}}};
    for (const auto& [id, pins] : known)
        for (const auto& [number, name] : pins)
            EXPECT_EQ(library().find(id)->find_pin(number)->name, name) << id << "." << number;
}

TEST(Parts, BrokenFilesAreRefusedWithLine) {
    const std::string head = "{\"id\": \"x\", \"name\": \"x\", \"function\": \"logic\", \"source\": \"s\",\n";
    const std::pair<std::string, const char*> cases[] = {
        {"", "JSON"},
        {head + "\"pins\": []}", "no pins"},
        {head + "\"pins\": [[\"1\", \"A\"]]}", "[number, name, kind]"},
        {head + "\"pins\": [[\"1\", \"A\", \"sideways\"]]}", "in, out"},
        {head + "\"pins\": [[\"1\", \"A\", \"in\"], [\"1\", \"B\", \"in\"]]}", "each pin once"},
        {head + "\"package\": \"dip-7\", \"pins\": [[\"1\", \"A\", \"in\"]]}", "package"},
        {head + "\"package\": \"dip-14\", \"pins\": [[\"1\", \"A\", \"in\"]]}", "as many pins"},
        {head + "\"pins\": [[\"1\", \"A\", \"in\"]], \"alike\": [[\"2\"]]}", "a pin of this part"},
        {std::string(200, '['), "nested"}};
    for (const auto& [text, says] : cases) {
        const auto p = part_from_json(text, "x.json");
        ASSERT_FALSE(p) << text;
        EXPECT_THAT(p.error().message(), testing::HasSubstr(says)) << text;
    }
}

TEST(Packages, PinsLieWhereTheGridSaysTheyLie) {
    // DIP-8, rows 7.62 mm: pins 1 to 4 down, 5 to 8 up the other side.
    const auto dip = package_pins("dip-8").value();
    const double expected[8][2] = {{0, 0},       {0, 2.54},    {0, 5.08},    {0, 7.62},
                                   {7.62, 7.62}, {7.62, 5.08}, {7.62, 2.54}, {7.62, 0}};
    for (std::size_t i = 0; i < 8; ++i) {
        EXPECT_DOUBLE_EQ(dip[i].x_mm, expected[i][0]) << i;
        EXPECT_DOUBLE_EQ(dip[i].y_mm, expected[i][1]) << i;
        EXPECT_FALSE(dip[i].side);
    }
    EXPECT_DOUBLE_EQ(package_pins("dip-28-15.24")->back().x_mm, 15.24);
    EXPECT_DOUBLE_EQ(package_pins("axial-10.16")->back().x_mm, 10.16);
    EXPECT_DOUBLE_EQ(package_pins("sip-9")->back().x_mm, 8 * 2.54);
    const auto edge = package_pins("edgel-30-2.54").value();
    EXPECT_EQ(edge[15].number, "A");
    EXPECT_EQ(edge[21].number, "H") << "no G";
    EXPECT_EQ(edge[29].number, "S") << "no G, I, O, Q";
    EXPECT_DOUBLE_EQ(edge[15].x_mm, edge[0].x_mm) << "behind contact 1";
    EXPECT_EQ(edge[0].side, BoardSide::front);
    EXPECT_EQ(edge[15].side, BoardSide::back);
    for (const char* bad : {"", "dip", "dip-", "dip-3", "dip-1e9", "dip-x", "can-4", "axial-0", "axial-5-6",
                            "dip--8", "edgel-80", "sip-nan"})
        EXPECT_FALSE(package_pins(bad)) << bad;
}

TEST(Packages, TurnedAndOnTheBack) {
    BoardPart p;
    p.x_mm = 10;
    p.y_mm = 20;
    p.turn_deg = 90;  // clockwise with y down: what lay to the right lies below
    const auto turned = placed_pins(p, "axial-10.16");
    EXPECT_NEAR(turned[1].x_mm, 10, 1e-9);
    EXPECT_NEAR(turned[1].y_mm, 30.16, 1e-9);
    p.turn_deg = 0;
    p.side = BoardSide::back;
    const auto back = placed_pins(p, "soic-8");
    EXPECT_NEAR(back[7].x_mm, 10 - 5.4, 1e-9) << "mirrored";
    EXPECT_EQ(back[0].side, BoardSide::back);
    p.x_mm.reset();
    EXPECT_TRUE(placed_pins(p, "dip-8").empty());
}

TEST(Parts, NamesOfRailsAndBuses) {
    for (const char* n : {"GND", "gnd", "VSS", "0V", "0 V", "AGND"}) EXPECT_TRUE(names_ground(n)) << n;
    for (const char* n : {"VCC", "+5V", "+5 V", "5V", "3V3", "-12V", "VDD", "+3.3V"})
        EXPECT_TRUE(names_supply(n)) << n;
    for (const char* n : {"", "GNDX", "V", "+V", "A5V", "VPP", "D0", "0V"})
        EXPECT_FALSE(names_supply(n)) << n;
    EXPECT_EQ(bus_bit("A12")->bit, 12);
    EXPECT_EQ(bus_bit("/Y0")->bus, "/Y");
    for (const char* n : {"CLK", "1Y", "A", "12", "A1B2", "D123"}) EXPECT_FALSE(bus_bit(n)) << n;
}

class CheckedBoard : public testing::Test {
  protected:
    CheckedBoard() {
        Trace t;
        for (const auto& [ref, type] :
             {std::pair{"U1", "74x245"}, {"U2", "sram-8kx8"}, {"U3", "74x00"}, {"U4", "74x04"}}) {
            BoardPart p;
            p.ref = ref;
            p.type = type;
            t.parts.push_back(p);
        }
        dossier.trace = Section(t);
        board = BoardModel::build(dossier, library());
    }
    void read(const char* a, const char* b, Says says = Says::joined) {
        links.push_back({board.table.find(a), board.table.find(b), says, static_cast<int>(links.size())});
    }
    [[nodiscard]] std::vector<PartIssue::Kind> kinds() const {
        std::vector<PartIssue::Kind> out;
        for (const auto& i : check_parts(board, derive_nets(static_cast<int>(board.points.size()), links)))
            out.push_back(i.kind);
        return out;
    }
    Dossier dossier;
    BoardModel board;
    std::vector<Link> links;
};

TEST_F(CheckedBoard, SuppliesOutputsAndWhatMustStayFree) {
    EXPECT_TRUE(kinds().empty()) << "nothing is said before something is known";
    read("U3.14", "U3.7");
    EXPECT_THAT(kinds(), testing::ElementsAre(PartIssue::Kind::supply_to_ground));
    links.clear();
    read("U3.3", "U4.2");
    EXPECT_THAT(kinds(), testing::ElementsAre(PartIssue::Kind::outputs_joined));
    links.clear();
    read("U2.1", "U3.1");
    EXPECT_THAT(kinds(), testing::ElementsAre(PartIssue::Kind::not_connected));
    links.clear();
    read("U1.20", "U2.28");
    read("U2.28", "U3.14");
    read("U4.14", "U1.20", Says::apart);
    EXPECT_THAT(kinds(), testing::ElementsAre(PartIssue::Kind::supply_astray));
    links.clear();
    read("U1.2", "U2.11");
    EXPECT_TRUE(kinds().empty()) << "three-state outputs share a bus";
}

TEST_F(CheckedBoard, AnInputFloatsOnlyWhenItIsProven) {
    const int floats = board.table.find("U3.1");
    for (int p = 0; p < static_cast<int>(board.points.size()); ++p)
        if (p != floats) links.push_back({floats, p, Says::apart, static_cast<int>(links.size())});
    EXPECT_THAT(kinds(), testing::ElementsAre(PartIssue::Kind::input_floating));
    links.pop_back();
    EXPECT_TRUE(kinds().empty()) << "one pair was not probed";
}

TEST_F(CheckedBoard, HowBusesRun) {
    const auto runs = [&] {
        return find_bus_runs(board, derive_nets(static_cast<int>(board.points.size()), links));
    };
    // U1 A0 to A7 are pins 2 to 9; U2 D0 to D2 are 11 to 13, D3 to D7 15 to 19.
    const char* d[8] = {"U2.11", "U2.12", "U2.13", "U2.15", "U2.16", "U2.17", "U2.18", "U2.19"};
    for (int i = 0; i < 8; ++i) read(("U1." + std::to_string(i + 2)).c_str(), d[i]);
    ASSERT_EQ(runs().size(), 1U);
    EXPECT_EQ(runs()[0].a, "U1 A");
    EXPECT_EQ(runs()[0].b, "U2 D");
    EXPECT_EQ(runs()[0].bits, 8);
    EXPECT_EQ(runs()[0].order, "straight");
    EXPECT_TRUE(runs()[0].crossed.empty());
    links.clear();
    for (int i = 0; i < 8; ++i) read(("U1." + std::to_string(i + 2)).c_str(), d[7 - i]);
    EXPECT_EQ(runs()[0].order, "reversed");
    links.clear();
    for (int i = 0; i < 8; ++i) read(("U1." + std::to_string(i + 2)).c_str(), d[i == 2 ? 5 : i == 5 ? 2 : i]);
    EXPECT_EQ(runs()[0].order, "straight");
    EXPECT_THAT(runs()[0].crossed, testing::ElementsAre("2 to 5", "5 to 2"));
}

}  // namespace
}  // namespace grayrelic
