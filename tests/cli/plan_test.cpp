// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli plan, plan schedule, plan sheet: keys, figures, statuses.
#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using test::run;
using testing::ElementsAre;
using testing::HasSubstr;

class Plan : public testing::Test {
  protected:
    std::string tasks(const std::string& rows) {
        test::write_file(folder / "tasks.csv",
                         "task,least_h,likely_h,most_h,after,wait_least_d,wait_most_d\n" + rows);
        return "plan schedule " + (folder / "tasks.csv").string() + " --today 2026-11-28 ";
    }
    std::string job(const std::string& plan) {
        std::filesystem::create_directories(folder / "job.relic");
        test::write_file(
            folder / "job.relic/dossier.json",
            R"({"format": "gray-relic-dossier", "version": 2, "name": "Job", "plan": )" + plan + "}");
        return (folder / "job.relic").string();
    }
    test::TempFolder folder;
    const std::string pad = (test::source_folder() / "demos/calder-dial-pad.relic").string();
};

/// At 7 hours a week hours are days. Order: 1, then 4 in the post; meanwhile Case 2 and nothing more; Fit
/// needs both: from day 5, 3 long: day 8.
TEST_F(Plan, ScheduleHasTheKeysAndTheHandWorkedDates) {
    const auto a =
        run(tasks("Case,2,2,2,,,\nOrder,1,1,1,,4,4\nFit,3,3,3,Order+Case,,\n") + "--hours-per-week 7 --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto j = a.json();
    EXPECT_EQ(j["finish"]["p50"], "2026-12-06");
    EXPECT_EQ(j["finish"]["p90"], "2026-12-06");
    EXPECT_THAT(j["critical"].get<std::vector<std::string>>(), ElementsAre("Order", "Fit"));
    EXPECT_THAT(j["start_now"].get<std::vector<std::string>>(), ElementsAre("Order", "Case"));
    ASSERT_EQ(j["meanwhile"].size(), 1U);
    EXPECT_EQ(j["meanwhile"][0]["task"], "Case");
    EXPECT_EQ(j["meanwhile"][0]["while_waiting_for"], "Order");
}

TEST_F(Plan, ScheduleSaysWhatItCantTake) {
    EXPECT_EQ(run(tasks("a,1,1,1,,,\n") + "--hours-per-week 0").status, 2);
    EXPECT_EQ(run(tasks("a,1,1,1,,,\n") + "--hours-per-week -2").status, 2);
    EXPECT_EQ(
        run("plan schedule " + (folder / "tasks.csv").string() + " --today 28.11.2026 --hours-per-week 5")
            .status,
        2);
    const auto circle = run(tasks("a,1,1,1,b,,\nb,1,1,1,a,,\n") + "--hours-per-week 5");
    EXPECT_EQ(circle.status, 3);
    EXPECT_THAT(circle.err, HasSubstr("tasks.csv:2"));
    EXPECT_EQ(
        run("plan schedule " + (folder / "none.csv").string() + " --today 2026-11-28 --hours-per-week 5")
            .status,
        3);
    EXPECT_EQ(run("plan").status, 2);
}

TEST_F(Plan, HasTheKeysForTheDemo) {
    const auto a = run("plan " + pad + " --today 2026-11-29 --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto j = a.json();
    EXPECT_EQ(j["kind"], "new-device-old-host");
    std::vector<std::string> gates;
    for (const auto& g : j["ready"]) gates.push_back(g["gate"]);
    EXPECT_THAT(gates, ElementsAre("breadboard", "order", "solder", "power", "plug", "publish"));
    EXPECT_EQ(j["ready"][1]["verdict"], "stop");
    EXPECT_GE(j["ready"][1]["blocked_by"].size(), 3U);
    for (const auto& q : j["next"])
        for (const auto* key : {"question", "stage", "why", "wrong_cost", "minutes", "settled_by"})
            EXPECT_TRUE(q.contains(key)) << key;
    EXPECT_GE(j["next"].size(), 2U);
    EXPECT_EQ(j["musts"].size(), 4U);
    long open = 0, in_post = 0;
    for (const auto& m : j["musts"]) open += m["verdict"] == "holds" ? 0 : 1;
    for (const auto& o : j["orders"]) in_post += o["state"] == "ordered" ? 1 : 0;
    EXPECT_EQ(open, 1) << "one must is unmet";
    EXPECT_EQ(in_post, 1) << "one order is in the post";
    EXPECT_LE(j["finish"]["p50"], j["finish"]["p90"]);
}

TEST_F(Plan, AnEmptyJobHasNoDates) {
    const auto a = run("plan " + job("{}") + " --today 2026-11-29 --json");
    EXPECT_EQ(a.status, 0) << a.err;
    EXPECT_TRUE(a.json()["finish"]["p50"].is_null());
    EXPECT_EQ(a.json()["ready"].size(), 6U);
}

TEST_F(Plan, BadPlansNameTheirLine) {
    EXPECT_THAT(run("plan " + job("{\n\"deadline\": \"soon\"}")).err, HasSubstr("dossier.json:2"));
    EXPECT_EQ(run("plan " + job(R"({"tasks": [{"task": "a", "likely_h": -1}]})")).status, 3);
    EXPECT_EQ(run("plan " + job(R"({"questions": [{"id": "a", "chance": 1.5}]})")).status, 3);
    EXPECT_EQ(run("plan " + job(R"({"musts": [{"id": "a", "tie": "hope"}]})")).status, 3);
    EXPECT_EQ(run("plan " + job(R"({"overrides": [{"gate": "order"}]})")).status, 3) << "it needs a reason";
    const auto circle =
        run("plan " + job(R"({"tasks": [{"task": "a", "after": ["b"]}, {"task": "b", "after": ["a"]}]})") +
            " --json");
    EXPECT_EQ(circle.status, 1);
    EXPECT_THAT(circle.json()["task_problem"].get<std::string>(), HasSubstr("waits for"));
}

TEST_F(Plan, CheckListsTheGatesWhichChangeNoStatus) {
    const auto with = run("check " + pad + " --json").json();
    ASSERT_EQ(with["gates"].size(), 6U);
    EXPECT_EQ(with["gates"][0]["gate"], "breadboard");
    for (const auto& f : with["findings"]) EXPECT_NE(f["id"], "gate");
    const auto empty = run("check " + job("{}") + " --json");
    EXPECT_EQ(empty.status, 0);
    EXPECT_EQ(empty.json()["findings"].size(), 0U);
    EXPECT_EQ(empty.json()["gates"][2]["verdict"], "unknown");
}

TEST_F(Plan, ASheetIsWrittenForAQuestion) {
    const auto out = (folder / "q.html").string();
    EXPECT_EQ(run("plan sheet " + pad + " 'pin-9' " + out).status, 0);
    EXPECT_THAT(test::read_file(out), HasSubstr("What is pin 9 for?"));
    EXPECT_EQ(run("plan sheet " + pad + " 'moment minute 1ms' " + (folder / "m.pdf").string()).status, 0);
    EXPECT_THAT(test::read_file(folder / "m.pdf"), HasSubstr("%PDF"));
    EXPECT_EQ(run("plan sheet " + pad + " 'no such question' " + out).status, 2);
    EXPECT_EQ(run("plan sheet " + pad + " pin-9 " + (folder / "q.txt").string()).status, 2);
}

}  // namespace
}  // namespace grayrelic
