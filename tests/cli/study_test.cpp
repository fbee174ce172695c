// SPDX-License-Identifier: GPL-3.0-or-later
// The command line's verbs that study a capture: shapes, find, identify, compare, hunt, decode of every
// family.
#include <nlohmann/json.hpp>

#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using Json = nlohmann::json;

using test::hdl;
using test::run;

const std::string demos = (test::source_folder() / "demos").string();

TEST(StudyCommands, ShapesOfTheDialPad) {
    const auto a = run("capture shapes " + demos + "/calder-dial-pad.relic/captures/idle.vcd --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto j = a.json();
    // A poll every 40 ms for three seconds.
    EXPECT_NEAR(j["transactions"].get<double>(), 75, 1);
    EXPECT_GT(j["gap_s"].get<double>(), 1e-4);
    long count = 0;
    for (const auto& s : j["shapes"]) {
        for (const char* key : {"id", "count", "text", "duration_s", "example_start_s"})
            EXPECT_TRUE(s.contains(key)) << key;
        count += s["count"].get<long>();
    }
    EXPECT_EQ(count, j["transactions"].get<long>());
    EXPECT_EQ(run("capture shapes " + demos + "/calder-dial-pad.relic/captures/idle.vcd --gap never").status,
              2);
}

TEST(StudyCommands, FindPulsesLevelsAndOrders) {
    const auto file = hdl + "strobed_bus.vcd";
    auto a = run("capture find " + file + " --pulse stb --low --shorter 2.5us --json");
    EXPECT_EQ(a.status, 0) << a.err;
    EXPECT_EQ(a.json()["hits"].size(), 60U) << "the model's 60 strobes of 2 µs";
    EXPECT_NEAR(a.json()["hits"][0]["end_s"].get<double>() - a.json()["hits"][0]["start_s"].get<double>(),
                2e-6, 1e-12);
    a = run("capture find " + file + " --pulse stb --low --longer 2.5us --json");
    EXPECT_EQ(a.status, 1) << "nothing found is a bad answer";
    EXPECT_TRUE(a.json()["hits"].empty());
    a = run("capture find " + file + " --level stb=0,d[0]=1 --json");
    EXPECT_EQ(a.status, 0);
    a = run("capture find " + file + " --order 'stb:fall then stb:rise within 3us' --json");
    EXPECT_EQ(a.json()["hits"].size(), 60U);
    EXPECT_EQ(run("capture find " + file).status, 2);
    EXPECT_EQ(run("capture find " + file + " --level stb=7").status, 2);
    EXPECT_EQ(run("capture find /nowhere.vcd --level a=1").status, 3);
}

TEST(StudyCommands, IdentifyNamesTheFamilyAndNoneFits) {
    const auto a = run("capture identify " + hdl + "usb.vcd --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto best = a.json()["candidates"][0];
    EXPECT_EQ(best["kind"], "usb-low-full");
    EXPECT_EQ(best["roles"]["plus"], "usb.dp");
    for (const char* key : {"score", "settings", "explains", "errors"})
        EXPECT_TRUE(best.contains(key)) << key;
    test::TempFolder folder;
    test::write_file(folder / "still.vcd",
                     "$timescale 1 us $end $var wire 1 ! a $end $enddefinitions $end #0 0! #500\n");
    const auto none = run("capture identify " + (folder / "still.vcd").string());
    EXPECT_EQ(none.status, 1);
    EXPECT_NE(none.out.find("none fits"), std::string::npos);
}

TEST(StudyCommands, EveryFamilyDecodes) {
    struct Case {
        const char* arguments;
        const char* key;
    };
    for (const auto& c :
         {Case{"select_bank.vcd --as select-bank --map select=sel --map enable=en --map 'data=y[3]' --map "
               "'data=y[2]' --map 'data=y[1]' --map 'data=y[0]' --enable-level low",
               "bank"},
          Case{"pulse_width.vcd --as pulse-width --map data=wired --one short", "side"},
          Case{"matrix.vcd --as matrix --map 'strobe=s[0]' --map 'strobe=s[1]' --map 'sense=k[0]'", "closed"},
          Case{"strobed_bus.vcd --as strobed-bus --map strobe=stb --map 'data=d[0]' --edge rise", "setup_s"},
          Case{"usb.vcd --as usb-low-full --map plus=dp --map minus=dm", "pid"},
          Case{"framed_clock.vcd --as framed-clock --map clock=clk --map data=data --parity odd", "value"},
          Case{"clocked.vcd --as clocked --map clock=sck --map data=so --mode 3", "value"},
          Case{"async.vcd --as async-serial --map data=line --baud 13393 --bits 8 --parity odd --invert yes",
               "value"}}) {
        const auto a = run("capture decode " + hdl + c.arguments + " --json");
        EXPECT_EQ(a.status, 0) << c.arguments << a.err;
        const auto j = a.json();
        ASSERT_FALSE(j["frames"].empty()) << c.arguments;
        for (const char* key : {"start_s", "end_s", "value", "levels", "errors"})
            EXPECT_TRUE(j["frames"][0].contains(key)) << key;
        bool seen = false;
        for (const auto& f : j["frames"]) seen = seen || f.contains(c.key);
        EXPECT_TRUE(seen) << c.arguments;
    }
    const auto q =
        run("capture decode " + hdl + "quadrature.vcd --as quadrature --map a=a --map b=b --json").json();
    for (const char* key : {"forward", "backward", "illegal", "position"})
        EXPECT_TRUE(q["counts"].contains(key)) << key;
    const auto p = run("capture decode " + demos +
                       "/calder-chart-slate.relic/captures/spiral.vcd --as async-serial --map data=RXD "
                       "--packets auto --json")
                       .json();
    EXPECT_EQ(p["kind"], "packets");
    EXPECT_EQ(p["settings"]["rule"], "length:6+xor");
    EXPECT_EQ(p["counts"]["errors"], 1);
}

TEST(StudyCommands, CompareAndConvertToWave) {
    const auto idle = demos + "/calder-dial-pad.relic/captures/idle.vcd",
               pressed = demos + "/calder-dial-pad.relic/captures/button-a.vcd";
    auto a = run("capture compare " + idle + " " + idle + " --map REPLY=REPLY --json");
    EXPECT_EQ(a.status, 0) << a.err;
    EXPECT_EQ(a.json()["same"], true);
    EXPECT_EQ(a.json()["first_difference_s"], nullptr);
    a = run("capture compare " + idle + " " + pressed +
            " --map REPLY=REPLY --map STEP=STEP --align HOLD:rise --json");
    EXPECT_EQ(a.status, 1);
    EXPECT_EQ(a.json()["signals"].size(), 2U);
    for (const char* key : {"name", "edges_a", "edges_b", "missing", "extra", "delay_s"})
        EXPECT_TRUE(a.json()["signals"][0].contains(key)) << key;
    test::TempFolder folder;
    EXPECT_EQ(run("capture convert " + hdl + "quadrature.vcd " + (folder / "q.wav").string()).status, 0);
    const auto info = run("capture info " + (folder / "q.wav").string() + " --json").json();
    EXPECT_EQ(info["format"], "wav");
    EXPECT_EQ(info["signals"][0]["kind"], "analogue");
    test::write_file(folder / "raw.bin", std::string("\x00\x01\x00\x01", 4));
    EXPECT_EQ(
        run("capture info " + (folder / "raw.bin").string() + " --raw 8 --rate 1MHz --json").json()["edges"],
        3);
    EXPECT_EQ(run("capture info " + (folder / "raw.bin").string() + " --raw 8").status, 2) << "no rate";
}

TEST(StudyCommands, HuntNamesTheBits) {
    const auto folder = demos + "/calder-dial-pad.relic/captures/";
    const auto a = run(
        "capture hunt --as latch-shift --map latch=HOLD --map clock=STEP --map data=REPLY --take idle=" +
        folder + "idle.vcd --take a=" + folder + "button-a.vcd --take c=" + folder + "button-c.vcd --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto j = a.json();
    EXPECT_EQ(j["bits"], 20);
    EXPECT_EQ(j["answers"][0]["bits"][0]["bit"], 0);
    EXPECT_EQ(j["answers"][0]["bits"][0]["active"], "low");
    EXPECT_EQ(j["answers"][1]["bits"][0]["bit"], 2);
}

}  // namespace
}  // namespace grayrelic
