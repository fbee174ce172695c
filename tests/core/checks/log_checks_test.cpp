// SPDX-License-Identifier: GPL-3.0-or-later
// What the whole analysis says of Log, what Plan and Board take from it, the user's card and the report.
#include <gmock/gmock.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <functional>

#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/fit/order_advice.hpp"
#include "core/job/job_money.hpp"
#include "core/library/data_library.hpp"
#include "core/plan/plan_analysis.hpp"
#include "core/record/log_analysis.hpp"
#include "core/report/html_report.hpp"
#include "core/report/trial_figure.hpp"
#include "core/report/user_card.hpp"
#include "core/wire/device_values.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;
using testing::Not;

const std::filesystem::path& pad_of_log() {
    static const auto folder = test::source_folder() / "demos/calder-dial-pad.relic";
    return folder;
}

Dossier logged() {
    return *load_dossier(pad_of_log());
}

std::shared_ptr<const Analysis> worked_out(const Dossier& d,
                                           const std::filesystem::path& folder = pad_of_log()) {
    static const auto data = DataLibrary::load(disk(), {test::source_folder() / "data"});
    CaptureStore store;
    Progress progress;
    return *analyse(d, folder, store, progress, nullptr, data);
}

const Finding* of_log(const Analysis& a, const std::string& id) {
    for (const auto& f : a.findings)
        if (f.id == id) return &f;
    return nullptr;
}

/// The dossier without what takes time to work out and has nothing to do with the log.
Dossier only_log(const Dossier& d) {
    Dossier out;
    out.about = d.about;
    out.units = d.units;
    out.log = d.log;
    out.map = d.map;
    return out;
}

Dossier with_trials(const std::function<void(std::vector<TrialRun>&)>& change) {
    return edit(only_log(logged()), &Dossier::log, [&](JobLog& log) { change(log.trials); });
}

TEST(LogChecks, AConfoundedPairAndTheRunThatWouldTell) {
    const auto a = worked_out(only_log(logged()));
    const auto* f = of_log(*a, "trials-confounded");
    ASSERT_NE(f, nullptr);
    EXPECT_EQ(f->severity, Severity::doubt);
    EXPECT_EQ(f->stage, Stage::log);
    EXPECT_THAT(f->why, HasSubstr("ribbon 20 cm in place of 60 cm"));
    // That run, which worked with the long pull-up: only the ribbon is left.
    const auto told = worked_out(with_trials([](std::vector<TrialRun>& trials) {
        auto next = trials[2];
        next.id = "run-8";
        next.outcome = TrialOutcome::works;
        for (auto& x : next.setup)
            if (x.name == "ribbon") x.value = "20 cm";
        trials.push_back(next);
    }));
    EXPECT_EQ(of_log(*told, "trials-confounded"), nullptr);
}

TEST(LogChecks, RunsThatDisagreeAndRunsThatNameNobody) {
    const auto twice = worked_out(with_trials([](std::vector<TrialRun>& trials) {
        auto again = trials[2];
        again.id = "again";
        again.outcome = TrialOutcome::works;
        trials.push_back(again);
    }));
    const auto* f = of_log(*twice, "trials-disagree");
    ASSERT_NE(f, nullptr);
    EXPECT_THAT(f->says, HasSubstr("Trials run-3 and again"));
    const auto broken = worked_out(with_trials([](std::vector<TrialRun>& trials) {
        trials[0].unit = "nobody";
        trials[1].day = "2026-11-01";
    }));
    int said = 0;
    for (const auto& x : broken->findings) said += x.id == "trial-broken" ? 1 : 0;
    EXPECT_EQ(said, 2);
}

TEST(LogChecks, AMissingFunctionIsNoMoreThanLikely) {
    const auto a = worked_out(only_log(logged()));
    const auto* f = of_log(*a, "cover-common");
    ASSERT_NE(f, nullptr);
    EXPECT_THAT(f->says, HasSubstr("dial fast may be missing"));
    EXPECT_THAT(f->why, HasSubstr("only as far as it was written down"));
    EXPECT_THAT(f->todo, HasSubstr("Try Marble Yard next"));
}

TEST(LogChecks, ADegreeBeyondWhatIsUncertain) {
    // run-7: 86 ppm against 60 expected, ±79 by hand: nobody minds. Against 300 it is a doubt.
    EXPECT_EQ(of_log(*worked_out(only_log(logged())), "trial-degree"), nullptr);
    const auto a = worked_out(with_trials([](std::vector<TrialRun>& trials) { trials[6].expected = 300; }));
    const auto* f = of_log(*a, "trial-degree");
    ASSERT_NE(f, nullptr);
    EXPECT_THAT(f->why, HasSubstr("86.11 against 300"));
}

