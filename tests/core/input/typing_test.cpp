// SPDX-License-Identifier: GPL-3.0-or-later
// Layouts against the tables that desktops use (tests/data/input/layouts.tsv, made by a library that shares
// nothing with this program), and every character typed and understood again.
#include "core/input/typing.hpp"

#include <fmt/format.h>

#include <fstream>
#include <random>
#include <sstream>

#include "core/input/hex_text.hpp"
#include "core/input/host.hpp"
#include "core/library/data_library.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

const LayoutLibrary& layouts() {
    static const auto data = DataLibrary::load_installed();
    return data->layouts;
}

/// layout, usage, level to character and "waits".
using Reference = std::map<std::tuple<std::string, int, int>, std::pair<std::string, bool>>;
Reference reference() {
    Reference out;
    std::ifstream in(std::string(GRAY_RELIC_SOURCE) + "/tests/data/input/layouts.tsv");
    for (std::string line; std::getline(in, line);) {
        std::istringstream cells(line);
        std::string layout, usage, level, character, dead;
        std::getline(cells, layout, '\t');
        std::getline(cells, usage, '\t');
        std::getline(cells, level, '\t');
        std::getline(cells, character, '\t');
        std::getline(cells, dead, '\t');
        out[{layout, std::stoi(usage), std::stoi(level)}] = {character, dead == "dead"};
    }
    return out;
}

TEST(Layouts, EveryCharacterIsWhereTheDesktopsTablesHaveIt) {
    const auto theirs = reference();
    ASSERT_GT(theirs.size(), 600U);
    std::size_t compared = 0;
    for (const auto& layout : layouts().layouts)
        for (const auto& key : layout.keys)
            for (std::size_t level = 0; level < 4; ++level) {
                if (key.types[level].empty()) continue;
                const auto at = theirs.find({layout.id, key.usage, static_cast<int>(level)});
                ASSERT_NE(at, theirs.end()) << layout.id << " usage " << int{key.usage} << " level " << level;
                EXPECT_EQ(key.types[level], at->second.first) << layout.id << " usage " << int{key.usage};
                EXPECT_EQ(key.dead[level], at->second.second) << layout.id << " " << key.types[level];
                ++compared;
            }
    EXPECT_GE(compared, 400U);
    EXPECT_TRUE(layouts().problems.empty());
}

TEST(Layouts, AllOfAsciiCanBeTypedInEachOfThem) {
    ASSERT_EQ(layouts().ids(), "de, fr, uk, us");
    for (const auto& layout : layouts().layouts)
        for (char c = ' '; c <= '~'; ++c)
            EXPECT_FALSE(layout.strokes_for(std::string(1, c)).empty()) << layout.id << " " << c;
}

std::vector<std::string> reports_of(std::string_view text, const char* layout, bool merge = false) {
    std::vector<std::string> out;
    for (const auto& r : type_text(text, *layouts().find(layout), merge).reports) out.push_back(print_hex(r));
    return out;
}

TEST(TypeText, ModifierDownKeyDownKeyUpModifierUp) {
    // A: left shift is bit 1 (02), the key a is usage 04. |: in the United States shift and usage 31.
    EXPECT_EQ(reports_of("Aa|", "us"),
              (std::vector<std::string>{"02 00 00 00 00 00 00 00", "02 00 04 00 00 00 00 00",
                                        "02 00 00 00 00 00 00 00", "00 00 00 00 00 00 00 00",
                                        "00 00 04 00 00 00 00 00", "00 00 00 00 00 00 00 00",
                                        "02 00 00 00 00 00 00 00", "02 00 31 00 00 00 00 00",
                                        "02 00 00 00 00 00 00 00", "00 00 00 00 00 00 00 00"}));
    // In Germany: the right alt key is bit 6 (40), and the key beside the left shift is usage 64.
    EXPECT_EQ(reports_of("|", "de"),
              (std::vector<std::string>{"40 00 00 00 00 00 00 00", "40 00 64 00 00 00 00 00",
                                        "40 00 00 00 00 00 00 00", "00 00 00 00 00 00 00 00"}));
    // ^ waits there: usage 35, then the space bar, 2C.
    EXPECT_EQ(reports_of("^", "de"),
              (std::vector<std::string>{"00 00 35 00 00 00 00 00", "00 00 00 00 00 00 00 00",
                                        "00 00 2C 00 00 00 00 00", "00 00 00 00 00 00 00 00"}));
    // ê in France: usage 2F waits, then e, usage 08.
    EXPECT_EQ(reports_of("ê", "fr"),
              (std::vector<std::string>{"00 00 2F 00 00 00 00 00", "00 00 00 00 00 00 00 00",
                                        "00 00 08 00 00 00 00 00", "00 00 00 00 00 00 00 00"}));
}

