// SPDX-License-Identifier: GPL-3.0-or-later
// Findings of ports: supplies, grounds, neighbours, sources, wrong ways; and the cautions' triggers.
#include "core/checks/analyse.hpp"
#include "core/checks/registry.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/port/pin_entry.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

std::shared_ptr<const DataLibrary> data() {
    static const auto d = DataLibrary::load(disk(), {test::source_folder() / "data"});
    return d;
}

Port port(const std::string& connector, const std::vector<std::string>& lines) {
    Port p;
    p.id = "J1";
    p.connector = connector;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        Pin pin;
        pin.number = std::to_string(i + 1);
        p.pins.push_back(*pin_with_entry(pin, lines[i], {EvidenceKind::measured, "me", "", ""}));
    }
    return p;
}

Findings findings(const Port& p) {
    CaptureStore store;
    Progress progress;
    return (*analyse(put({}, p), {}, store, progress, nullptr, data()))->findings;
}

const Finding* find(const Findings& list, const std::string& id) {
    for (const auto& f : list)
        if (f.id == id) return &f;
    return nullptr;
}

TEST(PortChecks, ASoundPortIsQuiet) {
    EXPECT_TRUE(
        findings(port("din-5-180", {"GND", "TXD relic ttl", "+5 V supply 5V 200mA", "RXD bridge ls", "GND"}))
            .empty());
}

TEST(PortChecks, ASupplyWithoutALimit) {
    const auto list = findings(port("din-3", {"GND", "+5 V supply 5V", "S relic ttl"}));
    const auto* f = find(list, "supply-without-limit");
    ASSERT_NE(f, nullptr);
    EXPECT_EQ(f->severity, Severity::doubt);
    EXPECT_EQ(f->place.id, "J1/2");
}

TEST(PortChecks, AProtectionThatNobodyCanReadIsSaid) {
    auto p = port("din-3", {"GND", "+5 V supply 5V 200mA", "S relic ttl"});
    p.pins[1].protection.value = "diode";
    EXPECT_EQ(find(findings(p), "protection-unread"), nullptr);
    p.pins[1].protection.value = "dioed";
    const auto list = findings(p);
    const auto* f = find(list, "protection-unread");
    ASSERT_NE(f, nullptr);
    EXPECT_THAT(f->why, HasSubstr("\"dioed\""));
    EXPECT_EQ(f->place.id, "J1/2");
}

TEST(PortChecks, NoGroundAndOneGroundForMany) {
    EXPECT_NE(find(findings(port("din-3", {"A relic ttl", "B relic ttl"})), "ground-missing"), nullptr);
    std::vector<std::string> lines{"GND"};
    for (int i = 0; i < 8; ++i) lines.push_back("S" + std::to_string(i) + " relic ttl");
    EXPECT_EQ(find(findings(port("dsub-15", lines)), "ground-single"), nullptr) << "eight signals share one";
    lines.emplace_back("S8 relic ttl");
    const auto list = findings(port("dsub-15", lines));
    ASSERT_NE(find(list, "ground-single"), nullptr);
    EXPECT_THAT(find(list, "ground-single")->says, HasSubstr("one ground for 9 signals"));
}

// On a D-sub, 1 and 2 are neighbours; an LS input endures 7 V.
TEST(PortChecks, ASupplyBesideASensitiveInput) {
    const auto list = findings(port("dsub-9", {"+12 V supply 12V 1A", "IN bridge ls", "GND"}));
    ASSERT_NE(find(list, "supply-beside-input"), nullptr);
    EXPECT_THAT(find(list, "supply-beside-input")->why, HasSubstr("7.00 V"));
    EXPECT_EQ(
        find(findings(port("dsub-9", {"+5 V supply 5V 1A", "IN bridge ls", "GND"})), "supply-beside-input"),
        nullptr);
    EXPECT_EQ(
        find(findings(port("dsub-9", {"+12 V supply 12V 1A", "GND", "IN bridge ls"})), "supply-beside-input"),
        nullptr)
        << "they are not neighbours";
}

