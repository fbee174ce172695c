// SPDX-License-Identifier: GPL-3.0-or-later
// The command line's verbs on recordings that grow, on what ails lines, on words compared and on marked
// moments.
#include <gmock/gmock.h>

#include <csignal>
#include <thread>

#include "core/capture/vcd_writer.hpp"
#include "standin/spoken.hpp"
#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using standin::capture_of;
using standin::Wire;
using test::run;

class Follow : public testing::Test {
  protected:
    std::string file(const std::string& name) { return (folder / name).string(); }
    std::string write(const std::string& name, const Capture& c) {
        std::string text;
        Progress progress;
        EXPECT_TRUE(write_vcd(
            c, {},
            [&](std::string_view t) {
                text += t;
                return Status{};
            },
            progress));
        test::write_file(folder / name, text);
        return file(name);
    }
    /// The stand-in's device in the background; gives its port.
    std::string start_device(const std::string& arguments) {
        const auto command = std::string(GRAY_RELIC_STANDIN) + " logic " + arguments + " >" + file("port") +
                             " 2>&1 & echo $! >" + file("pid");
        EXPECT_EQ(std::system(command.c_str()), 0);
        for (int i = 0; i < 500 && test::read_file(folder / "port").find('\n') == std::string::npos; ++i)
            std::this_thread::sleep_for(std::chrono::milliseconds(10));
        return test::read_file(folder / "port").substr(0, test::read_file(folder / "port").find('\n'));
    }
    void TearDown() override {
        if (const auto pid = std::atoi(test::read_file(folder / "pid").c_str()); pid > 1)
            ::kill(pid, SIGTERM);
    }
    test::TempFolder folder;
};

TEST_F(Follow, ADeviceOnAPortIsFollowedUntilTheConditionHolds) {
    const auto port = start_device("--kind latch-shift --speed 2");
    ASSERT_FALSE(port.empty());
    auto a = run("capture follow 'port " + port + "' --edges 3000 --out " + file("kept.vcd") + " --json");
    ASSERT_EQ(a.status, 0) << a.err;
    EXPECT_GE(a.json()["edges"].get<long>(), 3000);
    EXPECT_EQ(a.json()["ended_by"], "condition");
    EXPECT_TRUE(a.json()["hit"].is_null());
    const auto kept = run("capture info " + file("kept.vcd") + " --json");
    ASSERT_EQ(kept.status, 0) << kept.err;
    EXPECT_EQ(kept.json()["edges"], a.json()["edges"]);
    a = run("capture follow 'port " + port + "' --order 'LATCH:rise then CLOCK:fall' --after 2ms --json");
    ASSERT_EQ(a.status, 0) << a.err;
    ASSERT_TRUE(a.json()["hit"].is_object());
    EXPECT_GE(a.json()["duration_s"].get<double>(), a.json()["hit"]["end_s"].get<double>() + 2e-3);
    a = run("capture follow 'port " + port + "' --for 50ms --json");
    EXPECT_GE(a.json()["duration_s"].get<double>(), 0.05);
}

TEST_F(Follow, AGrowingFileTooAndWrongUsesAreRefused) {
    std::thread writer([&] {
        EXPECT_EQ(run("logic --kind clocked --speed 5 --seconds 0.5 --file " + file("grows.vcd"),
                      GRAY_RELIC_STANDIN)
                      .status,
                  0);
    });
    for (int i = 0; i < 500 && !std::filesystem::exists(folder / "grows.vcd"); ++i)
        std::this_thread::sleep_for(std::chrono::milliseconds(10));
    const auto a = run("capture follow " + file("grows.vcd") + " --for 400ms --json");
    writer.join();
    ASSERT_EQ(a.status, 0) << a.err;
    EXPECT_GE(a.json()["duration_s"].get<double>(), 0.4);
    EXPECT_EQ(run("capture follow " + file("grows.vcd") + " --after 1ms").status, 2);
    EXPECT_EQ(run("capture follow " + file("grows.vcd") + " --for soon").status, 2);
    EXPECT_NE(run("capture follow " + file("missing.vcd") + " --edges 5").status, 0);
    EXPECT_NE(run("capture follow 'port 1' --edges 5").err.find("port 1"), std::string::npos);
    EXPECT_EQ(run("logic --kind opera", GRAY_RELIC_STANDIN).status, 2);
    test::write_file(folder / "bad.vcd", "$var wire 1 ! a $end\n$enddefinitions $end\n#0\n0!\nrubbish\n#5\n");
    const auto bad = run("capture follow " + file("bad.vcd") + " --edges 5");
    EXPECT_EQ(bad.status, 3);
    EXPECT_NE((bad.out + bad.err).find("bad.vcd:5"), std::string::npos) << bad.out << bad.err;
}

