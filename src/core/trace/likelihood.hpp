// SPDX-License-Identifier: GPL-3.0-or-later
// How likely two points are joined before anybody probes them: from what their pins do, their names, how far
// apart they lie, and from how buses have turned out to run so far.
//
// The figures are odds (1 means as likely as not). They are judgement, not measurement: they decide the order
// of probing and which reading is suspected first, never what is proven.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/trace/board_model.hpp"
#include "core/trace/nets.hpp"

namespace grayrelic {

class Likelihood {
  public:
    explicit Likelihood(const BoardModel& board);
    [[nodiscard]] int points() const { return static_cast<int>(features_.size()); }

    /// Odds that two points are joined, from what is known beforehand.
    [[nodiscard]] double odds(int a, int b) const;
    /// Why, in a few words: "both are ground", "bit 3 of two buses".
    [[nodiscard]] std::string why(int a, int b) const;
    /// Pairs worth trying for each point, by number: the likeliest partners first, at most this many.
    [[nodiscard]] const std::vector<std::vector<int>>& partners() const { return partners_; }

    struct Feature {
        int ref = -1;
        PinKind kind = PinKind::unknown;
        int name = -1;    ///< number of the function's name, -1 for none
        int bus = -1;     ///< number of the bus of its part, -1 for none
        int letter = -1;  ///< number of the bus name
        int bit = 0;
        int part = 0;  ///< 0 other, 1 capacitor, 2 resistor, 3 memory, 4 port, 5 logic
        float x = 0, y = 0;
        bool placed = false;
    };
    [[nodiscard]] const Feature& feature(int p) const { return features_[static_cast<std::size_t>(p)]; }

  private:
    void find_partners();
    std::vector<Feature> features_;
    std::vector<int> bus_size_;  ///< by bus
    std::vector<std::vector<int>> partners_;
};

/// What the readings so far tell of how the buses run: which bus meets which, and whether straight, shifted
/// or reversed.
class BusLore {
  public:
    /// Nets in which readings contradict each other tell nothing of buses.
    BusLore(const Likelihood& prior, const NetState& state);
    /// Factor for the odds of two points.
    [[nodiscard]] double factor(const Likelihood::Feature& a, const Likelihood::Feature& b) const;

  private:
    struct Count {
        float hits = 0, misses = 0;
    };
    [[nodiscard]] static std::uint64_t key(int bus_a, int bus_b, int kind, int offset);
    void note(const Likelihood::Feature& a, const Likelihood::Feature& b, bool joined);
    std::unordered_map<std::uint64_t, Count> counts_;
};

}  // namespace grayrelic
