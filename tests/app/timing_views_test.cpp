// SPDX-License-Identifier: GPL-3.0-or-later
// Timing's views beside Reply, used as a person would: with mouse, keys, own input and wrong input.
#include <QLabel>

#include "tests/app/window_fixture.hpp"

#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {
namespace {

using testing::HasSubstr;

class TimingViews : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        open_demo();
        window->show_stage(Stage::timing);
        QApplication::processEvents();
    }
    [[nodiscard]] TimingPage& page() { return window->page<TimingPage>(); }
    void show(const char* view) {
        page().show_view(view);
        settle();
    }
    /// Work of a view beside the document's is waited for, too.
    template <class Done>
    bool wait_for(Done done) {
        return QTest::qWaitFor(done, 10'000);
    }
};

TEST_F(TimingViews, KeysLeadToTheViews) {
    QTest::keyClick(window.get(), Qt::Key_5, Qt::AltModifier);
    settle();
    EXPECT_TRUE(page().budget_view().isVisible());
    QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
    settle();
    EXPECT_TRUE(page().contract_editor().isVisible());
    EXPECT_FALSE(page().budget_view().isVisible());
}

TEST_F(TimingViews, AnIntervalIsPickedInTheFigureAndEdited) {
    show("contract");
    auto& editor = page().contract_editor();
    QTest::mouseClick(&editor.figure(), Qt::LeftButton, Qt::NoModifier,
                      editor.figure().middle_of("clock-period"));
    EXPECT_EQ(editor.selected(), "clock-period");
    EXPECT_EQ(editor.field("name")->text(), "STEP period");
    EXPECT_TRUE(editor.field("min")->isReadOnly()) << "measured figures are not typed";
    type_into(editor.field("guard"), "30ns");
    settle();
    EXPECT_EQ(dossier().timing->find_interval("clock-period")->guard, Time::ns(30));
    EXPECT_EQ(window->document().undo_stack().undoText(), "guard of STEP period");
    EXPECT_TRUE(editor.field("min")->isReadOnly()) << "nor after an edit and its analysis";
    EXPECT_FALSE(editor.field("guard")->isReadOnly());
    type_into(editor.field("from"), "nonsense");
    EXPECT_THAT(editor.field("from")->problem().toStdString(), HasSubstr("Expected"));
    EXPECT_EQ(dossier().timing->find_interval("clock-period")->from, "STEP:fall");
    trigger("edit.undo");
    settle();
    EXPECT_FALSE(dossier().timing->find_interval("clock-period")->guard);
}

TEST_F(TimingViews, DerivingAddsWhatIsNotThereYet) {
    show("contract");
    const auto before = dossier().timing->intervals.size();
    QTest::mouseClick(&page().contract_editor().derive_button(), Qt::LeftButton);
    settle();
    // Set-up and hold around the look, and recovery, were not in the demo's contract.
    EXPECT_EQ(dossier().timing->intervals.size(), before + 3);
    QTest::mouseClick(&page().contract_editor().derive_button(), Qt::LeftButton);
    settle();
    EXPECT_EQ(dossier().timing->intervals.size(), before + 3);
}

TEST_F(TimingViews, AnEnteredIntervalThatIsTooNarrowShowsItsBreachesAndOpensThem) {
    show("contract");
    auto& editor = page().contract_editor();
    editor.add_interval();
    settle();
    const auto id = editor.selected().toStdString();
    type_into(editor.field("from"), "STEP:rise");
    type_into(editor.field("to"), "REPLY:any");
    auto i = *dossier().timing->find_interval(id);
    i.capture.clear();
    window->document().apply("by hand", put(dossier(), i));
    settle();
    type_into(editor.field("within"), "3us");
    type_into(editor.field("max"), "200ns");
    settle();
    ASSERT_GT(editor.breaches().row_count(), 10);
    type_into(editor.field("min"), "1us");
    EXPECT_THAT(editor.field("min")->problem().toStdString(), HasSubstr("least not above")) << "out of order";
    Q_EMIT editor.breaches().row_opened(0);
    settle();
    EXPECT_EQ(window->stage(), Stage::listen);
}

