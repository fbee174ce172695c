// SPDX-License-Identifier: GPL-3.0-or-later
// Ports, sources, photos and cables on disk: all of it comes back, and the shipped dossiers are as the
// program would write them.
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/dossier/store.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

TEST(PortJson, EveryShippedDossierIsAsTheProgramWritesIt) {
    int n = 0;
    for (const auto& entry : std::filesystem::directory_iterator(test::source_folder() / "demos")) {
        if (entry.path().extension() != ".relic") continue;  // the demo's person
        const auto text = test::read_file(entry.path() / "dossier.json");
        const auto d = dossier_from_json(text, entry.path().string());
        ASSERT_TRUE(d) << test::message(d);
        EXPECT_EQ(dossier_to_json(*d), text) << entry.path();
        ++n;
    }
    EXPECT_GE(n, 3);
}

Port full_port() {
    Port p;
    p.id = "J7";
    p.name = "Everything";
    p.connector = "edge-2x15-p3.96-k6";
    p.numbering = "rows";
    p.viewpoint = "plug-solder";
    p.side = Side::modern;
    p.half = Half::plug;
    p.nearby = {"mains", "tube"};
    Pin pin;
    pin.number = "1";
    const Evidence e{EvidenceKind::measured, "me", "2026-11-23", "", "meter"};
    for (const auto& [key, text] : {std::pair{"name", "REPLY"},
                                    {"driver", "both"},
                                    {"function", "clock"},
                                    {"family", "hct"},
                                    {"output", "open-collector"},
                                    {"idle", "floating"},
                                    {"pull", "up"},
                                    {"pull_ohm", "4k7 ± 235"},
                                    {"volts_min", "-0.2V"},
                                    {"volts_max", "5.1V ± 50mV"},
                                    {"current_max", "120mA"},
                                    {"volts_idle", "4.9V"},
                                    {"volts_active", "0.3V"},
                                    {"ohms_to_ground", "12k"},
                                    {"colour", "brown"},
                                    {"protection", "series 330R"}})
        EXPECT_TRUE(set_field(pin, *find_pin_field(key), text, e)) << key;
    p.pins = {pin};
    p.sources = {{"book", "A book", "Read mirrored.", {pin}, ""}};
    p.photos = {{"photos/port.png", "", "Front", ""}};
    p.taps.analyser = "general-8";
    p.taps.shortest.value = *parse_time("2us");
    p.taps.shortest.evidence = e;
    p.taps.wishes = {{"w1", "a press", "press it", std::nullopt, 24}, {"w2", "an error", "", 30.0, 5}};
    return p;
}

TEST(PortJson, EverythingComesBack) {
    Cable c;
    c.id = "lead";
    c.name = "Lead";
    c.a = {"J7", "", Half::plug, "one end"};
    c.b = {"", "dsub-9", Half::socket, "other end"};
    c.wires = {{"1", "9", "grey", "screen"}};
    c.stripe = "1";
    c.note = "short";
    const auto d = put(put({}, full_port()), c);
    const auto named = put(d, {"Test", "", 1, ""});
    const auto back = dossier_from_json(dossier_to_json(named), "t");
    ASSERT_TRUE(back) << test::message(back);
    EXPECT_TRUE(*back == named);
    for (const auto& f : pin_fields()) EXPECT_TRUE(field_known(back->ports->front().pins[0], f)) << f.key;
}

TEST(PortJson, FieldsOfANewerVersionAreKept) {
    const auto text = R"({"format": "gray-relic-dossier", "version": 1, "name": "n", "ports": [{"id": "J1",
        "colour": "beige", "sources": [{"id": "s", "pages": 3}], "photos": [{"file": "a.png", "lens": "50 mm"}]}],
        "cables": [{"id": "c", "a": {}, "b": {}, "price": 4}]})";
    const auto d = dossier_from_json(text, "t");
    ASSERT_TRUE(d) << test::message(d);
    const auto out = dossier_to_json(*d);
    for (const char* kept : {"beige", "\"pages\": 3", "50 mm", "\"price\": 4"})
        EXPECT_THAT(out, HasSubstr(kept));
}