TEST_F(Follow, HealthTellsChatter) {
    Wire key("KEY", false);
    for (int i = 0; i < 20; ++i) {
        const Time t = Time::ms(20 * (i + 1));
        key.set(t, i % 2 == 0);
        if (i % 2 == 0) key.set(t + Time::us(40), false), key.set(t + Time::us(90), true);
    }
    const auto a = run("capture health " + write("key.vcd", capture_of({key}, Time::ms(430))) + " --json");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto line = a.json()["lines"][0];
    EXPECT_EQ(line["signal"], "KEY");
    EXPECT_EQ(line["changes"], 20);
    EXPECT_EQ(line["chatter_after_rise"], 10);
    EXPECT_EQ(line["chatter_after_fall"], 0);
    EXPECT_NEAR(line["chatter_longest_s"].get<double>(), 90e-6, 1e-9);
    const auto text = run("capture health " + file("key.vcd"));
    EXPECT_NE(text.out.find("KEY"), std::string::npos);
    EXPECT_EQ(run("capture health /nowhere.vcd").status, 3);
}

TEST_F(Follow, CompareNamesTheWordsThatDiffer) {
    const auto talk = [&](const char* name, std::uint64_t third, Time later) {
        Wire latch("LATCH", false), clock("CLOCK", true), data("DATA", true);
        for (int i = 0; i < 6; ++i)
            standin::say_latch_shift(latch, clock, data, Time::ms(2 * i + 1) + later,
                                     i == 3 ? third : 0xA0U + static_cast<unsigned>(i),
                                     {.bits = 8, .latch = Time::us(12), .half = Time::us(6), .msb = true});
        return write(name, capture_of({latch, clock, data}, Time::ms(14)));
    };
    const auto original = talk("original.vcd", 0xA3, {}), replica = talk("replica.vcd", 0xA7, Time::us(300));
    const std::string how =
        " --map LATCH=LATCH --map CLOCK=CLOCK --map DATA=DATA --align LATCH:rise --as latch-shift --role "
        "latch=LATCH --role clock=CLOCK --role data=DATA --json";
    auto a = run("capture compare " + original + " " + replica + how);
    EXPECT_EQ(a.status, 1);
    const auto words = a.json()["frames"];
    EXPECT_EQ(words["same"], 5);
    EXPECT_EQ(words["differ"], 1);
    EXPECT_EQ(words["differences"][0]["original"], "10100011");
    EXPECT_EQ(words["differences"][0]["replica"], "10100111");
    EXPECT_NEAR(words["differences"][0]["at_s"].get<double>(), 7e-3, 1e-9);
    a = run("capture compare " + original + " " + original + how);
    EXPECT_EQ(a.status, 0) << a.err;
    EXPECT_EQ(a.json()["frames"]["same"], 6);
    EXPECT_EQ(run("capture compare " + original + " " + replica +
                  " --map LATCH=LATCH --as opera --role latch=LATCH")
                  .status,
              2);
}

TEST_F(Follow, HuntInOneLongRecording) {
    Wire latch("LATCH", false), clock("CLOCK", true), data("DATA", true);
    for (int i = 0; i < 60; ++i)
        standin::say_latch_shift(latch, clock, data, Time::ms(10 * (i + 1)),
                                 i >= 20 && i < 30   ? 0xDFU
                                 : i >= 40 && i < 50 ? 0xFBU
                                                     : 0xFFU,
                                 {.bits = 8, .latch = Time::us(12), .half = Time::us(6), .msb = true});
    const auto path = write("long.vcd", capture_of({latch, clock, data}, Time::ms(620)));
    const std::string how =
        "capture hunt --as latch-shift --map latch=LATCH --map clock=CLOCK --map data=DATA --take long=" +
        path;
    const auto a = run(how + " --moment fire=205ms..304ms --moment left=405ms..504ms --json");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto answers = a.json()["answers"];
    ASSERT_EQ(answers.size(), 2U);
    EXPECT_EQ(answers[0]["take"], "fire");
    EXPECT_EQ(answers[0]["bits"][0]["bit"], 2);  // 0xDF: the third bit from the most significant one
    EXPECT_EQ(answers[0]["bits"][0]["active"], "low");
    EXPECT_EQ(answers[1]["bits"][0]["bit"], 5);
    EXPECT_EQ(run(how + " --moment fire=sometime").status, 2);
    EXPECT_EQ(run(how + " --moment fire=2s..1s").status, 2);
    EXPECT_EQ(run(how + " --take other=" + path + " --moment fire=1ms..2ms").status, 2);
}

}  // namespace
}  // namespace grayrelic
