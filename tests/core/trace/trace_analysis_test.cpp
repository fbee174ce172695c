// SPDX-License-Identifier: GPL-3.0-or-later
// The page card of the demo from its dossier to its findings and sheets.
#include "core/trace/trace_analysis.hpp"

#include <gmock/gmock.h>

#include "core/checks/analyse.hpp"
#include "core/checks/registry.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/journal.hpp"
#include "core/dossier/store.hpp"
#include "core/report/circuit_sheets.hpp"
#include "standin/meter_server.hpp"
#include "standin/page_card.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

std::shared_ptr<const DataLibrary> data() {
    static const auto library = DataLibrary::load(disk(), {test::source_folder() / "data"});
    return library;
}

Dossier page_card() {
    return load_dossier(test::source_folder() / "demos/calder-page-card.relic").value();
}

std::shared_ptr<const Analysis> analysed(const Dossier& d, const Analysis* before = nullptr) {
    CaptureStore store;
    Progress progress;
    return *analyse(d, {}, store, progress, before, data());
}

long count_of(const Analysis& a, std::string_view id) {
    return std::count_if(a.findings.begin(), a.findings.end(), [&](const Finding& f) { return f.id == id; });
}

TEST(PageCard, TheCommittedDemoIsWhatTheGeneratorMakes) {
    auto d = page_card();
    const auto made = standin::page_card_dossier(d, data()->parts);
    EXPECT_EQ(dossier_to_json(made.dossier),
              test::read_file(test::source_folder() / "demos/calder-page-card.relic/dossier.json"));
    EXPECT_EQ(made.front.pixels.width, 1354) << "(106.68 + 8) mm at 300 dpi";
}

TEST(PageCard, ItsSlipIsFoundAndItsNetlistsErrorsToo) {
    const auto a = analysed(page_card());
    ASSERT_TRUE(a->trace);
    EXPECT_GE(count_of(*a, "readings-contradict"), 1);
    ASSERT_FALSE(a->trace->suspects.empty());
    const auto& slip = (*a->dossier.readings)[static_cast<std::size_t>(a->trace->suspects.front().row)];
    EXPECT_EQ(slip.a + " " + slip.b, "U1.15 U4.16") << "what was typed for U4.15";
    ASSERT_TRUE(a->trace->comparison);
    ASSERT_EQ(a->trace->comparison->swapped.size(), 1U);
    EXPECT_EQ(a->trace->comparison->swapped[0].a, "U3.1");
    EXPECT_EQ(a->trace->comparison->swapped[0].b, "U3.2");
    const auto pieces = std::find_if(a->findings.begin(), a->findings.end(),
                                     [](const Finding& f) { return f.id == "net-split"; });
    ASSERT_NE(pieces, a->findings.end());
    EXPECT_EQ(pieces->severity, Severity::note) << "it stands among the deviations, with its reason";
    EXPECT_THAT(pieces->why, testing::HasSubstr("Probed twice"));
    // Set aside, all contradictions are gone.
    auto readings = *a->dossier.readings;
    readings[static_cast<std::size_t>(a->trace->suspects.front().row)].set_aside = "a slip";
    const auto mended = analysed(put(a->dossier, readings), a.get());
    EXPECT_EQ(count_of(*mended, "readings-contradict"), 0);
    EXPECT_EQ(mended->trace->view, a->trace->view) << "the board is the same; only its nets are derived anew";
}

TEST(PageCard, DonorsAndTheirHeat) {
    auto t = *page_card().trace;
    const auto with = [&](int heats, int limit, const char* verdict) {
        t.donors[0].heat_cycles = heats;
        t.donors[0].heat_limit = limit;
        t.donors[0].verdict = verdict;
        t.donors.resize(1);
        return analysed(put(page_card(), t));
    };
    EXPECT_EQ(count_of(*with(1, 3, "good"), "donor-heat"), 0);
    EXPECT_EQ(count_of(*with(2, 3, "good"), "donor-heat"), 0) << "two so far and the transfer make three";
    EXPECT_EQ(count_of(*with(3, 3, "good"), "donor-heat"), 1);
    EXPECT_EQ(count_of(*with(3, 0, "good"), "donor-heat"), 1) << "three is usual";
    EXPECT_EQ(count_of(*with(1, 3, "dead"), "donor-dead"), 1);
    EXPECT_EQ(count_of(*with(1, 3, ""), "donor-unsettled"), 1);
}

TEST(PageCard, CautionsStandWhereTheWorkIsDone) {
    std::set<std::string> ids;
    for (const auto* c :
         cautions_for(data()->cautions, data()->families, page_card(), Stage::trace, "transfer"))
        ids.insert(c->id);
    for (const char* id : {"hot-air", "leaked-electrolyte", "static"}) EXPECT_EQ(ids.count(id), 1U) << id;
}

