// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/device_table.hpp"

#include <fmt/format.h>

#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

const Evidence read_here{EvidenceKind::measured, "table", {}, {}};

std::string keys_refused(const std::string& text) {
    return test::message(read_device_table(text, "k.csv", read_here));
}

TEST(DeviceTable, ComesBackAsItWasWritten) {
    const auto keys = read_device_table(
                          "legend,code,x,y,width,row,column,diode,meaning,sends,kind\n"
                          "7,0x1C,0,0,1,R0,C1,yes,key:7,press-release,key\n"
                          "SUM,0x2D,1,0,2,,,,,press,key\n"
                          "=,,3.5,0.25,1,R1,C1,no,text:=,,button\n",
                          "k.csv", read_here)
                          .value();
    ASSERT_EQ(keys.size(), 3U);
    EXPECT_EQ(keys[0].id, "7");
    EXPECT_EQ(keys[0].code.evidence.kind, EvidenceKind::measured);
    EXPECT_TRUE(keys[0].diode);
    EXPECT_EQ(keys[1].sends, KeySends::press);
    EXPECT_EQ(keys[1].width, 2);
    EXPECT_EQ(keys[2].id, "key");
    EXPECT_EQ(keys[2].kind, ControlKind::button);
    EXPECT_EQ(read_device_table(write_device_table(keys), "k.csv", read_here).value(), keys);
}

TEST(DeviceTable, KeysWithoutAPlaceAreLaidOut) {
    std::string text = "key\n";
    for (int i = 0; i < 25; ++i) text += fmt::format("K{}\n", i);
    const auto keys = read_device_table(text, "k.csv", read_here).value();
    EXPECT_TRUE(overlapping(keys).empty());
    EXPECT_EQ(keys[24].y, 2);
}

TEST(DeviceTable, ThousandsOfKeysMayHaveOneLegend) {
    std::string text = "key\n";
    for (int i = 0; i < 4096; ++i) text += "A\n";
    const auto keys = read_device_table(text, "k.csv", read_here).value();
    EXPECT_EQ(keys.back().id, "a-4096");
    EXPECT_EQ(keys_refused(text + "A\n"), "k.csv:4098: found too many keys, expected at most 4096 keys");
}

TEST(DeviceTable, IsRefusedWithLineAndReason) {
    EXPECT_EQ(keys_refused("key,x,y\nA,0,0\nB,2,0\nC,0.5,0.5\n"),
              "k.csv:4: found \"C\" over \"A\" of line 2, expected keys beside each other: x, y, width and "
              "height in usual key widths");
    EXPECT_EQ(keys_refused("id,key\na,A\na,B\n"),
              "k.csv:3: found \"a\" a second time, expected each id once");
    EXPECT_EQ(keys_refused("key,row\nA,R0\n"),
              "k.csv:2: found a row without a column, expected both, or neither");
    EXPECT_THAT(keys_refused("key,sends\nA,twice\n"), testing::HasSubstr("k.csv:2: found \"twice\""));
    EXPECT_THAT(keys_refused("key,meaning\nA,kye:a\n"), testing::HasSubstr("k.csv:2: found \"kye:a\""));
    EXPECT_THAT(keys_refused("key,width\nA,0\n"),
                testing::HasSubstr("k.csv:2: found \"0\", expected a number from 0.1 to 100"));
    EXPECT_THAT(keys_refused("code\n1\n"), testing::HasSubstr("k.csv:1: found no column \"key\""));
}

TEST(WalkLine, TakesLegendCodeSizeAndMeaningInAnyOrder) {
    const auto a = parse_walk_line("ENTER 2x1 0x0D key:enter").value();
    EXPECT_EQ(a.legend, "ENTER");
    EXPECT_EQ(a.code, "0x0D");
    EXPECT_EQ(a.width, 2);
    EXPECT_EQ(a.meaning, "key:enter");
    EXPECT_EQ(parse_walk_line("+ 0x2B").value().legend, "+");
    EXPECT_EQ(parse_walk_line("FIRE bit 3").value().code, "bit 3");
    EXPECT_TRUE(parse_walk_line("/ A").value().new_row);
    EXPECT_EQ(parse_walk_line("/ ").has_value(), false);
    std::vector<MapKey> keys;
    for (const auto* line : {"7", "8", "+0.5 9", "/ 4 1.5x1", "5"})
        keys.push_back(walked_key(keys, parse_walk_line(line).value()));
    EXPECT_EQ(keys[2].x, 2.5);
    EXPECT_EQ(keys[3].x, 0);
    EXPECT_EQ(keys[3].y, 1);
    EXPECT_EQ(keys[4].x, 1.5);
    EXPECT_TRUE(overlapping(keys).empty());
}

