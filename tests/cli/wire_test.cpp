// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli wire: keys, states, statuses.
#include <cmath>

#include "tests/cli/run.hpp"

namespace grayrelic {
namespace {

using test::keys;
using test::run;
using testing::HasSubstr;

class WireParts : public testing::Test {
  protected:
    /// A dossier of two boards with these parts, as JSON.
    std::string dossier(const std::string& parts) {
        const auto path = folder / "job.relic";
        std::filesystem::create_directories(path);
        test::write_file(path / "dossier.json",
                         R"({"format": "gray-relic-dossier", "version": 2, "name": "Job",
            "supply": {"boards": 2, "parts": [)" +
                             parts + "]}}");
        return path.string();
    }
    std::string drawer(const std::string& text, const std::string& name = "drawer.csv") {
        test::write_file(folder / name, text);
        return " --drawer " + (folder / name).string();
    }
    test::TempFolder folder;
};

TEST_F(WireParts, TheKeysAndTheArithmetic) {
    const auto job = dossier(R"({"id": "plug", "part": "plug", "refs": ["P1"], "yield": {"value": 0.8}},
                                {"id": "b", "part": "bare board", "per_board": 1, "question": "which files?"})");
    const auto a = run("wire parts " + job + drawer("part,count\nplug,1\n") + " --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto j = a.json();
    EXPECT_EQ(j["boards"], 2);
    const auto& plug = j["lines"][0];
    for (const auto* key : {"part", "refs", "need", "spare", "drawer", "order", "state"})
        EXPECT_TRUE(plug.contains(key)) << key;
    // 2 needed; of 4 at 0.8 two are good with 0.9728; 2 + 2 − 1 = 3.
    EXPECT_EQ(plug["need"], 2);
    EXPECT_EQ(plug["spare"], 2);
    EXPECT_EQ(plug["drawer"], 1);
    EXPECT_EQ(plug["order"], 3);
    EXPECT_EQ(plug["state"], "order");
    EXPECT_EQ(plug["refs"], nlohmann::json({"P1"}));
    EXPECT_EQ(j["lines"][1]["state"], "undecided");
    EXPECT_EQ(j["lines"][1]["question"], "which files?");
    const auto text = run("wire parts " + job).out;
    EXPECT_THAT(text, HasSubstr("do not order yet: which files?"));
}

TEST_F(WireParts, TheStatusesOfBadAnswersAndBadInput) {
    EXPECT_EQ(run("wire parts " + dossier("")).status, 1) << "no parts";
    const auto gone = dossier(R"({"id": "a", "part": "a", "per_board": 1, "not_to_be_had": "looked in May",
                                  "alternates": ["b"]})");
    EXPECT_EQ(run("wire parts " + gone + drawer("part,count\nb,1\n")).status, 1);
    EXPECT_EQ(run("wire parts " + gone + drawer("part,count\nb,2\n")).status, 0) << "the alternate is there";
    EXPECT_EQ(run("wire parts " + gone + drawer("part,count\na,2\n")).status, 0) << "it is there itself";
    const auto broken = run("wire parts " + gone + drawer("part,count\na,-2\n"));
    EXPECT_EQ(broken.status, 3);
    EXPECT_THAT(broken.err, HasSubstr("drawer.csv:2"));
    const auto json =
        run("wire parts " + gone +
            drawer("{\"format\": \"gray-relic-drawer\",\n\"version\": 1, \"parts\": 3}", "drawer.json"));
    EXPECT_EQ(json.status, 3);
    EXPECT_THAT(json.err, HasSubstr("drawer.json:2"));
    EXPECT_EQ(run("wire parts " + (folder / "none").string()).status, 3);
    EXPECT_EQ(run("wire parts").status, 2);
}

TEST_F(WireParts, TheListAsATable) {
    const auto job = dossier(R"({"id": "plug", "part": "plug", "per_board": 2})");
    const auto out = (folder / "parts.csv").string();
    EXPECT_EQ(run("wire parts " + job + " --csv " + out).status, 0);
    EXPECT_THAT(test::read_file(out), HasSubstr("plug,other,,2,"));
    const auto over = run("wire parts " + job + " --csv " + job + "/dossier.json");
    EXPECT_EQ(over.status, 2) << "evidence is never written over";
}

TEST_F(WireParts, TheDemoBringsItsNetwork) {
    const auto own = (test::source_folder() / "demos/person/gray-relic/drawer.json").string();
    const auto j = run("wire parts " + test::demo + " --drawer " + own + " --json").json();
    const auto line = [&](const char* part) {
        for (const auto& l : j["lines"])
            if (l["part"] == part) return l;
        return nlohmann::json::object();
    };
    // Three registers a board on two boards, two in the drawer.
    EXPECT_EQ(line("74x165 hct")["need"], 6);
    EXPECT_EQ(line("74x165 hct")["order"], 4);
    EXPECT_EQ(line("74x04 hct")["state"], "drawer");
    // What all ways share comes with it: seven resistors of two values, typed nowhere else.
    EXPECT_EQ(line("resistor 10k")["refs"], nlohmann::json({"R1", "R2", "R3", "R7"}));
    EXPECT_EQ(line("resistor 10k")["need"], 8);
    EXPECT_EQ(line("module-33")["state"], "ordered");
}

/// The keys as agreed; each figure by the relation written beside it.
TEST(WireValues, KeysAndFigures) {
    const auto j = [](const std::string& arguments, int status = 0) {
        const auto a = run("wire value " + arguments + " --json");
        EXPECT_EQ(a.status, status) << arguments << a.err;
        return a.json();
    };
    EXPECT_NEAR(j("rc-delay --r 10k --c 100n --from 0V --to 5V --at 2.5V")["t_s"], 1e-3 * std::log(2.0),
                1e-12);
    EXPECT_NEAR(j("rc-delay --r 10k --c 100n --from -5V --to 5V --at 0V")["t_s"], 1e-3 * std::log(2.0),
                1e-12);
    EXPECT_NEAR(j("divider --vin 5V --r1 4k7 --r2 10k")["vout_v"], 5 * 10 / 14.7, 1e-12);
    const auto pull = j("pull-up --vcc 5V --vth 3.5V --c 50pF --within 1us --sink 4mA");
    EXPECT_NEAR(pull["max_ohm"], 1e-6 / (50e-12 * std::log(5 / 1.5)), 1e-6);
    EXPECT_NEAR(pull["min_ohm"], 1250, 1e-9);
    EXPECT_NEAR(pull["nearest_ohm"], 16e3, 1e-6);
    EXPECT_TRUE(j("pull-up --vcc 5V --vth 3.5V --c 50pF --within 1us")["min_ohm"].is_null());
    EXPECT_TRUE(j("pull-up --vcc 5V --vth 3.5V --c 1nF --within 1us --sink 1mA", 1)["nearest_ohm"].is_null());
    EXPECT_NEAR(j("led --supply 5V --vf 2V --current 8mA")["nearest_ohm"], 390, 1e-9);
    EXPECT_NEAR(j("regulator --vin 9V --vout 5V --load 100mA --theta 65 --ambient 25 --iq 5mA")["junction_c"],
                25 + 0.445 * 65, 1e-9);
    EXPECT_NEAR(j("battery --capacity 900mAh --load 30mA")["hours"], 30, 1e-9);
    EXPECT_NEAR(j("crystal --cl 18p --stray 5p")["c_f"], 26e-12, 1e-20);
    const auto ladder = j("ladder --vdd 3V3 --vfull 0.7V --load 75 --bits 3");
    EXPECT_EQ(ladder["levels_v"].size(), 8U);
    EXPECT_EQ(ladder["monotone"], true);
    EXPECT_NEAR(ladder["ohm"][0], 487.5, 1e-9);
    EXPECT_NEAR(j("ladder --vdd 3V3 --vfull 0.7V --load 75 --bits 3 --series e96")["nearest_ohm"][0], 487,
                1e-6);
    EXPECT_NEAR(j("switch-path --ron 70 --source 75 --load 75")["loss_db"], 20 * std::log10(220.0 / 150),
                1e-12);
    EXPECT_TRUE(j("switch-path --ron 70 --source 75 --load 75")["bandwidth_hz"].is_null());
    EXPECT_NEAR(j("filter --r 1k --c 100n")["corner_hz"], 1591.549430918953, 1e-6);
    // Wrong usage names the option.
    for (const auto& [arguments, says] : {std::pair("filter --r 1k", "--c"),
                                          {"filter --r -1 --c 1n", "--r"},
                                          {"filter --r 1V --c 1n", "--r"},
                                          {"rc-delay --r 1k --c 1n --from 0 --to 5 --at 6", "does not pass"},
                                          {"filter --r 1k --c 1n --series e5", "e24"}}) {
        const auto a = run(std::string("wire value ") + arguments);
        EXPECT_EQ(a.status, 2) << arguments;
        EXPECT_THAT(a.err + a.out, HasSubstr(says)) << arguments;
    }
}

TEST(WireLink, KeysMarginsAndStatuses) {
    const auto a = run("wire link --from hct@5V --to lvc@3V3 --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto j = a.json();
    EXPECT_NEAR(j["high_margin_v"], 4.75 - 0.1 - 2.0, 1e-9);
    EXPECT_NEAR(j["low_margin_v"], 0.8 - 0.1, 1e-9);
    EXPECT_EQ(j["over_limit"], false);
    EXPECT_EQ(j["verdict"], "holds");
    EXPECT_EQ(run("wire link --from hct@5V --to hct@5V --to-unpowered --json").status, 1);
    EXPECT_EQ(run("wire link --from hct@5V --to hct@5V --to-unpowered --json").json()["over_limit"], true);
    EXPECT_NEAR(run("wire link --from hct@5V --to lvc@3V3 --tolerance 0 --json").json()["high_margin_v"], 2.9,
                1e-9);
    EXPECT_TRUE(run("wire link --from oc@5V --to hc@5V --json").json()["high_margin_v"].is_null());
    for (const auto* bad : {"--from hct --to hc@5V", "--from ecl@5V --to hc@5V", "--from hct@5V --to hc@x",
                            "--from hct@5V --to hc@5V --tolerance 2"})
        EXPECT_EQ(run(std::string("wire link ") + bad).status, 2) << bad;
}

TEST(WireCircuit, LinesNetlistAndCardOfTheDemo) {
    const auto j = run("wire lines " + test::demo + " --json");
    EXPECT_EQ(j.status, 0) << j.err;
    const auto lines = j.json()["lines"];
    const auto at =
        std::find_if(lines.begin(), lines.end(), [](const auto& l) { return l["line"] == "REPLY"; });
    ASSERT_NE(at, lines.end());
    EXPECT_EQ((*at)["links"][0]["from"], "U2.QH");
    EXPECT_EQ((*at)["links"][0]["to"], "J1/5 REPLY");
    test::TempFolder folder;
    EXPECT_EQ(run("wire netlist " + test::demo + " " + (folder / "n.csv").string()).status, 0);
    const auto text = test::read_file(folder / "n.csv");
    EXPECT_THAT(text, HasSubstr("REPLY,U2.9"));  // QH is pin 9
    EXPECT_THAT(text, HasSubstr("REPLY,J2.7"));
    EXPECT_EQ(run("wire netlist " + test::demo + " " + (folder / "n.ipc").string()).status, 0);
    EXPECT_EQ(run("trace compare " + (folder / "n.csv").string() + " " + (folder / "n.ipc").string()).status,
              0)
        << "both say the same";
    EXPECT_EQ(run("wire netlist " + test::demo + " " + (folder / "n.txt").string()).status, 2);
    EXPECT_EQ(run("wire card " + test::demo + " " + (folder / "c.svg").string()).status, 0);
    const auto card = test::read_file(folder / "c.svg");
    EXPECT_THAT(card, HasSubstr("width=\"210mm\""));
    EXPECT_THAT(card, HasSubstr("74x165 hct"));
    EXPECT_EQ(run("wire lines " + (test::source_folder() / "demos/calder-page-card.relic").string()).status,
              1)
        << "no circuit";
}

class WireRails : public testing::Test {
  protected:
    std::string file(const std::string& text) {
        test::write_file(folder / "x.rails", text);
        return (folder / "x.rails").string();
    }
    test::TempFolder folder;
};

TEST_F(WireRails, TheKeysAndTheArithmetic) {
    const auto a =
        run("wire rails " +
            file("source A 9V ±10% limit 1A\nlinear U A -> V 5V dropout 1.5V iq 5mA theta 60 max 1A\n"
                 "load L V 200mA in idle 20mA\n") +
            " --json");
    EXPECT_EQ(a.status, 0) << a.err;
    const auto j = a.json();
    for (const auto* key : {"name", "volts_v", "volts_min_v", "volts_max_v", "load_a", "limit_a", "verdict"})
        EXPECT_TRUE(j["rails"][0].contains(key)) << key;
    for (const auto* key : {"ref", "kind", "loss_w", "junction_c", "headroom_v", "verdict"})
        EXPECT_TRUE(j["parts"][0].contains(key)) << key;
    EXPECT_NEAR(j["rails"][0]["load_a"].get<double>(), 0.205, 1e-9);
    EXPECT_NEAR(j["rails"][0]["volts_min_v"].get<double>(), 8.1, 1e-9);
    // (9 − 5) · 0.2 + 9 · 0.005 = 0.845 W; 25 + 60 · 0.845; 8.1 − 5 − 1.5
    EXPECT_NEAR(j["parts"][0]["loss_w"].get<double>(), 0.845, 1e-9);
    EXPECT_NEAR(j["parts"][0]["junction_c"].get<double>(), 75.7, 1e-6);
    EXPECT_NEAR(j["parts"][0]["headroom_v"].get<double>(), 1.6, 1e-9);
    EXPECT_TRUE(j["back_feed"].empty());
    const auto idle =
        run("wire rails " + (folder / "x.rails").string() + " --mode idle --ambient 60 --json").json();
    EXPECT_NEAR(idle["rails"][1]["load_a"].get<double>(), 0.02, 1e-9);
    EXPECT_NEAR(idle["parts"][0]["junction_c"].get<double>(), 60 + 60 * (4 * 0.02 + 9 * 0.005), 1e-6);
}

TEST_F(WireRails, BackFeedIsAnAnswer) {
    const auto a = run("wire rails " +
                       file("source A 5V\nsource B 9V\ndrop D A -> V 0.3V\nlinear U B -> V 3.3V dropout 1V "
                            "max 1A\nload L V 9mA\n") +
                       " --json");
    EXPECT_EQ(a.status, 1);
    const auto b = a.json()["back_feed"];
    ASSERT_EQ(b.size(), 1U);
    EXPECT_EQ(b[0]["when"], "A in, B out");
    EXPECT_EQ(b[0]["from"], "V");
    EXPECT_EQ(b[0]["to"], "B");
    EXPECT_EQ(b[0]["through"], "U");
    EXPECT_EQ(b[0]["verdict"], "stop");
}

TEST_F(WireRails, WhatIsWrongHasItsStatus) {
    const auto status = [&](const std::string& text, const std::string& more = {}) {
        return run("wire rails " + file(text) + more);
    };
    const auto unfed = status("source A 5V\nload L B 3mA\n");
    EXPECT_EQ(unfed.status, 3);
    EXPECT_THAT(unfed.err, HasSubstr("x.rails:2: found load \"L\" on rail \"B\", which nothing feeds"));
    EXPECT_EQ(status("source A 5V\nlinear U A -> A 3V\n").status, 3);
    EXPECT_EQ(status("").status, 3);
    EXPECT_EQ(run("wire rails " + (folder / "absent.rails").string()).status, 3);
    EXPECT_EQ(status("source A 5V limit 1mA\nload L A 3mA\n").status, 1);
    EXPECT_EQ(status("source A 5V\nload L A 3mA\n", " --mode idle").status, 2);
    EXPECT_EQ(status("source A 5V\nload L A 3mA\n", " --ambient 400").status, 2);
    // A doubt is no bad answer.
    EXPECT_EQ(status("source A 5V limit 100mA\nload L A 95mA\n").status, 0);
}

TEST_F(WireRails, TheDemoSlate) {
    const auto slate = (test::source_folder() / "demos/calder-chart-slate.relic").string();
    const auto a = run("wire rails " + slate + " --json");
    EXPECT_EQ(a.status, 1);
    const auto j = a.json();
    EXPECT_EQ(j["switched"][0]["opens"]["verdict"], "stop");
    EXPECT_TRUE(j["back_feed"].empty());
    EXPECT_EQ(j["modes"], nlohmann::json({"asleep", "no-host"}));
    // Without the host the module lives on the brick: 12 V ± 5 % less what the way takes.
    const auto without = run("wire rails " + slate + " --mode no-host --json").json();
    EXPECT_EQ(without["rails"][0]["volts_v"], 0);
    EXPECT_NEAR(without["rails"][2]["volts_v"].get<double>(), 5 - 0.35, 1e-6);
    const auto pins = run("wire pins " + slate + " --json");
    EXPECT_EQ(pins.status, 0) << pins.err;
    EXPECT_EQ(pins.json()["missing"], 0);
    const auto form = folder / "form.txt";
    test::write_file(form, "{name}\n{flux}\n");
    const auto wrong = run("wire pins " + slate + " --form " + form.string());
    EXPECT_EQ(wrong.status, 3);
    EXPECT_THAT(wrong.err, HasSubstr("form.txt:2"));
}

}  // namespace
}  // namespace grayrelic