TEST(TraceSection, SurvivesTheFileAndUnknownFields) {
    const auto d = page_card();
    const auto again = dossier_from_json(dossier_to_json(d), "x");
    ASSERT_TRUE(again) << again.error().message();
    EXPECT_EQ(*again->trace, *d.trace);
    EXPECT_EQ(*again->readings, *d.readings);
    auto text = dossier_to_json(d);
    const auto at = text.find("\"beep_below_ohm\"");
    text.insert(at, "\"newer\": {\"x\": 1}, ");
    const auto newer = dossier_from_json(text, "x");
    ASSERT_TRUE(newer);
    EXPECT_THAT(dossier_to_json(*newer), testing::HasSubstr("\"newer\""));
}

TEST(TraceSection, BrokenFilesSayWhere) {
    const auto with = [](const std::string& trace) {
        return "{\n\"format\": \"gray-relic-dossier\", \"version\": 1, \"name\": \"x\",\n\"trace\": " +
               trace + "\n}";
    };
    const std::pair<const char*, const char*> cases[] = {
        {"{\"readings\": [{\"a\": \"x\", \"b\": \"y\", \"reading\": \"maybe\"}]}", "maybe"},
        {"{\"readings\": [{\"a\": \"x\", \"reading\": \"beep\"}]}", "b"},
        {"{\"readings\": 3}", "list"},
        {"{\"parts\": [{\"ref\": \"U1\"}, {\"ref\": \"U1\"}]}", "a second time"},
        {"{\"parts\": [{\"ref\": \"U1\", \"x_mm\": 1e9}]}", "1000000"},
        {"{\"parts\": [{\"ref\": \"U1\", \"side\": \"top\"}]}", "front or back"},
        {"{\"scans\": [{\"id\": \"f\", \"file\": \"../../etc/passwd\"}]}", "inside the dossier"},
        {"{\"scans\": [{\"id\": \"f\", \"file\": \"a.png\", \"strokes\": [{\"kind\": \"paint\"}]}]}",
         "cut, join or unknown"},
        {"{\"netlists\": [{\"id\": \"n\", \"nets\": [{\"name\": \"a\", \"points\": [\"p\"]}, {\"name\": "
         "\"b\", \"points\": [\"p\"]}]}]}",
         "two nets"},
        {"{\"donors\": [{\"id\": \"d\", \"heat_cycles\": -1}]}", "-1"},
        {"{\"beep_below_ohm\": 0}", "more than 0"}};
    for (const auto& [text, says] : cases) {
        const auto d = dossier_from_json(with(text), "x.json");
        ASSERT_FALSE(d) << text;
        EXPECT_THAT(d.error().message(), testing::HasSubstr(says)) << text;
        EXPECT_EQ(d.error().line, 3) << text;
    }
}

TEST(TraceSection, ScansFromOutsideComeIntoTheFolderAndTheJournal) {
    test::TempFolder folder;
    test::write_file(folder / "picture.png", "not looked at here");
    Trace t;
    Scan s;
    s.id = "front";
    s.title = "Front";
    s.outside = (folder / "picture.png").string();
    t.scans = {s};
    About about;
    about.name = "x";
    const auto d = put(put({}, about), t);
    {
        JournalWriter journal(folder / "j", put({}, about));
        ASSERT_TRUE(journal.record(d));
        const auto left = read_journal(folder / "j", put({}, about));
        ASSERT_TRUE(left && *left) << "the edit is in the journal";
        EXPECT_EQ((*left)->dossier.trace->scans[0].outside, s.outside);
    }
    const auto saved = save_dossier(d, folder / "d.relic", {});
    ASSERT_TRUE(saved) << saved.error().message();
    const auto& inside = saved->trace->scans[0];
    EXPECT_TRUE(inside.outside.empty());
    EXPECT_EQ(test::read_file(folder.path() / "d.relic" / inside.file), "not looked at here");
}

TEST(TraceAnalysis, ScansThatCannotBeReadAreNamed) {
    auto d = page_card();
    CaptureStore store;
    store.read_picture = [](const std::filesystem::path& p) -> Result<Raster> {
        return fail_at(p.string(), 0, "no picture", "a picture");
    };
    Progress progress;
    const auto a =
        *analyse(d, test::source_folder() / "demos/calder-page-card.relic", store, progress, nullptr, data());
    EXPECT_EQ(count_of(*a, "scan-unread"), 2);
    EXPECT_FALSE(a->trace->scan->scanned);
    auto t = *d.trace;
    t.aliases = {{"a", "b"}, {"b", "a"}};
    t.parts[1].type = "no-such-part";
    EXPECT_EQ(count_of(*analysed(put(d, t)), "part-unknown"), 2)
        << "a circle of names, and a part nobody knows";
}

