// SPDX-License-Identifier: GPL-3.0-or-later
// A network without time: inputs are set one after the other and everything settles in between. For stepping
// by hand and for comparing parts with storage.
#pragma once

#include <vector>

#include "core/logic/network.hpp"
#include "core/logic/simulate.hpp"

namespace grayrelic {

class StepMachine {
  public:
    /// The network must be computable and outlive the machine. All bits start unknown, inputs at 0 or as
    /// held.
    explicit StepMachine(const Network& network);
    /// Sets an input (index into Network::inputs) and lets everything settle. False: it did not (an
    /// oscillation).
    bool set(std::size_t input, Level level);
    [[nodiscard]] Level net(int net) const { return level_[static_cast<std::size_t>(net)]; }
    [[nodiscard]] const std::vector<Level>& bits() const { return bits_; }  ///< of all parts, in their order
    [[nodiscard]] std::size_t first_bit(std::size_t part) const { return first_bit_[part]; }
    /// Bits and inputs as they were kept: nets follow.
    bool restore(const std::vector<Level>& inputs, const std::vector<Level>& bits);
    [[nodiscard]] const std::vector<Level>& inputs() const { return inputs_; }

  private:
    bool settle();
    void spread();
    bool update(bool edges);
    Level eval(const Expression& e, std::size_t part) const;
    const Network& n_;
    std::vector<std::size_t> first_bit_;
    std::vector<Level> bits_, inputs_, level_, before_;
    std::vector<std::pair<int, int>> order_;  ///< part and output, drivers before readers
};

}  // namespace grayrelic
