// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/dossier_json.hpp"

#include <nlohmann/json.hpp>

#include "core/base/random.hpp"
#include "core/dossier/edits.hpp"
#include "core/json/json_place.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;

Result<Dossier> read(const std::string& text) {
    return dossier_from_json(text, "d.json");
}

std::string demo_text() {
    return test::read_file(test::source_folder() / "demos/calder-dial-pad.relic/dossier.json");
}

TEST(DossierJson, TheDemoRoundTripsToTheSameValueAndText) {
    const auto d = read(demo_text());
    ASSERT_TRUE(d) << message(d);
    EXPECT_EQ(d->about->name, "Calder dial pad");
    EXPECT_EQ(d->ports->front().pins.size(), 6U);
    EXPECT_EQ(d->captures->size(), 10U);
    EXPECT_EQ(d->timing->options.size(), 5U);
    const auto text = dossier_to_json(*d);
    const auto again = read(text);
    ASSERT_TRUE(again) << message(again);
    EXPECT_EQ(*again, *d);
    EXPECT_EQ(dossier_to_json(*again), text);
    EXPECT_EQ(text, demo_text()) << "the committed demo is as the program would write it";
}

TEST(DossierJson, FactsKeepTheirEvidence) {
    const auto d = read(demo_text());
    ASSERT_TRUE(d);
    const auto* pin = d->ports->front().find_pin("1");
    ASSERT_NE(pin, nullptr);
    EXPECT_EQ(pin->volts_max.value, Volts(5.25));
    EXPECT_EQ(pin->volts_max.uncertainty, 0.01);
    EXPECT_EQ(pin->volts_max.evidence.kind, EvidenceKind::measured);
    EXPECT_EQ(pin->volts_max.evidence.date, "2026-10-03");
    EXPECT_EQ(pin->current_max.value, Amperes(0.12));
    EXPECT_EQ(d->timing->reply.look.evidence.kind, EvidenceKind::assumed);
    EXPECT_EQ(d->timing->reply.guard.value, Time::ns(50));
    EXPECT_EQ(d->pin_of(d->captures->front(), "control_port.STEP")->name.value, "STEP");
    EXPECT_EQ(d->pin_of(d->captures->front(), "other.thing"), nullptr);
}

TEST(DossierJson, FurtherDecodersReadingWordsAndMomentsRoundTrip) {
    auto d = read(demo_text()).value();
    auto c = d.captures->front();
    c.also = {{"clocked", {{"clock", {"STEP"}}, {"data", {"REPLY"}}}, {{"mode", "1"}}, {"a", "b"}},
              {"quadrature", {{"a", {"x"}}, {"b", {"y"}}}, {}, {}}};
    c.read_as = {{"unit", "us"}, {"threshold", "1.4"}};
    c.moments = {{Time::ms(2100), Time::ms(2400), "fire"}, {Time::ps(1), Time::us(3), ""}};
    d = put(d, c);
    const auto again = read(dossier_to_json(d));
    ASSERT_TRUE(again) << message(again);
    EXPECT_EQ(again->captures->front(), c);
    // Broken ones are told with their line.
    auto json = nlohmann::ordered_json::parse(dossier_to_json(d));
    json["captures"][0]["moments"][0]["to"] = "1 ms";
    EXPECT_THAT(message(read(json.dump(2))), testing::HasSubstr("not before \"from\""));
    json["captures"][0]["moments"][0]["to"] = "soon";
    EXPECT_FALSE(read(json.dump(2)));
    json["captures"][0]["moments"] = nlohmann::json::array({{{"from", "1 s"}}});
    EXPECT_FALSE(read(json.dump(2)));
    json["captures"][0].erase("moments");
    json["captures"][0]["read_as"] = "us";
    EXPECT_FALSE(read(json.dump(2)));
}

TEST(DossierJson, FieldsOfNewerVersionsAreKept) {
    auto json = nlohmann::ordered_json::parse(demo_text());
    json["weather"] = "rain";
    json["ports"][0]["shielded"] = true;
    json["ports"][0]["pins"][2]["wire"] = {{"colour", "blue"}};
    json["ports"][0]["pins"][2]["driver"]["confidence"] = 0.9;
    json["captures"][1]["photo"] = "x.png";
    json["timing"]["mood"] = 1;
    json["timing"]["intervals"][0]["drawn"] = false;
    json["timing"]["options"][0]["price"] = "0.40";
    const auto d = read(json.dump());
    ASSERT_TRUE(d) << message(d);
    const auto back = nlohmann::json::parse(dossier_to_json(*d));
    EXPECT_EQ(back, nlohmann::json(json));
    // and they survive an edit of the thing that carries them
    auto pin = *d->ports->front().find_pin("3");
    pin.note = "edited";
    const auto edited = nlohmann::json::parse(dossier_to_json(put_pin(*d, "J1", pin)));
    EXPECT_EQ(edited["ports"][0]["pins"][2]["wire"]["colour"], "blue");
    EXPECT_EQ(edited["ports"][0]["pins"][2]["note"], "edited");
}