TEST(TypeText, NeighboursShareTheirModifiersOnlyWhenMerged) {
    EXPECT_EQ(reports_of("AB", "us").size(), 8U);
    EXPECT_EQ(reports_of("AB", "us", true),
              (std::vector<std::string>{"02 00 00 00 00 00 00 00", "02 00 04 00 00 00 00 00",
                                        "02 00 00 00 00 00 00 00", "02 00 05 00 00 00 00 00",
                                        "02 00 00 00 00 00 00 00", "00 00 00 00 00 00 00 00"}));
}

TEST(TypeText, WhatALayoutHasNotIsSaidEachTime) {
    const auto typed = type_text("a€b€", *layouts().find("us"), false);
    EXPECT_EQ(typed.unreachable, (std::vector<std::string>{"€", "€"}));
    EXPECT_EQ(typed.reports.size(), 4U);
}

std::vector<TimedReport> timed(const TypedText& typed) {
    std::vector<TimedReport> out;
    for (const auto& r : typed.reports) out.push_back({Time::ms(8) * std::ssize(out), r});
    return out;
}

/// What a host makes of it.
std::string understood(std::string_view text, const KeyboardLayout& layout, bool merge, bool caps) {
    const auto view = host_view(read_descriptor(descriptor_of({})),
                                timed(type_text(text, layout, merge, caps)), {&layout, caps});
    EXPECT_TRUE(view.stuck.empty());
    EXPECT_EQ(view.troubles, 0U);
    return view.text;
}

TEST(TypeText, EveryCharacterOfFourLayoutsIsUnderstoodAgain) {
    std::size_t characters = 0;
    for (const auto& layout : layouts().layouts)
        for (const auto& c : layout.characters())
            for (const bool caps : {false, true}) {
                EXPECT_EQ(understood(c, layout, false, caps), c)
                    << layout.id << (caps ? " with caps lock" : "");
                ++characters;
            }
    EXPECT_GT(characters, 700U);
}

TEST(TypeText, LongTextsAreUnderstoodMergedOrNot) {
    std::mt19937 random(7);
    for (const auto& layout : layouts().layouts) {
        const auto all = layout.characters();
        std::string text;
        for (int i = 0; i < 3000; ++i)
            text += all[std::uniform_int_distribution<std::size_t>(0, all.size() - 1)(random)];
        EXPECT_EQ(understood(text, layout, false, false), text) << layout.id;
        EXPECT_EQ(understood(text, layout, true, false), text) << layout.id;
        EXPECT_EQ(understood(text, layout, true, true), text) << layout.id;
    }
}

TEST(HostView, CapsLockTurnsLettersRoundWhenNobodyReadsTheLamp) {
    const auto& us = *layouts().find("us");
    const auto view = host_view(read_descriptor(descriptor_of({})),
                                timed(type_text("aB1!", us, false, false)), {&us, true});
    EXPECT_EQ(view.text, "Ab1!");
}

std::vector<TimedReport> dump(const std::string& text) {
    return read_report_dump(text, "t", Time::ms(8)).value();
}

TEST(HostView, SaysWhatIsStuckAndWhatCameTogether) {
    const auto& us = *layouts().find("us");
    const auto view = host_view(
        read_descriptor(descriptor_of({})),
        dump("00 00 04 05 00 00 00 00\n00 00 04 00 00 00 00 00\n01 00 04 00 00 00 00 00"), {&us, false});
    EXPECT_EQ(view.text, "ab");
    EXPECT_EQ(view.together, 1U) << "a and b went down in one report";
    EXPECT_EQ(view.stuck, (std::vector<Usage>{{7, 0x04}, {7, 0xE0}}));
    EXPECT_EQ(view.events.back().at, Time::ms(16));
}

