// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli port …: keys, verdicts, cards.
#include "tests/cli/run.hpp"

#include <fmt/format.h>

namespace grayrelic {
namespace {

using test::keys;
using test::run;
using test::TempFolder;

const std::string page_card = (test::source_folder() / "demos/calder-page-card.relic").string();
const std::string slate = (test::source_folder() / "demos/calder-chart-slate.relic").string();

class Pins : public testing::Test {
  protected:
    void SetUp() override {
        test::write_file(
            folder / "a.csv",
            "pin,name,driver,family,volts_max,idle,note\n1,+5V,supply,,5.25,,\n2,GND,supply,,,,\n"
            "3,HOLD,relic,ttl,,high,\n4,STEP,relic,ttl,,high,\n5,REPLY,bridge,hct,,high,\n");
        // The same port seen from the plug's side: 1 2 3 4 5 reads 5 4 3 2 1.
        test::write_file(folder / "b.csv", "pin;name\n5;+5 V\n4;ground\n3;hold\n2;step\n1;reply\n");
    }
    [[nodiscard]] std::string file(const char* name) const { return (folder / name).string(); }
    TempFolder folder;
};

TEST_F(Pins, CheckOfATableAndOfADossier) {
    const auto a = run("port check " + file("a.csv") + " --json");
    EXPECT_EQ(a.status, 0);
    const auto j = a.json();
    ASSERT_EQ(j["findings"].size(), 1U);
    EXPECT_EQ(j["findings"][0]["id"], "supply-without-limit");
    EXPECT_EQ(j["counts"]["doubt"], 1);
    const auto card = run("port check " + page_card + " --json").json();
    std::set<std::string> ids;
    for (const auto& f : card["findings"]) {
        EXPECT_EQ(f["stage"], "port");
        ids.insert(f["id"]);
    }
    EXPECT_TRUE(ids.contains("source-contradicts"));
    EXPECT_TRUE(ids.contains("misinsert-destroys"));
    EXPECT_EQ(run("port check " + slate).status, 0) << "the slate's cable is crossed as it must be";
    EXPECT_EQ(run("port check " + file("none.csv")).status, 3);
}

TEST_F(Pins, MisinsertKeepsItsKeys) {
    const auto a = run("port misinsert " + file("a.csv") + " --connector header-1x5 --json");
    EXPECT_EQ(a.status, 1);
    const auto j = a.json();
    std::set<std::string> ids;
    for (const auto& c : j["cases"]) {
        ids.insert(c["case"]);
        for (const auto& x : c["collisions"])
            EXPECT_THAT(keys(x),
                        testing::UnorderedElementsAre("position", "plug", "socket", "verdict", "why"));
    }
    EXPECT_EQ(ids, (std::set<std::string>{"reversed", "mirrored", "shifted-left", "shifted-right"}));
    for (const auto& c : j["cases"])
        if (c["case"] == "shifted-right")
            for (const auto& x : c["collisions"])
                if (x["position"] == "1") {
                    EXPECT_EQ(x["socket"], "+5V");  // contact 1 of a header stands at the right of the socket
                    EXPECT_EQ(x["plug"], "GND");
                    EXPECT_EQ(x["verdict"], "stop");
                }
    const auto text = run("port misinsert " + file("a.csv") + " --connector header-1x5");
    EXPECT_THAT(text.out, testing::HasSubstr("Turned by half"));
    EXPECT_EQ(run("port misinsert " + file("a.csv") + " --connector din-3").status, 3) << "pins outside";
    EXPECT_EQ(run("port misinsert " + file("a.csv") + " --connector nonsense").status, 2);
    EXPECT_EQ(run("port misinsert " + file("a.csv")).status, 2);
}

TEST_F(Pins, MisinsertAgainstAnotherPort) {
    test::write_file(
        folder / "c.csv",
        "pin,name,driver,volts_max,family\n1,+12V,supply,12,\n2,GND,supply,,\n3,IN,bridge,,ls\n");
    const auto j = run("port misinsert " + file("a.csv") + " --connector din-5-180 --against " +
                       file("c.csv") + " --json")
                       .json();
    bool found = false;
    for (const auto& c : j["cases"])
        if (c["case"] == "wrong-port") {
            found = true;
            EXPECT_EQ(c["verdict"], "stop");
        }
    EXPECT_TRUE(found);
}

TEST_F(Pins, MisinsertNamesThePathOfEachCurrent) {
    test::write_file(
        folder / "two.csv",
        "pin,name,driver,volts_max,current_max,function\n1,+5V,supply,5,2A,\n2,GND,supply,,,ground\n");
    const auto j = run("port misinsert " + file("two.csv") + " --connector header-1x2 --json").json();
    bool turned = false;
    for (const auto& c : j["cases"]) {
        if (c["case"] != "reversed") continue;
        turned = true;
        EXPECT_EQ(c["verdict"], "stop");
        ASSERT_EQ(c["paths"].size(), 1U);
        EXPECT_EQ(c["paths"][0]["kind"], "reversed-supply");
        EXPECT_EQ(c["paths"][0]["path"],
                  "+5V (socket) → GND (plug) → the plug's circuit, backwards → +5V (plug) → GND (socket)");
        EXPECT_LE(c["paths"][0]["amps"], 2.0);
    }
    EXPECT_TRUE(turned);
    for (const auto& r : j["remedies"])
        EXPECT_THAT(r["says"].get<std::string>(), testing::Not(testing::HasSubstr("fuse")));
}

TEST_F(Pins, TapsBricksAndFindAnswer) {
    const auto taps = run("port taps " + file("a.csv") + " --connector header-1x5 --shortest 3us --json");
    EXPECT_EQ(taps.status, 0);
    const auto t = taps.json();
    EXPECT_EQ(t["lines"].size(), 5U);
    EXPECT_EQ(t["ground"], "2");
    EXPECT_EQ(t["rate_hz"], 2e6) << "five samples of 3 µs are 1.67 MHz";
    EXPECT_EQ(run("port taps " + file("a.csv") + " --shortest soon").status, 2);
    EXPECT_EQ(run("port taps " + file("a.csv") + " --analyser none").status, 2);
    EXPECT_EQ(run("port taps " + slate + " " + file("taps.svg")).status, 0);
    EXPECT_TRUE(std::filesystem::exists(file("taps.svg")));
    test::write_file(folder / "jack.csv",
                     "pin,name,driver,function,volts_max\n1,+9V,supply,supply-in,9\n2,GND,supply,ground,\n");
    const auto bricks = run("port bricks " + file("jack.csv") + " --connector barrel-55-21 --json");
    EXPECT_EQ(bricks.status, 1);
    EXPECT_GE(bricks.json()["supplies"].size(), 8U);
    EXPECT_EQ(run("port bricks " + file("a.csv") + " --connector header-1x5").status, 2);
    const auto found = run("port find \"2.77 mm 2 rows 9 contacts\" --json").json();
    EXPECT_EQ(found["found"][0]["connector"], "dsub-9");
    EXPECT_EQ(run("port find wide").status, 2);
    // 2 × 3 contacts 2.54 mm apart at 20 pixels a millimetre.
    std::string places = "x,y\n";
    for (int r = 0; r < 2; ++r)
        for (int c = 0; c < 3; ++c) places += fmt::format("{},{}\n", 100 + c * 50.8, 40 + r * 50.8);
    test::write_file(folder / "places.csv", places);
    const auto measured = run("port find --places " + file("places.csv") + " --px-per-mm 20 --json").json();
    std::set<std::string> ids;
    for (const auto& f : measured["found"]) ids.insert(f["connector"]);
    EXPECT_TRUE(ids.contains("header-2x3"));
    test::write_file(folder / "odd.csv", "x,y\n1,2\nthere\n");
    const auto odd = run("port find --places " + file("odd.csv"));
    EXPECT_EQ(odd.status, 3);
    EXPECT_THAT(odd.err, testing::HasSubstr("odd.csv:3"));
}

TEST_F(Pins, NamesOfAConnectorsOwnFileAreTaken) {
    test::write_file(folder / "usb.csv",
                     "pin,name,driver\nVBUS,VBUS,supply\nD-,D-,both\nD+,D+,both\nGND,GND,supply\n");
    EXPECT_LE(run("port misinsert " + file("usb.csv") + " --connector usb-b").status, 1);
    test::write_file(folder / "usb2.csv", "pin,name,driver\nVBUS,VBUS,supply\n1,again,supply\n");
    EXPECT_EQ(run("port misinsert " + file("usb2.csv") + " --connector usb-b").status, 3)
        << "one contact twice";
}

TEST_F(Pins, CompareKeepsItsKeys) {
    const auto a =
        run("port compare " + file("a.csv") + " " + file("b.csv") + " --connector header-1x5 --json");
    EXPECT_EQ(a.status, 1);
    const auto j = a.json();
    EXPECT_EQ(j["agree"], 1);  // HOLD in the middle
    EXPECT_EQ(j["differ"].size(), 4U);
    EXPECT_DOUBLE_EQ(j["mirrored_match"], 1.0);
    EXPECT_DOUBLE_EQ(j["rotated_match"], 1.0);
    EXPECT_DOUBLE_EQ(j["renumbered_match"], 0.0);
    EXPECT_EQ(run("port compare " + file("a.csv") + " " + file("a.csv")).status, 0);
    test::write_file(folder / "bad.csv", "pin,name\n1,A\n1,B\n");
    const auto bad = run("port compare " + file("a.csv") + " " + file("bad.csv"));
    EXPECT_EQ(bad.status, 3);
    EXPECT_THAT(bad.err, testing::HasSubstr("bad.csv:3: found pin \"1\" a second time"));
}

TEST_F(Pins, CardIsWrittenAsPdfAndSvg) {
    const auto a = run("port card " + slate + " " + file("card.pdf") + " --json");
    EXPECT_EQ(a.status, 0);
    EXPECT_EQ(a.json()["pages"], 1);
    EXPECT_EQ(a.err, "");
    const auto pdf = test::read_file(folder / "card.pdf");
    EXPECT_THAT(pdf, testing::StartsWith("%PDF-1."));
    EXPECT_GT(pdf.size(), 4000U);
    const auto letter =
        run("port card " + page_card + " " + file("card.svg") + " --paper letter --json").json();
    EXPECT_EQ(letter["files"].size(), 2U);
    EXPECT_THAT(test::read_file(folder / "card-2.svg"), testing::StartsWith("<svg"));
    EXPECT_EQ(run("port card " + slate + " " + file("card.txt")).status, 2);
    EXPECT_EQ(run("port card " + slate + " " + file("card.pdf") + " --of nonsense").status, 2);
    EXPECT_EQ(run("port card " + slate + " /nonexistent/card.pdf").status, 3);
}

}  // namespace
}  // namespace grayrelic
