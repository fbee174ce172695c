// SPDX-License-Identifier: GPL-3.0-or-later
// Coverage: each kind of gap put in on purpose is named, and a map without faults has none.
#include "core/input/coverage.hpp"

#include <fmt/format.h>

#include <random>

#include "core/input/map_analysis.hpp"
#include "core/input/messages.hpp"
#include "core/library/data_library.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

const LayoutLibrary& host_layouts() {
    static const auto data = DataLibrary::load_installed();
    return data->layouts;
}

MapKey key(const std::string& id, const std::string& legend, const std::string& code,
           const std::string& meaning, KeySends sends = KeySends::press_release) {
    MapKey k;
    k.id = id;
    k.legend = legend;
    k.code.value = code;
    k.code.evidence.kind = EvidenceKind::measured;
    k.meaning = meaning;
    k.sends = sends;
    return k;
}

/// A small keyboard that is whole: letters, shift, enter.
DeviceMap good_map() {
    DeviceMap m;
    m.modern.profiles = {"keyboard", "media"};
    m.modern.layout = "uk";
    for (char c = 'A'; c <= 'Z'; ++c)
        m.keys.push_back(key(std::string("k") + c, std::string(1, c), fmt::format("0x{:02X}", c),
                             fmt::format("key:{:c}", c - 'A' + 'a')));
    m.keys.push_back(key("shift", "SHIFT", "0x01", "key:left-shift"));
    m.keys.push_back(key("enter", "ENTER", "0x0D", "key:enter"));
    m.modern.wanted = {"letters", "key:enter"};
    return m;
}

std::vector<GapKind> kinds(const DeviceMap& m) {
    std::vector<GapKind> out;
    for (const auto& g : cover(m, host_layouts()).gaps) out.push_back(g.kind);
    return out;
}

const MapGap* find(const Coverage& c, GapKind kind) {
    const auto it = std::find_if(c.gaps.begin(), c.gaps.end(), [&](const auto& g) { return g.kind == kind; });
    return it == c.gaps.end() ? nullptr : &*it;
}

TEST(Coverage, AMapWithoutFaultsHasNoGap) {
    const auto c = cover(good_map(), host_layouts());
    EXPECT_TRUE(c.gaps.empty()) << (c.gaps.empty() ? "" : c.gaps.front().says);
    EXPECT_EQ(c.codes, 28U);
    EXPECT_EQ(c.codes_with_meaning, 28U);
    EXPECT_EQ(c.wanted, 53U);
    EXPECT_EQ(c.reached, 53U);
}

