// SPDX-License-Identifier: GPL-3.0-or-later
// A value change dump that is still being written: bytes go in as they come, captures come out at any time.
// What has been read is never read again, and of what came nothing is dropped. Not for several threads at
// once.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include "core/capture/vcd_reader.hpp"
#include "core/signal/find.hpp"

namespace grayrelic {

class GrowingCapture {
  public:
    /// `name` stands in messages. Beyond `most_edges` (8 bytes each) feed() fails and keeps what there is.
    explicit GrowingCapture(std::string name, std::size_t most_edges = 400'000'000);
    ~GrowingCapture();
    GrowingCapture(const GrowingCapture&) = delete;
    GrowingCapture& operator=(const GrowingCapture&) = delete;

    /// Takes the next bytes, cut anywhere. The changes behind the last time stamp wait for the next one. An
    /// error has the line in the whole; after one, nothing more is taken.
    [[nodiscard]] Status feed(std::string_view bytes);
    /// There will be no more: what waited is read.
    [[nodiscard]] Status finish();

    [[nodiscard]] bool has_signals() const;  ///< the definitions are complete
    [[nodiscard]] std::size_t edge_count() const;
    [[nodiscard]] std::uint64_t bytes() const { return bytes_; }  ///< that came so far
    [[nodiscard]] Span extent() const;

    /// A copy of the last stretch, at most that many edges of each signal; without signals before the
    /// definitions.
    [[nodiscard]] Capture last(Time length, std::size_t most_edges = 2'000'000) const;
    /// Everything; the edges are handed over and nothing can be fed behind it.
    [[nodiscard]] Capture take();

  private:
    struct Pass;
    [[nodiscard]] Status read_definitions(bool over = false);
    [[nodiscard]] Status read_changes(std::size_t until, std::size_t half_line = std::string::npos);
    std::string name_;
    std::size_t most_edges_;
    std::string waiting_;  // bytes that were not read yet
    std::uint64_t bytes_ = 0;
    long lines_ = 0;     // of what was read and let go
    long cut_line_ = 0;  ///< the last line, when it was not written to its end
    std::optional<Error> failed_;
    std::unique_ptr<Pass> pass_;  // null before the definitions are complete
};

/// When to stop following by oneself.
struct StopWhen {
    std::optional<Time> length;  ///< of the capture
    std::optional<std::size_t> edges;
    std::optional<FindQuery> found;  ///< stops at the first hit, and then so much later:
    Time after;
    [[nodiscard]] bool anything() const { return length || edges || found; }
};

/// Watches a growing capture for its end; each stretch is searched once.
class StopWatch {
  public:
    explicit StopWatch(StopWhen when) : when_(std::move(when)) {}
    /// True as soon as the condition holds. Fails when the query names a signal that is not there.
    [[nodiscard]] Result<bool> reached(const GrowingCapture& capture);
    [[nodiscard]] std::optional<Span> hit() const { return hit_; }

  private:
    StopWhen when_;
    Time searched_ = Time::min();  // up to here there is no hit
    std::optional<Span> hit_;
};

}  // namespace grayrelic
