// SPDX-License-Identifier: GPL-3.0-or-later
// The command-line contract, on the real program: keys, numbers, exit status, messages.
#include <nlohmann/json.hpp>
#include <set>

#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using Json = nlohmann::json;
using test::demo;
using test::hdl;
using test::TempFolder;

using test::keys;
using test::run;

const std::string idle = demo + "/captures/idle.vcd";

void expect_stat(const Json& s) {
    EXPECT_THAT(keys(s),
                testing::UnorderedElementsAre("n", "min", "p01", "median", "mean", "p99", "max", "sd"));
}

class Small : public testing::Test {
  protected:
    // clk: high 30, low 70, high 50, low 50, high 30 (rises 100, 200, 300); d answers 10 ns after the first
    // two rises
    void SetUp() override {
        test::write_file(folder / "s.vcd",
                         "$timescale 1 ns $end $scope module top $end $var wire 1 c clk $end $var wire 1 d d "
                         "$end $var reg 2 q q [1:0] $end $upscope $end $enddefinitions $end\n"
                         "#0 0c 0d b00 q\n#100 1c\n#110 1d\n#130 0c\n#200 1c b10 q\n#210 0d\n#250 0c\n#300 "
                         "1c\n#330 0c\n#500\n");
    }
    [[nodiscard]] std::string file() const { return (folder / "s.vcd").string(); }
    TempFolder folder;
};

TEST_F(Small, CaptureInfo) {
    const auto a = run("capture info " + file() + " --json");
    EXPECT_EQ(a.status, 0);
    const auto j = a.json();
    EXPECT_EQ(j["file"], file());
    EXPECT_EQ(j["format"], "vcd");
    EXPECT_DOUBLE_EQ(j["resolution_s"], 1e-9);
    EXPECT_DOUBLE_EQ(j["duration_s"], 500e-9);
    EXPECT_EQ(j["edges"], 9);  // 6 of clk, 2 of d, 1 of q[1]
    ASSERT_EQ(j["signals"].size(), 4U);
    EXPECT_EQ(j["signals"][0]["name"], "top.clk");
    EXPECT_EQ(j["signals"][0]["kind"], "digital");
    EXPECT_DOUBLE_EQ(j["signals"][0]["first_s"], 100e-9);
    EXPECT_DOUBLE_EQ(j["signals"][0]["last_s"], 330e-9);
    EXPECT_EQ(j["signals"][2]["name"], "top.q[1]");
    EXPECT_EQ(j["signals"][3]["first_s"], nullptr);
}

TEST_F(Small, CaptureMeasure) {
    const auto a = run("capture measure " + file() + " --signal clk --json");
    EXPECT_EQ(a.status, 0);
    const auto j = a.json();
    EXPECT_EQ(j["signal"], "top.clk");
    for (const char* k : {"high_s", "low_s", "period_s"}) expect_stat(j[k]);
    EXPECT_EQ(j["high_s"]["n"], 3);
    EXPECT_DOUBLE_EQ(j["high_s"]["max"], 50e-9);
    EXPECT_NEAR(double(j["frequency_hz"]), 1e7, 1e-3);
    EXPECT_NEAR(double(j["duty"]), 0.4, 1e-12);
    const auto part =
        run("capture measure " + file() + " --signal clk --from 150ns --to 300ns --json").json();
    EXPECT_EQ(part["high_s"]["n"], 1);
    const auto none = run("capture measure " + file() + " --signal d --json").json();
    EXPECT_EQ(none["low_s"]["n"], 0);
    EXPECT_EQ(none["low_s"]["min"], nullptr);
    EXPECT_EQ(none["frequency_hz"], nullptr);
}

TEST_F(Small, CaptureDelay) {
    const auto a = run("capture delay " + file() + " --from clk:rise --to d:any --json");
    EXPECT_EQ(a.status, 0);
    EXPECT_EQ(a.json()["delay_s"]["n"], 2);
    EXPECT_DOUBLE_EQ(a.json()["delay_s"]["median"], 10e-9);
    EXPECT_EQ(a.json()["unanswered"], 1);
    const auto none = run("capture delay " + file() + " --from clk:rise --to d:any --within 5ns --json");
    EXPECT_EQ(none.status, 1);
    EXPECT_EQ(none.json()["unanswered"], 3);
}