TEST_F(TimingViews, ANetListIsTypedJudgedAndStepped) {
    show("logic");
    auto& view = page().logic_view();
    EXPECT_EQ(view.networks().count(), 3);
    view.add_network("Mine",
                     "input A B\noutput Y\nU1 74x00 hct: 1A=A 1B=B 1Y=Y\n   2A=0 2B=0 3A=0 3B=0 4A=0 4B=0\n");
    settle();
    EXPECT_TRUE(view.problems().isHidden());
    auto* a = view.bench().input_button("A");
    auto* b = view.bench().input_button("B");
    ASSERT_TRUE(a && b);
    EXPECT_EQ(view.bench().answer(), "Y = 1");
    QTest::mouseClick(a, Qt::LeftButton);
    QTest::mouseClick(b, Qt::LeftButton);
    EXPECT_EQ(view.bench().answer(), "Y = 0");
    view.text().setFocus();
    QTest::keyClick(&view.text(), Qt::Key_End, Qt::ControlModifier);
    QTest::keyClicks(&view.text(), "U2 74x999 hct: 1A=A");
    QTest::keyClick(&view.text(), Qt::Key_Return);
    view.commit_text();
    settle();
    ASSERT_GE(view.problems().count(), 1);
    EXPECT_FALSE(view.problems().isHidden());
    EXPECT_THAT(view.problems().item(0)->text().toStdString(), HasSubstr("line 5: \"74x999\""));
    EXPECT_THAT(view.bench().answer().toStdString(), HasSubstr("has to be mended"));
    trigger("edit.undo");
    settle();
    EXPECT_TRUE(view.problems().isHidden());
}

TEST_F(TimingViews, TheBenchTabulatesComparesAndFindsTheSmallest) {
    show("logic");
    auto& view = page().logic_view();
    view.select("second-set");
    auto& bench = view.bench();
    bench.show_tool(LogicBench::truth);
    settle();
    EXPECT_EQ(bench.table().row_count(), 8);
    bench.show_tool(LogicBench::equal);
    bench.other().setCurrentIndex(bench.other().findData("second-set-gates"));
    Q_EMIT bench.other().activated(bench.other().currentIndex());
    ASSERT_TRUE(wait_for([&] { return bench.answer().startsWith("They do the same"); }))
        << bench.answer().toStdString();
    view.select("second-set-gates");
    bench.show_tool(LogicBench::hazards);
    // A selector of plain gates has the classic hazard: both ways at 1, the select changes.
    ASSERT_TRUE(wait_for([&] { return bench.table().row_count() == 1; })) << bench.answer().toStdString();
    EXPECT_EQ(bench.table().text(0, 2), "BANK");
    bench.show_tool(LogicBench::smallest);
    type_into(&bench.drawer(), "1 × 74x00 hct");
    ASSERT_TRUE(wait_for([&] { return bench.table().row_count() > 0; })) << bench.answer().toStdString();
    EXPECT_EQ(bench.table().text(0, 1), "4");
    type_into(&bench.drawer(), "seven of them");
    EXPECT_THAT(bench.drawer().problem().toStdString(), HasSubstr("N × PART FAMILY"));
}

TEST_F(TimingViews, ACaptureIsReplayedThroughANetwork) {
    show("logic");
    auto& view = page().logic_view();
    view.select("dial-register");
    view.bench().show_tool(LogicBench::replay);
    ASSERT_TRUE(wait_for([&] { return view.bench().plot().rows().size() > 5; }))
        << view.bench().answer().toStdString();
    const auto before = view.bench().plot().window();
    view.bench().plot().setFocus();
    QTest::keyClick(&view.bench().plot(), Qt::Key_Plus);
    EXPECT_LT(view.bench().plot().window().length(), before.length());
}

TEST_F(TimingViews, ARateIsExplainedAndAReceiverJudged) {
    show("clocks");
    auto& view = page().clock_view();
    EXPECT_EQ(view.candidates().row_count(), 0);
    view.add_clock();
    settle();
    type_into(view.rate().value_field(), "1.266748 MHz");
    type_into(view.field("within"), "100");
    settle();
    ASSERT_GT(view.candidates().row_count(), 0);
    EXPECT_EQ(view.candidates().text(0, 0), "4 × PAL colour subcarrier");
    EXPECT_EQ(view.candidates().text(0, 2), "14");
    type_into(view.rate().value_field(), "9600");
    type_into(view.modern().value_field(), "16 MHz");
    settle();
    EXPECT_THAT(view.serial_text().toStdString(), HasSubstr("ppm off"));
    type_into(view.field("bits"), "99");
    EXPECT_THAT(view.field("bits")->problem().toStdString(), HasSubstr("3 to 16"));
    type_into(&view.loop_clock(), "1.266748 MHz");
    type_into(&view.loop_cycles_field(), "7,10,12");
    EXPECT_THAT(view.loop_text().toStdString(), HasSubstr("29 cycles"));
    type_into(&view.loop_cycles_field(), "7,ten");
    EXPECT_THAT(view.loop_text().toStdString(), HasSubstr("whole numbers"));
}

