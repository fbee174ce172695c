// SPDX-License-Identifier: GPL-3.0-or-later
// Build as a person uses it: parts ticked by keyboard, values read from their bands, joints beeped line by
// line.
#include "app/stages/build/build_page.hpp"
#include "tests/app/window_fixture.hpp"

#include <QLabel>
#include <QPushButton>
#include <QTcpServer>
#include <QTcpSocket>

#include <algorithm>

namespace grayrelic::app {
namespace {

class BuildStage : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        ASSERT_TRUE(window->files().open(copy_demo("calder-sound-tile")));
        settle();
        window->show_stage(Stage::build);
        settle();
        page().assembly().today = [] { return QStringLiteral("2026-12-01"); };
        page().joints().today = page().assembly().today;
        page().holds().today = page().assembly().today;
        page().faults().today = page().assembly().today;
        page().work().today = page().assembly().today;
    }
    BuildPage& page() { return window->page<BuildPage>(); }
    void type(Field& field, const QString& text) {
        field.setFocus();
        field.selectAll();
        QTest::keyClicks(&field, text);
        QTest::keyClick(&field, Qt::Key_Return);
        settle();
    }
    const UnitBuild& unit(const std::string& id) {
        return *std::find_if(dossier().builds->begin(), dossier().builds->end(),
                             [&](const UnitBuild& b) { return b.id == id; });
    }
    const Finding* finding(const std::string& id) {
        for (const auto& f : window->document().analysis().findings)
            if (f.id == id) return &f;
        return nullptr;
    }
};

TEST_F(BuildStage, ADecadeSlipIsAStopUntilThePartIsRight) {
    const auto* slip = finding("wrong-value");
    ASSERT_NE(slip, nullptr);
    EXPECT_EQ(slip->severity, Severity::stop);
    EXPECT_THAT(slip->says, testing::HasSubstr("R8 on Second tile: ten times what was drawn"));
    page().show_place(slip->place);
    settle();
    EXPECT_EQ(page().units().currentText(), "Second tile");
    auto& view = page().assembly();
    bool shown = false;
    for (int i = 0; i < view.parts().row_count(); ++i)
        shown = shown || (view.parts().text(i, 0) == "R8" && view.parts().text(i, 2).contains("22"));
    EXPECT_TRUE(shown);
    // Read again and measured: it was the other resistor.
    type(view.entry(), QStringLiteral("red red red gold"));
    settle();
    EXPECT_EQ(finding("wrong-value"), nullptr);
    page().show_place({"build", "tile-2/part:R8", {}});
    settle();
    type(view.entry(), QStringLiteral("= 2.61k"));
    ASSERT_NE(finding("wrong-value"), nullptr) << "19 % off";
    EXPECT_EQ(finding("wrong-value")->severity, Severity::doubt);
    type(view.entry(), QStringLiteral("mauve black"));
    EXPECT_FALSE(view.entry().problem().isEmpty());
    for (int i = 0; i < 2; ++i) trigger("edit.undo");
    settle();
    EXPECT_EQ(finding("wrong-value")->severity, Severity::stop);
}

TEST_F(BuildStage, AWholeUnitIsTickedByKeyboard) {
    page().begin_unit();
    settle();
    const auto id = dossier().builds->back().id;
    EXPECT_EQ(page().units().currentData().toString().toStdString(), id);
    auto& view = page().assembly();
    EXPECT_GT(view.steps().row_count(), 4);
    view.steps().setFocus();
    std::vector<std::string> order;
    for (int i = 0; i < 100 && unit(id).fitted.size() < 14; ++i) {
        QTest::keyClick(&view.steps(), Qt::Key_Space);
        settle();
    }
    ASSERT_EQ(unit(id).fitted.size(), 14U)
        << "8 resistors, 2 capacitors, a diode, the module, two connectors";
    // Each part once, in the order of the steps.
    std::set<std::string> once;
    for (const auto& f : unit(id).fitted) {
        EXPECT_TRUE(once.insert(f.ref).second);
        EXPECT_EQ(f.day, "2026-12-01");
    }
    EXPECT_THAT(page().detail().toStdString(), testing::HasSubstr("14 of 14 parts on"));
    trigger("edit.undo");
    settle();
    EXPECT_EQ(unit(id).fitted.size(), 13U);
}

