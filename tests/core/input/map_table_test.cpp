// SPDX-License-Identifier: GPL-3.0-or-later
// Tables out and back: the C header compiled with its vectors run, JSON and CSV read back, a form of one's
// own.
#include "core/input/map_table.hpp"

#include <fmt/format.h>

#include <cstdlib>

#include "core/json/json.hpp"
#include "core/library/data_library.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

MapKey coded(const std::string& id, const std::string& legend, const std::string& code,
             const std::string& meaning) {
    MapKey k;
    k.id = id;
    k.legend = legend;
    k.code.value = code;
    k.meaning = meaning;
    return k;
}

DeviceMap whole_map() {
    DeviceMap m;
    m.modern.profiles = {"keyboard", "media", "pad:buttons=10,hat=1,axes=2", "pointer:buttons=3,wheel=1"};
    m.modern.layout = "de";
    m.keys = {coded("a", "A", "0x1C", "key:a"),
              coded("s", "SHIFT \"left\" */", "0x12", "key:left-shift"),
              coded("t", "2", "0x1E", "key:left-shift+left-control+2"),
              coded("p", "|", "0x5D", "text:|"),
              coded("v", "VOL+", "=0xE9", "media:volume-up"),
              coded("b", "FIRE", "bit fire", "button:10"),
              coded("h", "UP", "bit up", "hat:up-left"),
              coded("x", "MOST", "bit most", "axis:y+"),
              coded("y", "LEAST", "bit least", "axis:x-"),
              coded("m", "CLICK", "bit click", "pointer:middle"),
              coded("l", "LAYER", "0x70", "bridge:layer"),
              coded("n", "NONE", "0x71", "nothing"),
              coded("u", "OPEN", "0x72", "")};
    m.keys[0].release = "0xF0 0x1C";
    m.keys[0].shifted = {{"shift", "0x9C", "text:Ä", {}}};
    return m;
}

MapTable table_of(const DeviceMap& m, const std::vector<std::string>& bits = {}) {
    static const auto data = DataLibrary::load_installed();
    return map_table(m, bits, data->layouts.find(m.modern.layout));
}

/// Compiles the header with a program that runs its vectors; the exit status of that program.
int run_header(const std::string& header, const std::string& name, const char* compiler) {
    const test::TempFolder folder;
    test::write_file(folder / "map.h", header);
    test::write_file(folder / "main.c",
                     fmt::format("#include \"map.h\"\nint main(void) {{ return (int)({0}_map_self_test() > "
                                 "100 ? 100 : {0}_map_self_test()); }}\n",
                                 name));
    const auto command =
        fmt::format("{} -Wall -Wextra -Werror -Wno-unused-const-variable -o {} {} 2>{}", compiler,
                    (folder / "run").string(), (folder / "main.c").string(), (folder / "log").string());
    if (std::system(command.c_str()) != 0) {
        ADD_FAILURE() << test::read_file(folder / "log");
        return -1;
    }
    return WEXITSTATUS(std::system((folder / "run").c_str()));
}

TEST(MapHeader, CompilesAsCAndAsCppAndItsVectorsHold) {
    const auto header = map_c_header(table_of(whole_map()), "Calder keypad");
    EXPECT_EQ(run_header(header, "Calder_keypad", "cc -std=c99 -pedantic"), 0);
    EXPECT_EQ(run_header(header, "Calder_keypad", "c++ -x c++ -std=c++17"), 0);
}

TEST(MapHeader, AWrongByteIsFoundByItsOwnTest) {
    auto header = map_c_header(table_of(whole_map()), "m");
    // The entry's usage of the first key, 0x04, changed: its vector still says 04.
    const auto at = header.find("1, 0x07, 0x04, 0x00");
    ASSERT_NE(at, std::string::npos);
    header.replace(at, 19, "1, 0x07, 0x05, 0x00");
    EXPECT_EQ(run_header(header, "m", "cc -std=c99"), 1);
}

TEST(MapHeader, FramesOfTheOldSideKeepTheirBitOrder) {
    DeviceMap m;
    m.way = MapWay::new_to_old;
    m.keys = {coded("f", "FIRE", "bit fire", "button:1"), coded("u", "UP", "bit up", "hat:up"),
              coded("b", "BOTH", "bit both", "button:1")};
    const auto t = table_of(m, {"up", "spare", "both", "fire"});
    ASSERT_EQ(t.frames.size(), 3U);
    EXPECT_EQ(t.frames[0].levels, "1-11") << "nothing is said of the spare bit";
    EXPECT_FALSE(t.level_known);
    EXPECT_EQ(t.frames[1].held, "button:1");
    EXPECT_EQ(t.frames[1].levels, "1-00") << "the third and the fourth bit to arrive";
    EXPECT_EQ(t.frames[2].levels, "0-11");
    EXPECT_EQ(run_header(map_c_header(t, "pad"), "pad", "cc -std=c99 -pedantic"), 0);
    auto high = m;
    high.numbers = {{"active_high", {1, {}, {}}}};
    EXPECT_EQ(table_of(high, {"up", "spare", "both", "fire"}).frames[1].levels, "0-11");
    auto wrong = map_c_header(t, "pad");
    wrong.replace(wrong.find("\"1-00\""), 6, "\"0-10\"");
    EXPECT_EQ(run_header(wrong, "pad", "cc -std=c99"), 2) << "two bits differ";
}