TEST_F(TimingViews, ABudgetIsAddedEditedAndBroken) {
    show("budgets");
    auto& view = page().budget_view();
    EXPECT_EQ(view.list().count(), 4);
    view.add_budget(BudgetKind::queue);
    settle();
    EXPECT_EQ(view.list().count(), 5);
    type_into(view.field("depth"), "2");
    settle();
    EXPECT_THAT(view.says().toStdString(), HasSubstr("Needs"));
    EXPECT_TRUE(std::any_of(
        window->document().analysis().findings.begin(), window->document().analysis().findings.end(),
        [](const Finding& f) { return f.id == "budget-broken" && f.severity == Severity::stop; }));
    type_into(view.field("drain"), "a while");
    EXPECT_THAT(view.field("drain")->problem().toStdString(), HasSubstr("Expected"));
    type_into(view.field("word:event"), "STEP");
    EXPECT_FALSE(view.field("word:event")->problem().isEmpty());
    view.select("watchdog");
    EXPECT_EQ(view.field("timeout")->text(), "500 ms");
}

TEST_F(TimingViews, AReplicaIsHeldAgainstTheContract) {
    show("replica");
    auto& view = page().replica_view();
    EXPECT_THAT(view.verdict().toStdString(), HasSubstr("edges differ"));
    EXPECT_GE(view.intervals().row_count(), 8);
    view.replica().setCurrentIndex(view.replica().findData("button-a"));
    Q_EMIT view.replica().activated(view.replica().currentIndex());
    settle();
    EXPECT_THAT(view.verdict().toStdString(), HasSubstr("stop")) << "a pressed button is another word";
    type_into(&view.tolerance(), "-3");
    EXPECT_FALSE(view.tolerance().problem().isEmpty());
}

TEST_F(TimingViews, LimitsConfidenceAndTheBillFollowTheOption) {
    page().select_option("interrupt-firmware");
    page().study().show_part(OptionStudy::limits);
    auto& t = page().study().limits_table();
    ASSERT_GE(t.row_count(), 6);
    EXPECT_EQ(t.text(1, 0), "Held off for");
    EXPECT_THAT(page().study().proof().toStdString(), HasSubstr("95 % confidence"));
    page().study().show_part(OptionStudy::side_by_side);
    auto& options = page().study().options_table();
    ASSERT_EQ(options.row_count(), 5);
    options.type(1, 4, "5.25");
    settle();
    EXPECT_EQ(dossier().timing->options[1].bill.cost, 5.25);
    page().study().options_table().type(1, 4, "dear");
    settle();
    EXPECT_EQ(dossier().timing->options[1].bill.cost, 5.25);
}

TEST_F(TimingViews, OptionsTakeNumbersThatTheyMayHave) {
    auto* card = page().card("interrupt-firmware");
    EXPECT_EQ(card->field("cycles"), nullptr);
    card->add_number("cycles");
    settle();
    card = page().card("interrupt-firmware");
    ASSERT_NE(card->field("cycles"), nullptr);
    EXPECT_EQ(card->field("work"), nullptr) << "cycles take its place";
    type_into(card->field("clock"), "60 MHz");
    settle();
    // 120 cycles at 60 MHz: 2 µs.
    EXPECT_EQ(window->document().analysis().find_option("interrupt-firmware")->model->work, Time::us(2));
    for (const auto kind : all_of<OptionKind>()) page().add_option(kind);
    settle();
    EXPECT_EQ(dossier().timing->options.size(), 5 + all_of<OptionKind>().size());
    for (const auto& o : window->document().analysis().timing->options)
        EXPECT_TRUE(o->summary) << o->option.name << o->problem;
}

}  // namespace
}  // namespace grayrelic::app