TEST(LogChecks, ComplaintsAndChangesByHand) {
    auto d = only_log(logged());
    EXPECT_NE(of_log(*worked_out(d), "complaint-unchecked"), nullptr);
    d = edit<Complaint>(d, "end-stop", [](Complaint& c) { c.changed_in.reset(); });
    const auto a = worked_out(d);
    const auto* open = of_log(*a, "complaint-open");
    ASSERT_NE(open, nullptr);
    EXPECT_THAT(open->todo, HasSubstr("say which revision has it"));
    // The complaint that carried the wire goes, and the wire is open.
    EXPECT_EQ(of_log(*a, "bodge-not-carried"), nullptr);
    EXPECT_NE(of_log(*worked_out(drop<Complaint>(d, "end-stop")), "bodge-not-carried"), nullptr);
}

TEST(LogChecks, AnImageThatIsNotWhatItWas) {
    const test::TempFolder folder;
    std::filesystem::create_directories(folder / "images");
    std::filesystem::copy(pad_of_log() / "images/usb-side-0.4.hex", folder / "images");
    const auto d = only_log(logged());
    EXPECT_EQ(of_log(*worked_out(d, folder.path()), "image-changed"), nullptr);
    test::write_file(folder / "images/usb-side-0.4.hex", "another");
    const auto a = worked_out(d, folder.path());
    const auto* f = of_log(*a, "image-changed");
    ASSERT_NE(f, nullptr);
    EXPECT_EQ(f->severity, Severity::stop);
    EXPECT_THAT(f->why, HasSubstr("trials run-2, run-3"));
    std::filesystem::remove(folder / "images/usb-side-0.4.hex");
    EXPECT_THAT(of_log(*worked_out(d, folder.path()), "image-changed")->says, HasSubstr("can't be read"));
}

TEST(LogChecks, ADeviceThatTakesMoreThanIsLeft) {
    WireAnalysis wire;
    RailModeFigures mode;
    // 100 mA on a rail with 62 mA taken: 38 mA left; 10 % of the limit is 10 mA.
    mode.rails = {{"V5", 5, 4.75, 5.25, 0.062, 0.1, Verdict::holds, {}},
                  {"VBIG", 5, 5, 5, 0, 2.0, Verdict::holds, {}}};
    wire.rails.modes = {mode};
    const auto verdict = [&](double amps) {
        CoverItem device;
        NumberFact current;
        current.key = "current";
        current.value.value = amps;
        device.figures = {current};
        return device_values(device, &wire, {}).front();
    };
    EXPECT_EQ(verdict(0.020).verdict, Verdict::holds);
    EXPECT_EQ(verdict(0.030).verdict, Verdict::doubt);
    EXPECT_EQ(verdict(0.039).verdict, Verdict::stop);
    EXPECT_THAT(verdict(0.039).value, HasSubstr("left on V5"));
    CoverItem device;
    NumberFact poll;
    poll.key = "poll";
    poll.value.value = 0.008;
    device.figures = {poll};
    EXPECT_EQ(device_values(device, nullptr, {}).front().verdict, Verdict::unknown);
    DeviceMap map;
    map.modern.hold.value = Time::from_seconds(0.005);
    EXPECT_EQ(device_values(device, nullptr, map).front().verdict, Verdict::stop);
    map.modern.hold.value = Time::from_seconds(0.02);
    EXPECT_EQ(device_values(device, nullptr, map).front().verdict, Verdict::holds);
}

TEST(Learned, HoursCountInTheCalendar) {
    const auto d = logged();
    Analysis a;
    a.dossier = d;
    const auto with = outlook(a, std::nullopt);
    // 12 h in place of 9: three tasks that are done.
    EXPECT_THAT(with.hours_learned, HasSubstr("3 tasks took 12 h in place of 9"));
    const auto at = [&](const std::vector<PlanTask>& tasks, const char* id) {
        return *std::find_if(tasks.begin(), tasks.end(), [&](const PlanTask& t) { return t.id == id; });
    };
    EXPECT_NEAR(at(with.dated, "Draw revision 2").likely_h, 3.0 * 12 / 9, 1e-9);
    EXPECT_DOUBLE_EQ(at(with.tasks, "Draw revision 2").likely_h, 3.0) << "what was typed stays";
    EXPECT_DOUBLE_EQ(at(with.dated, "Describe the port").likely_h, 1.0) << "what is done is done";
    // One task alone tells too little.
    a.dossier = edit(d, &Dossier::log, [](JobLog& log) { log.money.hours.resize(1); });
    EXPECT_EQ(outlook(a, std::nullopt).hours_learned, "");
}

TEST(Learned, YieldsCountInTheOrderFromThreeBoardsOn) {
    OrderQuestion q;
    q.ask.want = 2;
    q.ask.tiers = {{3, 9, 1, {}, 0, 0}, {5, 12, 1, {}, 0, 0}};
    q.built.begun = 2;
    q.built.good = 1;
    q.built.yield = 0.5;
    q.built.says = "1 of 2 work so far";
    EXPECT_FALSE(order_advice(q).yield_known);
    q.built = {4, 2, 0.5, 0.2, 0.8, "2 of 4 work so far"};
    const auto advice = order_advice(q);
    EXPECT_DOUBLE_EQ(advice.yield, 0.5);
    EXPECT_EQ(advice.yield_from, "2 of 4 work so far");
    q.ask.yield = 0.9;
    EXPECT_EQ(order_advice(q).yield_from, "said");
}