TEST_F(Small, CaptureConvertGoesThereAndBack) {
    const auto again = (folder / "again.vcd").string();
    const auto a = run("capture convert " + file() + " " + again + " --json");
    EXPECT_EQ(a.status, 0) << a.err;
    EXPECT_EQ(a.json()["format"], "vcd");
    EXPECT_EQ(a.json()["edges"], 9);
    EXPECT_TRUE(a.json()["remarks"].empty());
    const auto twice = (folder / "twice.vcd").string();
    ASSERT_EQ(run("capture convert " + again + " " + twice).status, 0);
    EXPECT_EQ(test::read_file(again), test::read_file(twice));
    auto before = run("capture info " + file() + " --json").json();
    auto after = run("capture info " + again + " --json").json();
    before.erase("file");
    after.erase("file");
    EXPECT_EQ(before, after);

    const auto table = (folder / "s.csv").string();
    ASSERT_EQ(run("capture convert " + file() + " " + table).status, 0);
    EXPECT_THAT(test::read_file(table), testing::StartsWith("time_s,top.clk,top.d,top.q[1],top.q[0]\n"
                                                            "0.0,0,0,0,0\n0.000000100,1,0,0,0\n"));
    EXPECT_EQ(run("capture measure " + table + " --signal clk --json").json()["high_s"],
              run("capture measure " + file() + " --signal clk --json").json()["high_s"]);
    ASSERT_EQ(run("capture convert " + file() + " " + (folder / "s.svg").string()).status, 0);
    EXPECT_THAT(test::read_file(folder / "s.svg"), testing::HasSubstr(">clk<"));
    EXPECT_EQ(run("capture convert " + file() + " " + (folder / "s.bin").string()).status, 2);
    EXPECT_EQ(run("capture convert " + (folder / "none.vcd").string() + " " + again).status, 3);
    EXPECT_EQ(run("capture convert " + file() + " /nonexistent/a.vcd").status, 3);
}

TEST_F(Small, TablesAreReadAsStated) {
    test::write_file(folder / "t.csv", "a\n0\n1\n1\n0\n");
    const auto table = (folder / "t.csv").string();
    EXPECT_EQ(run("capture info " + table).status, 3);
    const auto rated = run("capture info " + table + " --rate 1MHz --json").json();
    EXPECT_DOUBLE_EQ(rated["duration_s"], 3e-6);
    EXPECT_EQ(run("capture info " + table + " --rate 0").status, 2);
    test::write_file(folder / "u.csv", "time,v\n0,0.0\n10,5.0\n20,0.0\n");
    const auto guessed = run("capture info " + (folder / "u.csv").string() + " --json").json();
    ASSERT_EQ(guessed["remarks"].size(), 2U);  // the unit, and the threshold
    EXPECT_EQ(guessed["remarks"][0]["guessed"], true);
    const auto stated =
        run("capture info " + (folder / "u.csv").string() + " --unit us --threshold 2V --json").json();
    EXPECT_DOUBLE_EQ(stated["duration_s"], 20e-6);
    EXPECT_EQ(stated["remarks"][0]["guessed"], false);
    EXPECT_EQ(run("capture info " + (folder / "u.csv").string() + " --unit weeks").status, 2);
}

TEST_F(Small, HostileNamesDoNotSteerTheTerminal) {
    test::write_file(folder / "n.csv", "time_ns,\x1B[31mred,\xFF\xFE\n0,0,1\n1,1,1\n");
    const auto a = run("capture info " + (folder / "n.csv").string());
    EXPECT_EQ(a.status, 0);
    EXPECT_EQ(a.out.find('\x1B'), std::string::npos);
    EXPECT_EQ(run("capture info " + (folder / "n.csv").string() + " --json").status, 0);
}

