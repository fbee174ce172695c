// SPDX-License-Identifier: GPL-3.0-or-later
// Logic parts as they are known by their standard pin-outs, played pin by pin. For fault_bench.cpp.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace grayrelic::standin {

/// Levels by pin number, from 1; written from the pin-outs and function tables of these parts as their data
/// books print them.
class BenchChip {
  public:
    virtual ~BenchChip() = default;
    [[nodiscard]] virtual int ground_pin() const = 0;
    [[nodiscard]] virtual int supply_pin() const = 0;
    [[nodiscard]] virtual std::vector<int> outputs() const = 0;
    [[nodiscard]] virtual std::vector<int> inputs() const = 0;
    /// Inputs have changed from `before` to `now` (index: pin number).
    virtual void change(const std::vector<bool>& before, const std::vector<bool>& now) = 0;
    /// The level of an output.
    [[nodiscard]] virtual bool level(int pin, const std::vector<bool>& now) const = 0;
};
/// Null: it is not known.
[[nodiscard]] std::unique_ptr<BenchChip> bench_chip(const std::string& part);

}  // namespace grayrelic::standin