TEST_F(BuildStage, JointsAreBeepedLineByLine) {
    page().show_view("joints");
    settle();
    auto& view = page().joints();
    const int count = view.lines().row_count();
    ASSERT_GT(count, 10);
    view.lines().setFocus();
    view.lines().choose(0);
    const auto readings = dossier().readings->size();
    const auto expected = [&](int row) { return view.lines().text(row, 2) == "beep"; };
    for (int i = 0; i < count; ++i) {
        const int row = view.lines().chosen();
        ASSERT_GE(row, 0);
        // The last line goes wrong.
        const bool beep = i + 1 < count ? expected(row) : !expected(row);
        QTest::keyClick(&view.lines(), beep ? Qt::Key_B : Qt::Key_O);
        settle();
    }
    ASSERT_EQ(dossier().readings->size(), readings + static_cast<std::size_t>(count));
    EXPECT_EQ(dossier().readings->back().unit, page().units().currentData().toString().toStdString());
    EXPECT_THAT(view.says().toStdString(),
                testing::HasSubstr(QString("%1 as they should be, 1 not").arg(count - 1).toStdString()));
    const auto* wrong =
        finding("solder-bridge") != nullptr ? finding("solder-bridge") : finding("joint-open");
    ASSERT_NE(wrong, nullptr);
    EXPECT_EQ(wrong->severity, Severity::stop);
    page().show_view("order");
    page().show_place(wrong->place);
    settle();
    EXPECT_EQ(page().view(), "joints");
    EXPECT_EQ(view.lines().text(view.lines().chosen(), 3).isEmpty(), false);
}

/// From the bare board to its place in the machine, each hold answered from the keyboard.
/// A meter on the loopback that says 0.25 Ω, then an open line.
TEST_F(BuildStage, JointsAreReadFromAConnectedMeter) {
    QTcpServer server;
    ASSERT_TRUE(server.listen(QHostAddress::LocalHost));
    QByteArray says = "0.25\n";
    QObject::connect(&server, &QTcpServer::newConnection, &server, [&] {
        auto* socket = server.nextPendingConnection();
        QObject::connect(socket, &QTcpSocket::readyRead, socket, [socket, &says] {
            while (socket->canReadLine()) {
                const auto line = socket->readLine().trimmed();
                if (line == "*IDN?") socket->write("made up,METER,1,0\n");
                if (line == "MEAS:RES?") socket->write(says);
            }
        });
    });
    page().show_view("joints");
    settle();
    auto& view = page().joints();
    type(view.meter_address(), QStringLiteral("127.0.0.1:%1").arg(server.serverPort()));
    ASSERT_TRUE(QTest::qWaitFor([&] { return view.meter().is_connected(); }, 4000));
    const auto before = dossier().readings->size();
    view.lines().setFocus();
    view.lines().choose(0);
    QTest::keyClick(&view.lines(), Qt::Key_M);
    ASSERT_TRUE(QTest::qWaitFor([&] { return dossier().readings->size() == before + 1; }, 4000));
    EXPECT_EQ(dossier().readings->back().kind, MeterReadingKind::beep);
    EXPECT_THAT(dossier().readings->back().tool, testing::HasSubstr("METER"));
    says = "9.9E37\n";
    settle();
    QTest::keyClick(&view.lines(), Qt::Key_M);
    ASSERT_TRUE(QTest::qWaitFor([&] { return dossier().readings->size() == before + 2; }, 4000));
    EXPECT_EQ(dossier().readings->back().kind, MeterReadingKind::open);
}

