// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/screenshots.hpp"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>

#include "app/shell/main_window.hpp"
#include "app/stages/listen/listen_page.hpp"
#include "app/stages/port/port_page.hpp"
#include "app/stages/timing/timing_page.hpp"
#include "app/stages/trace/trace_page.hpp"

namespace grayrelic::app {
namespace {

void settle() {
    QElapsedTimer timer;
    timer.start();
    while (timer.elapsed() < 60)
        QApplication::processEvents(QEventLoop::AllEvents, 20);
}

}  // namespace

QString write_screenshots(MainWindow& window, const QString& folder, QSize size) {
    if (!QDir().mkpath(folder))
        return QStringLiteral("%1: found no place for a folder, expected one").arg(folder);
    window.resize(size);
    window.show();
    window.document().wait_until_current();
    struct View {
        const char* name;
        int stage;
        int part;
    };
    for (const bool dark : {false, true}) {
        window.set_dark(dark);
        for (const auto& view :
             {View{"port", 0, PortPage::pins}, View{"port-sources", 0, PortPage::sources},
              View{"port-wrong-ways", 0, PortPage::wrong_ways}, View{"port-cables", 0, PortPage::cables},
              View{"trace-probe", 1, TracePage::probe}, View{"trace-board", 1, TracePage::board},
              View{"trace-netlist", 1, TracePage::netlist}, View{"trace-circuit", 1, TracePage::circuit},
              View{"trace-parts", 1, TracePage::parts}, View{"listen", 2, 0}, View{"timing", 3, 0}}) {
            window.show_stage(view.stage);
            const auto& ports = *window.document().dossier().ports;
            // Without another source there is nothing to see.
            if (view.stage == 0 && view.part == PortPage::sources &&
                std::all_of(ports.begin(), ports.end(), [](const Port& p) { return p.sources.empty(); }))
                continue;
            if (view.stage == 0) window.port_page().show_view(static_cast<PortPage::View>(view.part));
            if (view.stage == 1) window.trace_page().show_view(static_cast<TracePage::View>(view.part));
            settle();
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