TEST(TraceAnalysis, ANetlistWithOtherNamesIsMatchedByItsWiring) {
    // The circuit is proven whole; the netlist calls its parts IC1, IC2 …, names no loose pins, and has one
    // wire wrong.
    auto d = page_card();
    const auto board = standin::page_card(*d.find_port("J1"), data()->parts);
    std::vector<MeterReading> readings;
    NetSource drawn;
    drawn.id = drawn.name = "drawn";
    drawn.by_wiring = true;
    for (const auto& net : board.nets) {
        Net there;
        there.name = net.name;
        for (const auto& p : net.points) {
            const auto s = split_point(p);
            const std::string ref(s.ref);
            there.points.push_back((ref[0] == 'U' ? "IC" + std::to_string('9' - ref[1]) : "X" + ref) + "." +
                                   std::string(s.pin));
            if (p == net.points.front()) continue;
            MeterReading r;
            r.a = net.points.front();
            r.b = p;
            readings.push_back(r);
        }
        if (there.points.size() > 1) drawn.nets.push_back(std::move(there));
    }
    auto t = *d.trace;
    t.netlists = {drawn};
    t.against = "drawn";
    const auto same = analysed(put(put(d, t), readings));
    EXPECT_EQ(same->trace->part_names.at("U1"), "IC8");
    EXPECT_EQ(same->trace->part_names.at("U4"), "IC5");
    EXPECT_EQ(same->trace->part_names.at("J1"), "XJ1");
    EXPECT_EQ(same->trace->comparison->same, static_cast<long>(drawn.nets.size()));
    EXPECT_TRUE(same->trace->comparison->split.empty());
    // Kept in the file, and by names nothing fits.
    const auto again = dossier_from_json(dossier_to_json(same->dossier), "x").value();
    EXPECT_TRUE(again.trace->netlists.at(0).by_wiring);
    t.netlists[0].by_wiring = false;
    EXPECT_EQ(analysed(put(put(d, t), readings))->trace->comparison->same, 0);
}

TEST(CircuitSheets, EachPartWithItsWiresAndWhatIsProven) {
    const auto a = analysed(page_card());
    const auto sheets = circuit_sheets(*a->trace, a->dossier, a->data->parts);
    std::set<std::string> ids;
    for (const auto& s : sheets) {
        ids.insert(s.id);
        const auto svg = s.picture.finish();
        EXPECT_THAT(svg, testing::HasSubstr("</svg>"));
        EXPECT_LE(s.unproven, s.wires);
    }
    EXPECT_THAT(ids, testing::UnorderedElementsAre("J1", "U1", "U2", "U3", "U4", "rails", "small-parts"));
    // A board of two parts and one proven, one claimed wire.
    Dossier d;
    Trace t;
    for (const auto& [ref, type] : {std::pair{"U1", "74x00"}, {"U2", "74x04"}}) {
        BoardPart p;
        p.ref = ref;
        p.type = type;
        t.parts.push_back(p);
    }
    t.netlists = {{"n", "n", {}, {{"A", {"U1.3", "U2.1"}}, {"B", {"U1.6", "U2.3"}}}, false, {}}};
    MeterReading r;
    r.a = "U1.3";
    r.b = "U2.1";
    const auto small = analysed(put(put(d, t), {r}));
    for (const auto& s : circuit_sheets(*small->trace, small->dossier, small->data->parts))
        if (s.id == "U1") {
            EXPECT_EQ(s.wires, 4) << "two to U2, and the two rails";
            EXPECT_EQ(s.unproven, 3) << "one claimed, and both rails not probed";
            EXPECT_THAT(s.picture.finish(), testing::HasSubstr("dasharray"));
        }
    const auto nets = recovered_nets(*small->trace);
    EXPECT_TRUE(std::any_of(nets.begin(), nets.end(),
                            [](const Net& n) { return n.name == "U1_1Y" && n.points.size() == 2; }));
    EXPECT_TRUE(circuit_sheets(TraceAnalysis{}, {}, a->data->parts).empty());
}

TEST(StandinMeter, SpeaksAsAMeterDoes) {
    standin::Meter m({{"N", {"U1.1", "U2.1"}}, {"M", {"U1.2"}}}, 0.0, 1);
    EXPECT_THAT(m.answer("*IDN?"), testing::HasSubstr("STAND-IN"));
    EXPECT_EQ(m.answer("SIM:PROB \"U1.1\",\"U2.1\""), "");
    EXPECT_LT(std::stod(m.answer("MEAS:RES?")), 1.0);
    (void)m.answer("sim:prob \"U1.1\",\"U1.2\"");
    EXPECT_GT(std::stod(m.answer("meas:res?")), 9e36);
    (void)m.answer("SIM:PROB \"U1.1\",\"nowhere\"");
    EXPECT_GT(std::stod(m.answer("MEAS:CONT?")), 9e36);
    EXPECT_EQ(m.answer("NONSENSE"), "");
    EXPECT_THAT(m.answer("SYST:ERR?"), testing::HasSubstr("-200"));
    EXPECT_THAT(m.answer("SYST:ERR?"), testing::HasSubstr("No error"));
    // Half of the readings wrong, seeded.
    standin::Meter bad({{"N", {"a", "b"}}}, 0.5, 3);
    (void)bad.answer("SIM:PROB \"a\",\"b\"");
    int open = 0;
    for (int i = 0; i < 200; ++i) open += std::stod(bad.answer("MEAS:RES?")) > 1e30 ? 1 : 0;
    EXPECT_NEAR(open, 100, 30);
}

}  // namespace
}  // namespace grayrelic
