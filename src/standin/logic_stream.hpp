// SPDX-License-Identifier: GPL-3.0-or-later
// A capture device that never stops: a conversation repeated end to end, as a value change dump that grows.
// Sent to whoever connects on the loopback, or written into a file little by little.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "core/signal/capture.hpp"

namespace grayrelic::standin {

class LogicStream {
  public:
    /// The digital signals of the capture; times are rounded to nanoseconds.
    explicit LogicStream(const Capture& capture);
    /// The dump up to the first value changes.
    [[nodiscard]] std::string definitions() const;
    /// Appends every change from where it stands up to `until`, with their time stamps.
    void changes(Time until, std::string& out);
    /// Changes written so far.
    [[nodiscard]] std::uint64_t edges() const { return edges_; }

  private:
    struct Event {
        std::int64_t at_ns;
        std::uint32_t signal;
        bool level;
    };
    std::vector<std::string> names_, codes_;
    std::vector<Event>
        events_;  ///< of one round, in order of time; the first bring every signal to its first level
    std::int64_t round_ns_ = 1;
    std::vector<char> now_;  ///< each signal's level
    std::size_t next_ = 0;
    std::int64_t base_ns_ = 0;  ///< where the present round begins
    std::int64_t stamped_ns_ = -1;
    std::uint64_t edges_ = 0;
};

struct StreamPace {
    double speed = 1;    ///< recorded seconds a second
    double seconds = 0;  ///< recorded seconds until it ends; 0 for never
};

/// Sends the stream of `make` from its beginning to each that connects, until that one goes or the end is
/// reached.
[[nodiscard]] Status serve_logic(const std::function<LogicStream()>& make, int port, const StreamPace& pace,
                                 const std::function<void(int)>& ready);
/// The same into a file.
[[nodiscard]] Status write_logic(LogicStream stream, const std::filesystem::path& path,
                                 const StreamPace& pace);

}  // namespace grayrelic::standin
