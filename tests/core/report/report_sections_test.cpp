// SPDX-License-Identifier: GPL-3.0-or-later
// Whatever a dossier holds stands in its report: each stage with content has its section, and each thing of
// the shipped dossiers is named in it.
#include "core/report/report_sections.hpp"

#include <set>

#include "core/base/text.hpp"
#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/dossier/reading_text.hpp"
#include "core/dossier/stage_content.hpp"
#include "core/dossier/store.hpp"
#include "core/report/html_report.hpp"
#include "core/timing/budget.hpp"
#include "core/timing/reply_option.hpp"
#include "core/wire/wire_analysis.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

struct Made {
    Dossier dossier;
    std::shared_ptr<const Analysis> analysis;
    std::string html;
};
Made made(const Dossier& d, const std::filesystem::path& folder = {}) {
    static const auto shipped = DataLibrary::load(disk(), {test::source_folder() / "data"});
    CaptureStore store;
    Progress progress;
    auto a = *analyse(d, folder, store, progress, nullptr, shipped);
    return {d, a, html_report(*a)};
}

std::vector<std::string> anchors(const std::string& html) {
    std::vector<std::string> out;
    for (auto at = html.find("<h2 id=\""); at != std::string::npos; at = html.find("<h2 id=\"", at + 1))
        out.push_back(html.substr(at + 8, html.find('"', at + 8) - at - 8));
    return out;
}

class Shipped : public testing::TestWithParam<const char*> {
  protected:
    static Made report() {
        const auto folder = test::source_folder() / "demos" / (std::string(GetParam()) + ".relic");
        return made(*load_dossier(folder), folder);
    }
};

TEST_P(Shipped, EveryStageWithContentHasItsSectionInOrder) {
    const auto m = report();
    const auto found = anchors(m.html);
    for (const auto stage : all_of<Stage>()) {
        const auto of_stage = std::count_if(found.begin(), found.end(), [&](const std::string& id) {
            return id.starts_with(std::string(word(stage)) + "-");
        });
        EXPECT_EQ(of_stage > 0, has_content(m.dossier, stage)) << word(stage);
    }
    const auto rank = [](const std::string& id) {
        return id == "findings" ? -1 : static_cast<int>(*named<Stage>(id.substr(0, id.find('-'))));
    };
    EXPECT_TRUE(std::is_sorted(found.begin(), found.end(),
                               [&](const auto& a, const auto& b) { return rank(a) < rank(b); }));
    // The contents lead to each of them.
    for (const auto& id : found) EXPECT_THAT(m.html, HasSubstr("<a href=\"#" + id + "\">"));
}

TEST_P(Shipped, EveryThingIsNamed) {
    const auto [d, a, html] = report();
    const auto says = [&html = html](const std::string& text, const char* what) {
        EXPECT_NE(html.find(escape_markup(text)), std::string::npos) << what << ": " << text;
    };
    for (const auto& p : *d.ports) {
        says(p.id + " · " + p.name, "port");
        for (const auto& pin : p.pins)
            for (const auto& f : pin_fields())
                if (field_known(pin, f)) {
                    says(field_text(pin, f), "fact of a pin");
                    says(field_evidence(pin, f).source, "its source");
                }
        for (const auto& s : p.sources) says(s.name, "source");
    }
    for (const auto& c : *d.cables) says("Cable " + c.name, "cable");
    for (const auto& p : d.trace->parts) says(p.ref, "part");
    for (const auto& s : d.trace->scans) says(s.title, "scan");
    for (const auto& n : d.trace->netlists) says(n.name, "netlist");
    for (const auto& x : d.trace->deviations) says(x.reason, "deviation");
    for (const auto& x : d.trace->donors) says(x.part, "donor");
    for (const auto& r : *d.readings) says(show_reading(r), "reading");
    for (const auto& c : *d.captures) {
        says(c.title, "capture");
        for (const auto& bit : c.decode.bits)
            if (!bit.empty()) says(bit, "bit");
    }
    for (const auto& i : d.timing->intervals) says(i.name, "interval");
    for (const auto& o : d.timing->options) {
        says(o.name, "option");
        for (const auto& spec : parameters_of(o.kind)) {
            for (const auto& p : o.parameters)
                if (p.key == spec.key) says(spec.label, "number of an option");
            for (const auto& n : o.numbers)
                if (n.key == spec.key) says(print_number(n.value.value, spec.unit), "number of an option");
        }
        // What follows from a circuit stands in place of what was typed.
        const auto* cost = a->wire->find_cost(o.id);
        says(shown_bill(o, cost == nullptr ? nullptr : &cost->bill).parts, "bill");
    }
    for (const auto& n : d.timing->networks) says(n.text, "network");
    for (const auto& c : d.timing->clocks) says(c.name, "clock");
    for (const auto& b : d.timing->budgets) {
        says(b.name, "budget");
        for (const auto& v : b.values)
            for (const auto& f : description_of(b.kind).fields)
                if (f.key == v.key) says(print_number(v.value.value, f.unit), "number of a budget");
    }
    for (const auto& v : d.wire->values) says(v.name, "value");
    for (const auto& g : d.timing->golden) says(d.find_capture(g.replica)->title + " against ", "replica");
}