TEST(UserCard, IsOnePageWithWhatIsSaidAndWhatFollows) {
    const auto a = worked_out(logged());
    const auto card = user_card(*a);
    ASSERT_TRUE(card);
    ASSERT_EQ(card->pages.size(), 1U);
    const auto& page = card->pages.front();
    for (const auto* says : {"Calder dial pad", "Switching on", "1. Computer off", "green, steady",
                             "button 1", "the ferry jumps back", "Plug and unplug with the power off"})
        EXPECT_THAT(page, HasSubstr(says));
    EXPECT_THAT(page, Not(HasSubstr("First power-up through a current limit"))) << "that is for the bench";
    // However much there is, it stays one page.
    const auto much = edit(logged(), &Dossier::log, [](JobLog& log) {
        for (int i = 0; i < 300; ++i)
            log.card.push_back({CardKind::symptom, "symptom " + std::to_string(i), "remedy", {}});
    });
    auto full = *a;
    full.dossier = much;
    const auto still = user_card(full);
    ASSERT_TRUE(still);
    EXPECT_EQ(still->pages.size(), 1U);
    EXPECT_THAT(still->pages.front(), HasSubstr("more, in the full description"));
    EXPECT_FALSE(user_card(Analysis{}));
}

TEST(LogReport, HasItsSectionsAndEachCautionOnce) {
    const auto a = worked_out(logged());
    const auto text = html_report(*a);
    for (const auto* id : {"log-trials", "log-cover", "log-changes", "log-units", "log-money", "log-release",
                           "log-evidence", "log-time"})
        EXPECT_THAT(text, HasSubstr(std::string("<h2 id=\"") + id)) << id;
    EXPECT_THAT(text, HasSubstr("ribbon 60 cm"));
    EXPECT_THAT(text, HasSubstr("3.1 words wrong, %"));
    std::size_t cautions = 0;
    for (const auto& c : a->data->cautions.cautions) {
        std::size_t times = 0;
        for (auto at = text.find("<b>" + c.title + ".</b>"); at != std::string::npos;
             at = text.find("<b>" + c.title + ".</b>", at + 1))
            ++times;
        EXPECT_LE(times, 1U) << c.title;
        cautions += times;
    }
    EXPECT_GT(cautions, 3U);
}

TEST(TrialFigure, RowsAndColumnsAreTheTables) {
    const auto table = trials_of(logged());
    const auto study = study_trials(table);
    const auto figure = trial_matrix(table, study, 700);
    EXPECT_EQ(figure.places.size(), study.single.size());
    std::size_t cells = 0;
    for (const auto& f : figure.fills) cells += f.rects.size();
    EXPECT_EQ(cells, study.single.size() * table.rows.size()) << "one for each value and run";
    for (const auto& f : figure.fills)
        for (const auto& r : f.rects) EXPECT_LE(r.x + r.w, figure.width);
    // A long table is cut, and says so.
    TrialTable wide;
    wide.factors = {"a"};
    for (int i = 0; i < 200; ++i) wide.rows.push_back({i + 2, {}, {std::to_string(i)}, "", i % 2 == 0, {}});
    const auto cut = trial_matrix(wide, study_trials(wide), 700);
    EXPECT_TRUE(std::any_of(cut.texts.begin(), cut.texts.end(), [](const Drawing::Text& t) {
        return t.text.find("of 200 runs") != std::string::npos;
    }));
}

TEST(CostFigure, HasAScaleWhateverIsTyped) {
    for (const double price : {0.0, 5e-324, 1e-300, 1e-3, 1e9, 1e300}) {
        Economics e;
        e.price = price;
        const auto figure = cost_figure(study_costs(e, {}, 1), e, 50, 500);
        EXPECT_LT(figure.texts.size(), 40U) << price;
        for (const auto& [x, y] : figure.strokes.front().points)
            EXPECT_TRUE(std::isfinite(x) && std::isfinite(y)) << price;
    }
    // Hardly any works, and many are wanted: no number overflows.
    CostInputs in;
    in.yield = 1e-9;
    EXPECT_GT(cost_of(study_costs({}, in, 1), most_quantity, {}).begun, most_quantity);
}

TEST(CostFigure, FallsAndHoldsThePrices) {
    const auto a = worked_out(only_log(logged()));
    const auto study = job_costs(*a);
    const auto figure = cost_figure(study, a->dossier.log->money, 50, 500);
    ASSERT_EQ(figure.strokes.size(), 1U);
    EXPECT_EQ(figure.strokes[0].points.size(), 50U);
    // Higher on the page is dearer: one costs more than fifty, each.
    EXPECT_LT(figure.strokes[0].points.front().second, figure.strokes[0].points.back().second);
    int prices = 0;
    for (const auto& t : figure.texts)
        prices += t.text == "price 39.00" || t.text == "original 85.00" ? 1 : 0;
    EXPECT_EQ(prices, 2);
}

}  // namespace
}  // namespace grayrelic
