// SPDX-License-Identifier: GPL-3.0-or-later
// Trace in the window, the finer points: kinds of differences, what tables refuse, strategies, typed readings
// of every kind, other names, and what an empty board says.
#include <gmock/gmock.h>

#include "app/stages/trace/trace_page.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

class TraceBoard : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        window->files().make_new();
        window->show_stage(Stage::trace);
        settle();
    }
    TracePage& page() { return window->page<TracePage>(); }
    ProbeView& probe() { return page().probe_view(); }
    QStringList kinds() {
        QStringList out;
        auto& t = page().netlist_view().table();
        for (int r = 0; r < t.row_count(); ++r) out << t.text(r, 0);
        return out;
    }
    void ledger(const std::string& rows) {
        page().take_table("a,b,reading\n" + rows, "ledger.csv");
        settle();
    }
    void netlist(const std::string& rows) {
        page().take_table("net,point\n" + rows, "nets.csv");
        settle();
    }
};

TEST_F(TraceBoard, AnEmptyBoardSaysWhatToBring) {
    EXPECT_EQ(page().sentence(), "Nothing traced yet");
    EXPECT_THAT(page().detail().toStdString(), testing::HasSubstr("Bring the parts"));
    EXPECT_THAT(probe().trouble().toStdString(), testing::HasSubstr("named here at once"));
    page().show_view("netlist");
    settle();
    EXPECT_THAT(page().netlist_view().verdict().toStdString(), testing::HasSubstr("No netlist yet"));
    page().show_view("circuit");
    settle();
    EXPECT_EQ(page().circuit_view().list().count(), 0);
    EXPECT_NE(page().circuit_view().write_to(path("c.pdf")), "");
}

TEST_F(TraceBoard, EachKindOfDifferenceIsNamed) {
    ledger(
        "U1.1,U2.1,beep\nU1.2,U2.2,beep\nU1.3,U2.3,open\nU1.4,U2.4,beep\nU1.4,U1.5,beep\nU1.6,U2.7,beep\nU1."
        "7,U2.6,beep\nU1.6,R1.1,beep\nU1.7,R1.2,beep\nU1.9,X.1,beep\n");
    netlist(
        "SAME,U1.1\nSAME,U2.1\nSPLIT,U1.3\nSPLIT,U2.3\nJA,U1.4\nJA,U2.4\nJB,U1.5\nJB,U1.8\nP6,U1.6\nP6,U2."
        "6\nP6,R1.1\nP7,U1.7\nP7,U2.7\nP7,R1.2\nGONE,Q1.1\nGONE,Q1.2\n");
    const auto list = kinds();
    EXPECT_TRUE(list.contains("exchanged")) << list.join(", ").toStdString();
    EXPECT_TRUE(list.contains("in pieces"));
    EXPECT_TRUE(list.contains("joined"));
    EXPECT_TRUE(list.contains("not on the board"));
    EXPECT_TRUE(list.contains("only on the board"));
    EXPECT_THAT(page().netlist_view().verdict().toStdString(),
                testing::HasSubstr("1 net is as in the netlist"));
}

TEST_F(TraceBoard, SeveralNetlistsAndTheOneItIsHeldAgainst) {
    ledger("A.1,B.1,beep\n");
    netlist("N,A.1\nN,B.1\n");
    EXPECT_THAT(page().netlist_view().verdict().toStdString(), testing::HasSubstr("1 net is"));
    page().take_table("net,point\nN,A.1\nN,C.1\n", "second.csv");
    settle();
    EXPECT_EQ(dossier().trace->netlists.size(), 2U);
    EXPECT_THAT(page().netlist_view().verdict().toStdString(), testing::HasSubstr("0 nets are"));
    trigger("edit.undo");
    settle();
    EXPECT_EQ(dossier().trace->netlists.size(), 1U);
    EXPECT_THAT(page().netlist_view().verdict().toStdString(), testing::HasSubstr("1 net is"));
    page().take_table("net,point\nN,A.1\nM,A.1\n", "broken.csv");
    EXPECT_THAT(page().message().toStdString(), testing::HasSubstr("broken.csv:3"));
    EXPECT_EQ(dossier().trace->netlists.size(), 1U);
}

