// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/storable.hpp"

#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/limits.hpp"
#include "core/base/random.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;
using testing::HasSubstr;

Dossier demo(const char* name) {
    const auto file = test::source_folder() / "demos" / (std::string(name) + ".relic") / "dossier.json";
    return *dossier_from_json(test::read_file(file), "d.json");
}

/// Every place in a JSON document where a text or a number stands.
void leaves(const nlohmann::json::json_pointer& at, const nlohmann::json& j,
            std::vector<nlohmann::json::json_pointer>& out) {
    if (j.is_object())
        for (const auto& [key, child] : j.items()) leaves(at / key, child, out);
    else if (j.is_array())
        for (std::size_t i = 0; i < j.size(); ++i) leaves(at / i, j[i], out);
    else if (j.is_string() || j.is_number())
        out.push_back(at);
}

std::string repeated(std::string_view what, std::size_t bytes) {
    std::string out;
    while (out.size() + what.size() <= bytes) out += what;
    return out;
}

/// A value at the ends of what can be written there; what the reader takes must survive a save.
nlohmann::json extreme(Random& r) {
    switch (r.below(20)) {
        case 0: return repeated("x", most_text);
        case 1: return repeated("é", most_name);
        case 2: return repeated("n", most_name);
        case 3: return "\xEF\xBF\xBE \xEF\xBF\xBF";  // U+FFFE, U+FFFF
        case 4: return "😀\u200F\u0301";
        case 5: return std::string("a\0b\x01\x1b[2J", 8);
        case 6: return "#RESET";
        case 7: return "\"; , | \\ / .. \n";
        case 8: return 1.7976931348623157e308;
        case 9: return 5e-324;
        case 10: return -1e300;
        case 11: return 0;
        case 12: return 9'223'372'036'854'775'807LL;
        case 13: return "9223372s";
        case 14: return "0.000000000001s";
        case 15: return "1e-18";
        case 16: return 1e6;
        case 17: return "";
        case 18: return " ";
        default: return "-273.15";
    }
}

class Extremes : public testing::TestWithParam<const char*> {};
TEST_P(Extremes, WhatTheReaderTakesCanBeSavedAndIsTheSameAgain) {
    const auto original = nlohmann::json::parse(dossier_to_json(demo(GetParam())));
    std::vector<nlohmann::json::json_pointer> places;
    leaves(nlohmann::json::json_pointer(), original, places);
    Random random(20261128);
    int taken = 0, refused = 0;
    for (int i = 0; i < 300; ++i) {
        auto changed = original;
        const auto& at = places[random.below(places.size())];
        changed[at] = extreme(random);
        const auto d = dossier_from_json(changed.dump(1), "d.json");
        if (!d) {
            ++refused;
            EXPECT_GT(d.error().line, 0) << at << message(d);
            EXPECT_FALSE(d.error().expected.empty()) << at;
            continue;
        }
        ++taken;
        EXPECT_TRUE(storable(*d)) << at << " " << changed[at].dump().substr(0, 60) << message(storable(*d));
        const auto again = dossier_from_json(dossier_to_json(*d), "d.json");
        ASSERT_TRUE(again) << at << message(again);
        EXPECT_EQ(*again, *d) << at << " " << changed[at].dump().substr(0, 60);
    }
    EXPECT_GT(taken, 60) << "most texts take anything";
    EXPECT_GT(refused, 60) << "most numbers do not";
}
INSTANTIATE_TEST_SUITE_P(Demos, Extremes,
                         testing::Values("calder-dial-pad", "calder-page-card", "calder-chart-slate"));

TEST(Storable, SaysWhatCannotBeKeptAndWhere) {
    const auto d = demo("calder-dial-pad");
    EXPECT_TRUE(storable(d)) << message(storable(d));
    const auto with_pin = [&](auto change) {
        auto pin = d.ports->front().pins.front();
        change(pin);
        return put_pin(d, d.ports->front().id, pin);
    };
    EXPECT_TRUE(storable(with_pin([](Pin& p) { p.note.assign(most_text, 'x'); })));
    EXPECT_EQ(message(storable(with_pin([](Pin& p) { p.note.assign(most_text + 1, 'x'); }))),
              "found 100001 bytes, expected at most 100000 for ports[0].pins[0].note");
    EXPECT_THAT(message(storable(with_pin([](Pin& p) { p.volts_max.value = Volts(HUGE_VAL); }))),
                HasSubstr("volts_max"));
    EXPECT_THAT(message(storable(with_pin([](Pin& p) { p.note = "\xC3"; }))), HasSubstr("ports"));
    EXPECT_FALSE(storable(with_pin([](Pin& p) { p.volts_max.uncertainty = std::nan(""); })));

    CaptureRef c;
    c.id.assign(most_name + 1, 'c');
    c.outside = "/somewhere/else.vcd";
    EXPECT_THAT(message(storable(put(d, c))), HasSubstr("captures[10].id"));
    c.id = "new";
    c.ties.push_back({std::string(most_name, 's'), "1"});
    EXPECT_TRUE(storable(put(d, c))) << message(storable(put(d, c)));

    BoardPart far;
    far.ref = "U1";
    far.x_mm = 2e6;
    far.y_mm = 0;
    EXPECT_THAT(message(storable(put(d, far))), HasSubstr("trace.parts[0].x_mm"));
    About about;
    about.name.assign(most_name, 'x');
    about.purpose.assign(most_text, 'p');
    EXPECT_TRUE(dossier_from_json(dossier_to_json(put(d, about)), "d.json"));
    EXPECT_TRUE(storable(put(d, about))) << message(storable(put(d, about)));
    about.name += 'x';
    EXPECT_FALSE(dossier_from_json(dossier_to_json(put(d, about)), "d.json"));
    EXPECT_EQ(message(storable(put(d, about))), "found 4097 bytes, expected at most 4096 for name");
    about.name = "x";
    about.revision = 0;
    EXPECT_THAT(message(storable(put(d, about))), HasSubstr("for revision"));
    about.revision = 1;
    about.purpose = "\xC3";
    EXPECT_THAT(message(storable(put(d, about))), HasSubstr("name and purpose"));
}

TEST(Storable, OnlyWhatChangedIsProved) {
    auto d = demo("calder-dial-pad");
    auto port = d.ports->front();
    port.name.assign(most_text + 1, 'x');
    const auto broken = put(d, port);
    About about = *d.about;
    about.purpose = "another";
    EXPECT_TRUE(storable(put(broken, about), &broken)) << "the ports stayed as they were";
    EXPECT_FALSE(storable(put(broken, about), &d));
}

TEST(Storable, NothingIsWrittenThatCouldNotBeOpened) {
    const test::TempFolder folder;
    const auto made = new_dossier(folder / "q.relic", std::string(most_name + 1, 'n'));
    EXPECT_THAT(message(made), HasSubstr("4097 bytes"));
    EXPECT_FALSE(std::filesystem::exists(folder / "q.relic" / "dossier.json"));
    const auto long_name = new_dossier(folder / "r.relic", std::string(300, 'n'));
    ASSERT_TRUE(long_name) << message(long_name);
    EXPECT_TRUE(load_dossier(folder / "r.relic"));
}

}  // namespace
}  // namespace grayrelic