TEST(DossierJson, TimesMayBeTextOrSeconds) {
    const auto d = read(
        R"({"format":"gray-relic-dossier","version":1,"name":"n","timing":{"options":[{"id":"a","kind":"poll","parameters":[
        {"key":"period","value":2.6e-6},{"key":"work","value":"1.2us"}]}]}})");
    ASSERT_TRUE(d) << message(d);
    EXPECT_EQ(d->timing->options[0].parameters[0].value.value, Time::ns(2600));
    EXPECT_EQ(d->timing->options[0].parameters[1].value.value, Time::ns(1200));
    EXPECT_EQ(d->timing->options[0].parameters[1].value.evidence.kind, EvidenceKind::assumed);
}

struct Fault {
    const char* name;
    std::string text;
    const char* message;
};
void PrintTo(const Fault& f, std::ostream* out) {
    *out << f.name;
}
class DossierRefuses : public testing::TestWithParam<Fault> {};

TEST_P(DossierRefuses, WithFileLineAndWording) {
    const auto d = read(GetParam().text);
    ASSERT_FALSE(d);
    EXPECT_EQ(d.error().kind, Error::Kind::unreadable);
    EXPECT_EQ(message(d), GetParam().message);
}

const std::string head = "{\n \"format\": \"gray-relic-dossier\",\n \"version\": 1,\n \"name\": \"n\",\n";

INSTANTIATE_TEST_SUITE_P(
    Faults, DossierRefuses,
    testing::Values(
        Fault{"Empty", "", "d.json:1: found an empty file, expected a dossier as JSON"},
        Fault{"List", "[]", "d.json:1: found a list, expected an object for the file"},
        Fault{"NoFormat", "{}", "d.json:1: found no \"format\", expected \"format\" in the file"},
        Fault{"OtherFormat", "{\n\"format\": \"x\"}",
              "d.json:2: found \"x\", expected \"gray-relic-dossier\""},
        Fault{
            "NewerVersion", "{\"format\": \"gray-relic-dossier\",\n\"version\": 9}",
            "d.json:2: found 9, expected a version up to 2; this dossier was written by a newer Gray Relic"},
        Fault{"VersionNoNumber", "{\"format\": \"gray-relic-dossier\",\n\"version\": \"1\"}",
              "d.json:2: found \"1\", expected a whole number from 1 to 2 for version"},
        Fault{"NoName", "{\"format\": \"gray-relic-dossier\", \"version\": 1}",
              "d.json:1: found no \"name\", expected \"name\" in the file"},
        Fault{"NameNoText", "{\"format\": \"gray-relic-dossier\", \"version\": 1,\n\n\"name\": 7}",
              "d.json:3: found 7, expected text for name"},
        Fault{"PortsNoList", head + " \"ports\": 5}", "d.json:5: found 5, expected a list for ports"},
        Fault{"PortNoObject", head + " \"ports\": [\n 1]}",
              "d.json:6: found 1, expected an object for ports[0]"},
        Fault{"BadDriver",
              head + " \"ports\": [{\"id\": \"J1\", \"pins\": [\n{\"number\": \"1\",\n\"driver\": "
                     "{\n\"value\": \"me\"}}]}]}",
              "d.json:8: found \"me\", expected unknown, relic, bridge, both, supply or nobody for "
              "ports[0].pins[0].driver.value"},
        Fault{"BadEvidence",
              head + " \"ports\": [{\"id\": \"J1\", \"pins\": [{\"number\": \"1\", \"name\": "
                     "{\n\"evidence\": \"hearsay\"}}]}]}",
              "d.json:6: found \"hearsay\", expected measured, documented, deduced or assumed for "
              "ports[0].pins[0].name.evidence"},
        Fault{"BadVolts",
              head + " \"ports\": [{\"id\": \"J1\", \"pins\": [{\"number\": \"1\", \"volts_max\": "
                     "{\n\"value\": \"5 A\"}}]}]}",
              "d.json:6: found \"5 A\", expected a voltage like 3V3 for ports[0].pins[0].volts_max.value"},
        Fault{"TwoPins",
              head + " \"ports\": [{\"id\": \"J1\", \"pins\": [{\"number\": \"1\"},\n{\"number\": \"1\"}]}]}",
              "d.json:6: found \"1\" a second time, expected each one once in ports[0].pins"},
        Fault{"EmptyId", head + " \"ports\": [{\"id\": \"\"}]}",
              "d.json:5: found an empty text, expected a name for ports[0].id"},
        Fault{"FileOutside", head + " \"captures\": [{\"id\": \"a\",\n\"file\": \"../../etc/passwd\"}]}",
              "d.json:6: found \"../../etc/passwd\", expected a path inside the dossier's folder"},
        Fault{"FileAbsolute", head + " \"captures\": [{\"id\": \"a\", \"file\": \"/etc/passwd\"}]}",
              "d.json:5: found \"/etc/passwd\", expected a path inside the dossier's folder"},
        Fault{"FileMissing", head + " \"captures\": [{\"id\": \"a\"}]}",
              "d.json:5: found no \"file\", expected \"file\" in captures[0]"},
        Fault{
            "BadTime",
            head + " \"timing\": {\"options\": [{\"id\": \"a\", \"kind\": \"poll\", \"parameters\": "
                   "[{\"key\": \"period\",\n\"value\": \"soon\"}]}]}}",
            "d.json:6: found \"soon\", expected a time like 2.2us for timing.options[0].parameters[0].value"},
        Fault{"BadEdge",
              head + " \"timing\": {\"intervals\": [{\"id\": \"a\",\n\"from\": \"STEP\", \"to\": \"b:rise\", "
                     "\"kind\": \"width\"}]}}",
              "d.json:6: found \"STEP\", expected an edge like STEP:rise, STEP:fall or STEP:any"},
        Fault{"BadKind",
              head + " \"timing\": {\"intervals\": [{\"id\": \"a\", \"from\": \"a:rise\", \"to\": "
                     "\"b:rise\",\n\"kind\": \"nap\"}]}}",
              "d.json:6: found \"nap\", expected response, setup, hold, width, period, gap, recovery or look "
              "for "
              "timing.intervals[0].kind"},
        Fault{"ChosenNobody", head + " \"timing\": {\"options\": [],\n\"chosen\": \"x\"}}",
              "d.json:6: found \"x\", expected the id of one of the options"}),
    [](const auto& given) { return given.param.name; });