TEST(ShiftedCodes, AreOneLineAndComeBack) {
    const auto list =
        parse_shifted("shift 0x5C text:&; code 0x1F 0x20 key:f1;ctrl 3; alt 0x3A text:;").value();
    ASSERT_EQ(list.size(), 4U);
    EXPECT_EQ(list[1].code, "0x1F 0x20");
    EXPECT_EQ(list[2].meaning, "");
    EXPECT_EQ(list[3].meaning, "text:;");
    EXPECT_EQ(parse_shifted(print_shifted(list)).value(), list);
    EXPECT_FALSE(parse_shifted("shift"));
    EXPECT_FALSE(parse_shifted("shift 1; shift 2"));
    EXPECT_TRUE(parse_shifted("").value().empty());
}

/// Everything that the section can hold.
DeviceMap everything() {
    DeviceMap m;
    m.way = MapWay::new_to_old;
    MapKey k;
    k.id = "k1", k.legend = "7", k.kind = ControlKind::dial, k.x = 1.5, k.y = -2, k.width = 2, k.height = 0.5;
    k.code = {"0x1C", {}, {EvidenceKind::measured, "bench", "2026-11-30", {}, "meter"}};
    k.release = "0x9C", k.sends = KeySends::state, k.row = "R1", k.column = "C2", k.diode = true,
    k.meaning = "key:7", k.note = "worn";
    k.shifted = {{"shift", "0x5C", "text:&", {}}};
    m.keys = {k};
    MapMessage msg;
    msg.id = "alive", msg.name = "Alive", msg.code = "0xFA", msg.kind = MessageKind::heartbeat,
    msg.act = MessageAct::watch;
    msg.every = {Time::ms(250), {}, {EvidenceKind::measured, {}, {}, {}}};
    msg.lost = {0.01, {}, {EvidenceKind::assumed, "guess", {}, {}}};
    msg.misses = 5, msg.note = "n";
    m.messages = {msg};
    m.modern.profiles = {"keyboard"};
    m.modern.layout = "de";
    m.modern.poll = {Time::ms(8), {}, {EvidenceKind::documented, {}, {}, {}}};
    m.modern.hold = {Time::ms(20), {}, {}};
    m.modern.wanted = {"text"};
    m.matrix.rows = {"R0", "R1"}, m.matrix.columns = {"C0", "C1", "C2"};
    m.matrix.numbers = {{"foil_ohm", {300, 50.0, {EvidenceKind::measured, "m", {}, {}}}}};
    m.matrix.chords = {{"k1"}};
    m.matrix.guard = GhostGuard::block, m.matrix.drive = "open-drain";
    MoveCurve c;
    c.id = "c", c.title = "Calm", c.counts_per_step = 2.5, c.dead = 10, c.limit = 90, c.exponent = 1.5,
    c.table = {{10, 0, {}}, {90, 30, {}}};
    c.evidence.kind = EvidenceKind::measured, c.note = "x";
    m.curves = {c};
    m.curve = "c", m.capture = "cap", m.form = "{code}";
    m.numbers = {{"active_high", {1, {}, {}}}};
    return m;
}

TEST(MapJson, EverythingComesBack) {
    Dossier d;
    d.about = Section<About>(About{"n", {}, 1, {}});
    d = put(d, everything());
    const auto text = dossier_to_json(d);
    const auto back = dossier_from_json(text, "d.json").value();
    EXPECT_EQ(*back.map, everything());
    EXPECT_EQ(dossier_to_json(back), text);
    EXPECT_THAT(dossier_to_json(put(d, DeviceMap{})), testing::Not(testing::HasSubstr("\"map\"")));
}

TEST(MapJson, DroppedKeysAndCurvesAreNoLongerNamed) {
    Dossier d;
    d = put(d, everything());
    EXPECT_TRUE(drop<MapKey>(d, "k1").map->matrix.chords.front().empty());
    EXPECT_EQ(drop<MoveCurve>(d, "c").map->curve, "");
}

TEST(MapJson, WrongWordsAreRefusedWithTheirLine) {
    const auto told = [](const std::string& map) {
        return test::message(dossier_from_json(
            "{\"format\":\"gray-relic-dossier\",\"version\":2,\"name\":\"n\",\"map\":" + map + "}",
            "d.json"));
    };
    EXPECT_THAT(told("{\"way\":\"sideways\"}"),
                testing::HasSubstr("\"sideways\", expected old-to-new or new-to-old"));
    EXPECT_THAT(told("{\"keys\":[{\"id\":\"a\",\"width\":0}]}"),
                testing::HasSubstr("found 0, expected a number from 0.1 to 100"));
    EXPECT_THAT(told("{\"keys\":[{\"id\":\"a\"},{\"id\":\"a\"}]}"),
                testing::HasSubstr("\"a\" a second time"));
    EXPECT_THAT(told("{\"matrix\":{\"drive\":\"loud\"}}"),
                testing::HasSubstr("\"loud\", expected push-pull or open-drain"));
    EXPECT_THAT(told("{\"messages\":[{\"id\":\"m\",\"lost\":{\"value\":2}}]}"),
                testing::HasSubstr("found 2, expected a number from 0 to 1"));
}

}  // namespace
}  // namespace grayrelic