TEST(PortChecks, UnknownConnectorsAndNumbersOutside) {
    EXPECT_NE(find(findings(port("no-such", {"GND"})), "connector-unknown"), nullptr);
    const auto list = findings(port("din-3", {"GND", "A relic ttl", "B relic ttl", "C relic ttl"}));
    ASSERT_NE(find(list, "pin-not-in-connector"), nullptr);
    EXPECT_EQ(find(list, "pin-not-in-connector")->why, "4.");
}

TEST(PortChecks, AssumedFactsThatAVerdictRestsOn) {
    auto p = port("din-3", {"GND", "+5 V supply 5V 1A", "S relic ttl"});
    EXPECT_EQ(find(findings(p), "rests-on-assumed"), nullptr);
    p.pins[1].volts_max.evidence.kind = EvidenceKind::assumed;
    p.pins[2].driver.evidence.kind = EvidenceKind::assumed;
    const auto list = findings(p);
    ASSERT_NE(find(list, "rests-on-assumed"), nullptr);
    EXPECT_EQ(find(list, "rests-on-assumed")->why, "+5 V voltage, S driver.");
}

TEST(PortChecks, ASourceThatContradictsAndWouldAgreeMirrored) {
    auto p = port("din-5-180",
                  {"GND", "TXD relic ttl", "+5 V supply 5V 200mA", "RXD bridge ls", "HOLD relic ttl"});
    // 1 and 3, 4 and 5 exchanged: as drawn from the plug's side.
    PinSource s{"book", "A book", "",
                port("", {"+5 V supply", "TXD relic", "GND", "HOLD relic", "RXD bridge"}).pins, ""};
    p.sources = {s};
    const auto list = findings(p);
    const auto* f = find(list, "source-contradicts");
    ASSERT_NE(f, nullptr);
    EXPECT_THAT(f->why, HasSubstr("agree at 5 of 5 if it is mirrored left to right"));
    EXPECT_EQ(f->place.kind, "source");
    p.sources[0].id = "earlier";
    EXPECT_EQ(find(findings(p), "source-contradicts"), nullptr) << "what was given up is no source";
}

TEST(PortChecks, ADestructiveWayWithoutAKeyAndWithOne) {
    const std::vector<std::string> lines{"+5 V supply 5V 1A", "A relic ttl", "B bridge hct", "GND"};
    const auto open = findings(port("header-1x4", lines));
    ASSERT_NE(find(open, "misinsert-destroys"), nullptr);
    EXPECT_THAT(find(open, "misinsert-destroys")->why, HasSubstr("Turned by half"));
    EXPECT_EQ(find(findings(port("din-5-180", lines)), "misinsert-destroys"), nullptr);
}

TEST(PortChecks, TwoPortsOfOneShapeTakeEachOthersPlugs) {
    auto d = put({}, port("din-5-180", {"GND", "A relic ttl", "+12 V supply 12V 1A"}));
    auto other = port("din-5-180", {"GND", "A relic ttl", "IN relic hct"});
    other.id = "J2";
    d = put(d, other);
    CaptureStore store;
    Progress progress;
    const auto list = (*analyse(d, {}, store, progress, nullptr, data()))->findings;
    ASSERT_NE(find(list, "misinsert-destroys"), nullptr);
    EXPECT_EQ(find(list, "misinsert-destroys")->says, "What belongs into J2 also fits J1");
}

std::set<std::string> cautions(const Port& p, Stage stage, const std::string& step) {
    std::set<std::string> out;
    const auto d = put({}, p);
    for (const auto* c : cautions_for(data()->cautions, data()->families, d, stage, step, d.find_port(p.id)))
        out.insert(c->id);
    return out;
}

TEST(Cautions, TheShippedOnesAreWholeAndDefer) {
    EXPECT_TRUE(data()->cautions.problems.empty());
    EXPECT_GE(data()->cautions.cautions.size(), 6U);
    for (const auto& c : data()->cautions.cautions) {
        EXPECT_GT(c.says.size(), 40U) << c.id;
        EXPECT_GT(c.defer.size(), 10U) << c.id;
    }
}