TEST(DossierJson, BrokenJsonIsToldWithItsLine) {
    const auto d = read("{\n\"format\": \"gray-relic-dossier\",\n\"version\": 1,,\n}");
    ASSERT_FALSE(d);
    EXPECT_EQ(d.error().line, 3);
    EXPECT_EQ(d.error().expected, "a dossier as JSON");
    EXPECT_FALSE(read("{\"a\": \"\xff\"}"));
    EXPECT_FALSE(read(std::string("{\"a\": 1}\0x", 10)));
}

TEST(DossierJson, DepthIsBounded) {
    const auto d = read(std::string(100'000, '['));
    EXPECT_EQ(message(d), "d.json:1: found more than 64 nested brackets, expected a dossier as JSON");
}

TEST(DossierJson, SurvivesSeededMutations) {
    const auto good = demo_text();
    Random random(7);
    int refused = 0;
    for (int round = 0; round < 400; ++round) {
        auto text = good;
        for (std::uint64_t k = 0; k <= random.below(3); ++k) {
            const auto at = random.below(text.size());
            if (random.below(2) == 0)
                text[at] = static_cast<char>(random.below(256));
            else
                text.erase(at, 1 + random.below(40));
        }
        const auto d = read(text);
        if (d) {
            EXPECT_TRUE(read(dossier_to_json(*d)));
        } else {
            ++refused;
            EXPECT_GE(d.error().line, 1);
        }
    }
    EXPECT_GT(refused, 50);
}

TEST(JsonPlace, FindsLinesAndFallsBackToTheParent) {
    const std::string text = "{\n \"a\": [1,\n  {\"b\\\"c\": \"}\",\n   \"d\": 2}],\n \"e\": {}\n}";
    EXPECT_EQ(line_of(text, {}), 1);
    EXPECT_EQ(line_of(text, {{"a", 0, false}}), 2);
    EXPECT_EQ(line_of(text, {{"a", 0, false}, {"", 1, true}}), 3);
    EXPECT_EQ(line_of(text, {{"a", 0, false}, {"", 1, true}, {"d", 0, false}}), 4);
    EXPECT_EQ(line_of(text, {{"e", 0, false}, {"missing", 0, false}}), 5);
    EXPECT_EQ(print_path({{"a", 0, false}, {"", 1, true}, {"d", 0, false}}), "a[1].d");
}

}  // namespace
}  // namespace grayrelic
