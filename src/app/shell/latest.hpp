// SPDX-License-Identifier: GPL-3.0-or-later
// A figure that is computed beside the window: of several wishes only the latest one's answer is shown, the
// earlier ones are cancelled.
#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <QtConcurrentRun>

#include <functional>
#include <memory>
#include <new>

#include "app/paint/marks.hpp"
#include "core/base/machine.hpp"
#include "core/base/progress.hpp"

namespace grayrelic::app {

/// How many such figures are under way or not shown yet; for tests and pictures, which wait for none.
inline int figures_under_way = 0;
struct FigureUnderWay {
    FigureUnderWay() { ++figures_under_way; }
    ~FigureUnderWay() { --figures_under_way; }
    FigureUnderWay(const FigureUnderWay&) = delete;
    FigureUnderWay& operator=(const FigureUnderWay&) = delete;
};
/// Tells the person, on the window's thread, that a figure found no memory; set by the window.
inline std::function<void(const QString& message)> tell_of_memory;

template <class T>
class Latest {
  public:
    explicit Latest(QObject* owner) : owner_(owner) {}
    ~Latest() { cancel(); }
    Latest(const Latest&) = delete;
    Latest& operator=(const Latest&) = delete;

    /// `work` runs on another thread and must own what it reads; `show` runs on the owner's, if the owner and
    /// the wish still stand.
    void ask(std::function<T(Progress&)> work, std::function<void(const T&)> show) {
        cancel();
        auto progress = std::make_shared<Progress>();
        progress_ = progress;
        auto* watcher = new QFutureWatcher<Made>(owner_);
        QObject::connect(watcher, &QFutureWatcher<Made>::finished, owner_,
                         [watcher, progress, show = std::move(show),
                          counted = std::make_shared<FigureUnderWay>()]() mutable {
                             watcher->deleteLater();
                             if (!progress->cancelled()) {
                                 if (const auto& made = watcher->result())
                                     show(*made);
                                 else if (tell_of_memory)
                                     tell_of_memory(to_q(fail_memory("a figure").value().message()));
                             }
                             counted.reset();
                         });
        watcher->setFuture(QtConcurrent::run([work = std::move(work), progress]() -> Made {
            Made result;
            try {
                result = std::make_shared<const T>(work(*progress));
            } catch (const std::bad_alloc&) {  // none made: the window tells
            }
            return result;
        }));
    }
    void cancel() {
        if (progress_) progress_->cancel();
        progress_.reset();
    }

  private:
    using Made = std::shared_ptr<const T>;  ///< null when there was no memory for it
    QObject* owner_;
    std::shared_ptr<Progress> progress_;
};

}  // namespace grayrelic::app