struct Fault {
    const char* name;
    GapKind kind;
    Verdict verdict;
    void (*put)(DeviceMap&);
    const char* says;
};
void PrintTo(const Fault& f, std::ostream* out) {
    *out << f.name;
}
class PlantedGap : public testing::TestWithParam<Fault> {};
TEST_P(PlantedGap, IsNamedAndNothingElse) {
    auto m = good_map();
    GetParam().put(m);
    const auto c = cover(m, host_layouts());
    const auto* g = find(c, GetParam().kind);
    ASSERT_NE(g, nullptr);
    EXPECT_EQ(g->verdict, GetParam().verdict);
    EXPECT_THAT(g->says, testing::HasSubstr(GetParam().says));
    EXPECT_FALSE(g->todo.empty());
    EXPECT_EQ(c.gaps.size(), 1U) << c.gaps.back().says;
}
INSTANTIATE_TEST_SUITE_P(
    All, PlantedGap,
    testing::Values(
        Fault{"NoMeaning", GapKind::no_meaning, Verdict::doubt,
              [](DeviceMap& m) { m.keys.push_back(key("help", "HELP", "0x77", "")); },
              "HELP becomes nothing"},
        Fault{"UnreadableMeaning", GapKind::unreadable_meaning, Verdict::stop,
              [](DeviceMap& m) { m.keys.push_back(key("x", "X1", "0x77", "kye:a")); }, "\"kye:a\""},
        Fault{"NoCode", GapKind::no_code, Verdict::doubt,
              [](DeviceMap& m) { m.keys.push_back(key("help", "HELP", "", "key:home")); },
              "What HELP sends is not known"},
        Fault{"OneCodeTwoMeanings", GapKind::code_twice, Verdict::stop,
              [](DeviceMap& m) { m.keys.push_back(key("tab", "TAB", "0x0D", "key:tab")); },
              "send the code 0x0D, and are to become different things"},
        Fault{"OneCodeOneMeaning", GapKind::code_twice, Verdict::holds,
              [](DeviceMap& m) { m.keys.push_back(key("enter2", "ENTER", "0x0D", "key:enter")); },
              "can't be told apart"},
        Fault{"SameMeaning", GapKind::same_meaning, Verdict::doubt,
              [](DeviceMap& m) { m.keys.push_back(key("send", "SEND", "0x77", "key:enter")); },
              "2 keys become enter"},
        Fault{"NotCarried", GapKind::not_carried, Verdict::stop,
              [](DeviceMap& m) { m.keys.push_back(key("fire", "FIRE", "0x77", "button:3")); },
              "No profile of the bridge has button 3"},
        Fault{"WrongProfile", GapKind::not_carried, Verdict::stop,
              [](DeviceMap& m) { m.modern.profiles.push_back("mouse"); }, "\"mouse\" is no profile"},
        Fault{"NoLayout", GapKind::no_layout, Verdict::doubt,
              [](DeviceMap& m) {
                  m.modern.layout.clear();
                  m.modern.wanted.clear();
                  m.keys.push_back(key("p", "£", "0x77", "text:£", KeySends::press));
              },
              "the host's layout is not said"},
        Fault{"NoSuchCharacter", GapKind::no_such_character, Verdict::stop,
              [](DeviceMap& m) { m.keys.push_back(key("y", "¥", "0x77", "text:¥", KeySends::press)); },
              "The layout uk has no way to type ¥"},
        Fault{"LiftsModifier", GapKind::lifts_modifier, Verdict::doubt,
              [](DeviceMap& m) { m.keys.push_back(key("p", "£", "0x77", "text:£", KeySends::press)); },
              "the host would add it"},
        Fault{"NeverHeld", GapKind::never_held, Verdict::stop,
              [](DeviceMap& m) {
                  m.keys.push_back(key("ctrl", "CTRL", "0x77", "key:left-control", KeySends::press));
              },
              "left control can't be held"},
        Fault{"NotReached", GapKind::not_reached, Verdict::doubt,
              [](DeviceMap& m) { m.modern.wanted.push_back("media"); },
              "nothing reaches volume up, volume down, mute, play pause"},
        Fault{"UnknownWant", GapKind::unknown_want, Verdict::doubt,
              [](DeviceMap& m) { m.modern.wanted.push_back("everything"); }, "\"everything\" is no meaning"},
        Fault{"ErrorOpen", GapKind::message_open, Verdict::stop,
              [](DeviceMap& m) {
                  MapMessage e;
                  e.id = "err";
                  e.name = "error";
                  e.kind = MessageKind::error;
                  m.messages.push_back(e);
              },
              "does what nobody has said"},
        Fault{"ErrorIgnored", GapKind::message_open, Verdict::doubt,
              [](DeviceMap& m) {
                  MapMessage e;
                  e.id = "err";
                  e.name = "error";
                  e.kind = MessageKind::error;
                  e.act = MessageAct::ignore;
                  m.messages.push_back(e);
              },
              "keys that were held then stay down"}),
    [](const auto& one) { return std::string(one.param.name); });

TEST(Coverage, CapsLockIsSaidOnceForAllLettersThatAreTyped) {
    DeviceMap m;
    m.modern.profiles = {"keyboard"};
    m.modern.layout = "us";
    m.keys = {key("a", "a", "61", "text:a", KeySends::press), key("b", "B", "42", "text:B", KeySends::press),
              key("1", "1", "31", "text:1", KeySends::press)};
    const auto c = cover(m, host_layouts());
    const auto* g = find(c, GapKind::caps_lock);
    ASSERT_NE(g, nullptr);
    EXPECT_EQ(g->keys, (std::vector<std::string>{"a", "b"}));
    EXPECT_EQ(kinds(m).size(), 1U);
}

TEST(Coverage, ACharacterIsReachedOverTheKeysThatTypeIt) {
    auto m = good_map();
    // On uk @ is shift and the quote key; | is shift and the key beside the left shift, which nothing
    // reaches.
    m.keys.push_back(key("quote", "'", "0x27", "key:quote"));
    m.modern.wanted = {"text:@", "text:|", "text:'"};
    auto c = cover(m, host_layouts());
    EXPECT_EQ(c.reached, 2U);
    EXPECT_THAT(find(c, GapKind::not_reached)->says, testing::HasSubstr("nothing reaches |"));
    // One key that brings shift with it.
    m.keys.push_back(key("pipe", "|", "0x28", "key:left-shift+angle"));
    EXPECT_EQ(cover(m, host_layouts()).reached, 3U);
    // Without a shift that can be held there is no @.
    std::erase_if(m.keys, [](const auto& k) { return k.id == "shift"; });
    c = cover(m, host_layouts());
    EXPECT_EQ(c.reached, 2U);
}