TEST(Cli, CaptureDecodeOfAnotherProgramsFile) {
    const auto a = run("capture decode " + (hdl + "pad.vcd") +
                       " --as latch-shift --map latch=latch --map clock=clk --map data=data --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto j = a.json();
    EXPECT_EQ(j["kind"], "latch-shift");
    EXPECT_EQ(j["settings"], (Json{{"bits", "auto"}, {"edge", "fall"}, {"latch", "high"}, {"order", "msb"}}));
    EXPECT_EQ(j["counts"]["frames"], 5);
    EXPECT_EQ(j["counts"]["errors"], 0);
    EXPECT_EQ(j["frames"][0]["value"], 0xA5C);
    EXPECT_EQ(j["frames"][3]["levels"], "000100100011");
    EXPECT_EQ(j["frames"][4]["poll"], 5);
    EXPECT_THAT(keys(j["frames"][0]),
                testing::UnorderedElementsAre("start_s", "end_s", "value", "levels", "errors", "poll"));
    const auto fixed = run("capture decode " + (hdl + "pad.vcd") +
                           " --as latch-shift --map latch=latch --map clock=clk --map data=data --bits 16 "
                           "--order lsb --json")
                           .json();
    EXPECT_EQ(fixed["counts"]["short"], 5);
    EXPECT_EQ(fixed["frames"][0]["errors"], Json::array({"short"}));
    EXPECT_EQ(fixed["frames"][4]["value"], 0x801);  // the same read from either end
    EXPECT_EQ(run("capture decode " + (hdl + "pad.vcd") +
                  " --as latch-shift --map latch=q --map clock=clk --map data=data")
                  .status,
              2);
}

TEST(Cli, NothingDecodedIsABadAnswer) {
    TempFolder folder;
    test::write_file(
        folder / "s.vcd",
        "$var wire 1 a a $end $var wire 1 b b $end $var wire 1 c c $end $enddefinitions $end #0 0a 0b 0c #9");
    const auto a = run("capture decode " + (folder / "s.vcd").string() +
                       " --as latch-shift --map latch=a --map clock=b --map data=c --json");
    EXPECT_EQ(a.status, 1);
    EXPECT_EQ(a.json()["frames"], Json::array());
}

TEST(Cli, TimingContract) {
    const auto a = run("timing contract " + demo + " --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto list = a.json()["intervals"];
    ASSERT_EQ(list.size(), 9U);
    for (const auto& i : list)
        for (const char* k : {"name", "from", "to", "kind", "min_s", "typ_s", "max_s", "evidence"})
            EXPECT_TRUE(i.contains(k)) << k;
    EXPECT_EQ(list[1]["kind"], "look");
    EXPECT_EQ(list[1]["evidence"], "assumed");
    EXPECT_NEAR(double(list[1]["typ_s"]), 4 * 14 / 17'734'475.0, 20e-9);
}

TEST(Cli, TimingReplyOfADossier) {
    const auto a = run("timing reply " + demo + " --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto options = a.json()["options"];
    ASSERT_EQ(options.size(), 5U);
    for (const auto& o : options) {
        for (const char* k : {"name", "kind", "chosen", "replies", "met", "missed", "latency_s",
                              "worst_margin_s", "enough_latency_s"})
            EXPECT_TRUE(o.contains(k)) << k;
        expect_stat(o["latency_s"]);
        EXPECT_EQ(int(o["met"]) + int(o["missed"]), int(o["replies"]));
    }
    EXPECT_TRUE(options[0]["chosen"]);
    EXPECT_EQ(options[0]["missed"], 0);
    EXPECT_GT(int(options[1]["missed"]), 0);
    EXPECT_EQ(run("timing reply " + demo + " --option polling-firmware --json").json()["options"].size(), 1U);
    EXPECT_EQ(run("timing reply " + demo + " --option nobody").status, 2);
}

TEST_F(Small, TimingReplyOfABareCapture) {
    // From rise to fall 30, 50, 30 ns: logic of at most 20 ns holds, of 40 ns misses two of three.
    const auto base =
        "timing reply --capture " + file() + " --trigger clk:rise --deadline next:clk:fall --json --option ";
    const auto good = run(base + "logic:5ns,10ns,20ns");
    EXPECT_EQ(good.status, 0) << good.err;
    EXPECT_EQ(good.json()["options"][0]["replies"], 3);
    EXPECT_NEAR(double(good.json()["options"][0]["enough_latency_s"]), 30e-9, 1e-15);
    EXPECT_NEAR(double(good.json()["options"][0]["worst_margin_s"]), 10e-9, 1e-15);
    const auto bad = run(base + "logic:40ns,40ns,40ns --option logic:60ns,60ns,60ns");
    EXPECT_EQ(bad.status, 1);
    EXPECT_EQ(bad.json()["options"][0]["missed"], 2);
    EXPECT_EQ(bad.json()["options"][1]["missed"], 3);
    const auto fixed = run("timing reply --capture " + file() +
                           " --trigger clk:rise --deadline 45ns --json --option logic:40ns,40ns,40ns");
    EXPECT_EQ(fixed.json()["options"][0]["missed"], 0);
    EXPECT_EQ(run("timing reply --capture " + file() +
                  " --trigger clk:rise --deadline 1us --seed 4 --option poll:period=1us,work=1ns --json")
                  .out,
              run("timing reply --capture " + file() +
                  " --trigger clk:rise --deadline 1us --seed 4 --option poll:period=1us,work=1ns --json")
                  .out);
    EXPECT_EQ(run("timing reply --capture " + file()).status, 2);
    EXPECT_EQ(run("timing reply").status, 2);
    EXPECT_EQ(run(base + "poll:period=0,work=1us").status, 2);
}

TEST(Cli, CheckListsFindings) {
    const auto a = run("check " + demo + " --json");
    EXPECT_EQ(a.status, 0);
    const auto j = a.json();
    EXPECT_EQ(j["counts"], (Json{{"stop", 0}, {"doubt", 11}, {"note", 6}}));
    EXPECT_EQ(j["findings"].size(), 17U);
    EXPECT_THAT(keys(j["findings"][0]),
                testing::UnorderedElementsAre("id", "severity", "stage", "subject", "says", "why", "do"));
    const auto port = run("check " + demo + " --stage port --json").json();
    for (const auto& f : port["findings"]) EXPECT_EQ(f["stage"], "port");
    EXPECT_EQ(run("check " + demo + " --stage kitchen").status, 2);
    EXPECT_EQ(run("check " + demo + " --stage practice").status, 2) << "no check looks at it";
}

TEST(Cli, AStopIsABadAnswer) {
    TempFolder folder;
    std::filesystem::copy(demo, folder / "d.relic", std::filesystem::copy_options::recursive);
    auto j = Json::parse(test::read_file(folder / "d.relic/dossier.json"));
    j["timing"]["chosen"] = "interrupt-firmware";
    test::write_file(folder / "d.relic/dossier.json", j.dump());
    EXPECT_EQ(run("check " + (folder / "d.relic").string()).status, 1);
    EXPECT_EQ(run("timing reply " + (folder / "d.relic").string()).status, 1);
}

TEST(Cli, ReportWritesOneFile) {
    TempFolder folder;
    const auto out = folder / "r.html";
    EXPECT_EQ(run("report " + demo + " " + out.string()).status, 0);
    EXPECT_THAT(test::read_file(out), testing::HasSubstr("</html>"));
    EXPECT_EQ(run("report " + demo + " " + (folder / "r.doc").string()).status, 2);
    EXPECT_EQ(run("report " + demo + " " + (folder / "none" / "r.html").string()).status, 3);
}

TEST(Cli, NewMakesADossierThatChecks) {
    TempFolder folder;
    const auto dir = (folder / "n.relic").string();
    EXPECT_EQ(run("new " + dir + " --name 'My job'").status, 0);
    EXPECT_EQ(run("check " + dir).status, 0);
    EXPECT_EQ(run("new " + dir + " --name again").status, 3);
    EXPECT_EQ(run("new " + dir).status, 2);
}

TEST(Cli, MigrateWritesAnOldDossierAnew) {
    const TempFolder folder;
    std::filesystem::create_directory(folder / "d.relic");
    const auto file = folder / "d.relic" / "dossier.json";
    test::write_file(
        file,
        "{\"format\": \"gray-relic-dossier\", \"version\": 1, \"name\": \"n\", \"later\": 5,\n"
        "\"trace\": {\"readings\": [{\"a\": \"U1.1\", \"b\": \"U1.2\", \"reading\": \"beep\"}]}}");
    const auto named = (folder / "d.relic").string();
    EXPECT_EQ(run("migrate " + named + " --json").json(), (Json{{"from", 1}, {"to", 2}}));
    const auto now = Json::parse(test::read_file(file));
    EXPECT_EQ(now["version"], 2);
    EXPECT_EQ(now["readings"][0]["reading"], "beep");
    EXPECT_EQ(now["later"], 5);
    EXPECT_EQ(run("migrate " + named + " --json").json(), (Json{{"from", 2}, {"to", 2}}));
    EXPECT_EQ(Json::parse(test::read_file(file)), now);
    EXPECT_EQ(run("migrate " + (folder / "none.relic").string()).status, 3);
    test::write_file(file, "{\"format\": \"gray-relic-dossier\", \"version\": 3, \"name\": \"n\"}");
    EXPECT_EQ(run("migrate " + named).status, 3);
    EXPECT_THAT(test::read_file(file), testing::HasSubstr("\"version\": 3"))
        << "what is not understood is not touched";
}

struct Broken {
    const char* name;
    const char* text;
    const char* message;
};
void PrintTo(const Broken& b, std::ostream* out) {
    *out << b.name;
}
class UnreadableFile : public testing::TestWithParam<Broken> {};
TEST_P(UnreadableFile, SaysFileLineFoundExpectedAndExitsThree) {
    TempFolder folder;
    const auto file = (folder / "x.vcd").string();
    test::write_file(file, GetParam().text);
    const auto a = run("capture info " + file + " --json");
    EXPECT_EQ(a.status, 3);
    EXPECT_EQ(a.out, "");
    EXPECT_EQ(a.err, file + GetParam().message + "\n");
}
INSTANTIATE_TEST_SUITE_P(
    All, UnreadableFile,
    testing::Values(
        Broken{"Empty", "",
               ":1: found the end of the file, expected a value change dump with $var definitions"},
        Broken{"Csv", "a,b\n",
               ":1: found \"a,b\", expected a header keyword such as $timescale, $scope or $var"},
        Broken{"Back", "$var wire 1 ! a $end\n$enddefinitions $end\n#5\n1!\n#4\n",
               ":5: found \"#4\", expected a time not before #5: time goes back"}),
    [](const auto& given) { return given.param.name; });

TEST(Cli, AnUnreadableDossierIsNotTouched) {
    TempFolder folder;
    const auto dir = folder / "b.relic";
    std::filesystem::create_directories(dir);
    test::write_file(dir / "dossier.json", "{\n\"format\": 1}\n");
    for (const auto& verb : std::vector<std::string>{"check ", "timing contract ", "timing reply "}) {
        const auto a = run(verb + dir.string());
        EXPECT_EQ(a.status, 3) << verb;
        EXPECT_EQ(a.err, (dir / "dossier.json").string() + ":2: found 1, expected text for format\n");
    }
    EXPECT_EQ(run("report " + dir.string() + " " + (folder / "r.html").string()).status, 3);
    EXPECT_FALSE(std::filesystem::exists(folder / "r.html"));
    EXPECT_EQ(test::read_file(dir / "dossier.json"), "{\n\"format\": 1}\n");
}

TEST(Cli, WrongUsageExitsTwo) {
    for (const auto& arguments : std::vector<std::string>{
             "", "dance", "capture", "capture info", "capture measure " + idle,
             "capture measure " + idle + " --signal nobody",
             "capture delay " + idle + " --from STEP --to REPLY:any",
             "capture decode " + idle + " --as morse --map a=b",
             "capture decode " + idle + " --as latch-shift --map latch",
             "capture decode " + idle +
                 " --as latch-shift --map latch=HOLD --map clock=STEP --map data=REPLY --edge up",
             "capture measure " + idle + " --signal STEP --from never"})
        EXPECT_EQ(run(arguments).status, 2) << arguments;
}

TEST(Cli, HelpAndVersionAreFine) {
    EXPECT_EQ(run("--help").status, 0);
    EXPECT_EQ(run("capture decode --help").status, 0);
    EXPECT_THAT(run("--version").out, testing::HasSubstr("gray-relic-cli 0."));
}

TEST(Cli, TextForPeopleNamesTheFigures) {
    EXPECT_THAT(run("capture info " + idle).out, testing::HasSubstr("control_port.STEP"));
    EXPECT_THAT(run("capture measure " + idle + " --signal STEP").out, testing::HasSubstr("frequency"));
    EXPECT_THAT(run("timing reply " + demo).out, testing::HasSubstr("Shift register (chosen)"));
    EXPECT_THAT(run("check " + demo).out, testing::HasSubstr("The host's look is assumed"));
    EXPECT_THAT(run("timing contract " + demo).out, testing::HasSubstr("Original's reply"));
}

TEST(Standin, WritesTheDemoCaptures) {
    TempFolder folder;
    EXPECT_EQ(run("dial-pad --seed 7 --out " + (folder / "a").string(), GRAY_RELIC_STANDIN).status, 0);
    for (const char* name : {"idle.vcd", "button-a.vcd", "button-g.vcd", "minute.vcd"})
        EXPECT_EQ(test::read_file(folder / "a" / name), test::read_file(demo + "/captures/" + name)) << name;
    EXPECT_EQ(run("juggle", GRAY_RELIC_STANDIN).status, 2);
    EXPECT_EQ(run("dial-pad --seed x", GRAY_RELIC_STANDIN).status, 2);
}

}  // namespace
}  // namespace grayrelic
