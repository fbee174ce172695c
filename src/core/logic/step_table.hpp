// SPDX-License-Identifier: GPL-3.0-or-later
// What a part with storage did at a change of one pin, by the state it was in: parts have few states,
// recordings many changes. For the simulation only.
#pragma once

#include <cstdint>
#include <utility>
#include <vector>

namespace grayrelic::simulating {

/// Never parted between two lines of the cache: finding one is what takes the time.
struct alignas(32) PartStep {
    std::uint64_t bits = 0;  ///< before, two of them a bit
    std::uint64_t pins =
        0;  ///< after the change; above 48: which pin changed, and from what; the uppermost: in use
    std::uint64_t next = 0;   ///< bits after it
    std::uint64_t acted = 0;  ///< the rules whose edge it was
    static constexpr std::uint64_t in_use = 1ULL << 63U;
    [[nodiscard]] bool used() const { return (pins & in_use) != 0; }
};

class StepTable {
  public:
    [[nodiscard]] const PartStep* find(std::uint64_t bits, std::uint64_t pins) const {
        if (steps_.empty()) return nullptr;
        pins |= PartStep::in_use;
        for (auto at = hash(bits, pins);; ++at) {
            const auto& s = steps_[at & (steps_.size() - 1)];
            if (s.bits == bits && s.pins == pins) return &s;
            if (!s.used()) return nullptr;
        }
    }
    /// Only what find() did not find. Does nothing when the table has its greatest size.
    void insert(const PartStep& made) {
        PartStep step = made;
        step.pins |= PartStep::in_use;
        if (used_ == most) return;
        if (2 * used_ >= steps_.size()) {
            std::vector<PartStep> old(steps_.empty() ? 256 : 2 * steps_.size());
            std::swap(old, steps_);
            for (const auto& s : old)
                if (s.used()) place(s) = s;
        }
        place(step) = step;
        ++used_;
    }

  private:
    static constexpr std::size_t most = 1U << 15U;
    static std::size_t hash(std::uint64_t bits, std::uint64_t pins) {
        auto h = (bits ^ (pins >> 29U | pins << 35U)) * 0x9E3779B97F4A7C15ULL;
        h ^= h >> 32U;
        return static_cast<std::size_t>(h);
    }
    PartStep& place(const PartStep& step) {
        auto at = hash(step.bits, step.pins);
        while (steps_[at & (steps_.size() - 1)].used()) ++at;
        return steps_[at & (steps_.size() - 1)];
    }

    std::vector<PartStep> steps_;
    std::size_t used_ = 0;
};

}  // namespace grayrelic::simulating
