// SPDX-License-Identifier: GPL-3.0-or-later
// What the person at the window notices: how long it does not answer.
#pragma once

#include <QApplication>
#include <QObject>
#include <QTimer>

#include <algorithm>
#include <chrono>

namespace grayrelic::bench {

using Clock = std::chrono::steady_clock;
inline double since(Clock::time_point t) {
    return std::chrono::duration<double>(Clock::now() - t).count();
}

/// The longest time in which the window's events waited.
class Pauses : public QObject {
  public:
    Pauses() {
        timer_.setInterval(5);
        connect(&timer_, &QTimer::timeout, this, [this] {
            worst = std::max(worst, since(last_));
            last_ = Clock::now();
        });
        timer_.start();
    }
    void reset() {
        worst = 0;
        last_ = Clock::now();
    }
    double worst = 0;

  private:
    QTimer timer_;
    Clock::time_point last_ = Clock::now();
};

template <class Until>
double wait(Until until) {
    const auto from = Clock::now();
    while (!until() && since(from) < 300) QApplication::processEvents(QEventLoop::WaitForMoreEvents, 5);
    return since(from);
}

}  // namespace grayrelic::bench
