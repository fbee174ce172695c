// SPDX-License-Identifier: GPL-3.0-or-later
// The cautions of the whole job: each stands when its ground is there, and rests without it.
#include <gmock/gmock.h>

#include <algorithm>
#include <set>

#include "core/dossier/edits.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic {
namespace {

std::set<std::string> ids(const std::vector<const Caution*>& list) {
    std::set<std::string> out;
    for (const auto* c : list) out.insert(c->id);
    return out;
}

const DataLibrary& data() {
    static const auto all = DataLibrary::load_installed();
    return *all;
}

struct Ground {
    Dossier dossier;
    Bench bench;
};

Ground part(PartKind kind) {
    PartLine p;
    p.id = p.part = "part";
    p.kind = kind;
    return {put(Dossier{}, p), {}};
}

Ground tool(InstrumentKind kind) {
    Ground g;
    g.bench.instruments.emplace_back().kind = kind;
    return g;
}

Ground process(Process p) {
    Ground g;
    g.bench.processes = {p};
    return g;
}

Port port(Side side, double volts, const std::string& id) {
    Port p;
    p.id = id;
    p.side = side;
    Pin rail;
    rail.number = "1";
    rail.name.value = "+5 V";
    rail.driver.value = Driver::supply;
    rail.function.value = "supply";
    rail.volts_max.value = Volts(volts);
    p.pins = {rail};
    return p;
}

Ground both(Ground g, const Port& p) {
    g.dossier = put(g.dossier, p);
    return g;
}

Ground donor() {
    Donor d;
    d.id = "d";
    return {put(Dossier{}, d), {}};
}

Ground original() {
    JobUnit u;
    u.id = "u";
    u.state = UnitState::original;
    return {put(Dossier{}, u), {}};
}

Ground circuit(const std::string& text) {
    LogicNetwork n;
    n.id = "bridge";
    n.text = text;
    return {edit(put(Dossier{}, n), &Dossier::wire, [](Wire& w) { w.network = "bridge"; }), {}};
}

Ground rails(const std::string& text) {
    return {edit(Dossier{}, &Dossier::wire, [&](Wire& w) { w.rails = text; }), {}};
}

struct Case {
    const char* id;
    Ground ground;
};

std::vector<Case> cases() {
    const auto relic = [](double volts) { return port(Side::relic, volts, "J1"); };
    std::vector<Case> out{
        {"solder", tool(InstrumentKind::iron)},
        {"solder", tool(InstrumentKind::hot_air)},
        {"etchant", process(Process::home_toner)},
        {"etchant", process(Process::home_photoresist)},
        {"etchant", tool(InstrumentKind::etch_tank)},
        {"dust", process(Process::milled)},
        {"dust", process(Process::home_toner)},
        {"dust", tool(InstrumentKind::drill)},
        {"dust", tool(InstrumentKind::saw)},
        {"oven", tool(InstrumentKind::oven)},
        {"toner-and-paint", process(Process::home_toner)},
        {"toner-and-paint", part(PartKind::enclosure)},
        {"probe-slip", tool(InstrumentKind::meter)},
        {"earthed-clip", tool(InstrumentKind::scope)},
        {"too-much-for-inputs", both(tool(InstrumentKind::analyser), relic(5))},
        {"too-much-for-inputs", both(part(PartKind::module), relic(12))},
        {"wrong-supply", part(PartKind::supply)},
        {"irreplaceable-first", donor()},
        {"opening", original()},
        {"opening", both({}, relic(5))},
        {"bare-board", part(PartKind::board)},
        {"two-supplies", both(both({}, relic(5)), port(Side::modern, 5, "J2"))},
        {"eraser-lamp", part(PartKind::erasable)},
        {"eraser-lamp", tool(InstrumentKind::eraser_lamp)},
        {"enclosed-heat", part(PartKind::enclosure)},
        {"glue-and-inserts", part(PartKind::enclosure)},
        {"glue-and-inserts", tool(InstrumentKind::glue_gun)},
        {"cells", part(PartKind::cell)},
        {"hot-parts", circuit("# a rail\nU1  regulator-3 5V: IN=A OUT=B\n")},
        {"hot-parts", circuit("Q1 mosfet-n-power: G=A\n")},
        {"two-supplies", circuit("M1 module-33: P0=A\n   P1=B\n")},
        {"static", circuit("Q1 mosfet-n: G=A\n")},
        {"lithium", rails("battery B 3.7V capacity 900mAh\n")},
        {"hot-parts", rails("source A 9V\nlinear U A -> V 5V dropout 1V max 1A\n")},
        {"two-supplies", rails("source A 9V\nsource B 5V\n")},
    };
    return out;
}

TEST(JobCautions, EachStandsOnItsGroundAndRestsWithoutIt) {
    const auto of = [](const Ground& g) {
        return ids(cautions_of_job(data().cautions, data().families, g.dossier, &g.bench));
    };
    EXPECT_TRUE(of({}).empty());
    for (const auto& c : cases()) EXPECT_EQ(of(c.ground).count(c.id), 1U) << c.id;
    // The analyser alone, or on a line within its 3.6 V, is none.
    EXPECT_EQ(of(tool(InstrumentKind::analyser)).count("too-much-for-inputs"), 0U);
    EXPECT_EQ(
        of(both(tool(InstrumentKind::analyser), port(Side::relic, 3.3, "J1"))).count("too-much-for-inputs"),
        0U);
    EXPECT_EQ(of(both({}, port(Side::relic, 5, "J1"))).count("two-supplies"), 0U) << "one side only";
    EXPECT_EQ(of(part(PartKind::passive)), std::set<std::string>{});
    EXPECT_EQ(of(circuit("R1 resistor 4k7: 1=mosfet-n 2=B\n# U1 regulator-3: IN=A\n")),
              std::set<std::string>{});
    EXPECT_EQ(of(rails("source A 5V\ndrop D A -> V 0.3V\n")), std::set<std::string>{});
    // Without a bench on record, what hangs on tools rests.
    EXPECT_TRUE(cautions_of_job(data().cautions, data().families, Dossier{}, nullptr).empty());
}

TEST(JobCautions, AWordOfTheRailsThatIsNotKnownIsRefused) {
    const auto made = cautions_from_json(
        R"({"cautions": [{"id": "x", "title": "x", "says": "x", "defer": "x", "when": [{"rails": ["loud"]}]}]})",
        "c.json");
    ASSERT_FALSE(made);
    EXPECT_NE(made.error().expected.find("battery"), std::string::npos);
    // Words that nothing shipped uses yet.
    const auto own = cautions_from_json(
        R"({"cautions": [{"id": "x", "title": "x", "says": "x", "defer": "x", "when": [{"rails": ["above-30v", "strong", "switched"]}]}]})",
        "c.json");
    ASSERT_TRUE(own);
    CautionLibrary library;
    library.cautions = *own;
    const auto fires = [&](const Ground& g) {
        return !cautions_of_job(library, data().families, g.dossier, nullptr).empty();
    };
    EXPECT_TRUE(fires(rails("source A 40V limit 1A\n")));
    EXPECT_FALSE(fires(rails("source A 24V limit 1A\n")));
    EXPECT_TRUE(fires(rails("source A 24V\n")));
    EXPECT_TRUE(fires(rails("source A 5V limit 6A\n")));
    EXPECT_TRUE(fires(rails("source A 5V limit 1A\nswitch S A -> B ron 1Ω\n")));
}

TEST(JobCautions, StandWhereTheStepIsDone) {
    const auto at = [](Stage stage, const char* step, const char* place = "") {
        return ids(
            cautions_for(data().cautions, data().families, Dossier{}, stage, step, nullptr, nullptr, place));
    };
    EXPECT_EQ(at(Stage::build, "solder").count("solder"), 1U);
    EXPECT_EQ(at(Stage::board, "etch").count("etchant"), 1U);
    EXPECT_EQ(at(Stage::board, "drill").count("dust"), 1U);
    EXPECT_EQ(at(Stage::board, "bake").count("oven"), 1U);
    EXPECT_EQ(at(Stage::board, "toner").count("toner-and-paint"), 1U);
    EXPECT_EQ(at(Stage::build, "host-settings").count("host-setting"), 1U);
    EXPECT_EQ(at(Stage::build, "charge").count("cells"), 1U);
    EXPECT_EQ(at(Stage::build, "glue").count("glue-and-inserts"), 1U);
    EXPECT_EQ(at(Stage::trace, "open").count("opening"), 1U);
    EXPECT_EQ(at(Stage::trace, "measure", "probe").count("probe-slip"), 1U);
    EXPECT_EQ(at(Stage::listen, "measure", "live").count("probe-slip"), 1U);
    EXPECT_EQ(at(Stage::listen, "measure", "probe").count("probe-slip"), 0U) << "another place";
    EXPECT_EQ(at(Stage::port, "solder").count("solder"), 0U) << "another stage";
}

TEST(JobCautions, EachSaysWhoKnowsBetter) {
    ASSERT_TRUE(data().cautions.problems.empty());
    for (const auto& c : data().cautions.cautions) {
        EXPECT_GT(c.says.size(), 60U) << c.id;
        EXPECT_GT(c.defer.size(), 15U) << c.id;
        EXPECT_FALSE(stages_of(c).empty()) << c.id;
    }
}

TEST(JobCautions, AWordThatNobodyKnowsIsNamed) {
    const auto fault = [](const char* trigger) {
        const auto made = cautions_from_json(
            std::string(R"({"cautions": [{"id": "a", "title": "t", "says": "s", "defer": "d", "when": [)") +
                trigger + "]}]}",
            "c.json");
        return made ? std::string("read") : made.error().message();
    };
    EXPECT_THAT(fault(R"({"parts": ["elf"]})"), testing::HasSubstr("logic, module"));
    EXPECT_THAT(fault(R"({"instruments": ["wand"]})"), testing::HasSubstr("meter, scope"));
    EXPECT_THAT(fault(R"({"processes": ["magic"]})"), testing::HasSubstr("home-toner"));
}

}  // namespace
}  // namespace grayrelic