TEST(Coverage, LegendsAreProposed) {
    const auto& uk = *host_layouts().find("uk");
    const std::vector<Profile> keyboard{parse_profile("keyboard").value()},
        pad{parse_profile("pad:buttons=8,hat=1,axes=1").value()};
    const auto says = [&](const char* legend, const std::vector<Profile>& profiles,
                          KeySends sends = KeySends::press_release) {
        const auto m = propose_meaning(key("k", legend, "", "", sends), profiles, &uk);
        return m ? print_meaning(*m) : std::string("?");
    };
    EXPECT_EQ(says("A", keyboard), "key:a");
    EXPECT_EQ(says("a", keyboard, KeySends::press), "text:a");
    EXPECT_EQ(says("£", keyboard), "text:£") << "it needs shift there";
    EXPECT_EQ(says("'", keyboard), "key:quote");
    EXPECT_EQ(says("RETURN", keyboard), "key:enter");
    EXPECT_EQ(says("F7", keyboard), "key:f7");
    EXPECT_EQ(says("FN", keyboard), "?");
    EXPECT_EQ(says("↑", keyboard), "key:up");
    EXPECT_EQ(says("↑", pad), "hat:up");
    EXPECT_EQ(says("C", pad), "button:3");
    EXPECT_EQ(says("FIRE", pad), "button:1");
    EXPECT_EQ(says("9", pad), "?") << "it has eight buttons";
    EXPECT_EQ(says("", keyboard), "?");
}

TEST(Coverage, EveryKeyWithoutMeaningHasItsStateAndSoOn) {
    auto m = good_map();
    m.keys[0].meaning.clear();
    m.keys[1].code.value.clear();
    m.keys[2].meaning = "wrong";
    const auto c = cover(m, host_layouts());
    EXPECT_EQ(c.find("kA")->state, Verdict::doubt);
    EXPECT_EQ(c.find("kB")->state, Verdict::unknown);
    EXPECT_EQ(c.find("kC")->state, Verdict::stop);
    EXPECT_EQ(c.find("kD")->state, Verdict::holds);
    EXPECT_EQ(c.find("none"), nullptr);
    EXPECT_EQ(c.gaps.front().verdict, Verdict::stop) << "the worst first";
    EXPECT_EQ(print_meaning(*find(c, GapKind::no_meaning)->proposal), "key:a");
}

TEST(Messages, NoticeAndFalseAlarmsAreComputed) {
    MapMessage m;
    m.id = "alive";
    m.act = MessageAct::watch;
    m.every.value = Time::ms(250);
    m.misses = 3;
    m.lost.value = 0.01;
    m.lost.evidence.kind = EvidenceKind::measured;
    const auto s = study_message(m);
    // 4 · 250 ms; 86400 / 0.25 · 0.01³ = 0.3456.
    EXPECT_NEAR(*s.notice_s, 1.0, 1e-12);
    EXPECT_NEAR(*s.false_alarms_day, 0.3456, 1e-9);
    EXPECT_EQ(s.verdict, Verdict::holds);
    // At most 0.01 a day: 345600 · 0.01^n ≤ 0.01, n = 3.77: 4.
    EXPECT_EQ(s.misses_needed, 4);
    m.misses = 1;
    EXPECT_EQ(study_message(m).verdict, Verdict::doubt) << "3,456 false alarms a day";
    m.lost = {};
    m.misses = 3;
    EXPECT_EQ(study_message(m).verdict, Verdict::unknown) << "nobody counted";
    EXPECT_THAT(study_message(m).todo, testing::HasSubstr("Record ten minutes"));
    m.every = {};
    EXPECT_EQ(study_message(m).verdict, Verdict::unknown);
    EXPECT_THAT(study_message(m).todo, testing::HasSubstr("Record a minute"));
    m.act = MessageAct::ignore;
    EXPECT_EQ(study_message(m).verdict, Verdict::holds);
}

TEST(MapAnalysis, OfTwoHundredKeysTakesNoTime) {
    // Judged again after each edit: the bound in bench/ is 50 ms; here only that all of it is there.
    Dossier d;
    auto m = good_map();
    for (int r = 0; r < 8; ++r) m.matrix.rows.push_back(fmt::format("R{}", r));
    for (int c = 0; c < 16; ++c) m.matrix.columns.push_back(fmt::format("C{}", c));
    for (int i = 0; i < 100; ++i) {
        auto k = key(fmt::format("m{}", i), fmt::format("M{}", i), "", "nothing");
        k.row = m.matrix.rows[static_cast<std::size_t>(i % 8)];
        k.column = m.matrix.columns[static_cast<std::size_t>(i / 8)];
        m.keys.push_back(k);
    }
    m.matrix.chords = {{"m0", "m1", "m8"}};
    d.map = Section<DeviceMap>(m);
    const auto a = analyse_map(d, host_layouts());
    ASSERT_TRUE(a.matrix);
    EXPECT_EQ(a.matrix->model.keys.size(), 100U);
    EXPECT_EQ(a.matrix->guard.chords_wrong, 1U);
    EXPECT_EQ(a.matrix->worst.front().likelihood, 1);
}

}  // namespace
}  // namespace grayrelic
