// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds of job: what ships, and what a file of one's own must be.
#include <gmock/gmock.h>

#include <nlohmann/json.hpp>
#include <set>

#include "core/library/data_library.hpp"
#include "core/plan/schedule.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

const DataLibrary& shipped() {
    static const auto data = DataLibrary::load(disk(), {test::source_folder() / "data"});
    return *data;
}

TEST(JobKinds, ShippedOnesAreWhole) {
    EXPECT_TRUE(shipped().jobs.problems.empty());
    EXPECT_GE(shipped().jobs.kinds.size(), 12U);
    std::set<std::string> cautions, names;
    for (const auto& c : shipped().cautions.cautions) cautions.insert(c.id);
    for (const auto& k : shipped().jobs.kinds) {
        EXPECT_TRUE(names.insert(k.name).second) << k.name;
        EXPECT_FALSE(k.stages.empty()) << k.id;
        EXPECT_GE(k.questions.size(), 3U) << k.id;
        EXPECT_GE(k.musts.size(), 2U) << k.id;
        EXPECT_GE(k.tasks.size(), 5U) << k.id;
        EXPECT_FALSE(k.example.empty()) << k.id;
        for (const auto& c : k.cautions) EXPECT_TRUE(cautions.contains(c)) << k.id << " names " << c;
        std::vector<PlanTask> tasks;
        for (const auto& t : k.tasks) tasks.push_back(t.task);
        EXPECT_EQ(task_problem(tasks), "") << k.id;
        long parcels = 0;
        for (const auto& t : k.tasks) parcels += t.parcel ? 1 : 0;
        EXPECT_EQ(parcels, 1) << k.id << ": what waits for the post";
    }
    EXPECT_EQ(shipped().jobs.find("no such kind"), nullptr);
}

std::string base_kind(const std::string& more) {
    return "{\n \"id\": \"mine\",\n \"name\": \"Mine\",\n \"about\": \"Of my own.\"" + more + "\n}\n";
}

std::string fault_of(const std::string& json) {
    const auto kind = job_kind_from_json(json, "mine.json");
    return kind ? "taken" : kind.error().message();
}

TEST(JobKinds, OfOnesOwnAreReadAndOverride) {
    EXPECT_EQ(fault_of(base_kind("")), "taken");
    const test::TempFolder own;
    std::filesystem::create_directories(own.path() / "jobs");
    test::write_file(own.path() / "jobs/mine.json", base_kind(R"(, "stages": ["port"])"));
    test::write_file(own.path() / "jobs/supply.json",
                     R"({"id": "supply", "name": "My supply", "about": "Mine."})");
    test::write_file(own.path() / "jobs/bad.json", base_kind(R"(, "stages": ["portt"])"));
    const auto data = DataLibrary::load(disk(), {test::source_folder() / "data", own.path()});
    ASSERT_NE(data->jobs.find("mine"), nullptr);
    EXPECT_TRUE(data->jobs.find("mine")->needs(Stage::port));
    EXPECT_FALSE(data->jobs.find("mine")->needs(Stage::wire));
    EXPECT_TRUE(data->jobs.find("mine")->has(JobGate::plug)) << "without a list all gates are";
    EXPECT_EQ(data->jobs.find("supply")->name, "My supply");
    ASSERT_EQ(data->jobs.problems.size(), 1U);
    EXPECT_THAT(data->jobs.problems.front().message(), HasSubstr("bad.json:4: found \"portt\""));
    EXPECT_EQ(data->problems().size(), 1U);
}

TEST(JobKinds, WhatIsWrongHasALineAndAReason) {
    EXPECT_THAT(fault_of("{}"), HasSubstr("mine.json:1"));
    EXPECT_THAT(fault_of(base_kind(",\n \"gates\": [\"etch\"]")), HasSubstr("mine.json:5: found \"etch\""));
    EXPECT_THAT(fault_of(base_kind(",\n \"tasks\": [{\"task\": \"a\", \"after\": [\"b\"]}]")),
                HasSubstr("\"b\", which is no task"));
    EXPECT_THAT(
        fault_of(base_kind(R"(, "tasks": [{"task": "a", "after": ["b"]}, {"task": "b", "after": ["a"]}])")),
        HasSubstr("a circle of tasks"));
    EXPECT_THAT(fault_of(base_kind(R"(, "tasks": [{"task": "a"}, {"task": "a"}])")),
                HasSubstr("a second time"));
    EXPECT_THAT(fault_of(base_kind(R"(, "tasks": [{"task": "a", "likely_h": -1}])")), HasSubstr("0 to"));
    EXPECT_THAT(fault_of(base_kind(R"(, "tasks": [{"task": "a", "likely_h": 1e99}])")), HasSubstr("0 to"));
    EXPECT_THAT(fault_of(base_kind(R"(, "tasks": [{"task": "a", "least_h": 3, "likely_h": 2}])")),
                HasSubstr("hours out of order"));
    EXPECT_THAT(
        fault_of(base_kind(R"(, "questions": [{"id": "q", "ask": "?", "stage": "port", "how": ""}])")),
        HasSubstr("an empty text"));
    EXPECT_THAT(fault_of("not json"), HasSubstr("mine.json:1"));
}

}  // namespace
}  // namespace grayrelic
