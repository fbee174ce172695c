// SPDX-License-Identifier: GPL-3.0-or-later
// What holds for every verb: --json is one object, an output that can't be written is an error and never a
// signal, and nothing that is read is written over. A verb that is not in the table here fails the first
// test.
#include <set>

#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using test::run;

const std::string dial_pad = test::demo,
                  card = (test::source_folder() / "demos/calder-page-card.relic").string(),
                  chart = (test::source_folder() / "demos/calder-chart-chart.relic").string(),
                  tile = (test::source_folder() / "demos/calder-sound-tile.relic").string(),
                  keypad = (test::source_folder() / "demos/calder-counter-keypad.relic").string(),
                  minute = dial_pad + "/captures/minute.vcd", resting = dial_pad + "/captures/idle.vcd",
                  clocked = test::hdl + "clocked.vcd";

struct Verb {
    const char* name;
    std::string arguments;  ///< {} stands for a folder that may be written to
};

const std::vector<Verb>& verbs() {
    static const std::vector<Verb> all{
        {"capture info", resting},
        {"capture convert", resting + " {}/o.csv"},
        {"capture measure", resting + " --signal STEP"},
        {"capture delay", minute + " --from STEP:rise --to REPLY:any"},
        {"capture decode", minute + " --as latch-shift --map latch=HOLD --map clock=STEP --map data=REPLY"},
        {"capture shapes", minute},
        {"capture find", resting + " --pulse STEP --longer 1us"},
        {"capture identify", clocked},
        {"capture compare", minute + " " + minute + " --map STEP=STEP"},
        {"capture hunt", "--as latch-shift --map latch=HOLD --map clock=STEP --map data=REPLY --take rest=" +
                             resting + " --take a=" + dial_pad + "/captures/button-a.vcd"},
        {"capture follow", resting + " --edges 20 --out {}/follow.vcd"},
        {"capture health", resting},
        {"timing derive", minute + " --as latch-shift --map latch=HOLD --map clock=STEP --map data=REPLY"},
        {"timing contract", dial_pad},
        {"timing reply", dial_pad},
        {"timing budget", dial_pad},
        {"timing golden", dial_pad},
        {"timing figure", dial_pad + " {}/contract.svg"},
        {"clock explain", "1.266748MHz"},
        {"clock serial", "--target 9600 --from 1MHz"},
        {"clock loop", "1MHz --cycles 7,10"},
        {"logic check", "{}/net.txt"},
        {"logic truth", "{}/net.txt"},
        {"logic equal", "{}/net.txt {}/net.txt"},
        {"logic hazards", "{}/net.txt"},
        {"logic minimise", "{}/net.txt --drawer '1 x 74x00 hct'"},
        {"logic run", "{}/net.txt --capture {}/ab.vcd --corner slow"},
        {"logic to-verilog", "{}/net.txt"},
        {"trace nets", "{}/ledger.csv"},
        {"trace compare", "{}/nets.csv {}/nets.csv"},
        {"trace scan", card},
        {"trace sheets", card + " {}/sheets.pdf"},
        {"trace netlist", card + " {}/nets-out.csv"},
        {"port check", dial_pad},
        {"port misinsert", "{}/pins.csv --connector mini-din-9"},
        {"port taps", "{}/pins.csv --connector mini-din-9"},
        {"port bricks", "{}/jack.csv --connector barrel-55-21"},
        {"port find", "'2.77 mm 2 rows 9 contacts'"},
        {"port compare", "{}/pins.csv {}/pins.csv"},
        {"port card", dial_pad + " {}/card.pdf"},
        {"wire parts", dial_pad + " --csv {}/parts.csv"},
        {"wire link", "--from hct@5V --to lvc@3V3"},
        {"wire value", "filter --r 1k --c 100n"},
        {"wire lines", dial_pad},
        {"wire rails", dial_pad},
        {"wire pins", dial_pad + " --out {}/pins.h"},
        {"wire netlist", dial_pad + " {}/netlist.ipc"},
        {"wire card", dial_pad + " {}/packages.svg"},
        {"map matrix", "{}/keys.csv"},
        {"map descriptor", "--profile keyboard"},
        {"map descriptor-read", "--hex '05 01 09 06 A1 01 C0'"},
        {"map text", "'Aa|' --layout de"},
        {"map pointer", "{}/moves.csv --counts-per-step 4 --dead 3"},
        {"map reports", "{}/reports.txt --layout us"},
        {"map check", keypad},
        {"map export", keypad + " {}/map.h"},
        {"map compare", keypad + " {}/edited.csv"},
        {"board read", "{}/fab"},
        {"board nets", "{}/fab --pads {}/pads.csv --against {}/nets.csv"},
        {"board face", "{}/fab --pads {}/pads.csv --ref J1 --connector header-2x1"},
        {"board rules", "{}/fab --process home-photo"},
        {"board find", "{}/fab --connector header-2x1"},
        {"board template", "{}/fab {}/template.svg"},
        {"board inside", "{}/edged {}/room.svg"},
        {"board fit", "{}/stack.csv"},
        {"board order", "{}/tiers.csv --want 2 --yield 0.9"},
        {"board stack", tile},
        {"board state", tile},
        {"board solder", tile},
        {"build gates", tile},
        {"build diagnose", tile + " --seen 'C0>C0=low'"},
        {"build symptoms", tile},
        {"build practice", "--skill fault --seed 1 --auto"},
        {"build rework", tile + " --part R8"},
        {"build wires", dial_pad},
        {"build plan", tile},
        {"log trials", dial_pad},
        {"log coverage", dial_pad},
        {"log merge", "{}/old.relic {}/works.csv --source x"},
        {"log complaints", dial_pad},
        {"log units", dial_pad},
        {"log money", dial_pad},
        {"log release", dial_pad},
        {"log card", dial_pad + " {}/card.svg"},
        {"log find", dial_pad + " ribbon"},
        {"log time", dial_pad},
        {"diff", dial_pad + " " + tile},
        {"build joints", tile},
        {"build marking", "'brown black red gold'"},
        {"board place", "{}/fab --placements {}/placed.csv --package U1=dip-8"},
        {"plan", dial_pad + " --today 2026-11-29"},
        {"plan schedule", "{}/tasks.csv --today 2026-11-29 --hours-per-week 6"},
        {"plan sheet", dial_pad + " pin-9 {}/sheet.html"},
        {"check", dial_pad},
        {"report", dial_pad + " {}/r.html"},
        {"new", "{}/fresh.relic --name Fresh"},
        {"migrate", "{}/old.relic"},
    };
    return all;
}

