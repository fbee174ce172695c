// SPDX-License-Identifier: GPL-3.0-or-later
// Tasks as tables and as lines of text.
#include <gmock/gmock.h>

#include "core/plan/schedule.hpp"
#include "core/plan/task_text.hpp"

namespace grayrelic {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

std::string fault_of(const std::string& csv) {
    const auto tasks = tasks_from_csv(csv, "t.csv");
    return tasks ? "taken" : tasks.error().message();
}

TEST(TaskTable, IsReadWithColumnsInAnyOrder) {
    const auto t = tasks_from_csv(
        "after;task;likely_h;most_h;wait_most_d;wait_least_d\n"
        ";Draw;3;5;;\n"
        "Draw;Order;1;;26;12\n"
        "Draw + Order;Assemble;2;;;\n",
        "t.csv");
    ASSERT_TRUE(t) << t.error().message();
    ASSERT_EQ(t->size(), 3U);
    EXPECT_EQ((*t)[0].least_h, 3) << "not said: as the likely one";
    EXPECT_EQ((*t)[0].most_h, 5);
    EXPECT_EQ((*t)[1].wait_least_d, 12);
    EXPECT_EQ((*t)[1].wait_most_d, 26);
    EXPECT_THAT((*t)[2].after, ElementsAre("Draw", "Order"));
    EXPECT_EQ(*tasks_from_csv(tasks_to_csv(*t), "again.csv"), *t);
}

TEST(TaskTable, NamesPlaceAndReason) {
    const std::string head = "task,least_h,likely_h,most_h,after,wait_least_d,wait_most_d\n";
    EXPECT_THAT(fault_of("name,likely_h\na,1\n"), HasSubstr("t.csv:1: found no single column \"task\""));
    EXPECT_THAT(fault_of(head + "a,1,2,3,,,\nb,1,x,3,,,\n"),
                HasSubstr("t.csv:3: found \"x\" in column likely_h"));
    EXPECT_THAT(fault_of(head + "a,1,,3,,,\n"), HasSubstr("t.csv:2: found nothing in column likely_h"));
    EXPECT_THAT(fault_of(head + "a,-1,2,3,,,\n"), HasSubstr("t.csv:2"));
    EXPECT_THAT(fault_of(head + "a,3,2,4,,,\n"), HasSubstr("least_h up to likely_h"));
    EXPECT_THAT(fault_of(head + "a,1,2,1e9,,,\n"), HasSubstr("most_h"));
    EXPECT_THAT(fault_of(head + "a,1,2,nan,,,\n"), HasSubstr("most_h"));
    EXPECT_THAT(fault_of(head + "a,1,2,3,,5,4\n"), HasSubstr("wait_least_d up to wait_most_d"));
    EXPECT_THAT(fault_of(head + "a,1,2,3,b,,\n"), HasSubstr("t.csv:2: found \"b\" in column after"));
    EXPECT_THAT(fault_of(head + "a,1,2,3,,,\na,1,2,3,,,\n"), HasSubstr("t.csv:3: found \"a\" a second time"));
    EXPECT_THAT(fault_of(head + "a,1,2,3,b,,\nb,1,2,3,a,,\n"), HasSubstr("circle"));
    EXPECT_THAT(fault_of(head + ",1,2,3,,,\n"), HasSubstr("column task"));
    EXPECT_THAT(fault_of(""), HasSubstr("t.csv"));
}

TEST(TaskLine, IsReadAsItIsTyped) {
    const auto t = parse_task("firmware 2-6-10 h after breadboard + parts, 7-21 d");
    ASSERT_TRUE(t) << t.error().message();
    EXPECT_EQ(t->id, "firmware");
    EXPECT_EQ(t->least_h, 2);
    EXPECT_EQ(t->likely_h, 6);
    EXPECT_EQ(t->most_h, 10);
    EXPECT_THAT(t->after, ElementsAre("breadboard", "parts"));
    EXPECT_EQ(t->wait_least_d, 7);
    EXPECT_EQ(t->wait_most_d, 21);
    EXPECT_EQ(parse_task("cut the case 2h")->likely_h, 2);
    EXPECT_EQ(parse_task("cut the case 2h")->id, "cut the case");
    EXPECT_EQ(parse_task("Order boards, 9 d")->wait_most_d, 9);
    EXPECT_EQ(parse_task("Order boards, 9 d")->id, "Order boards");
    EXPECT_EQ(parse_task("look around")->likely_h, 1);
    EXPECT_EQ(parse_task("send")->id, "send") << "a word that ends in d is no wait";
    EXPECT_EQ(parse_task("search")->id, "search");
    EXPECT_FALSE(parse_task("firmware 6-2-10 h"));
    EXPECT_FALSE(parse_task("firmware 1-2 h"));
    EXPECT_FALSE(parse_task("order, 21-7 d"));
    EXPECT_FALSE(parse_task("   "));
    EXPECT_FALSE(parse_task("3 h"));
}

TEST(TaskEdit, KeepsTheTasksDoable) {
    std::vector<PlanTask> tasks(3);
    tasks[0].id = "a";
    tasks[1].id = "b";
    tasks[1].after = {"a"};
    tasks[2].id = "c";
    tasks[2].after = {"b"};
    EXPECT_EQ(set_task_field(tasks, 1, TaskField::name, "B"), "");
    EXPECT_THAT(tasks[2].after, ElementsAre("B")) << "what comes after it takes the new name over";
    EXPECT_EQ(set_task_field(tasks, 0, TaskField::likely, "3"), "");
    EXPECT_EQ(tasks[0].least_h, 3) << "all three were one";
    EXPECT_EQ(set_task_field(tasks, 0, TaskField::most, "8"), "");
    EXPECT_THAT(set_task_field(tasks, 0, TaskField::likely, "9"), HasSubstr("hours must go up"));
    EXPECT_EQ(tasks[0].likely_h, 3) << "nothing changed";
    EXPECT_THAT(set_task_field(tasks, 0, TaskField::after, "c"), HasSubstr("waits for"));
    EXPECT_THAT(set_task_field(tasks, 0, TaskField::after, "nobody"), HasSubstr("no task"));
    EXPECT_THAT(set_task_field(tasks, 0, TaskField::name, "c"), HasSubstr("twice"));
    EXPECT_THAT(set_task_field(tasks, 0, TaskField::done, "yesterday"), HasSubstr("a day such as"));
    EXPECT_THAT(set_task_field(tasks, 0, TaskField::wait_least, "soon"), HasSubstr("expected a number"));
    EXPECT_EQ(set_task_field(tasks, 0, TaskField::wait_least, "4"), "");
    EXPECT_EQ(tasks[0].wait_most_d, 4);
    remove_task(tasks, "B");
    ASSERT_EQ(tasks.size(), 2U);
    EXPECT_THAT(tasks[1].after, ElementsAre("a"));
}

}  // namespace
}  // namespace grayrelic