TEST(Cautions, EachTriggerFiresAndOnlyThen) {
    const auto signals = port("din-3", {"GND", "A relic ttl", "B relic ls"});
    auto p = signals;
    EXPECT_TRUE(cautions(p, Stage::port, "plug").empty()) << "TTL, no supply, nothing nearby";
    for (const auto& [word, id] :
         {std::pair{"mains", "mains"}, {"tube", "tubes"}, {"lithium", "lithium"}, {"charged", "charged"}}) {
        p.nearby = {word};
        EXPECT_TRUE(cautions(p, Stage::port, "plug").contains(id)) << word;
        EXPECT_FALSE(cautions(p, Stage::listen, "plug").contains(id)) << word;
    }
    const auto supplied = port("din-3", {"GND", "+5 V supply 5V 1A", "A relic ttl"});
    EXPECT_TRUE(cautions(supplied, Stage::port, "plug").contains("hot-plugging"));
    EXPECT_TRUE(cautions(supplied, Stage::port, "power-up").contains("over-voltage"));
    EXPECT_FALSE(cautions(supplied, Stage::port, "solder").contains("hot-plugging"));
    EXPECT_FALSE(cautions(supplied, Stage::port, "plug").contains("mains"));
    EXPECT_TRUE(cautions(port("din-3", {"GND", "HT supply 170V", "A relic ttl"}), Stage::port, "plug")
                    .contains("mains"));
    EXPECT_TRUE(cautions(port("din-3", {"GND", "A relic nmos"}), Stage::port, "measure").contains("static"));
    EXPECT_TRUE(cautions(port("din-3", {"GND", "A relic"}), Stage::port, "measure").contains("static"))
        << "an old chip that nobody has looked at";
}

TEST(Cautions, BadFilesAreRefusedWithTheirField) {
    EXPECT_THAT(test::message(cautions_from_json("{\"cautions\": [\n{\"id\": \"a\"}]}", "c.json")),
                HasSubstr("c.json:2: found no \"title\""));
    EXPECT_THAT(
        test::message(cautions_from_json(
            R"({"cautions": [{"id": "a", "title": "b", "says": "c", "defer": "d", "when": []}]})", "c.json")),
        HasSubstr("at least one place"));
    EXPECT_THAT(test::message(cautions_from_json("\n\nnothing", "c.json")),
                testing::AllOf(testing::StartsWith("c.json:3: found "), HasSubstr("invalid literal"),
                               testing::EndsWith("expected cautions as JSON")));
}

TEST(Families, TheShippedOnesLoadAndKeepTheirOrder) {
    const auto& f = data()->families;
    EXPECT_TRUE(f.problems.empty());
    for (const char* id :
         {"ttl", "ls", "hc", "hct", "ahct", "lvc", "4000b", "nmos", "rs232", "rs422", "rs423", "oc"}) {
        const auto* family = f.find(id);
        ASSERT_NE(family, nullptr) << id;
        EXPECT_LT(family->input_low_max_v, family->input_high_min_v + 1e-9) << id;
        EXPECT_LE(family->supply_min_v, family->supply_max_v) << id;
    }
    // HC clamps to its supply: 5.5 + 0.5 V powered, 0.5 V unpowered. LVC endures 6.5 V in any case.
    EXPECT_DOUBLE_EQ(f.find("hc")->input_limit_v(5.5), 6.0);
    EXPECT_DOUBLE_EQ(f.find("hc")->input_limit_v(0), 0.5);
    EXPECT_DOUBLE_EQ(f.find("lvc")->input_limit_v(0), 6.5);
    EXPECT_EQ(f.find("nonsense"), nullptr);
}

TEST(Families, BadFilesAreRefusedWithTheirField) {
    EXPECT_THAT(test::message(family_from_json(R"({"id": "x", "name": "y"})", "f.json")),
                HasSubstr("\"source\""));
    EXPECT_THAT(test::message(family_from_json(
                    R"({"id": "x", "name": "y", "source": "z", "supply_v": {"min": 5, "typ": 4, "max": 6}})",
                    "f.json")),
                HasSubstr("rising order"));
    EXPECT_THAT(test::message(family_from_json("[", "f.json")),
                testing::AllOf(testing::StartsWith("f.json:1: found "), HasSubstr("unexpected end"),
                               testing::EndsWith("expected a logic family as JSON")));
}

}  // namespace
}  // namespace grayrelic