class EveryVerb : public testing::Test {
  protected:
    EveryVerb() {
        test::write_file(
            folder / "net.txt",
            "input a, b\noutput y\nU1 74x00 hct: 1A=a 1B=b 1Y=y 2A=0 2B=0 3A=0 3B=0 4A=0 4B=0\n");
        test::write_file(folder / "works.csv", "item,outcome\nQuay Side,works\n");
        test::write_file(folder / "tasks.csv", "task,likely_h,after\nDraw,2,\nSolder,1,Draw\n");
        test::write_file(folder / "ab.vcd",
                         "$timescale 1 ns $end $scope module m $end $var wire 1 a a $end $var wire 1 b b "
                         "$end $upscope $end "
                         "$enddefinitions $end\n#0 0a 1b\n#1000 1a\n#2000 0a\n");
        test::write_file(folder / "ledger.csv", "a,b,reading\nJ1.1,U1.1,beep\nU1.1,U2.3,beep\n");
        test::write_file(folder / "nets.csv", "net,point\nRESET,J1.1\nRESET,U1.1\n");
        test::write_file(folder / "pins.csv", "pin,name,driver\n1,+5V,supply\n2,GND,supply\n3,DATA,relic\n");
        test::write_file(
            folder / "jack.csv",
            "pin,name,driver,function,volts_max\n1,+9V,supply,supply-in,9\n2,GND,supply,ground,\n");
        test::write_file(folder / "keys.csv",
                         "key,row,column,diode\na,0,0,no\nb,0,1,no\nc,1,0,no\nd,1,1,no\n");
        test::write_file(folder / "moves.csv", "counts\n5\n-3\n");
        test::write_file(folder / "reports.txt", "00 00 04 00 00 00 00 00\n00 00 00 00 00 00 00 00\n");
        test::write_file(folder / "edited.csv", "code,meaning\nR0 C0,key:f1\n");
        test::write_file(folder / "stack.csv",
                         "what,mm,plus,minus,sign\nlid,12,0.3,0.3,+\nmodule,9,0.5,0.5,-\n");
        std::filesystem::create_directories(folder / "edged");
        test::write_file(folder / "edged/outline.gbr",
                         "%TF.FileFunction,Profile,NP*%\n%FSLAX33Y33*%\n%MOMM*%\n%ADD10C,0.1*%\nD10*"
                         "\nX0Y0D02*\nX20000D01*\n"
                         "Y10000D01*\nX0D01*\nY0D01*\nM02*\n");
        test::write_file(
            folder / "room.svg",
            "<svg width=\"30mm\" height=\"20mm\" viewBox=\"0 0 30 20\"><rect x=\"1\" y=\"1\" width=\"28\" "
            "height=\"18\"/></svg>");
        test::write_file(folder / "tiers.csv", "quantity,price,shipping\n5,10,4\n");
        test::write_file(folder / "placed.csv", "ref,x,y,turn,side\nU1,10,10,0,top\n");
        std::filesystem::create_directories(folder / "fab");
        test::write_file(folder / "fab/copper-top.gbr",
                         "%FSLAX33Y33*%\n%MOMM*%\n%ADD10C,1.5*%\nD10*\nX0Y0D03*\nX2540Y0D03*\nX0Y0D02*"
                         "\nX2540D01*\nM02*\n");
        test::write_file(folder / "pads.csv", "ref,pin,x_mm,y_mm,side\nJ1,1,0,0,top\nU1,1,2.54,0,top\n");
        std::filesystem::create_directories(folder / "old.relic");
        test::write_file(
            folder / "old.relic/dossier.json",
            R"({"format":"gray-relic-dossier","version":1,"name":"Old","ports":[],"captures":[]})");
    }
    std::string filled(std::string arguments) const {
        for (auto at = arguments.find("{}"); at != std::string::npos; at = arguments.find("{}"))
            arguments.replace(at, 2, folder.path().string());
        return arguments;
    }
    test::TempFolder folder;
};

