// SPDX-License-Identifier: GPL-3.0-or-later
#include <gmock/gmock.h>

#include <QProcess>
#include <QTcpServer>
#include <QTcpSocket>
#include <QWheelEvent>

#include <algorithm>

#include "tests/app/trace_window.hpp"

#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {
namespace {

/// Plays the meter: names itself as the stand-in, and answers 0.25 Ω.
void connect_server(QTcpServer& server, QString& asked) {
    QObject::connect(&server, &QTcpServer::newConnection, &server, [&server, &asked] {
        auto* s = server.nextPendingConnection();
        QObject::connect(s, &QTcpSocket::readyRead, s, [s, &asked] {
            while (s->canReadLine()) {
                const auto line = QString::fromUtf8(s->readLine()).trimmed();
                if (line.startsWith("SIM:PROB")) asked = line;
                if (line == "*IDN?") s->write("GRAY RELIC,METER STAND-IN,0,1\n");
                if (line == "MEAS:RES?") s->write("+2.5000E-01\n");
            }
        });
    });
}

TEST_F(TraceWindow, TheContradictionIsNamedAndTheSlipSetAsideWithOneButton) {
    open_card();
    EXPECT_EQ(page().sentence(), "Readings contradict each other");
    EXPECT_THAT(probe().trouble().toStdString(), testing::HasSubstr("U1.15 to U4.16"));
    for (auto* b : probe().findChildren<QPushButton*>())
        if (b->text() == "Show the likeliest slip") QTest::mouseClick(b, Qt::LeftButton);
    for (auto* b : probe().findChildren<QPushButton*>())
        if (b->text() == "Set aside") QTest::mouseClick(b, Qt::LeftButton);
    settle();
    EXPECT_TRUE(window->document().analysis().trace->state.contradictions.empty());
    EXPECT_THAT(page().sentence().toStdString(), testing::HasSubstr("proven"));
    trigger("edit.undo");
    settle();
    EXPECT_FALSE(window->document().analysis().trace->state.contradictions.empty());
}

TEST_F(TraceWindow, OneHandOneKeyForEachAnswer) {
    open_card();
    probe().setFocus();
    const auto before = readings();
    const auto first = probe().pair();
    QTest::keyClick(&probe(), Qt::Key_0);
    settle();
    EXPECT_EQ(readings(), before + 1);
    EXPECT_EQ(dossier().readings->back().kind, MeterReadingKind::open);
    EXPECT_NE(probe().pair(), first);
    QTest::keyClick(&probe(), Qt::Key_1);
    settle();
    EXPECT_EQ(dossier().readings->back().kind, MeterReadingKind::beep);
    EXPECT_FALSE(dossier().readings->back().date.empty());
    const auto shown = probe().pair();
    QTest::keyClick(&probe(), Qt::Key_Space);
    settle();
    EXPECT_NE(probe().pair(), shown);
    EXPECT_EQ(readings(), before + 2) << "skipping enters nothing";
}

TEST_F(TraceWindow, AReadingIsTypedAsOneLine) {
    open_card();
    const auto before = readings();
    type_into(&probe().entry(), "U3.15 U1.20 beep looked twice");
    settle();
    ASSERT_EQ(readings(), before + 1);
    EXPECT_EQ(dossier().readings->back().note, "looked twice");
    EXPECT_EQ(probe().ledger().text(0, 0), QString::number(before + 1)) << "the newest on top";
    type_into(&probe().entry(), "U3.15 U1.20 perhaps");
    EXPECT_EQ(readings(), before + 1);
    EXPECT_THAT(probe().entry().problem().toStdString(), testing::HasSubstr("perhaps"));
}

TEST_F(TraceWindow, NetlistsAndLedgersAreToldApartAndFaultsSaid) {
    open_card();
    const auto nets = dossier().trace->netlists.size();
    page().take_table("net,point\nPAIR,U2.6\nPAIR,U3.1\n", "other.csv");
    settle();
    EXPECT_EQ(dossier().trace->netlists.size(), nets + 1);
    EXPECT_THAT(page().netlist_view().verdict().toStdString(),
                testing::HasSubstr("1 net is as in the netlist"));
    const auto before = readings();
    page().take_table("a,b,reading\nX.1,X.2,beep\n", "more.csv");
    EXPECT_EQ(readings(), before + 1);
    page().take_table("a,b,reading\nX.1,X.2,beeep\n", "bad.csv");
    EXPECT_EQ(readings(), before + 1);
    EXPECT_THAT(page().message().toStdString(), testing::HasSubstr("bad.csv:2"));
}

TEST_F(TraceWindow, ANetlistWithOtherPartNamesIsMatchedByWiringWithOneClick) {
    window->files().make_new();
    window->show_stage(Stage::trace);
    page().take_table("a,b,reading\nU1.1,U2.5,beep\nU1.2,U2.6,beep\nU1.3,R1.1,beep\nU1.1,U1.2,open\n",
                      "ledger.csv");
    page().take_table("net,point\nA,IC7.1\nA,IC8.5\nB,IC7.2\nB,IC8.6\nC,IC7.3\nC,R9.1\n", "drawn.csv");
    settle();
    EXPECT_THAT(page().netlist_view().verdict().toStdString(),
                testing::HasSubstr("0 nets are as in the netlist"));
    QTest::mouseClick(&page().netlist_view().by_wiring(), Qt::LeftButton, {},
                      QPoint(8, page().netlist_view().by_wiring().height() / 2));
    settle();
    EXPECT_THAT(page().netlist_view().verdict().toStdString(),
                testing::HasSubstr("3 nets are as in the netlist"));
    QStringList kinds;
    for (int r = 0; r < page().netlist_view().table().row_count(); ++r)
        kinds << page().netlist_view().table().text(r, 0) + ": " + page().netlist_view().table().text(r, 2);
    EXPECT_TRUE(kinds.contains("matched by wiring: R1 is R9 there, U1 is IC7 there, U2 is IC8 there"))
        << kinds.join("; ").toStdString();
    trigger("edit.undo");
    settle();
    EXPECT_FALSE(page().netlist_view().by_wiring().isChecked());
}

TEST_F(TraceWindow, ADifferenceBecomesADeviationWithItsReason) {
    open_card();
    page().show_view("netlist");
    settle();
    auto& view = page().netlist_view();
    view.show_difference("U3.1");
    ASSERT_GE(view.table().chosen(), 0);
    EXPECT_EQ(view.table().text(view.table().chosen(), 0), "exchanged");
    type_into(&view.reason(), "the drawing is wrong here");
    settle();
    EXPECT_EQ(dossier().trace->deviations.back().subject, "U3.1");
    bool note = false;
    for (const auto& f : window->document().analysis().findings)
        note = note || (f.id == "pins-swapped" && f.severity == Severity::note);
    EXPECT_TRUE(note);
}

TEST_F(TraceWindow, PartsAreTypedAndChangedInTheTable) {
    open_card();
    page().show_view("parts");
    settle();
    auto& view = page().parts_view();
    const auto before = dossier().trace->parts.size();
    type_into(&view.entry(), "U9 74x00 20 60 90 back");
    settle();
    ASSERT_EQ(dossier().trace->parts.size(), before + 1);
    const auto& p = dossier().trace->parts.back();
    EXPECT_EQ(p.turn_deg, 90);
    EXPECT_EQ(p.side, BoardSide::back);
    EXPECT_TRUE(view.enter_part("U9 74x00")) << "once only";
    EXPECT_TRUE(view.enter_part("U10 74y00"));
    EXPECT_TRUE(view.enter_part("U10 74x00 5"));
    view.parts().type(static_cast<int>(before), 4, "25.4");
    settle();
    EXPECT_DOUBLE_EQ(*dossier().trace->parts.back().x_mm, 25.4);
    view.parts().type(static_cast<int>(before), 4, "wide");
    EXPECT_DOUBLE_EQ(*dossier().trace->parts.back().x_mm, 25.4);
    view.donors().type(0, 6, "5");
    settle();
    EXPECT_EQ(dossier().trace->donors[0].heat_cycles, 5);
    EXPECT_THAT(view.cautions().text().toStdString(), testing::HasSubstr("Hot air"));
}

TEST_F(TraceWindow, TheCircuitIsDrawnAndWritten) {
    open_card();
    page().show_view("circuit");
    settle();
    EXPECT_GE(page().circuit_view().list().count(), 7);
    EXPECT_EQ(page().circuit_view().write_to(path("circuit.pdf")), "");
    EXPECT_TRUE(test::read_file(folder / "circuit.pdf").starts_with("%PDF"));
    // Zoomed at the pointer: what lay there stays there, and nothing leaves the view.
    auto& paper = page().circuit_view().paper();
    // It begins where it can be read: letters of 7 points are at least 9 pixels high. Home shows all of it.
    EXPECT_GE(paper.page().width() / 842 * 7, 9.0);
    paper.setFocus();
    QTest::keyClick(&paper, Qt::Key_Home);
    const auto whole = paper.page();
    EXPECT_TRUE(QRectF(paper.rect()).contains(whole));
    const QPointF at = whole.topLeft() + QPointF(whole.width() / 4, whole.height() / 2);
    const auto wheel = [&](QPoint angle, Qt::KeyboardModifiers held) {
        QWheelEvent event(at, paper.mapToGlobal(at), {}, angle, Qt::NoButton, held, Qt::NoScrollPhase, false);
        QCoreApplication::sendEvent(&paper, &event);
    };
    wheel({0, 480}, Qt::ControlModifier);
    EXPECT_GT(paper.page().width(), 2 * whole.width());
    EXPECT_NEAR((at.x() - paper.page().left()) / paper.page().width(), 0.25, 1e-6);
    paper.setFocus();
    QTest::keyClick(&paper, Qt::Key_Right);
    EXPECT_NEAR((at.x() - paper.page().left()) / paper.page().width(), 0.25 + 60 / paper.page().width(),
                1e-6);
    wheel({2'000'000, 2'000'000}, {});
    EXPECT_NEAR(paper.page().left(), 0, 1e-6);
    for (int i = 0; i < 60; ++i) wheel({0, 1200}, Qt::ControlModifier);
    EXPECT_NEAR(paper.page().width(), 8 * whole.width(), 0.5) << "and not without end";
    QTest::keyClick(&paper, Qt::Key_Home);
    EXPECT_EQ(paper.page(), whole);
    EXPECT_NE(page().circuit_view().write_to(path("no/such/folder/circuit.pdf")), "");
}

TEST_F(TraceWindow, AMeterAnswersForThePairThatIsShown) {
    open_card();
    QTcpServer server;
    ASSERT_TRUE(server.listen(QHostAddress::LocalHost));
    QString asked;
    connect_server(server, asked);
    probe().meter().connect_to(QStringLiteral("127.0.0.1:%1").arg(server.serverPort()));
    ASSERT_TRUE(QTest::qWaitFor([&] { return probe().meter().is_connected(); }, 4000))
        << probe().meter().state().toStdString();
    const auto before = readings();
    const auto pair = probe().pair();
    probe().setFocus();
    QTest::keyClick(&probe(), Qt::Key_M);
    ASSERT_TRUE(QTest::qWaitFor([&] { return readings() == before + 1; }, 4000));
    const auto& r = dossier().readings->back();
    EXPECT_EQ(pair, QStringLiteral("%1  –  %2").arg(to_q(r.a), to_q(r.b)));
    EXPECT_DOUBLE_EQ(r.ohm.value(), 0.25);
    EXPECT_THAT(asked.toStdString(), testing::HasSubstr(r.a))
        << "the stand-in is told where the probes stand";
    probe().meter().connect_to("nobody here:x");
    EXPECT_FALSE(probe().meter().is_connected());
}

TEST_F(TraceWindow, FindingsLeadToTheirPlaces) {
    open_card();
    for (const auto& f : window->document().analysis().findings)
        if (f.stage == Stage::trace) page().show_place(f.place);
    page().show_place({"donor", "memory"});
    EXPECT_EQ(page().parts_view().donors().chosen(), 1);
    page().show_place({"point", "U1.3"});
    EXPECT_EQ(page().board_view().canvas().chosen(), "U1.3");
}

/// A drawing can name other files; as a scan or a photo it would read them from anywhere (faults.md, M5).

}  // namespace
}  // namespace grayrelic::app
