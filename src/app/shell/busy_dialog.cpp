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

#include <new>

#include "app/shell/document.hpp"
#include "core/base/machine.hpp"

namespace grayrelic::app {
namespace {

constexpr int patience_ms = 500;

/// What is waited for. `over` is asked for every time that something happens and every 20 ms.
struct Waiting {
    std::function<bool()> over;
    std::function<double()> fraction;
    std::function<void()> cancel;
};

void wait(QWidget* window, const QString& what, QEventLoop& loop, const Waiting& waiting) {
    QTimer look;
    QObject::connect(&look, &QTimer::timeout, &loop, [&] {
        if (waiting.over()) loop.quit();
    });
    look.start(20);
    // Nothing can be started meanwhile: first because input waits, then because the dialog takes it.
    QTimer patience;
    patience.setSingleShot(true);
    QObject::connect(&patience, &QTimer::timeout, &loop, &QEventLoop::quit);
    patience.start(patience_ms);
    loop.exec(QEventLoop::ExcludeUserInputEvents);
    if (waiting.over()) return;

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
    QObject::connect(cancel, &QPushButton::clicked, &dialog, waiting.cancel);
    QObject::connect(&dialog, &QDialog::rejected, &dialog, waiting.cancel);
    QTimer tick;
    QObject::connect(&tick, &QTimer::timeout, &dialog,
                     [&] { bar->setValue(static_cast<int>(waiting.fraction() * 1000)); });
    tick.start(50);
    dialog.show();
    while (!waiting.over()) loop.exec();
}

}  // namespace

Status run_with_progress(QWidget* window, const QString& what, const std::function<void(Progress&)>& work) {
    Progress progress;
    Status done;
    QEventLoop loop;
    QFutureWatcher<void> watcher;
    QObject::connect(&watcher, &QFutureWatcher<void>::finished, &loop, &QEventLoop::quit);
    watcher.setFuture(QtConcurrent::run([&] {
        try {
            work(progress);
        } catch (const std::bad_alloc&) {
            done = fail_memory(what.toStdString());
        }
    }));
    wait(window, what, loop,
         {[&] { return watcher.isFinished(); }, [&] { return progress.fraction(); },
          [&] { progress.cancel(); }});
    return done;
}

bool wait_for_analysis(QWidget* window, const QString& what, Document& document) {
    QEventLoop loop;
    bool given_up = false;
    double fraction = 0;
    document.resume_analysis();
    QObject::connect(&document, &Document::progressed, &loop, [&](double f) { fraction = f; });
    wait(window, what, loop,
         {[&] { return given_up || document.is_current(); }, [&] { return fraction; },
          [&] { given_up = true; }});
    return !given_up;
}

}  // namespace grayrelic::app