/// The names that a help text lists below "Subcommands:".
std::vector<std::string> subcommands(const std::string& help) {
    std::vector<std::string> out;
    std::istringstream lines(help.substr(std::min(help.size(), help.find("Subcommands:"))));
    std::string line;
    std::getline(lines, line);
    while (std::getline(lines, line))
        if (line.starts_with("  ") && line.size() > 2 && line[2] != ' ')
            out.push_back(line.substr(2, line.find(' ', 2) - 2));
    return out;
}

TEST_F(EveryVerb, StandsInTheTable) {
    std::set<std::string> table, program;
    for (const auto& v : verbs()) table.insert(v.name);
    for (const auto& noun : subcommands(run("--help").out)) {
        const auto help = run(noun + " --help").out;
        const auto below = subcommands(help);
        // A noun that takes something itself is a verb too.
        if (below.empty() || help.find("Positionals:") != std::string::npos) program.insert(noun);
        for (const auto& verb : below) program.insert(noun + " " + verb);
    }
    EXPECT_EQ(table, program);
}

TEST_F(EveryVerb, AnswersWithOneJsonObject) {
    for (const auto& v : verbs()) {
        const auto a = run(std::string(v.name) + " " + filled(v.arguments) + " --json");
        EXPECT_TRUE(a.status == 0 || a.status == 1) << v.name << " " << a.status << " " << a.err;
        const auto j = nlohmann::json::parse(a.out, nullptr, false);
        EXPECT_TRUE(j.is_object()) << v.name << ": " << a.out.substr(0, 300);
    }
}