INSTANTIATE_TEST_SUITE_P(Demos, Shipped,
                         testing::Values("calder-dial-pad", "calder-page-card", "calder-chart-slate"));

/// Each section stands when there is something for it, and only then.
TEST(ReportSections, AnEmptyDossierHasNone) {
    const auto m = made({});
    for (const auto& s : report_sections()) EXPECT_FALSE(s.any(*m.analysis)) << s.id;
    EXPECT_EQ(anchors(m.html), std::vector<std::string>{"findings"});
}

TEST(ReportSections, TogetherTheShippedDossiersHaveAllOfThem) {
    std::set<std::string> seen;
    for (const char* name : {"calder-dial-pad", "calder-page-card", "calder-chart-slate",
                             "calder-counter-keypad", "calder-sound-tile"}) {
        const auto folder = test::source_folder() / "demos" / (std::string(name) + ".relic");
        for (const auto& id : anchors(made(*load_dossier(folder), folder).html)) seen.insert(id);
    }
    std::set<std::string> ids;
    for (const auto& s : report_sections()) {
        EXPECT_TRUE(ids.insert(std::string(s.id)).second) << s.id << " stands twice";
        EXPECT_TRUE(s.id.starts_with(word(s.stage))) << s.id;
        // What the demos' contracts do not allow, they do not do.
        EXPECT_TRUE(s.id == "timing-breaches" || seen.contains(std::string(s.id))) << s.id;
    }
}

TEST(ReportSections, ABreachIsListedWithItsCaptureAndItsFirstMoment) {
    const auto folder = test::source_folder() / "demos/calder-dial-pad.relic";
    auto d = *load_dossier(folder);
    ContractInterval i;
    i.id = "never-so-long";
    i.name = "Hold never so short";
    i.from = "HOLD:rise";
    i.to = "HOLD:fall";
    i.kind = IntervalKind::width;
    i.max = Time::ns(1);  // every one in every capture is longer
    i.within = Time::ms(1);
    d = put(d, i);
    const auto m = made(d, folder);
    EXPECT_THAT(anchors(m.html), testing::Contains("timing-breaches"));
    const auto at = m.html.find("<h2 id=\"timing-breaches\"");
    EXPECT_NE(m.html.find("Hold never so short", at), std::string::npos);
    EXPECT_NE(m.html.find("A minute of play", at), std::string::npos);
}

/// A list longer than the report takes is cut, and says so with its number.
TEST(ReportSections, ALongLedgerIsCutAndSaysSo) {
    std::vector<MeterReading> readings;
    for (int i = 0; i < 2345; ++i) {
        MeterReading r;
        r.a = "A." + std::to_string(i);
        r.b = "B." + std::to_string(i);
        readings.push_back(r);
    }
    const auto m = made(add_readings({}, readings));
    EXPECT_THAT(m.html, HasSubstr("A.1999"));
    EXPECT_THAT(m.html, HasSubstr("and 345 more, which the dossier holds"));
}

}  // namespace
}  // namespace grayrelic