TEST_F(BuildStage, AWholeBringUpIsDoneByKeyboard) {
    page().units().setCurrentIndex(page().units().findData("tile-1"));
    page().show_view("holds");
    settle();
    auto& view = page().holds();
    ASSERT_GT(view.holds().row_count(), 8);
    EXPECT_TRUE(view.says().contains("No power"));
    // The joint sheet was not taken: its hold is answered by hand. What is expected stands in the table.
    const auto state = [&](const QString& hold) {
        for (int i = 0; i < view.holds().row_count(); ++i)
            if (view.holds().key(i).toString() == hold) return view.holds().text(i, 2);
        return QString();
    };
    const auto readings = dossier().readings->size();
    bool refused = false;
    for (int i = 0; i < 200 && view.holds().row_count() > 0; ++i) {
        const int row = view.points().chosen();
        ASSERT_GE(row, 0);
        const auto expected = view.points().text(row, 1);
        QString answer = expected == "yes" ? QStringLiteral("yes") : expected;
        if (expected.contains(" to ")) answer = expected.section(" to ", 0, 0);
        if (expected.startsWith("above ")) answer = QStringLiteral("4.7k");
        if (expected.startsWith("at most ")) answer = QStringLiteral("0");
        if (expected == "note it") answer = QStringLiteral("1");
        if (!refused && state("rails-cold") != "passed") {
            // Power is not even offered before the rails were measured.
            view.select("rails-loaded", {});
            EXPECT_FALSE(view.entry().isEnabled());
            view.select("incoming", {});
            refused = true;
            continue;
        }
        if (state("back") == "passed") break;
        answer.replace(QChar(0x2212), QLatin1Char('-'));
        // Keys are typed as they stand on any keyboard.
        answer.remove(QChar(0x3A9));
        answer.replace(QChar(0xB5), QLatin1Char('u'));
        type(view.entry(), answer);
        ASSERT_TRUE(view.entry().problem().isEmpty())
            << view.entry().problem().toStdString() << answer.toStdString();
    }
    for (int i = 0; i < view.holds().row_count(); ++i)
        EXPECT_EQ(view.holds().text(i, 2), "passed") << view.holds().text(i, 0).toStdString();
    EXPECT_GT(dossier().readings->size(), readings) << "the rails' resistances are readings of the unit";
    EXPECT_EQ(dossier().readings->back().unit, "tile-1");
    // The supply under load became a fact of the port.
    const auto* pin = dossier().find_port("T1")->find_pin("16");
    ASSERT_NE(pin, nullptr);
    EXPECT_TRUE(pin->volts_active.value.has_value());
    EXPECT_EQ(pin->volts_active.evidence.kind, EvidenceKind::measured);
    EXPECT_EQ(finding("hold-failed"), nullptr);
}

TEST_F(BuildStage, AHoldThatFailsStopsAndMayBePassedWithAReason) {
    page().units().setCurrentIndex(page().units().findData("tile-1"));
    page().show_view("holds");
    settle();
    auto& view = page().holds();
    view.select("rails-cold", "ohms V5");
    type(view.entry(), QStringLiteral("2.5"));
    ASSERT_NE(finding("hold-failed"), nullptr);
    EXPECT_EQ(finding("hold-failed")->severity, Severity::stop);
    view.select("rails-cold", "ohms V5");
    EXPECT_FALSE(view.reason().isEnabled()) << "no reason helps a shorted rail";
    view.select("rails-loaded", "volts V5");
    EXPECT_FALSE(view.entry().isEnabled());
    // A visual hold may be passed.
    view.select("incoming", "board");
    type(view.reason(), QStringLiteral("it is the board of yesterday"));
    EXPECT_EQ(unit("tile-1").passed.size(), 1U);
    EXPECT_EQ(unit("tile-1").passed[0].reason, "it is the board of yesterday");
    type(view.tie(), QStringLiteral("1k from D0 to ground"));
    ASSERT_NE(finding("tie-left"), nullptr);
    EXPECT_TRUE(view.says().contains("1k from D0 to ground"));
    for (auto* b : view.findChildren<QPushButton*>())
        if (b->text() == "It is off") b->click();
    settle();
    EXPECT_EQ(finding("tie-left"), nullptr);
    const auto place = FindingPlace{"build", "tile-1/hold:rails-cold/ohms V5", {}};
    page().show_view("order");
    page().show_place(place);
    settle();
    EXPECT_EQ(page().view(), "holds");
}

TEST_F(BuildStage, AFaultIsFoundByAnsweringWhatIsAsked) {
    page().units().setCurrentIndex(page().units().findData("tile-2"));
    page().show_view("fault");
    settle();
    auto& view = page().faults();
    ASSERT_GT(view.lines().row_count(), 10) << "each line where it should be seen";
    // D3 does nothing, the rest is well.
    for (int i = 0; i < view.lines().row_count(); ++i)
        if (view.lines().key(i).toString() == "D3>d3") view.lines().type(i, 1, "low");
    settle();
    view.rest_is_well();
    settle();
    ASSERT_GT(view.suspects().row_count(), 3);
    EXPECT_FALSE(view.next_says().isEmpty());
    // R4.1 hangs loose: the meter beeps everywhere but there.
    for (int i = 0; i < 12 && !view.says().contains("As good as sure"); ++i) {
        const auto asked = view.next_says();
        QString answer = "beep";
        if (asked.contains("Look at")) answer = "as-drawn";
        if (asked.contains("R4.1") && asked.contains("beep")) answer = "open";
        if (asked.contains("ohms")) answer = "10k";
        if (asked.contains("volts")) answer = "0";
        type(view.entry(), answer);
        ASSERT_TRUE(view.entry().problem().isEmpty()) << view.entry().problem().toStdString();
    }
    EXPECT_TRUE(view.suspects().text(0, 1).contains("R4.1")) << view.suspects().text(0, 1).toStdString();
    view.found();
    settle();
    ASSERT_EQ(unit("tile-2").found.size(), 1U);
    EXPECT_EQ(unit("tile-2").found[0].fault, "open: R4.1");
    EXPECT_TRUE(unit("tile-2").seen.empty());
    // Of a board whose lines all do what they should nothing is claimed.
    view.rest_is_well();
    settle();
    EXPECT_FALSE(view.says().contains("As good as sure")) << view.says().toStdString();
    EXPECT_FALSE(view.next_says().startsWith("Likeliest")) << view.next_says().toStdString();
    trigger("edit.undo");
    settle();
    // What can't be read is said, and nothing is kept.
    type(view.entry(), QStringLiteral("volts=lots"));
    EXPECT_FALSE(view.entry().problem().isEmpty());
    EXPECT_TRUE(unit("tile-2").seen.empty());
}

