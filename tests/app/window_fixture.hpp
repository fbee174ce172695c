// SPDX-License-Identifier: GPL-3.0-or-later
// The real window on a copy of the demo dossier, driven with mouse and keys. Questions to the person are
// answered by the test; an unexpected one fails it.
#pragma once

#include <QApplication>
#include <QDropEvent>
#include <QLabel>
#include <QMimeData>
#include <QSettings>
#include <QTest>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/main_window.hpp"
#include "app/stages/all_stages.hpp"
#include "app/stages/listen/listen_page.hpp"
#include "app/stages/port/pin_traffic.hpp"
#include "app/stages/port/port_page.hpp"
#include "app/stages/timing/timing_page.hpp"
#include "app/stages/trace/trace_page.hpp"
#include "core/capture/vcd_writer.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic::app {

// For readable failures.
inline void PrintTo(const QString& s, std::ostream* out) {
    *out << '"' << s.toStdString() << '"';
}

/// What a test asks of the core itself is not the window's doing.
inline Result<Dossier> load_dossier(const std::filesystem::path& folder) {
    const OffTheRecord off;
    return grayrelic::load_dossier(folder);
}

inline Result<Dossier> new_dossier(const std::filesystem::path& folder, const std::string& name) {
    const OffTheRecord off;
    return grayrelic::new_dossier(folder, name);
}

class WindowTest : public testing::Test {
  protected:
    void SetUp() override {
        QSettings().clear();
        // Tests share a process: what one leaves behind, such as a journal, is nothing to the next.
        qputenv("XDG_STATE_HOME", path("state").toLocal8Bit());
        qputenv("XDG_CACHE_HOME", path("cache").toLocal8Bit());
        (void)copy_demo("calder-dial-pad");
        window = std::make_unique<MainWindow>(path("demo"), all_stages());
        auto& files = window->files();
        files.ask_save = [this] {
            ++asked_to_save;
            return answer;
        };
        files.ask_recover = [this](const QString& question) {
            asked_to_recover << question;
            return recover;
        };
        files.ask_overwrite = [this](const QString&) {
            ++asked_to_overwrite;
            return overwrite;
        };
        files.tell = [this](const QString& message) { told << message; };
        files.ask_open_folder = [] { return QString(); };
        files.ask_save_folder = [] { return QString(); };
        files.ask_captures = [] { return QStringList(); };
        files.ask_report = [] { return QString(); };
        files.ask_sheet = [] { return QString(); };
        files.ask_sheet_about = [](const QStringList&) { return -1; };
        window->resize(1280, 800);
        window->show();
        ASSERT_TRUE(QTest::qWaitForWindowExposed(window.get()));
        window->activateWindow();
    }
    void TearDown() override {
        answer = FileFlow::Answer::discard;
        window.reset();
        QSettings().clear();
        if (theme().dark) apply_theme(*qApp, false);
    }
    [[nodiscard]] QString path(const std::string& name) const {
        return QString::fromStdString((folder / name).string());
    }
    /// A copy of a shipped dossier, to do with as the test likes.
    [[nodiscard]] QString copy_demo(const std::string& name) {
        const auto copy = folder / "demo" / (name + ".relic");
        std::filesystem::create_directories(copy.parent_path());
        std::filesystem::copy(test::source_folder() / "demos" / copy.filename(), copy,
                              std::filesystem::copy_options::recursive);
        return QString::fromStdString(copy.string());
    }
    void open_demo() {
        ASSERT_TRUE(window->files().open(window->demo_path()));
        settle();
    }
    void settle() {
        window->document().wait_until_current();
        QApplication::processEvents();
    }
    /// Until nothing is computed beside the window any more.
    void wait() {
        for (int i = 0; i < 200; ++i) {
            settle();
            if (figures_under_way == 0) break;
            QTest::qWait(5);
        }
        QTest::qWait(30);  // the answer is shown by an event of its own
        settle();
    }
    /// Until it holds, at most ten seconds.
    template <class Holds>
    bool wait_until(Holds holds) {
        for (int i = 0; i < 1000 && !holds(); ++i) QTest::qWait(10);
        return holds();
    }
    static std::string dump(const Capture& c) {
        const OffTheRecord off;
        std::string out;
        Progress progress;
        EXPECT_TRUE(write_vcd(
            c, {},
            [&](std::string_view text) -> Status {
                out += text;
                return {};
            },
            progress));
        return out;
    }
    /// A new dossier with this file dropped on it.
    void drop_new(const std::string& file, const std::string& content) {
        test::write_file(folder / file, content);
        window->files().make_new();
        window->files().drop({path(file)});
        settle();
    }
    void trigger(const char* action) {
        auto* a = window->actions().find(QLatin1String(action));
        ASSERT_NE(a, nullptr) << action;
        a->trigger();
        settle();
    }
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        auto* target = QApplication::focusWidget() != nullptr ? QApplication::focusWidget() : window.get();
        QTest::keyClick(target, key, modifiers);
        settle();
    }
    void type_into(QLineEdit* field, const char* text) {
        field->setFocus();
        field->selectAll();
        QTest::keyClick(field, Qt::Key_Delete);
        QTest::keyClicks(field, QString::fromUtf8(text));
        QTest::keyClick(field, Qt::Key_Return);
        settle();
    }
    void drop(const QStringList& paths) {
        QMimeData data;
        QList<QUrl> urls;
        for (const auto& p : paths) urls << QUrl::fromLocalFile(p);
        data.setUrls(urls);
        QDragEnterEvent enter({100, 100}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(window.get(), &enter);
        EXPECT_TRUE(enter.isAccepted());
        QDropEvent event({100, 100}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(window.get(), &event);
        settle();
    }
    [[nodiscard]] const Dossier& dossier() { return window->document().dossier(); }
    [[nodiscard]] QStringList finding_titles() {
        QStringList out;
        for (auto* c : window->findings().cards()) out << c->text();
        return out;
    }

    test::TempFolder folder;
    std::unique_ptr<MainWindow> window;
    FileFlow::Answer answer = FileFlow::Answer::cancel;
    FileFlow::Recover recover = FileFlow::Recover::later;
    bool overwrite = false;
    int asked_to_save = 0;
    int asked_to_overwrite = 0;
    QStringList asked_to_recover;
    QStringList told;
};

}  // namespace grayrelic::app