/// In a shell of its own: where the answer goes is what is tried.
int status_of(const std::string& command) {
    const int status = std::system(("bash -c \"" + command + "\" </dev/null 2>/dev/null").c_str());
    return WIFEXITED(status) ? WEXITSTATUS(status) : 1000 + WTERMSIG(status);
}

TEST_F(EveryVerb, SaysThatItsAnswerCouldNotBeWritten) {
    const std::string program = GRAY_RELIC_CLI;
    for (const auto& v : verbs()) {
        const auto command = program + " " + v.name + " " + filled(v.arguments);
        if (std::string_view(v.name) == "new") continue;  // answers nothing unless asked for JSON
        EXPECT_EQ(status_of(command + " --json >/dev/full"), 3) << v.name;
    }
    for (const std::string& verb :
         {"check " + dial_pad, "capture info " + resting, "logic truth " + (folder / "net.txt").string()}) {
        EXPECT_EQ(status_of(program + " " + verb + " >/dev/full"), 3) << verb;
        EXPECT_EQ(status_of(program + " " + verb + " --json >/dev/full 2>/dev/full"), 3) << verb;
        // Whoever read the answer has gone: 128 and more is a signal.
        EXPECT_LE(status_of(program + " " + verb + " | true; exit \\${PIPESTATUS[0]}"), 3) << verb;
    }
    EXPECT_EQ(status_of(program + " --help >/dev/full"), 3);
    EXPECT_EQ(status_of(program + " check /nowhere 2>/dev/full"), 3);
}

TEST_F(EveryVerb, NeverWritesOverWhatItReads) {
    const auto copy = (folder / "same.vcd").string(), link = (folder / "link.vcd").string();
    std::filesystem::copy_file(resting, copy);
    std::filesystem::create_symlink(copy, link);
    const auto before = test::read_file(copy);
    for (const auto& arguments :
         {"capture follow " + copy + " --out " + copy, "capture follow " + copy + " --out " + link,
          "capture convert " + copy + " " + copy, "capture convert " + link + " " + copy}) {
        const auto a = run(arguments);
        EXPECT_EQ(a.status, 2) << arguments;
        EXPECT_THAT(a.err, testing::HasSubstr("which is also read, expected another file to write to"))
            << arguments;
        EXPECT_EQ(test::read_file(copy), before) << arguments;
    }
    const auto dossier = folder / "pad.relic";
    std::filesystem::copy(dial_pad, dossier, std::filesystem::copy_options::recursive);
    test::write_file(folder / "net.svg", "input a\noutput y\nU1 74x04 hct: 1A=a 1Y=y\n");
    const auto net = (folder / "net.svg").string();
    EXPECT_EQ(run("logic to-verilog " + net + " --out " + net).status, 2);
    // A file that a dossier names, by whatever ending.
    auto text = test::read_file(dossier / "dossier.json");
    for (auto at = text.find("captures/idle.vcd"); at != std::string::npos;
         at = text.find("captures/idle.vcd"))
        text.replace(at, 17, "captures/idle.svg");
    test::write_file(dossier / "dossier.json", text);
    std::filesystem::rename(dossier / "captures/idle.vcd", dossier / "captures/idle.svg");
    const auto kept = test::read_file(dossier / "captures/idle.svg");
    EXPECT_EQ(
        run("timing figure " + dossier.string() + " " + (dossier / "captures/idle.svg").string()).status, 2);
    EXPECT_EQ(test::read_file(dossier / "captures/idle.svg"), kept);
}

