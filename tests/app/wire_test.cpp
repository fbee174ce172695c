// SPDX-License-Identifier: GPL-3.0-or-later
// Wire in the window: begun from the ports, lines judged as parts are typed, mended with one click, values,
// packages and what goes out.
#include <QTest>

#include "app/shell/latest.hpp"
#include "app/stages/timing/timing_page.hpp"
#include "app/stages/wire/wire_page.hpp"
#include "tests/app/plan_window.hpp"

namespace grayrelic::app {
namespace {

using testing::HasSubstr;

class WireWindow : public PlanWindow {
  protected:
    WirePage& wire() { return window->page<WirePage>(); }
    void show(const char* view) {
        window->show_stage(Stage::wire);
        wire().show_view(QString::fromLatin1(view));
        settle();
    }
    void figures() {
        settle();
        ASSERT_TRUE(QTest::qWaitFor([] { return figures_under_way == 0; }, 10'000));
        settle();
    }
    /// A relic's port with a supply, a ground, a line that it drives and one that it reads.
    void begin_port() {
        window->files().make_new();
        Port j1;
        j1.id = "J1";
        const auto pin = [](const char* number, const char* name, Driver d, const char* family) {
            Pin p;
            p.number = number;
            p.name.value = name;
            p.driver.value = d;
            p.family.value = family;
            return p;
        };
        auto rail = pin("1", "+5 V", Driver::supply, "");
        rail.volts_max.value = Volts(5.25);
        rail.volts_min.value = Volts(4.75);
        j1.pins = {rail, pin("2", "ground", Driver::supply, ""), pin("3", "OUT", Driver::relic, "hct"),
                   pin("4", "IN", Driver::bridge, "ttl")};
        window->document().apply(QStringLiteral("a port"), put(dossier(), std::move(j1)));
        settle();
    }
    std::string common() { return dossier().timing->find_network(dossier().wire->network)->text; }
    Verdict line(const char* name) {
        const auto& w = window->document().analysis().wire;
        return w->study.lines[*w->find_line(name)].verdict;
    }
};

TEST_F(WireWindow, FromThePortsToAMendedLineByKeyboard) {
    begin_port();
    window->show_stage(Stage::wire);
    settle();
    EXPECT_FALSE(wire().has_content());
    QPushButton* begin = nullptr;
    for (auto* b : wire().findChildren<QPushButton*>())
        if (b->isVisible() && b->text() == "Begin from the ports") begin = b;
    ASSERT_NE(begin, nullptr);
    begin->setFocus();
    QTest::keyClick(begin, Qt::Key_Space);
    settle();
    EXPECT_THAT(common(), HasSubstr("port J1: 1=V5 2=GND 3=OUT 4=IN"));
    EXPECT_EQ(wire().view(), "netlist");
    // A module that is not 5 V tolerant, straight at a 5 V line.
    type(&wire().netlist_view().entry(), "module-33 VIN=V5 GND=GND");
    EXPECT_TRUE(wire().netlist_view().entry().text().isEmpty())
        << wire().netlist_view().entry().problem().toStdString();
    EXPECT_THAT(common(), HasSubstr("M1 module-33: VIN=V5 GND=GND"));
    show("lines");
    wire().lines_view().select_row(2);
    type(&wire().lines_view().way(), "to M1.P4");
    EXPECT_EQ(line("OUT"), Verdict::stop);
    EXPECT_THAT(window->rail().stage(Stage::wire).line().toStdString(), HasSubstr("1 line fails"));
    EXPECT_EQ(wire().lines_view().links().text(0, 1), "M1.P4");
    EXPECT_EQ(wire().lines_view().links().text(0, 2), "over");
    figures();
    ASSERT_FALSE(wire().lines_view().fixes().isEmpty());
    QTest::mouseClick(wire().lines_view().fixes().first(), Qt::LeftButton);
    settle();
    EXPECT_EQ(line("OUT"), Verdict::holds) << common();
    trigger("edit.undo");
    settle();
    EXPECT_EQ(line("OUT"), Verdict::stop) << "one step";
}

TEST_F(WireWindow, WrongInputIsSaidAndKept) {
    begin_port();
    show("netlist");
    wire().netlist_view().begin();
    settle();
    const auto before = common();
    for (const char* bad :
         {"flux 3 A B", "resistor 10n OUT IN", "remove R9", "swap M1.P1", "new x dip-8: 1 A sideways"}) {
        type(&wire().netlist_view().entry(), bad);
        EXPECT_FALSE(wire().netlist_view().entry().problem().isEmpty()) << bad;
        EXPECT_EQ(wire().netlist_view().entry().text(), bad);
    }
    EXPECT_EQ(common(), before);
    // A broken line in the text is said with its line, and the rest is judged all the same.
    wire().netlist_view().common().setPlainText(
        QString::fromStdString(before + "R1 resistor 4k7: 1=OUT\nnonsense\n"));
    wire().netlist_view().commit_texts();
    settle();
    ASSERT_GT(wire().netlist_view().problems().count(), 0);
    EXPECT_THAT(wire().netlist_view().problems().item(0)->text().toStdString(), HasSubstr("nonsense"));
    EXPECT_TRUE(wire().netlist_view().problems().isVisible());
    show("lines");
    wire().lines_view().select_row(2);
    type(&wire().lines_view().way(), "over there");
    EXPECT_THAT(wire().lines_view().way().problem().toStdString(), HasSubstr("resistor 10k to M1.P4"));
}

TEST_F(WireWindow, APartOfOnesOwnIsAskedForAndKept) {
    begin_port();
    show("netlist");
    wire().netlist_view().begin();
    settle();
    auto& entry = wire().netlist_view().entry();
    entry.setFocus();
    QTest::keyClicks(&entry, "74x165 hct");
    EXPECT_THAT(wire().netlist_view().advice().toStdString(), HasSubstr("usually as dip-16"));
    EXPECT_THAT(wire().netlist_view().advice().toStdString(), HasSubstr("You have soldered none"));
    type(&entry,
         "new my-latch dip-8 family=hct: 1 IN in, 2 CLK in, 3 NC1 nc, 4 GND ground, 5 NC2 nc, 6 NC3 nc, 7 Q "
         "out, 8 VCC supply");
    EXPECT_TRUE(entry.problem().isEmpty()) << entry.problem().toStdString();
    type(&entry, "my-latch IN=OUT Q=IN VCC=V5 GND=GND");
    EXPECT_TRUE(entry.problem().isEmpty()) << entry.problem().toStdString();
    EXPECT_THAT(common(), HasSubstr("U1 my-latch: IN=OUT Q=IN VCC=V5 GND=GND"));
    EXPECT_EQ(line("IN"), Verdict::holds);
    EXPECT_EQ(line("OUT"), Verdict::holds);
    type(&entry, "new my-latch: 1 A in");
    EXPECT_THAT(entry.problem().toStdString(), HasSubstr("already"));
}

TEST_F(WireWindow, ValuesAreAddedFoundKeptAndWrong) {
    open_demo();
    show("values");
    auto& values = wire().values_view();
    int lamp = -1;
    for (int r = 0; r < values.values().row_count(); ++r)
        if (values.values().text(r, 0) == "Lamp D2") lamp = r;
    ASSERT_GE(lamp, 0);
    values.values().choose(lamp);
    settle();
    EXPECT_TRUE(values.keep_button().isVisible());
    EXPECT_EQ(values.results().text(0, 0), "resistor");
    bool decade = false;
    for (int r = 0; r < values.wrong().row_count(); ++r)
        decade = decade || values.wrong().text(r, 0) == "R8: a decade up";
    EXPECT_TRUE(decade);
    values.keep();
    settle();
    ASSERT_EQ(dossier().wire->values.size(), 2U);
    EXPECT_EQ(dossier().wire->values[1].parts.at("r"), "R8");
    // Its own number, with evidence; a wrong one is refused by name.
    const auto row = [&](const char* name) {
        for (int r = 0; r < values.numbers().row_count(); ++r)
            if (values.numbers().text(r, 0) == name) return r;
        return -1;
    };
    values.numbers().type(row("current"), 1, "4 mA");
    values.numbers().type(row("current"), 3, "measured");
    settle();
    EXPECT_NEAR(dossier().wire->values[1].numbers[2].value.value, 4e-3, 1e-12);
    EXPECT_EQ(dossier().wire->values[1].numbers[2].value.evidence.kind, EvidenceKind::measured);
    values.numbers().type(row("current"), 1, "lots");
    EXPECT_THAT(values.says().toStdString(), HasSubstr("Found"));
    EXPECT_NEAR(dossier().wire->values[1].numbers[2].value.value, 4e-3, 1e-12);
    // A ladder shows its levels.
    values.add(ValueKind::ladder);
    settle();
    for (const auto& [name, value] : {std::pair("supply of the bits", "3V3"),
                                      {"with all bits", "0.7 V"},
                                      {"load", "75"},
                                      {"bits", "4"}}) {
        values.numbers().type(row(name), 1, value);
        settle();
    }
    EXPECT_TRUE(values.levels().isVisible());
    EXPECT_GT(values.levels().drawing().lines.size(), 16U);
}

TEST_F(WireWindow, TheOptionsBillFollowsTheCircuit) {
    open_demo();
    window->show_stage(Stage::timing);
    settle();
    window->page<TimingPage>().study().show_part(OptionStudy::side_by_side);
    settle();
    const auto& w = window->document().analysis().wire;
    const auto* cost = w->find_cost("shift-register");
    ASSERT_NE(cost, nullptr);
    EXPECT_THAT(cost->bill.parts, HasSubstr("3 × 74x165 hct"));
    EXPECT_THAT(cost->bill.parts, HasSubstr("module-33"));
    auto& table = window->page<TimingPage>().study().options_table();
    int row = -1;
    for (int r = 0; r < table.row_count(); ++r)
        if (table.text(r, 0).startsWith("Shift register")) row = r;
    ASSERT_GE(row, 0);
    EXPECT_THAT(table.text(row, 3).toStdString(), HasSubstr("3 × 74x165 hct"));
    EXPECT_FALSE(table.is_editable(row, 3)) << "it follows from the circuit";
    // Without a circuit it is still typed.
    for (int r = 0; r < table.row_count(); ++r)
        if (table.text(r, 0).startsWith("Interrupt firmware")) {
            EXPECT_TRUE(table.is_editable(r, 3));
        }
}

TEST_F(WireWindow, PackagesChangeAndGoOnPaper) {
    open_demo();
    show("packages");
    auto& view = wire().packages_view();
    view.select("U2");
    EXPECT_THAT(view.says().toStdString(), HasSubstr("You have soldered none"));
    ASSERT_TRUE(view.choice().isEnabled());
    view.change_package("tssop-16");
    settle();
    EXPECT_THAT(dossier().timing->find_network("dial-register")->text,
                HasSubstr("U2 74x165 hct package=tssop-16:"));
    EXPECT_THAT(dossier().timing->find_network("dial-register")->text,
                HasSubstr("U4 74x165 hct package=tssop-16:"))
        << "all of the row";
    bool said = false;
    for (const auto& f : window->document().analysis().findings) said = said || f.id == "hard-to-solder";
    EXPECT_TRUE(said);
    test::TempFolder folder;
    const auto file = QString::fromStdString((folder / "card.svg").string());
    EXPECT_THAT(view.write_card(file).toStdString(), HasSubstr("written"));
    EXPECT_THAT(test::read_file(folder / "card.svg"), HasSubstr("tssop-16"));
    const auto netlist = QString::fromStdString((folder / "n.csv").string());
    EXPECT_THAT(wire().netlist_view().write_to(netlist).toStdString(), HasSubstr("written"));
    EXPECT_THAT(test::read_file(folder / "n.csv"), HasSubstr("REPLY,U2.9"));
    wire().netlist_view().give_to_trace();
    settle();
    ASSERT_FALSE(dossier().trace->netlists.empty());
    EXPECT_EQ(dossier().trace->against, "bridge");
}

TEST_F(WireWindow, AFindingLeadsToItsPlace) {
    open_demo();
    window->show_stage(Stage::wire);
    settle();
    wire().show_place({"value", "found led R8"});
    settle();
    EXPECT_EQ(wire().view(), "values");
    EXPECT_EQ(wire().values_view().results().text(0, 0), "resistor");
    wire().show_place({"line", "REPLY"});
    settle();
    EXPECT_EQ(wire().view(), "lines");
    EXPECT_EQ(wire().lines_view().links().text(0, 1), "J1/5 REPLY");
    wire().show_place({"circuit", "3"});
    settle();
    EXPECT_EQ(wire().view(), "netlist");
    EXPECT_EQ(wire().netlist_view().common().textCursor().blockNumber(), 2);
    wire().show_place({"solder", "U1"});
    EXPECT_EQ(wire().view(), "packages");
}

}  // namespace
}  // namespace grayrelic::app
