// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/screenshots.hpp"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>

#include "app/paint/marks.hpp"
#include "app/shell/latest.hpp"
#include "app/shell/main_window.hpp"

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

bool wanted(const StageView& view, bool dark, const PictureWish& wish) {
    return wish.every_view || view.picture == (dark ? Picture::night : Picture::day);
}

}  // namespace

QString write_screenshots(MainWindow& window, const QString& folder, const PictureWish& wish) {
    if (!QDir().mkpath(folder))
        return QStringLiteral("%1: found no place for a folder, expected one").arg(folder);
    window.resize(wish.size);
    window.show();
    window.document().wait_until_current();
    QString open;
    // A theme takes a second to put on: once each, not once a picture.
    for (const bool dark : {false, true}) {
        window.set_dark(dark);
        for (auto* page : window.pages())
            for (const auto& view : page->views()) {
                if (!wanted(view, dark, wish)) continue;
                if (const auto demo = window.demo_path(view.demo); wish.from_demos && open != demo) {
                    open = demo;
                    if (!window.files().open_example(demo))
                        return QStringLiteral("%1: found no such example, expected the shipped ones")
                            .arg(demo);
                    window.document().wait_until_current();
                }
                window.show_stage(page->stage());
                page->show_view(view.id);
                settle();
                page->prepare_picture();
                settle();
                const auto path = QStringLiteral("%1/%2-%3-%4.png")
                                      .arg(folder, to_q(word(page->stage())), view.id,
                                           dark ? QStringLiteral("dark") : QStringLiteral("light"));
                if (!window.grab().save(path))
                    return QStringLiteral("%1: found no way to write it, expected a folder with room")
                        .arg(path);
            }
    }
    return {};
}

}  // namespace grayrelic::app