/// faults.md H4, M3, M4: names with #, records of one digit, names in other letters.
TEST_F(EveryVerb, ActiveLowNamesAreNotComments) {
    test::write_file(folder / "a.csv",
                     "# a comment\nnet,point\n\"#RESET\",J1.1\n\"#RESET\",U1.1\nCLK,J1.2\nCLK,U1.2\n");
    test::write_file(folder / "b.csv", "net,point\n\"#RESET\",J1.1\n\"#RESET\",U1.9\nCLK,J1.2\nCLK,U1.2\n");
    const auto a =
        run("trace compare " + (folder / "a.csv").string() + " " + (folder / "b.csv").string() + " --json");
    EXPECT_EQ(a.status, 1) << a.out;
    EXPECT_THAT(a.out, testing::HasSubstr("#RESET"));
    EXPECT_EQ(run("trace compare " + (folder / "a.csv").string() + " " + (folder / "a.csv").string()).status,
              0);
}

TEST_F(EveryVerb, BrokenNetlistRecordsAreRefusedWithTheirLine) {
    test::write_file(folder / "short.ipc", "C  x\nP  UNITS CUST 0\n3\n");
    test::write_file(folder / "letters.ipc",
                     "C  x\nP  UNITS CUST 0\n327NET1             U1   \xC2\xB0"
                     "1          A01X+000000Y+000000\n");
    for (const char* name : {"short.ipc", "letters.ipc"}) {
        const auto file = (folder / name).string();
        const auto a = run("trace compare " + file + " " + file);
        EXPECT_EQ(a.status, 3) << name;
        EXPECT_THAT(a.err, testing::HasSubstr(std::string(name) + ":3: found")) << name;
    }
}

/// RFC 8878: a frame of RLE blocks, each one byte said 131,072 times; without the size of its content.
std::string zstd_bomb(std::uint64_t bytes) {
    constexpr std::uint32_t size = 1U << 17U;
    std::string out("\x28\xB5\x2F\xFD\x00\x58", 6);  // magic, no size and no check sum, a window of 2 MiB
    const auto blocks = bytes / size;
    for (std::uint64_t i = 0; i < blocks; ++i) {
        const std::uint32_t header = (i + 1 == blocks ? 1U : 0U) | 1U << 1U | size << 3U;
        for (const unsigned shift : {0U, 8U, 16U}) out += static_cast<char>(header >> shift & 0xFFU);
        out += ' ';
    }
    return out;
}

TEST_F(EveryVerb, FilesMadeToBurstCostNoMoreThanTheBound) {
    if (test::takes_all_addresses) GTEST_SKIP() << "the sanitizer's own addresses are many";
    test::write_file(folder / "bomb.vcd.zst", zstd_bomb(6ULL << 30U));
    std::string many = "$timescale 1 ns $end\n";
    for (int i = 0; i < 30; ++i)
        many += "$var wire 65536 v" + std::to_string(i) + " n" + std::to_string(i) + " $end\n";
    test::write_file(folder / "many.vcd", many + "$enddefinitions $end\n#0\n#5\n");
    for (const auto& [name, told] : {std::pair{"bomb.vcd.zst", "MB once expanded, expected at most that"},
                                     std::pair{"many.vcd", "expected at most 1048576 signals"}}) {
        const auto file = (folder / name).string();
        const auto a = run("capture info " + file, "ulimit -v 2600000; " GRAY_RELIC_CLI);
        EXPECT_EQ(a.status, 3) << name;
        EXPECT_THAT(a.err, testing::HasSubstr(told)) << name;
    }
    // With less memory than the bound it is one message, too.
    const auto a =
        run("capture info " + (folder / "bomb.vcd.zst").string(), "ulimit -v 600000; " GRAY_RELIC_CLI);
    EXPECT_EQ(a.status, 3);
    EXPECT_THAT(a.err, testing::HasSubstr("found more than there is memory for"));
}

}  // namespace
}  // namespace grayrelic
