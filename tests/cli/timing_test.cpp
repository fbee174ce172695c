// SPDX-License-Identifier: GPL-3.0-or-later
// clock, logic and the further verbs of timing: keys, figures, exit status.
#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using test::demo;
using test::run;
using testing::HasSubstr;

TEST(CliClock, ExplainHasItsKeysAndNeverOneAnswerWhenSeveralFit) {
    const auto a = run("clock explain 1.266748MHz --within 100 --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto list = a.json()["candidates"];
    ASSERT_GE(list.size(), 1U);
    for (const char* k : {"source", "source_hz", "divide", "chain", "hz", "error_ppm", "score"})
        EXPECT_TRUE(list[0].contains(k)) << k;
    // The scenario's computer: 17.734475 MHz ÷ 14.
    EXPECT_NEAR(list[0]["source_hz"].get<double>(), 17'734'475, 0.01);
    EXPECT_EQ(list[0]["divide"], 14);
    EXPECT_GT(run("clock explain 13392.9Bd --within 500ppm --json").json()["alike"].get<int>(), 1);
    EXPECT_EQ(run("clock explain 17.1234567MHz --within 1").status, 1);
    EXPECT_EQ(run("clock explain cow").status, 2);
    EXPECT_EQ(run("clock explain 1kHz --within 0").status, 2);
}

TEST(CliClock, SerialAndLoop) {
    const auto s = run("clock serial --target 115200 --from 16MHz --divider integer --json");
    EXPECT_EQ(s.status, 0);
    EXPECT_EQ(s.json()["divisor"], 9.0);
    EXPECT_EQ(s.json()["margin_bit"].size(), 10U);
    EXPECT_EQ(s.json()["verdict"], "holds");
    EXPECT_NEAR(s.json()["error_ppm"].get<double>(), -35'493.8, 0.1);
    EXPECT_EQ(run("clock serial --target 115200 --from 2MHz --divider integer").status, 1);
    EXPECT_EQ(run("clock serial --target 115200 --from 16MHz --divider thirds").status, 2);
    const auto l = run("clock loop 1.266748MHz --cycles 7,10,12 --json");
    EXPECT_EQ(l.json()["cycles"], 29);
    EXPECT_NEAR(l.json()["toggle_hz"].get<double>(), 1'266'748 / 58.0, 1e-6);
    EXPECT_NEAR(run("clock loop 1MHz --measured 17kHz --json").json()["cycles"].get<double>(), 29.4118, 1e-3);
    EXPECT_EQ(run("clock loop 1MHz --cycles 7,x").status, 2);
}

class CliLogic : public testing::Test {
  protected:
    void SetUp() override {
        test::write_file(folder / "xor.net",
                         "input A B\noutput Y\nU1 74x86 hct: 1A=A 1B=B 1Y=Y 2A=0 2B=0 3A=0 3B=0 4A=0 4B=0\n");
        test::write_file(folder / "nands.net",
                         "input A B\noutput Y\nU1 74x00 hct: 1A=A 1B=B 1Y=m 2A=A 2B=m 2Y=p 3A=m 3B=B 3Y=q "
                         "4A=p 4B=q 4Y=Y\n");
        test::write_file(folder / "or.net",
                         "input A B\noutput Y\nU1 74x32 hct: 1A=A 1B=B 1Y=Y 2A=0 2B=0 3A=0 3B=0 4A=0 4B=0\n");
        test::write_file(folder / "bad.net", "input A\noutput Y\n\nU1 74x999 hct: 1A=A 1Y=Y\n");
    }
    [[nodiscard]] std::string at(const char* name) const { return (folder / name).string(); }
    test::TempFolder folder;
};

TEST_F(CliLogic, TruthEqualAndHazards) {
    EXPECT_EQ(run("logic truth " + at("xor.net")).out, "A,B,Y\n0,0,0\n0,1,1\n1,0,1\n1,1,0\n");
    const auto same = run("logic equal " + at("xor.net") + " " + at("nands.net") + " --json");
    EXPECT_EQ(same.status, 0);
    EXPECT_EQ(same.json()["answer"], "equal");
    EXPECT_EQ(same.json()["looked_at"], 4);
    const auto differ = run("logic equal " + at("xor.net") + " " + at("or.net") + " --json");
    EXPECT_EQ(differ.status, 1);
    EXPECT_EQ(differ.json()["steps"][0], (nlohmann::json{{"A", 1}, {"B", 1}}));
    EXPECT_EQ(differ.json()["first"], "0");
    EXPECT_EQ(differ.json()["second"], "1");
    EXPECT_EQ(run("logic hazards " + at("xor.net")).status, 0);
    EXPECT_EQ(
        run("logic equal " + demo + " " + demo + " --network second-set --other-network second-set-gates")
            .status,
        0);
}

TEST_F(CliLogic, MinimiseVerilogAndRun) {
    const auto m = run("logic minimise " + at("xor.net") + " --drawer \"1 x 74x00 hct\" --json");
    EXPECT_EQ(m.status, 0) << m.err;
    EXPECT_EQ(m.json()["realisations"][0]["gates"], 4);
    EXPECT_TRUE(m.json()["complete"]);
    test::write_file(folder / "t.txt", "a b | y\n1 1 | 0\n0 - | 1\n1 0 | 1\n");
    EXPECT_EQ(run("logic minimise --table " + at("t.txt") + " --drawer \"74x00 hct\" --json")
                  .json()["realisations"][0]["gates"],
              1);
    EXPECT_EQ(run("logic minimise --table " + at("t.txt") + " --drawer cow").status, 2);
    EXPECT_THAT(run("logic to-verilog " + at("nands.net") + " --corner fast").out, HasSubstr("module nands"));
    const auto r =
        run("logic run " + demo + " --network dial-register --capture " + demo +
            "/captures/idle.vcd --as latch-shift --map latch=HOLD --map clock=STEP --map data=REPLY --out " +
            at("nets.vcd") + " --json");
    EXPECT_EQ(r.status, 0) << r.err << r.out.substr(0, 300);
    EXPECT_GT(r.json()["edges"]["REPLY"].get<int>(), 100);
    EXPECT_EQ(run("capture info " + at("nets.vcd")).status, 0);
}

TEST_F(CliLogic, WrongNetListsAreSaidWithFileAndLine) {
    const auto a = run("logic truth " + at("bad.net"));
    EXPECT_EQ(a.status, 3);
    EXPECT_THAT(a.err, HasSubstr("bad.net:4: found \"74x999\""));
    const auto c = run("logic check " + at("bad.net") + " --json");
    EXPECT_EQ(c.status, 1);
    EXPECT_EQ(c.json()["problems"][0]["line"], 4);
    EXPECT_EQ(c.json()["problems"].size(), 1U);  // that nobody drives Y follows from it
    EXPECT_EQ(run("logic truth " + at("nothing.net")).status, 3);
    EXPECT_EQ(run("logic truth " + demo + " --network nobody").status, 2);
    test::write_file(folder / "latin.net", "input \xE9\n");
    EXPECT_EQ(run("logic check " + at("latin.net")).status, 3);
    EXPECT_EQ(run("logic equal " + at("xor.net") + " " + at("bad.net")).status, 3);
}

TEST(CliTiming, BudgetsGoldenAndFigure) {
    const auto b = run("timing budget " + demo + " --json");
    EXPECT_EQ(b.status, 0) << b.err;
    EXPECT_EQ(b.json()["budgets"].size(), 4U);
    for (const char* k : {"id", "kind", "verdict", "says", "used", "available", "figures", "assumed"})
        EXPECT_TRUE(b.json()["budgets"][0].contains(k)) << k;
    EXPECT_EQ(run("timing budget --budget watchdog:timeout=10ms,loop=20ms").status, 1);
    EXPECT_EQ(run("timing budget --budget cow:x=1").status, 2);
    EXPECT_EQ(run("timing budget").status, 2);
    const auto fire = run("timing budget --budget autofire:wanted=5,spread=1 --capture " + demo +
                          "/captures/idle.vcd --event HOLD:rise --json");
    EXPECT_EQ(fire.status, 0);
    EXPECT_NEAR(fire.json()["budgets"][0]["available"].get<double>(), 12.5, 0.01);
    const auto g = run("timing golden " + demo + " --json");
    EXPECT_EQ(g.status, 0);
    EXPECT_EQ(g.json()["pairs"][0]["verdict"], "doubt");
    EXPECT_EQ(g.json()["pairs"][0]["words"]["differ"], 0);
    const test::TempFolder folder;
    EXPECT_EQ(run("timing figure " + demo + " " + (folder / "c.svg").string()).status, 0);
    EXPECT_THAT(test::read_file(folder / "c.svg"), HasSubstr("STEP period"));
}

TEST(CliTiming, FurtherKindsOfOptionsOnABareCapture) {
    const std::string bare = "timing reply --capture " + demo +
                             "/captures/idle.vcd --trigger STEP:rise --deadline next:STEP:fall --json";
    const auto a =
        run(bare +
            " --option pio:clock=125MHz,sync=2..3,cycles=4 --option core:latency=100ns..200ns,work=1us "
            "--option mixed:latency=1us..9us,work=1ms,path=5ns/20ns/60ns");
    EXPECT_EQ(a.status, 0) << a.err;
    for (const auto& o : a.json()["options"]) EXPECT_EQ(o["missed"], 0) << o["name"];
    EXPECT_EQ(run(bare + " --option core:latency=1us..2us,work=9us").status, 1);
    EXPECT_EQ(run(bare + " --option pio:clock=125MHz,sync=2..3").status, 2);
    const auto contract = run("timing contract " + demo + " --json").json()["intervals"][0];
    EXPECT_EQ(contract["specimens"].size(), 4U);
    EXPECT_NEAR(contract["most_s"].get<double>(), contract["max_s"].get<double>() - 20e-9, 1e-15);
}

class CliDerive : public testing::Test {
  protected:
    /// Two polls of a register: the latch, then four clocks that rest high; the answer 20 ns behind each
    /// rise.
    void SetUp() override {
        std::string rows = "t_ns,latch,clk,q\n0,0,1,1\n";
        bool q = true;
        for (long poll = 0; poll < 12; ++poll) {
            const long at = 1000 + poll * 5000;
            const auto row = [&](long t, int latch, int clk) {
                rows += std::to_string(at + t) + "," + std::to_string(latch) + "," + std::to_string(clk) +
                        "," + (q ? "1" : "0") + "\n";
            };
            row(0, 1, 1), row(50, 0, 1);
            for (long k = 0; k < 4; ++k) {
                row(200 + 100 * k, 0, 0);
                row(250 + 100 * k + (poll % 3) * 5, 0, 1);  // pulses of different widths
                q = !q;
                row(270 + 100 * k + (poll % 3) * 5, 0, 1);
            }
        }
        test::write_file(folder / "pad.csv", rows);
    }
    test::TempFolder folder;
};

TEST_F(CliDerive, GivesTheQuestionAndTheIntervals) {
    const auto a = run("timing derive " + (folder / "pad.csv").string() +
                       " --as latch-shift --map latch=latch --map clock=clk --map data=q --json");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = a.json();
    EXPECT_EQ(j["trigger"], "clk:rise");
    EXPECT_EQ(j["answer"], "q:any");
    EXPECT_EQ(j["look"], "next:clk:fall");
    EXPECT_TRUE(j["unsure"].is_array());
    const auto reply = j["intervals"][0];
    EXPECT_EQ(test::keys(reply),
              (std::vector<std::string>{"count", "evidence", "from", "kind", "max_s", "min_s", "name", "to",
                                        "typ_s", "until", "within_s"}));
    EXPECT_EQ(reply["count"], 48);
    EXPECT_NEAR(reply["min_s"].get<double>(), 20e-9, 1e-15);
    EXPECT_NEAR(reply["max_s"].get<double>(), 20e-9, 1e-15);
    EXPECT_THAT(run("timing derive " + (folder / "pad.csv").string() +
                    " --as latch-shift --map latch=latch --map clock=clk --map data=q")
                    .out,
                HasSubstr("after clk:rise q:any answers; the host looks at next:clk:fall"));
}

TEST_F(CliDerive, WhereNobodyAnswersIsNullWithAReason) {
    const auto a = run("timing derive " + (folder / "pad.csv").string() +
                       " --as quadrature --map a=clk --map b=latch --json");
    const auto j = a.json();
    for (const char* key : {"trigger", "answer", "look"}) EXPECT_TRUE(j[key].is_null()) << key;
    bool said = false;
    for (const auto& u : j["unsure"]) said = said || (u["what"] == "trigger" && u["would_tell"] != "");
    EXPECT_TRUE(said);
    // Clock and latch are no wheel: nothing of it is called measured.
    EXPECT_EQ(a.status, 1);
    EXPECT_EQ(j["fits"], false);
    for (const auto& i : j["intervals"]) EXPECT_EQ(i["evidence"], "assumed");
}

TEST_F(CliDerive, WrongArgumentsAreNamed) {
    const auto file = (folder / "pad.csv").string();
    EXPECT_EQ(run("timing derive " + file + " --as cow --map data=q").status, 2);
    EXPECT_EQ(run("timing derive " + file + " --as latch-shift --map latch=latch --map clock=clk").status, 2);
    EXPECT_EQ(run("timing derive " + file + " --as async-serial --map data=nowhere").status, 2);
    EXPECT_EQ(run("timing derive " + file + " --as async-serial --map data").status, 2);
}

}  // namespace
}  // namespace grayrelic
