// SPDX-License-Identifier: GPL-3.0-or-later
// A board with one hidden fault on a bench of its own: to play against, and to hold the diagnosis against.
//
// Its model shares nothing with what predicts faults: the whole board is one network of conductances, diodes
// follow their exponential law (Newton's method), parts are off by their tolerance, meters by their error,
// chips are written from their standard pin-outs, inputs switch at one threshold, inputs that nothing holds
// stand somewhere. Of the board's description only the data are read: parts, nets, what is driven and what
// is watched.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/diagnose/bench_reading.hpp"

namespace grayrelic::standin {

class FaultNetwork;

class FaultBench {
  public:
    /// A fault of a kind and at a place drawn from the seed. `board` must outlive it.
    FaultBench(const BenchBoard& board, std::uint64_t seed);
    /// With a fault that is said, as "open: U1.3"; of a word that is none nothing is wrong with the board.
    FaultBench(const BenchBoard& board, std::uint64_t seed, const std::string& fault);
    ~FaultBench();
    FaultBench(const FaultBench&) = delete;
    FaultBench& operator=(const FaultBench&) = delete;

    [[nodiscard]] const std::string& hidden() const { return hidden_; }
    /// A chip that it can't play; empty: it can.
    [[nodiscard]] std::string unable() const;
    /// What a person sees who presses each line in turn, in the words of core/diagnose/exercise.hpp.
    [[nodiscard]] std::vector<Symptom> complaint();
    /// What the meter shows, or the eye.
    [[nodiscard]] double read(const BenchReading& reading);

  private:
    std::unique_ptr<FaultNetwork> network_, whole_;
    const BenchBoard& board_;
    std::string hidden_;
    std::uint64_t noise_;
};

/// All faults that it can hide, as "KIND: place".
[[nodiscard]] std::vector<std::string> hidden_faults(const BenchBoard& board);

}  // namespace grayrelic::standin