TEST(HostView, TooManyKeysKeepWhatWasKnown) {
    const auto view =
        host_view(read_descriptor(descriptor_of({})),
                  dump("00 00 04 00 00 00 00 00\n02 00 01 01 01 01 01 01\n00 00 00 00 00 00 00 00"), {});
    EXPECT_EQ(view.rollovers, 1U);
    EXPECT_TRUE(view.stuck.empty());
    std::string story;
    for (const auto& e : view.events) story += fmt::format("{} {}; ", word(e.kind), e.says);
    EXPECT_EQ(story,
              "press key a; trouble too many keys: the report does not say which; press key left-shift; "
              "release key a; release key left-shift; ");
}

TEST(HostView, APadsHatRestsInItsNullStateAndAxesHaveSigns) {
    const auto pad = read_descriptor(descriptor_of(parse_profile("pad:buttons=8,hat=1,axes=2").value()));
    // Rest; hat 2 (right); the third button and x at −127 (81); rest.
    const auto view = host_view(pad, dump("00 0F 00 00\n00 02 00 00\n04 0F 81 00\n00 0F 00 00"), {});
    std::string story;
    for (const auto& e : view.events) story += e.says + "; ";
    EXPECT_EQ(story, "hat 2; hat at rest; x -127; button 3; x 0; button 3; ");
    EXPECT_EQ(view.troubles, 0U);
    EXPECT_EQ(host_view(pad, dump("00 0F 00"), {}).troubles, 1U) << "a byte is missing";
}

TEST(ReportDump, IsRefusedWithItsLine) {
    EXPECT_EQ(test::message(read_report_dump("0.1: 00\n0.05: 00", "t", Time::ms(8))),
              "t:2: found \"0.05\", expected times that do not go back");
    EXPECT_EQ(test::message(read_report_dump("soon: 00", "t", Time::ms(8))),
              "t:1: found \"soon\", expected a time such as 0.008 or 8ms before the colon");
}

TEST(ReportOf, SevenKeysAreRolloverAndOppositeDirectionsRest) {
    std::vector<Meaning> held;
    for (const auto* k : {"key:a", "key:b", "key:c", "key:d", "key:e", "key:f"})
        held.push_back(parse_meaning(k).value());
    EXPECT_EQ(print_hex(*report_of({}, held)), "00 00 04 05 06 07 08 09");
    held.push_back(parse_meaning("key:left-shift+g").value());
    EXPECT_EQ(print_hex(*report_of({}, held)), "02 00 01 01 01 01 01 01");
    const auto pad = parse_profile("pad:buttons=9,hat=1,axes=1").value();
    const auto m = [](const char* text) { return parse_meaning(text).value(); };
    EXPECT_EQ(print_hex(*report_of(pad, {m("button:9"), m("hat:up"), m("hat:right"), m("axis:x-")})),
              "00 01 01 81");
    EXPECT_EQ(print_hex(*report_of(pad, {m("hat:up"), m("hat:down")})), "00 00 0F 00");
    EXPECT_FALSE(report_of(pad, {m("key:a")}));
    EXPECT_FALSE(report_of(pad, {m("button:10")}));
}

TEST(Meaning, ComesBackAsItWasWritten) {
    for (const auto* text : {"nothing", "key:a", "key:left-shift+2", "key:left-control+left-alt+delete",
                             "text:|", "text::", "text:é", "media:volume-up", "button:128", "hat:up-right",
                             "axis:x", "axis:rz-", "pointer:left", "pointer:wheel", "bridge:layer"})
        EXPECT_EQ(print_meaning(parse_meaning(text).value()), text);
    for (const auto* text : {"", "key", "key:", "key:a+b", "key:nokey", "text:", "text:ab", "button:0",
                             "button:129", "hat:north", "axis:w", "pointer:up", "bridge:", "volume-up"})
        EXPECT_FALSE(parse_meaning(text)) << text;
}

TEST(Meaning, IsFoundByWhatAPersonTypes) {
    EXPECT_EQ(print_meaning(search_meanings("volume up", 5).at(0)), "media:volume-up");
    EXPECT_EQ(print_meaning(search_meanings("f1", 5).at(0)), "key:f1");
    EXPECT_EQ(print_meaning(search_meanings("Button 3", 5).at(0)), "button:3");
    const auto a = search_meanings("a", 3);
    EXPECT_EQ(print_meaning(a.at(0)), "key:a");
    EXPECT_EQ(print_meaning(a.at(1)), "text:a");
    EXPECT_TRUE(search_meanings("there is no such thing", 5).empty());
}

}  // namespace
}  // namespace grayrelic