TEST_F(TraceBoard, ReadingsOfEveryKindAreTypedInOneLine) {
    page().show_view("probe");
    settle();
    struct Typed {
        const char* line;
        MeterReadingKind kind;
    };
    for (const auto& t :
         {Typed{"J1.3 U2.14 beep", MeterReadingKind::beep}, Typed{"J1.3 U2.15 open", MeterReadingKind::open},
          Typed{"J1.3 U2.16 b", MeterReadingKind::beep}, Typed{"J1.4 U2.16 o", MeterReadingKind::open},
          Typed{"R1.1 R1.2 4k7 warm", MeterReadingKind::ohms},
          Typed{"D1.1 D1.2 0.62V/OL", MeterReadingKind::diode},
          Typed{"D2.1 D2.2 0.3V", MeterReadingKind::diode}}) {
        const auto before = dossier().readings->size();
        type_into(&probe().entry(), t.line);
        settle();
        ASSERT_EQ(dossier().readings->size(), before + 1) << t.line;
        EXPECT_EQ(dossier().readings->back().kind, t.kind) << t.line;
        EXPECT_FALSE(dossier().readings->back().date.empty());
    }
    EXPECT_EQ((*dossier().readings)[4].note, "warm");
    const auto all = dossier().readings->size();
    for (const char* bad :
         {"J1.3", "J1.3 U2.1", "J1.3 J1.3 beep", "J1.3 U2.1 perhaps", "J1.3 U2.1 -3", "J1.3 U2.1 99V"}) {
        type_into(&probe().entry(), bad);
        settle();
        EXPECT_EQ(dossier().readings->size(), all) << bad;
    }
}

TEST_F(TraceBoard, StrategiesAndSkippingGiveOtherPairs) {
    page().show_view("parts");
    settle();
    for (const char* line : {"U1 74x245 10 10", "U2 74x245 40 10", "C1 capacitor 10 5"})
        EXPECT_FALSE(page().parts_view().entry().commit(QLatin1String(line)).has_value()) << line;
    settle();
    page().show_view("probe");
    settle();
    const auto first = probe().pair();
    EXPECT_FALSE(first.isEmpty());
    probe().setFocus();
    QTest::keyClick(&probe(), Qt::Key_Space);
    settle();
    EXPECT_NE(probe().pair(), first);
    // Everything answered leads to the end.
    for (int i = 0; i < 60; ++i) QTest::keyClick(&probe(), Qt::Key_0), settle();
    EXPECT_EQ(dossier().readings->size(), 60U);
    trigger("edit.undo");
    settle();
    EXPECT_EQ(dossier().readings->size(), 59U);
}

TEST_F(TraceBoard, PartsThatMakeNoSenseAreRefusedWithTheReason) {
    struct Case {
        const char* line;
        const char* says;
    };
    auto& view = page().parts_view();
    for (const auto& c :
         {Case{"U1 no-such-part", "known"}, Case{"U1 74x00 wide", "number"}, Case{"U1 74x00 3", "y after x"},
          Case{"U1 74x00 1 2 3 4", "three numbers"}, Case{"U1.3 74x00", "name such as"}}) {
        const auto problem = view.entry().commit(QLatin1String(c.line));
        ASSERT_TRUE(problem.has_value()) << c.line;
        EXPECT_THAT(problem->toStdString(), testing::HasSubstr(c.says)) << c.line;
    }
    EXPECT_TRUE(dossier().trace->parts.empty());
    EXPECT_FALSE(view.entry().commit(QStringLiteral("U1 74x00 12.7 25.4 90 back")).has_value());
    settle();
    ASSERT_EQ(dossier().trace->parts.size(), 1U);
    const auto& p = dossier().trace->parts[0];
    EXPECT_DOUBLE_EQ(*p.x_mm, 12.7);
    EXPECT_DOUBLE_EQ(p.turn_deg, 90);
    EXPECT_EQ(p.side, BoardSide::back);
    EXPECT_TRUE(view.entry().commit(QStringLiteral("U1 74x04")).has_value()) << "a second time";
}

}  // namespace
}  // namespace grayrelic::app