TEST(MapTable, VectorsAreThoseOfTheClassDefinition) {
    const auto t = table_of(whole_map());
    const auto json = Json::parse(map_json(t, whole_map(), "m"));
    std::map<std::string, std::string> press;
    for (const auto& v : json["vectors"]) press[v["code"].get<std::string>()] = v["press"][0];
    EXPECT_EQ(press["0x1C"], "00 00 04 00 00 00 00 00");
    EXPECT_EQ(press["0x12"], "02 00 00 00 00 00 00 00");
    EXPECT_EQ(press["0x1E"], "03 00 1F 00 00 00 00 00");
    EXPECT_EQ(press["=0xE9"], "E9 00");
    EXPECT_EQ(press["bit fire"], "00 02 0F 00 00") << "the tenth button is bit 1 of the second byte";
    EXPECT_EQ(press["bit up"], "00 00 07 00 00");
    EXPECT_EQ(press["bit most"], "00 00 0F 00 7F");
    EXPECT_EQ(press["bit least"], "00 00 0F 81 00");
    EXPECT_EQ(press["bit click"], "04 00 00 00");
    EXPECT_EQ(t.left_out, (std::vector<std::string>{"OPEN: no meaning"}));
}

TEST(MapTable, TheChecksumIsThatOfTheLines) {
    DeviceMap m;
    m.keys = {coded("b", "", "2", "key:b"), coded("a", "", "1", "key:a")};
    // python3 -c 'import zlib; print(hex(zlib.crc32(b"1|||key:a\n2|||key:b\n")))'
    EXPECT_EQ(table_of(m).checksum, 0x074477E2U);
    std::swap(m.keys[0], m.keys[1]);
    EXPECT_EQ(table_of(m).checksum, 0x074477E2U) << "the order does not matter";
    m.keys[0].meaning = "key:c";
    EXPECT_NE(table_of(m).checksum, 0x074477E2U);
}

TEST(MapTable, ComesBackFromBothForms) {
    const auto m = whole_map();
    const auto t = table_of(m);
    for (const auto& text : {map_csv(t), map_json(t, m, "m")}) {
        const auto back = read_map_table(text, "t").value();
        EXPECT_TRUE(compare_maps(t.entries, back).empty()) << text;
        EXPECT_EQ(take_map_table(m, back), m);
    }
}

TEST(MapTable, AnEditedCopyIsToldApart) {
    const auto m = whole_map();
    const auto t = table_of(m);
    auto text = map_csv(t);
    text.replace(text.find("key:a,"), 6, "key:b,");
    const auto back = read_map_table(text, "t").value();
    const auto changes = compare_maps(t.entries, back);
    ASSERT_EQ(changes.size(), 1U);
    EXPECT_EQ(changes[0].says, "0x1C (A) becomes key:b instead of key:a");
    EXPECT_EQ(take_map_table(m, back).keys[0].meaning, "key:b");
    const auto less = read_map_table("code,meaning\n0x1C,key:a\n0x99,key:f1\n", "t").value();
    std::map<MapChange::Kind, int> count;
    for (const auto& c : compare_maps(t.entries, less)) ++count[c.kind];
    EXPECT_EQ(count[MapChange::Kind::added], 1);
    EXPECT_EQ(count[MapChange::Kind::changed], 1) << "its release is gone";
    EXPECT_EQ(count[MapChange::Kind::gone], static_cast<int>(t.entries.size()) - 1);
}

TEST(MapTable, IsRefusedWithLineAndReason) {
    const auto refused = [](const char* text) { return test::message(read_map_table(text, "t.csv")); };
    EXPECT_EQ(refused("code,what\n1,key:a\n"),
              "t.csv:1: found no column \"meaning\", expected the columns code and meaning");
    EXPECT_THAT(refused("code,meaning\n1,key:a\n2,kye:b\n"),
                testing::HasSubstr("t.csv:3: found \"kye:b\", expected a meaning such as"));
    EXPECT_EQ(refused("code,meaning\n1,key:a\n1,key:b\n"),
              "t.csv:3: found the code \"1\" with another meaning, expected one meaning a code");
    EXPECT_THAT(refused("{\"entries\":[{\"code\":\"1\",\"meaning\":\"kye\"}]}"),
                testing::HasSubstr("t.csv:1: found \"kye\""));
    EXPECT_THAT(refused("{\"entries\":3}"), testing::HasSubstr("t.csv:1:"));
    EXPECT_THAT(refused(""), testing::HasSubstr("t.csv:1:"));
}

TEST(MapForm, FillsThePersonsOwnText) {
    DeviceMap m;
    m.modern.profiles = {"keyboard"};
    m.keys = {coded("b", "B", "2", "key:b"), coded("a", "A", "1", "key:left-shift+a")};
    const auto t = table_of(m);
    EXPECT_EQ(map_form(t, "kp", "-- {name}, {count}\nmap[{code}] = {{ {usage}, {modifiers} }} -- {legend}\n")
                  .value(),
              "-- kp, 2\nmap[2] = { 0x05, 0x00 } -- B\nmap[1] = { 0x04, 0x02 } -- A\n");
    EXPECT_THAT(map_form(t, "kp", "{profile}: {descriptor}\n").value(),
                testing::HasSubstr("keyboard: 05 01 09 06 A1 01"));
    EXPECT_THAT(test::message(map_form(t, "kp", "ok\n{usages}\n")),
                testing::HasSubstr("form:2: found \"{usages}\""));
}

}  // namespace
}  // namespace grayrelic
