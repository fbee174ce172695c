// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/checks/analyse.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/report/html_report.hpp"

#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/report/figures.hpp"
#include "core/report/histogram_figure.hpp"
#include "core/report/svg.hpp"
#include "core/report/worst_figure.hpp"
#include "core/timing/timing_analysis.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;
using testing::Not;

std::shared_ptr<const Analysis> analysis_of(const Dossier& d) {
    static CaptureStore store;
    Progress progress;
    return *analyse(d, test::source_folder() / "demos/calder-dial-pad.relic", store, progress);
}

Dossier demo() {
    return *load_dossier(test::source_folder() / "demos/calder-dial-pad.relic");
}
const std::filesystem::path data = test::source_folder() / "data";

/// Every opening tag of the kinds we write is closed, in order: a small check that needs no library.
void expect_well_formed(const std::string& html) {
    std::vector<std::string> open;
    for (std::size_t at = html.find('<'); at != std::string::npos; at = html.find('<', at + 1)) {
        const auto end = html.find('>', at);
        ASSERT_NE(end, std::string::npos);
        auto tag = html.substr(at + 1, end - at - 1);
        if (tag.front() == '!' || tag.back() == '/' || tag.starts_with("meta") || tag.starts_with("br"))
            continue;
        const bool closing = tag.front() == '/';
        if (closing) tag.erase(0, 1);
        const auto name = tag.substr(0, tag.find(' '));
        if (!closing) {
            open.push_back(name);
        } else {
            ASSERT_FALSE(open.empty()) << name;
            ASSERT_EQ(open.back(), name);
            open.pop_back();
        }
    }
    EXPECT_TRUE(open.empty());
}

TEST(Report, IsOneFileWithFiguresAndNothingFetched) {
    const auto html = html_report(*analysis_of(demo()));
    EXPECT_THAT(html, HasSubstr("<h1>Calder dial pad</h1>"));
    EXPECT_THAT(html, HasSubstr("9 doubts · 5 notes"));
    EXPECT_THAT(html, HasSubstr("<svg"));
    EXPECT_THAT(html, HasSubstr("Interrupt firmware"));
    EXPECT_THAT(html, HasSubstr("host looks"));
    EXPECT_THAT(html, Not(HasSubstr("<script")));
    EXPECT_THAT(html, Not(HasSubstr("src=")));
    EXPECT_THAT(html, Not(testing::ContainsRegex("href=\"[^#]"))) << "links lead within the report only";
    EXPECT_THAT(html, Not(HasSubstr("url(")));
    expect_well_formed(html);
}

TEST(Report, SameDossierSameBytes) {
    EXPECT_EQ(html_report(*analysis_of(demo())), html_report(*analysis_of(demo())));
}

TEST(Report, EscapesWhatCameFromOutside) {
    auto about = *demo().about;
    about.name = "<script>alert(1)</script>";
    auto d = put(demo(), about);
    auto pin = *d.ports->front().find_pin("6");
    pin.name.value = "<img src=x>\"'&";
    d = put_pin(d, "J1", pin);
    const auto html = html_report(*analysis_of(d));
    EXPECT_THAT(html, Not(HasSubstr("<script")));
    EXPECT_THAT(html, Not(HasSubstr("<img")));
    EXPECT_THAT(html, HasSubstr("&lt;img src=x&gt;&quot;&#39;&amp;"));
    expect_well_formed(html);
}

TEST(Report, AnEmptyDossierStillMakesAReport) {
    About about;
    about.name = "empty";
    const auto html = html_report(*analysis_of(put({}, about)));
    EXPECT_THAT(html, HasSubstr("nothing found"));
    expect_well_formed(html);
}

TEST(Report, AMissingConnectorIsSaid) {
    auto port = demo().ports->front();
    port.connector = "no-such-one";
    EXPECT_THAT(html_report(*analysis_of(put(demo(), port))), HasSubstr("No drawing: "));
}

TEST(Figures, AxisMarksAreRound) {
    EXPECT_EQ(axis_marks(0, 10, 5), (std::vector<double>{0, 2, 4, 6, 8, 10}));
    EXPECT_EQ(axis_marks(-3, 3, 3).size(), 3U);  // steps of 2 or 5: −2, 0, 2
    EXPECT_TRUE(axis_marks(1, 1, 5).empty());
    EXPECT_TRUE(axis_marks(0, 1, 0).empty());
    const auto unit = axis_unit(0, 2.5e-6, 0.5e-6);
    EXPECT_EQ(unit.text(1.5e-6), "1.5 µs");
    EXPECT_EQ(unit.text(-0.5e-6), "−0.5 µs");
    EXPECT_EQ(axis_unit(0, 300e-9, 100e-9).text(200e-9), "200 ns");
    EXPECT_EQ(axis_unit(0.0501, 0.0503, 0.00005).text(0.0501), "50.10 ms");
    EXPECT_EQ(axis_unit(0, 60, 10).text(20), "20 s");
}

TEST(Figures, HistogramMarksWhatIsLate) {
    const auto svg = histogram_figure("t", spread_of(std::vector{1e-6, 2e-6, 5e-6}), 3e-6, Driver::bridge);
    EXPECT_THAT(svg, HasSubstr(std::string(paper::oxide)));
    EXPECT_THAT(svg, HasSubstr("host looks at 3.00 µs"));
    EXPECT_THAT(histogram_figure("t", spread_of(std::vector{1e-6}), 3e-6, Driver::bridge),
                Not(HasSubstr(std::string(paper::oxide))));
    EXPECT_THAT(histogram_figure("t", Spread{}, std::nullopt, Driver::relic), HasSubstr("nothing measured"));
}

TEST(Figures, TheWorstReplyShowsTriggerLookAndReply) {
    const auto a = analysis_of(demo());
    const auto* late = a->find_option("interrupt-firmware");
    const auto m = worst_reply(*a, *late);
    ASSERT_EQ(m.rows.size(), 3U);
    EXPECT_EQ(m.rows[1].about, "original");
    EXPECT_GT(*m.reply, m.deadline);
    EXPECT_LT(m.window.from, m.trigger);
    EXPECT_GT(m.window.to, *m.reply);
    // it is one that changes the line
    const auto line = *a->find_capture("minute")->capture->find_digital("REPLY");
    EXPECT_NE(line->level_before(m.trigger), line->level_before(m.deadline));
    EXPECT_THAT(worst_case_figure(*a, *late), HasSubstr(", late"));
    EXPECT_TRUE(worst_reply(*a, OptionAnalysis{}).rows.empty());
    EXPECT_THAT(drawing_svg(worst_drawing({}, 300, 100), "t"), HasSubstr("No reply to show"));
}

TEST(Svg, NumbersAreShortAndTextIsEscaped) {
    Svg svg(10, 20, "a<b");
    svg.line(0, 1.0 / 3.0, -0.001, 2, "#000");
    svg.text(1, 2, "5 & 6");
    const auto text = svg.finish();
    EXPECT_THAT(text, HasSubstr("aria-label=\"a&lt;b\""));
    EXPECT_THAT(text, HasSubstr("y1=\"0.33\" x2=\"0\""));
    EXPECT_THAT(text, HasSubstr(">5 &amp; 6<"));
}

}  // namespace
}  // namespace grayrelic
