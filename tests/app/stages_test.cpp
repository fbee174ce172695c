// SPDX-License-Identifier: GPL-3.0-or-later
// One more stage, added to the one list and to nothing else: all that must cover every stage covers it.
#include <QLabel>
#include <QRegularExpression>
#include <QVBoxLayout>

#include "app/shell/help_dialog.hpp"
#include "app/shell/screenshots.hpp"
#include "app/widgets/view_keys.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

class DummyPage : public TabbedPage {
  public:
    explicit DummyPage(const StageContext& context)
        : TabbedPage(Stage::log, context.document, static_cast<unsigned>(Rests::about)) {
        add_view({"first", "First", Picture::day}, new QLabel("the first view"),
                 static_cast<unsigned>(Rests::timing), [this] { ++first; });
        add_view({"second", "Second", Picture::none}, new QLabel("the second view"),
                 static_cast<unsigned>(Rests::ports), [this] { ++second; });
        add_view_key(this, "Log", "Do the dummy thing", {"Ctrl+J"}, [] {});
    }
    QString sentence() const override { return "A dummy sentence"; }
    QString detail() const override { return "and its figures"; }
    QString rail_line() const override { return "dummy line"; }
    bool has_content() const override { return true; }
    void show_place(const FindingPlace& place) override { shown = place.id; }
    QList<FileKind> file_kinds() const override { return {{"Dummies", {"dummy"}}}; }
    void take(const QString& path) override { taken << path; }
    void refresh_page() override { ++page; }

    int page = 0, first = 0, second = 0;
    QStringList taken;
    std::string shown;
};

class OneMoreStage : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        for (const char* demo :
             {"calder-page-card", "calder-chart-slate", "calder-counter-keypad", "calder-sound-tile"})
            (void)copy_demo(demo);
        auto stages = all_stages();
        stages.pop_back();                                     // Log, in whose place it stands
        stages.insert(stages.begin(), make_stage<DummyPage>);  // wherever it stands in the list
        window = std::make_unique<MainWindow>(path("demo"), stages);
        window->files().tell = [this](const QString& message) { told << message; };
        window->files().ask_save = [] { return FileFlow::Answer::discard; };
        window->resize(1280, 800);
        window->show();
        ASSERT_TRUE(QTest::qWaitForWindowExposed(window.get()));
        window->activateWindow();
    }
    DummyPage& dummy() { return window->page<DummyPage>(); }
};

TEST_F(OneMoreStage, HasItsPlaceItsKeyAndItsHeader) {
    EXPECT_EQ(window->pages().back(), &dummy()) << "in the stages' order";
    QTest::keyClick(window.get(), Qt::Key_9, Qt::ControlModifier);
    settle();
    EXPECT_EQ(window->stage(), Stage::log);
    EXPECT_EQ(window->rail().stage(Stage::log).text(), "Log");
    EXPECT_EQ(window->rail().stage(Stage::log).line(), "dummy line");
    EXPECT_GT(window->rail().stage(Stage::log).y(), window->rail().stage(Stage::timing).y());
    QStringList labels;
    for (auto* l : window->findChildren<QLabel*>())
        if (l->isVisible()) labels << l->text();
    EXPECT_TRUE(labels.contains("A dummy sentence") && labels.contains("the first view"));
    QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
    EXPECT_EQ(dummy().view(), "second");
    // Where the person left is where they begin.
    window->close();
    EXPECT_EQ(QSettings().value("stage").toString(), "log");
    window->show_stage(Stage::port);
    window->restore_place();
    EXPECT_EQ(window->stage(), Stage::log);
}

TEST_F(OneMoreStage, IsInHelpInTheMenuAndInThePictures) {
    QStringList lines;
    for (const auto& line : window->actions().shortcuts())
        lines << line.group + ": " + line.text + ": " + line.keys;
    for (const char* line :
         {"&View: Log: Ctrl+9", "Log: First: Alt+1", "Log: Second: Alt+2", "Log: Do the dummy thing: Ctrl+J"})
        EXPECT_TRUE(lines.contains(line)) << line << " in\n" << lines.join("\n").toStdString();
    EXPECT_TRUE(write_screenshots(*window, path("shots"), {}).isEmpty());
    EXPECT_TRUE(QFileInfo::exists(path("shots/log-first-light.png")));
    EXPECT_FALSE(QFileInfo::exists(path("shots/log-second-light.png"))) << "no picture of the documentation";
    const auto made = QDir(path("shots")).entryList({"*.png"});
    EXPECT_LT(made.size(), 20);
    for (const auto* page : window->pages()) {
        const auto of_stage = made.filter(QRegularExpression("^" + to_q(word(page->stage())) + "-"));
        EXPECT_GE(of_stage.size(), 1) << word(page->stage());
        EXPECT_LE(of_stage.size(), 2) << of_stage.join(" ").toStdString();
    }
}

