// SPDX-License-Identifier: GPL-3.0-or-later
// The pieces of a value change dump put together in order: every signal's edges so far, and captures out of
// them, of all or of the last stretch.
#pragma once

#include <optional>
#include <vector>

#include "core/capture/vcd_body.hpp"

namespace grayrelic {

class VcdWhole {
  public:
    explicit VcdWhole(const VcdHeader& header) : states_(header.bits), reals_(header.reals) {}
    /// Takes the next piece; what is wrong in it, or in its order, is given back and nothing else taken.
    [[nodiscard]] std::optional<VcdFault> join(const VcdPiece& piece);
    /// Everything; the edges are handed over, so that this can be done once.
    [[nodiscard]] Capture assemble(VcdHeader header);
    /// A copy of what happened from `from` to now(), at most `most_edges` edges of each signal: the last
    /// ones.
    [[nodiscard]] Capture last(const VcdHeader& header, Time from, std::size_t most_edges) const;

    [[nodiscard]] bool started() const { return started_; }
    [[nodiscard]] Time start() const { return start_; }
    [[nodiscard]] Time now() const { return now_; }
    [[nodiscard]] std::size_t edge_count() const;

  private:
    /// A capture without signals, with the scale of the file.
    [[nodiscard]] Capture framed(const VcdHeader& header, Span extent) const;
    std::vector<BitState> states_;
    std::vector<RealWaveform> reals_;
    bool started_ = false;
    bool values_before_time_ = false;
    std::uint64_t last_raw_ = 0;
    std::int64_t worst_rounding_ = 0;
    Time start_;
    Time now_;
};

}  // namespace grayrelic
