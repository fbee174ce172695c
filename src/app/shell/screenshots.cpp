// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/screenshots.hpp"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QFileInfo>

#include "app/shell/latest.hpp"
#include "app/shell/main_window.hpp"
#include "app/stages/listen/listen_page.hpp"
#include "app/stages/port/port_page.hpp"
#include "app/stages/timing/timing_page.hpp"
#include "app/stages/trace/trace_page.hpp"
#include "core/dossier/store.hpp"

namespace grayrelic::app {
namespace {

void settle() {
    QElapsedTimer timer;
    timer.start();
    // What is computed beside the window belongs into the picture.
    while (timer.elapsed() < 60 || (figures_under_way > 0 && timer.elapsed() < 20'000))
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    QApplication::processEvents();
}

/// A recording that is complete serves for one that grows: it is followed to its end.
void follow_first_capture(MainWindow& window) {
    const auto& d = window.document().dossier();
    if (d.captures->empty()) return;
    const auto path = capture_path(d.captures->front(), window.document().folder());
    if (!path) return;
    auto& live = window.listen_page().live();
    live.source().setText(QDir::current().relativeFilePath(QString::fromStdString(path->string())));
    live.start();
    QElapsedTimer timer;
    timer.start();
    while (timer.elapsed() < 1000) QApplication::processEvents(QEventLoop::AllEvents, 20);
    live.stop();
    settle();
}

}  // namespace

QString write_screenshots(MainWindow& window, const QString& folder, bool from_demos, QSize size) {
    if (!QDir().mkpath(folder))
        return QStringLiteral("%1: found no place for a folder, expected one").arg(folder);
    window.resize(size);
    window.show();
    window.document().wait_until_current();
    struct View {
        const char* name;
        const char* demo;  ///< the shipped dossier that shows it
        int stage;
        int part;
        bool both_themes;
    };
    // Under twenty pictures: each view by day, Listen by night too.
    constexpr View views[] = {
        {"port", "calder-dial-pad", 0, PortPage::pins, false},
        {"port-wrong-ways", "calder-dial-pad", 0, PortPage::wrong_ways, false},
        {"port-cables", "calder-dial-pad", 0, PortPage::cables, false},
        {"trace-probe", "calder-page-card", 1, TracePage::probe, false},
        {"trace-board", "calder-page-card", 1, TracePage::board, false},
        {"trace-netlist", "calder-page-card", 1, TracePage::netlist, false},
        {"trace-circuit", "calder-page-card", 1, TracePage::circuit, false},
        {"listen", "calder-dial-pad", 2, ListenPage::waves_view, true},
        {"listen-identify", "calder-chart-slate", 2, ListenPage::identify_view, false},
        {"listen-shapes", "calder-dial-pad", 2, ListenPage::shapes_view, false},
        {"listen-buttons", "calder-dial-pad", 2, ListenPage::hunt_view, false},
        {"listen-compare", "calder-dial-pad", 2, ListenPage::compare_view, false},
        {"listen-live", "calder-dial-pad", 2, ListenPage::live_view, false},
        {"timing", "calder-dial-pad", 3, static_cast<int>(TimingPage::View::reply), false},
        {"timing-contract", "calder-dial-pad", 3, static_cast<int>(TimingPage::View::contract), false},
        {"timing-logic", "calder-dial-pad", 3, static_cast<int>(TimingPage::View::logic), false},
        {"timing-budgets", "calder-dial-pad", 3, static_cast<int>(TimingPage::View::budgets), false},
        {"timing-clocks", "calder-chart-slate", 3, static_cast<int>(TimingPage::View::clocks), false}};
    const QDir demos = QFileInfo(window.demo_path()).dir();
    QString open;
    // A theme takes a second to put on: once each, not once a picture.
    for (const bool dark : {false, true}) {
        window.set_dark(dark);
        for (const auto& view : views) {
            if (dark && from_demos && !view.both_themes) continue;
            if (from_demos && open != QLatin1String(view.demo)) {
                open = QLatin1String(view.demo);
                if (!window.files().open_example(demos.filePath(open + QStringLiteral(".relic"))))
                    return QStringLiteral("%1: found no such example, expected the shipped ones").arg(open);
                window.document().wait_until_current();
            }
            window.show_stage(view.stage);
            if (view.stage == 0) window.port_page().show_view(static_cast<PortPage::View>(view.part));
            if (view.stage == 2) window.listen_page().show_view(static_cast<ListenPage::View>(view.part));
            if (view.stage == 1) window.trace_page().show_view(static_cast<TracePage::View>(view.part));
            if (view.stage == 3) window.timing_page().show_view(static_cast<TimingPage::View>(view.part));
            settle();
            if (view.stage == 2 && view.part == ListenPage::live_view) follow_first_capture(window);
            const auto path = QStringLiteral("%1/%2-%3.png")
                                  .arg(folder, QLatin1String(view.name),
                                       dark ? QStringLiteral("dark") : QStringLiteral("light"));
            if (!window.grab().save(path))
                return QStringLiteral("%1: found no way to write it, expected a folder with room").arg(path);
        }
    }
    return {};
}

}  // namespace grayrelic::app