struct Refused {
    const char* part;
    const char* says;
};
class BadPort : public testing::TestWithParam<Refused> {};
TEST_P(BadPort, IsRefusedWithItsLine) {
    const auto text = std::string("{\"format\": \"gray-relic-dossier\", \"version\": 1, \"name\": \"n\",\n") +
                      GetParam().part + "}";
    EXPECT_THAT(test::message(dossier_from_json(text, "t")), HasSubstr(GetParam().says));
}
INSTANTIATE_TEST_SUITE_P(
    Parts, BadPort,
    testing::Values(
        Refused{R"("ports": [{"id": "J1", "side": "left"}])",
                "t:2: found \"left\", expected relic or modern"},
        Refused{R"("ports": [{"id": "J1", "half": "both"}])", "expected socket or plug"},
        Refused{R"("ports": [{"id": "J1", "photos": [{"file": "../../etc/passwd"}]}])",
                "a path inside the dossier's folder"},
        Refused{R"("ports": [{"id": "J1", "photos": [{"file": "/etc/passwd"}]}])",
                "a path inside the dossier's folder"},
        Refused{R"("ports": [{"id": "J1", "sources": [{"id": "a"}, {"id": "a"}]}])", "a second time"},
        Refused{R"("cables": [{"id": "c", "a": {}}])", "found no \"b\""},
        Refused{R"("cables": [{"id": "c", "a": {}, "b": {}, "wires": [{"a": "1"}]}])", "found no \"b\""},
        Refused{R"("cables": [{"id": "c", "a": {}, "b": {}}, {"id": "c", "a": {}, "b": {}}])",
                "a second time"},
        Refused{R"("ports": [{"id": "J1", "pins": [{"number": "1", "pull_ohm": {"value": "5 V"}}]}])",
                "pull_ohm"}));

TEST(PortEdits, PortsAndCablesComeAndGo) {
    auto d = put({}, full_port());
    EXPECT_EQ(free_port_id(d), "J1");
    Port first;
    first.id = "J1";
    d = put(d, first);
    EXPECT_EQ(free_port_id(d), "J2");
    EXPECT_EQ(drop<Port>(d, "J1").ports->size(), 1U);
    EXPECT_EQ(free_id<Cable>(d, "My lead"), "my-lead");
    Cable c;
    c.id = "my-lead";
    d = put(d, c);
    EXPECT_EQ(free_id<Cable>(d, "My lead"), "my-lead-2");
    EXPECT_EQ(drop<Cable>(d, "my-lead").cables->size(), 0U);
    EXPECT_EQ(free_source_id(full_port(), "book"), "book-2");
}

TEST(PortStore, PhotosAreCopiedInAndMoveWithTheDossier) {
    const test::TempFolder folder;
    test::write_file(folder / "front.png", "picture");
    Port p;
    p.id = "J1";
    p.photos = {{"", (folder / "front.png").string(), "Front", ""}};
    const auto saved = save_dossier(put(put({}, p), {"n", "", 1, ""}), folder / "a.relic", {});
    ASSERT_TRUE(saved) << test::message(saved);
    EXPECT_EQ(saved->ports->front().photos[0].file, "photos/front.png");
    EXPECT_EQ(saved->ports->front().photos[0].outside, "");
    EXPECT_EQ(test::read_file(folder / "a.relic/photos/front.png"), "picture");
    const auto moved = save_dossier(*saved, folder / "b.relic", folder / "a.relic");
    ASSERT_TRUE(moved) << test::message(moved);
    EXPECT_EQ(test::read_file(folder / "b.relic/photos/front.png"), "picture");
    p.photos[0].outside = (folder / "gone.png").string();
    EXPECT_FALSE(save_dossier(put(put({}, p), {"n", "", 1, ""}), folder / "c.relic", {}));
}

}  // namespace
}  // namespace grayrelic