TEST_F(BuildStage, WorkByHandIsAStepAmongTheOthers) {
    page().units().setCurrentIndex(page().units().findData("tile-1"));
    settle();
    auto& view = page().assembly();
    const int steps = view.steps().row_count();
    type(view.hand(), QStringLiteral("glue the feet before J2"));
    ASSERT_EQ(unit("tile-1").steps.size(), 1U);
    EXPECT_EQ(unit("tile-1").steps[0].kind, HandStepKind::glue);
    EXPECT_EQ(unit("tile-1").steps[0].before, "J2");
    EXPECT_EQ(view.steps().row_count(), steps + 1);
    int feet = -1, header = -1;
    for (int i = 0; i < view.steps().row_count(); ++i) {
        if (view.steps().text(i, 1) == "glue the feet") feet = i;
        if (view.steps().text(i, 1).startsWith("J2:")) header = i;
    }
    EXPECT_EQ(feet + 1, header);
    type(view.hand(), QStringLiteral("glue a cap before X9"));
    EXPECT_TRUE(view.hand().problem().contains("X9"));
    type(view.hand(), QStringLiteral("- glue the feet"));
    EXPECT_TRUE(unit("tile-1").steps.empty());
}

TEST_F(BuildStage, WorkIsTimedAndWrittenDown) {
    page().units().setCurrentIndex(page().units().findData("tile-1"));
    page().show_view("work");
    settle();
    auto& view = page().work();
    EXPECT_TRUE(view.says().contains("No estimate yet"));
    type(view.entry(), QStringLiteral("solder 30 min 60 joints"));
    ASSERT_EQ(unit("tile-1").work.size(), 1U);
    EXPECT_TRUE(view.says().contains("0.5 min a joint")) << view.says().toStdString();
    type(view.entry(), QStringLiteral("weld 30 min"));
    EXPECT_FALSE(view.entry().problem().isEmpty());
    view.choose_kind(WorkKind::etch);
    view.elapsed_s = [] { return 725.0; };
    view.start_or_stop();
    EXPECT_EQ(view.clock(), "12:05");
    view.start_or_stop();
    settle();
    ASSERT_EQ(unit("tile-1").work.size(), 2U);
    EXPECT_EQ(unit("tile-1").work[1].kind, WorkKind::etch);
    EXPECT_NEAR(unit("tile-1").work[1].minutes, 725.0 / 60, 1e-9);
    type(view.part(), QStringLiteral("R8"));
    EXPECT_EQ(view.ways().row_count(), 3);
    type(view.part(), QStringLiteral("X9"));
    EXPECT_EQ(view.ways().row_count(), 0);
    EXPECT_TRUE(view.ways_say().contains("X9"));
    EXPECT_FALSE(work_from_text("solder"));
    EXPECT_FALSE(work_from_text("solder 5 joints"));
    EXPECT_NEAR(work_from_text("drill 1.5 h 96 holes")->minutes, 90, 1e-9);
}

TEST_F(BuildStage, AnEmptyWindowSaysWhatToBring) {
    window->files().ask_save = [] { return FileFlow::Answer::discard; };
    window->files().make_new();
    settle();
    window->show_stage(Stage::build);
    settle();
    EXPECT_FALSE(page().has_content());
    EXPECT_EQ(page().assembly().steps().row_count(), 0);
    QStringList seen;
    for (auto* l : page().findChildren<QLabel*>())
        if (l->isVisible()) seen << l->text();
    EXPECT_TRUE(seen.join(QLatin1Char(' ')).contains("As soon as Wire has a circuit"))
        << seen.join(QLatin1Char('|')).toStdString();
}

}  // namespace
}  // namespace grayrelic::app
