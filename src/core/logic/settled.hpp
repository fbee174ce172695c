// SPDX-License-Identifier: GPL-3.0-or-later
// A network at rest answers the same change of its inputs the same way, as long as the next change leaves it
// the time to come to rest again and no check looks back further. What follows from such a change is noted
// once and then repeated: a recording of millions of edges takes a few thousand of them. Exact: where the
// next change comes too soon, the engine computes. For simulate.cpp only.
#pragma once

#include <string>
#include <unordered_map>
#include <vector>

#include "core/logic/simulate_engine.hpp"

namespace grayrelic::simulating {

/// One change from outside.
struct Driven {
    unsigned stimulus;
    int net;
    Level level;
};

class Settled {
  public:
    /// Does nothing unless `options` watch one net, with inertial delays: all other nets' changes would have
    /// to be noted too. Both must outlive it.
    Settled(Engine& engine, const SimulationOptions& options);

    /// True while the state stands here and not in the engine.
    [[nodiscard]] bool holds() const { return holds_; }
    /// Changes from outside at a moment: true when what follows was repeated. False: the engine holds the
    /// state and is to compute, the changes are not yet driven. `next`: when the next ones come.
    bool step(const std::vector<Driven>& driven, Time now, Time next);
    /// After the engine has settled a moment: takes over when it is at rest and will be for long enough.
    void look(Time now, Time next);

    /// To be told each change of the watched net before it goes out.
    void emitted(const LevelChange& c) {
        if (noting_) emitted_.push_back({c.at - since_, c.level});
    }

  private:
    struct Emitted {
        Time after;
        Level level;
    };
    /// What follows from one change in one state.
    struct Follows {
        std::uint32_t next = 0;  ///< state
        Time lasts;              ///< until the last change
        std::uint32_t emitted = 0, count = 0;
        std::uint32_t faults = 0, fault_count = 0;
        std::uint32_t clashes = 0, clash_count = 0;
        long events = 0;
    };
    static constexpr std::uint32_t unknown = ~0U;
    void give_back();
    void note(Time last);
    void repeat(const Follows& f, Time now);
    struct Slot {
        std::uint64_t key = 0;  // 0: free
        std::uint32_t follows = 0;
    };
    [[nodiscard]] std::uint32_t find(std::uint64_t key) const;
    void insert(std::uint64_t key, std::uint32_t follows);
    [[nodiscard]] Slot& place(std::uint64_t key);

    Engine& engine_;
    const SimulationOptions& o_;
    bool works_ = false, holds_ = false, noting_ = false;
    std::uint32_t state_ = 0;
    std::vector<const std::string*> states_;
    std::unordered_map<std::string, std::uint32_t> state_numbers_;
    std::vector<Follows> follows_;
    std::vector<Emitted> emitted_;
    std::vector<TimingFault> faults_;
    std::vector<Clash> clashes_;
    std::vector<Slot> slots_;
    long asked_ = 0, known_ = 0;
    // Of the change that is being noted.
    std::uint64_t key_ = 0;
    Time since_;
    Follows noted_;
    std::string scratch_;
};

}  // namespace grayrelic::simulating