TEST_F(OneMoreStage, GetsItsFilesAndItsFindings) {
    test::write_file(folder / "a.dummy", "x");
    drop({path("a.dummy")});
    EXPECT_EQ(dummy().taken, QStringList{path("a.dummy")});
    EXPECT_EQ(window->stage(), Stage::log);
    Finding f;
    f.id = "dummy-fails";
    f.severity = Severity::stop;
    f.stage = Stage::log;
    f.says = "The dummy fails";
    f.place = {"thing", "it"};
    window->findings().show_findings({f}, Stage::log, false);
    ASSERT_EQ(window->findings().cards().size(), 1);
    QTest::mouseClick(window->findings().cards()[0], Qt::LeftButton);
    EXPECT_EQ(dummy().shown, "it");
}

TEST_F(OneMoreStage, RestsWhileItIsNotSeen) {
    open_demo();
    const auto edit_port = [this](const char* note) {
        auto port = dossier().ports->front();
        port.pins.front().note = note;
        window->document().apply("edit", put(dossier(), port));
        settle();
    };
    EXPECT_EQ(dummy().refreshes(), 0) << "never seen";
    window->show_stage(Stage::log);
    settle();
    EXPECT_EQ(dummy().first, 1);
    edit_port("one");
    EXPECT_EQ(dummy().first, 1) << "the first view does not stand on ports";
    EXPECT_EQ(dummy().second, 0) << "and the second is not seen";
    dummy().show_view("second");
    EXPECT_EQ(dummy().second, 1);
    edit_port("two");
    EXPECT_EQ(dummy().second, 2) << "once for the edit; no result touches it";
    window->show_stage(Stage::listen);
    edit_port("three");
    edit_port("four");
    EXPECT_EQ(dummy().second, 2) << "not seen";
    window->show_stage(Stage::log);
    EXPECT_EQ(dummy().second, 3) << "once for both edits";
    window->show_stage(Stage::listen);
    window->show_stage(Stage::log);
    EXPECT_EQ(dummy().second, 3) << "nothing has changed";
    EXPECT_EQ(dummy().page, 1) << "the page stands on the dossier's name";
}

/// A window as low as it may be, with all that will ever stand in the rail.
TEST(Rail, HasRoomForPlanNineStagesAndPractice) {
    QWidget window;
    auto* layout = new QVBoxLayout(&window);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* rail = new Rail;
    layout->addWidget(rail);
    rail->show_dossier("A dossier with a longer name", "rev 1 · changed");
    auto stages = all_of<Stage>();
    std::reverse(stages.begin(), stages.end());
    for (const auto stage : stages) rail->add_stage(stage);
    window.resize(172, 610);  // 640 less the menu bar
    window.show();
    ASSERT_TRUE(QTest::qWaitForWindowExposed(&window));
    int below = 0;
    for (const auto& [stage, button] : rail->stages()) {
        EXPECT_GE(button->y(), below) << word(stage);
        EXPECT_GE(button->height(), 42) << word(stage);
        below = button->y() + button->height();
    }
    EXPECT_LE(below, rail->height());
    EXPECT_EQ(stage_key(Stage::plan), "Ctrl+0");
    EXPECT_EQ(stage_key(Stage::log), "Ctrl+9");
    EXPECT_EQ(stage_key(Stage::practice), "");
    rail->stage(Stage::plan).click();
    EXPECT_TRUE(rail->stage(Stage::plan).isChecked());
    rail->stage(Stage::practice).click();
    EXPECT_FALSE(rail->stage(Stage::plan).isChecked());
    rail->stage(Stage::practice).click();
    EXPECT_TRUE(rail->stage(Stage::practice).isChecked()) << "a click does not leave none";
}

}  // namespace
}  // namespace grayrelic::app
