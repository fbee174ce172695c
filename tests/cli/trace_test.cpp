// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli trace …: keys, rows counted from 1, shortest chains, exit status, and files in and out.
#include <nlohmann/json.hpp>

#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using Json = nlohmann::json;

using test::run;

class TraceCommands : public testing::Test {
  protected:
    std::string file(const std::string& name, const std::string& text) {
        test::write_file(folder / name, text);
        return (folder / name).string();
    }
    test::TempFolder folder;
    const std::string card = (test::source_folder() / "demos/calder-page-card.relic").string();
};

TEST_F(TraceCommands, NetsFromALedger) {
    // A-B, B-C joined; A open to D; E to F 4k7 (apart), F to G 0.4 Ω (joined); H named again as D.
    const auto ledger =
        file("l.csv", "a,b,reading\nA,B,beep\nB,C,beep\nA,D,open\nE,F,4k7\nF,G,0.4\nH,D,alias\nH,C,open\n");
    const auto a = run("trace nets " + ledger + " --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto j = a.json();
    EXPECT_EQ(j["points"], 7) << "A B C D E F G; H is D";
    std::set<std::set<std::string>> nets;
    for (const auto& n : j["nets"]) nets.insert(n.get<std::set<std::string>>());
    EXPECT_TRUE(nets.count({"A", "B", "C"}));
    EXPECT_TRUE(nets.count({"F", "G"}));
    EXPECT_TRUE(nets.count({"D"}));
    // Joined pairs 3 + 1; separated: {ABC} × {D} = 3, {E} × {FG} = 2; of 21 pairs.
    EXPECT_DOUBLE_EQ(j["proven"].get<double>(), 9.0 / 21.0);
    EXPECT_TRUE(j["contradictions"].empty());
    ASSERT_FALSE(j["next"].empty());
    for (const char* key : {"a", "b", "why"}) EXPECT_TRUE(j["next"][0].contains(key));
}

TEST_F(TraceCommands, ContradictionsNameAShortestChain) {
    const auto ledger =
        file("l.csv", "a,b,reading\nA,B,beep\nB,C,beep\nC,D,beep\nA,E,beep\nE,D,beep\nA,D,open\n");
    const auto a = run("trace nets " + ledger + " --json");
    EXPECT_EQ(a.status, 1);
    const auto c = a.json()["contradictions"];
    ASSERT_EQ(c.size(), 1U);
    EXPECT_EQ(c[0]["between"], (Json{"A", "D"}));
    EXPECT_EQ(c[0]["because"], (Json{4, 5, 6}))
        << "rows from 1 after the heading; A-E-D is shorter than A-B-C-D";
    EXPECT_NE(run("trace nets " + ledger).out.find("slip?"), std::string::npos);
}

TEST_F(TraceCommands, TheThresholdOfABeepCanBeStated) {
    const auto ledger = file("l.csv", "a,b,reading\nA,B,12\n");
    EXPECT_EQ(run("trace nets " + ledger + " --json").json()["nets"].size(), 2U) << "12 Ω joins nothing";
    EXPECT_EQ(run("trace nets " + ledger + " --beep-below 20 --json").json()["nets"].size(), 1U);
    EXPECT_EQ(run("trace nets " + ledger + " --beep-below 0").status, 2);
}

TEST_F(TraceCommands, PartsBringTheirPinOutsToTheNextProbe) {
    const auto ledger = file("l.csv", "a,b,reading\nU1.14,U2.14,beep\n");
    const auto parts =
        file("p.csv", "ref,type,x_mm,y_mm,turn_deg,side\nU1,74x00,10,10,0,front\nU2,74x04,40,10,0,front\n");
    const auto j = run("trace nets " + ledger + " --parts " + parts + " --next 3 --json").json();
    EXPECT_EQ(j["points"], 28);
    EXPECT_EQ(j["next"].size(), 3U);
    EXPECT_EQ(j["next"][0]["why"], "both are ground") << "rails first";
    for (const char* bad : {"type\n74x00\n", "ref,type\nU1,74x00\nU1,74x04\n", "ref,x_mm\nU1,wide\n",
                            "ref,type\n,74x00\n", "ref,side\nU1,top\n", "ref,angle\nU1,90\n"}) {
        const auto a = run("trace nets " + ledger + " --parts " + file("bad.csv", bad));
        EXPECT_EQ(a.status, 3) << bad;
        EXPECT_NE(a.err.find("bad.csv:"), std::string::npos) << a.err;
    }
}

TEST_F(TraceCommands, UnreadableLedgersSayWhere) {
    struct Case {
        const char* text;
        const char* says;
    };
    for (const auto& c :
         {Case{"", ":1:"}, Case{"a,b\nA,B\n", "reading"}, Case{"a,b,reading\nA,B,maybe\n", ":2:"},
          Case{"a,b,reading\nA,B,-4\n", ":2:"}, Case{"a,b,reading\nA,,beep\n", ":2:"},
          Case{"a,b,reading\nA,B,beep\nA,A,beep\n", ":3:"},
          Case{"a,b,reading\nX,Y,alias\nY,X,alias\n", "leads back to itself"}}) {
        const auto a = run("trace nets " + file("bad.csv", c.text));
        EXPECT_NE(a.status, 0) << c.text;
        EXPECT_NE((a.err + a.out).find(c.says), std::string::npos) << c.text << " gave " << a.err << a.out;
    }
    EXPECT_EQ(run("trace nets /nowhere.csv").status, 3);
}

TEST_F(TraceCommands, CompareByPointsAndByWiring) {
    const auto a =
        file("a.csv", "net,point\nN1,U1.1\nN1,U2.1\nN2,U1.2\nN2,U2.2\nN3,U1.3\nN3,U2.3\nN3,R1.1\n");
    const auto b = file("b.csv", "net,point\nX,U1.1\nX,U2.2\nY,U1.2\nY,U2.1\nZ,U1.3\nZ,U2.3\nZ,R1.1\n");
    auto r = run("trace compare " + a + " " + b + " --json");
    EXPECT_EQ(r.status, 1);
    auto j = r.json();
    EXPECT_EQ(j["same"], 1);
    ASSERT_EQ(j["swapped"].size(), 1U);
    for (const char* key : {"missing", "extra", "joined", "split"}) EXPECT_TRUE(j[key].empty()) << key;
    EXPECT_EQ(run("trace compare " + a + " " + a).status, 0);
    const auto other =
        file("c.csv", "net,point\nX,IC5.1\nX,IC9.1\nY,IC5.2\nY,IC9.2\nZ,IC5.3\nZ,IC9.3\nZ,W1.1\n");
    EXPECT_EQ(run("trace compare " + a + " " + other).status, 1) << "by names nothing fits";
    r = run("trace compare " + a + " " + other + " --structure --json");
    EXPECT_EQ(r.json()["same"], 3);
    EXPECT_EQ(r.json()["parts"]["R1"], "W1");
    const auto bad = run("trace compare " + a + " " + file("d.csv", "net,point\nX,U1.1\nY,U1.1\n"));
    EXPECT_EQ(bad.status, 3);
    EXPECT_NE(bad.err.find("d.csv:3"), std::string::npos) << bad.err;
}

TEST_F(TraceCommands, ScansNetlistsAndSheetsOfADossier) {
    auto a = run("trace scan " + card + " --out " + (folder / "o.csv").string() + " --json");
    EXPECT_EQ(a.status, 0) << a.err;
    EXPECT_NEAR(a.json()["width_mm"].get<double>(), 106.68, 0.1);
    EXPECT_NEAR(a.json()["height_mm"].get<double>(), 81.28, 0.15) << "3.2 inches";
    EXPECT_TRUE(test::read_file(folder / "o.csv").starts_with("kind,side,x_mm"));
    const auto found = a.json();
    std::size_t joins = 0;
    for (const auto& n : found["nets"]) joins += n["points"].size() - 1;
    EXPECT_EQ(found["joins"].size(), joins) << "a net of n points hangs together by n - 1";
    ASSERT_GT(joins, 0U);
    EXPECT_TRUE(found["joins"][0]["a"].is_string() && found["joins"][0]["confidence"].is_number());
    for (const auto& u : found["unknown"]) EXPECT_FALSE(u["why"].get<std::string>().empty());
    EXPECT_EQ(run("trace scan " + card + " --out " + (folder / "o.dxf").string()).status, 2);
    EXPECT_EQ(run("trace netlist " + card + " " + (folder / "n.ipc").string()).status, 1)
        << "its readings contradict each other";
    EXPECT_TRUE(test::read_file(folder / "n.ipc").starts_with("C  "));
    a = run("trace sheets " + card + " " + (folder / "s.svg").string() + " --json");
    EXPECT_EQ(a.status, 0) << a.err;
    EXPECT_EQ(a.json()["files"].size(), 7U);
    EXPECT_EQ(run("trace sheets " + card + " " + (folder / "s.png").string()).status, 2);
    EXPECT_NE(run("trace scan " + (test::source_folder() / "demos/calder-dial-pad.relic").string()).status, 0)
        << "no scans there";
    a = run("check " + card + " --stage trace --json");
    EXPECT_EQ(a.status, 1) << "contradictions are Stops";
    EXPECT_GE(a.json()["counts"]["stop"].get<int>(), 1);
}

}  // namespace
}  // namespace grayrelic
