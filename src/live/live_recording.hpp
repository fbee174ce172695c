// SPDX-License-Identifier: GPL-3.0-or-later
// Follows a recording while it is made: a file that grows, or a stream from a program on this machine. What
// comes is read and kept on a thread of its own; any other thread can ask how far it is and for the last
// stretch.
//
// Only the loopback is spoken to: a source is a path, or "port 4711" (also "localhost:4711").
#pragma once

#include <atomic>
#include <filesystem>
#include <memory>
#include <mutex>
#include <string>
#include <thread>

#include "core/capture/growing_capture.hpp"

namespace grayrelic::live {

struct State {
    enum class Phase { running, reached, ended, failed };
    Phase phase = Phase::running;
    std::string why;  ///< of ended and failed, one sentence
    bool has_signals = false;
    Span extent;
    std::size_t edges = 0;
    std::uint64_t bytes = 0;  ///< that came
    std::optional<Span> hit;  ///< what the stop condition found
};

class Recording {
  public:
    /// Begins to follow. `copy` receives the bytes as they come (nowhere when empty). Fails when the source
    /// can't be opened or the copy not written.
    [[nodiscard]] static Result<std::unique_ptr<Recording>> start(const std::string& source, StopWhen when,
                                                                  const std::filesystem::path& copy);
    ~Recording();
    Recording(const Recording&) = delete;
    Recording& operator=(const Recording&) = delete;

    [[nodiscard]] State state() const;
    [[nodiscard]] Capture last(Time length, std::size_t most_edges = 2'000'000) const;
    /// Ends it; what came so far is read to its end.
    void stop();
    /// Everything, after it ended; once.
    [[nodiscard]] Capture take();
    [[nodiscard]] const std::filesystem::path& copy() const { return copy_path_; }

  private:
    Recording(std::string name, int descriptor, bool is_file, StopWhen when, std::filesystem::path copy,
              int copy_descriptor);
    void run();
    /// Reads what is there into buffer_; 0 for nothing yet, -1 for the end.
    [[nodiscard]] long read_some();
    void end(State::Phase phase, std::string why);

    std::string name_;
    int descriptor_;
    bool is_file_;
    std::filesystem::path copy_path_;
    int copy_descriptor_;
    std::uint64_t offset_ = 0;
    std::string buffer_;
    mutable std::mutex mutex_;  // guards the lines below
    GrowingCapture capture_;
    StopWatch watch_;
    State state_;
    std::atomic<bool> stop_{false};
    std::thread thread_;
};

}  // namespace grayrelic::live
