// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/busy_dialog.hpp"

#include <QDialog>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QFutureWatcher>
#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>
#include <QtConcurrentRun>

namespace grayrelic::app {
namespace {

constexpr int patience_ms = 500;

}  // namespace

void run_with_progress(QWidget* window, const QString& what, const std::function<void(Progress&)>& work) {
    Progress progress;
    QEventLoop loop;
    QFutureWatcher<void> watcher;
    QObject::connect(&watcher, &QFutureWatcher<void>::finished, &loop, &QEventLoop::quit);
    watcher.setFuture(QtConcurrent::run([&] { work(progress); }));

    // Nothing can be started meanwhile: first because input waits, then because the dialog takes it.
    QTimer patience;
    patience.setSingleShot(true);
    QObject::connect(&patience, &QTimer::timeout, &loop, &QEventLoop::quit);
    patience.start(patience_ms);
    loop.exec(QEventLoop::ExcludeUserInputEvents);
    if (watcher.isFinished()) return;

    QDialog dialog(window);
    dialog.setObjectName(QStringLiteral("busy"));
    dialog.setWindowTitle(what);
    dialog.setWindowModality(Qt::WindowModal);
    auto* layout = new QVBoxLayout(&dialog);
    auto* label = new QLabel(what + QStringLiteral(" …"));
    label->setMinimumWidth(320);
    auto* bar = new QProgressBar;
    bar->setRange(0, 1000);
    bar->setTextVisible(false);
    bar->setAccessibleName(what);
    auto* cancel = new QPushButton(QObject::tr("Cancel"));
    layout->addWidget(label);
    layout->addWidget(bar);
    layout->addWidget(cancel, 0, Qt::AlignRight);
    QObject::connect(cancel, &QPushButton::clicked, &dialog, [&] { progress.cancel(); });
    QObject::connect(&dialog, &QDialog::rejected, &dialog, [&] { progress.cancel(); });
    QTimer tick;
    QObject::connect(&tick, &QTimer::timeout, &dialog,
                     [&] { bar->setValue(static_cast<int>(progress.fraction() * 1000)); });
    tick.start(50);
    dialog.show();
    while (!watcher.isFinished()) loop.exec();
}

}  // namespace grayrelic::app
