// SPDX-License-Identifier: GPL-3.0-or-later
// Listen's pictures: the waves as SVG, and what the documentation's picture of Live needs.
#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QPainter>
#include <QSvgGenerator>

#include "app/paint/marks.hpp"
#include "app/stages/listen/listen_page.hpp"
#include "core/dossier/store.hpp"

namespace grayrelic::app {

bool ListenPage::write_picture(const QString& path) {
    QSvgGenerator svg;
    svg.setFileName(path);
    svg.setSize(waves_->size());
    svg.setViewBox(QRect(QPoint(), waves_->size()));
    svg.setTitle(sentence());
    QPainter p;
    if (!p.begin(&svg)) return false;
    waves_->render(&p);
    return p.end();
}

void ListenPage::save_picture() {
    const auto path = ask_picture();
    if (!path.isEmpty() && !write_picture(path))
        files_.tell(tr("%1: found no way to write it, expected a folder with room").arg(path));
}

/// A recording that is complete serves for one that grows: it is followed to its end.
void ListenPage::prepare_picture() {
    const auto& captures = *document_.dossier().captures;
    if (view() != QLatin1String("live") || captures.empty()) return;
    const auto path = capture_path(captures.front(), document_.folder());
    if (!path) return;
    live_->source().setText(QDir::current().relativeFilePath(to_q(path->string())));
    live_->start();
    QElapsedTimer timer;
    timer.start();
    while (timer.elapsed() < 1000) QApplication::processEvents(QEventLoop::AllEvents, 20);
    live_->stop();
}

}  // namespace grayrelic::app
