// SPDX-License-Identifier: GPL-3.0-or-later
// All changes of a capture in order of time, signal after signal within one time: what every writer of a
// capture walks along. Holds one cursor a signal and no list of changes, whatever the capture's length.
#pragma once

#include <cstddef>
#include <queue>
#include <vector>

#include "core/signal/capture.hpp"

namespace grayrelic {

/// One signal's values along time.
class ValueCursor {
  public:
    ValueCursor(const Signal& signal, Span extent);
    /// '0', '1', 'x' or 'z' of a digital signal, 'r' once a real signal has a value or an event came, else
    /// 'x'.
    [[nodiscard]] char value() const { return value_; }
    [[nodiscard]] double real() const { return real_; }
    /// The time of the next change; Time::max() when there is none.
    [[nodiscard]] Time next() const { return next_; }
    void step();

  private:
    [[nodiscard]] char value_now(Time at) const;
    void find_next();
    const DigitalWaveform* digital_ = nullptr;
    const RealWaveform* reals_ = nullptr;
    std::size_t edge_ = 0;      // first edge not taken
    std::size_t unknown_ = 0;   // first unknown span that is not over
    std::size_t floating_ = 0;  // first floating span that is not over
    Time at_;
    Time start_;
    Time end_;
    Time next_;
    char value_ = 'x';
    double real_ = 0.0;
};

class ChangeStream {
  public:
    /// Every signal stands at its value just before the capture's first time.
    explicit ChangeStream(const Capture& capture);
    [[nodiscard]] const ValueCursor& cursor(std::size_t signal) const { return cursors_[signal]; }
    /// Takes the next time at which anything changes, and every change at it. False at the end.
    [[nodiscard]] bool step();
    [[nodiscard]] Time now() const { return now_; }
    /// Indices of the signals that changed at now(), ascending.
    [[nodiscard]] const std::vector<std::size_t>& changed() const { return changed_; }

  private:
    using Entry = std::pair<Time, std::size_t>;
    std::vector<ValueCursor> cursors_;
    std::priority_queue<Entry, std::vector<Entry>, std::greater<>> waiting_;
    std::vector<std::size_t> changed_;
    Time now_;
};

}  // namespace grayrelic
