// SPDX-License-Identifier: GPL-3.0-or-later
// What a board does when each of its lines is pressed in turn, and how that differs from what it should do.
//
// Each driven line gets a word of its own, so that few patterns tell which line shows where: the columns that
// a watched lead shows over all patterns spell the word of the line that it follows. Where storage lies
// between, each pattern is loaded and clocked through, and each clock is a place of its own. A level between
// low and high (a converter's output) is held against each line's own share of it.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/diagnose/bench_state.hpp"

namespace grayrelic {

/// What became of a line at a lead where it should be seen.
struct Symptom {
    std::string key;    ///< "a>REPLY"
    std::string value;  ///< "ok", "low", "high", "as b", "nothing" (a module that is not fed), "unclear",
                        ///< "weak", "strong"
    bool operator==(const Symptom&) const = default;
};
/// "a at REPLY stays low"
[[nodiscard]] std::string says(const Symptom& symptom);

class Exercise {
  public:
    /// Runs the board without a fault, to know what should be seen. `board` must outlive it.
    explicit Exercise(const BenchBoard& board);
    /// In a fixed order, the same keys each time; of a healthy board all are "ok".
    [[nodiscard]] std::vector<Symptom> run(BenchState& state, const BenchCircuit& circuit) const;
    [[nodiscard]] bool empty() const { return expected_.empty(); }
    /// Where a line should be seen.
    struct Sight {
        std::size_t line = 0, watched = 0, place = 0;
        bool inverted = false;
        double share_v = 0;  ///< of a level between low and high; 0: a level
        int context = -1;    ///< 0, 1: seen when it alone changes, all others low or high; −1: by its word
        [[nodiscard]] std::string key(const BenchBoard& b) const;
    };
    [[nodiscard]] const std::vector<Sight>& sights() const { return expected_; }
    [[nodiscard]] int patterns() const { return patterns_; }

  private:
    /// One letter a pattern, of each place of each watched lead.
    using Columns = std::vector<std::vector<std::string>>;
    struct Seen {
        Columns columns;
        std::vector<std::vector<double>> volts;  ///< of converters' outputs: all low, then each line alone
        /// All others low, all others high: a letter for each watched lead while a line alone is changed;
        /// last while none is.
        std::array<std::vector<std::string>, 2> changed;
    };
    [[nodiscard]] Seen watch(BenchState& state, const BenchCircuit& circuit) const;
    void change_each(BenchState& state, Seen& out) const;
    void find_gates(const Seen& seen);
    [[nodiscard]] std::string gate_told(const Sight& sight, const Seen& seen) const;
    /// A late reply and reversed bits, which no circuit shows.
    void disturb(Columns& columns, const BenchCircuit& circuit) const;
    void pulse_loads(BenchState& state) const;
    void set_pattern(BenchState& state, int pattern, bool controls) const;
    [[nodiscard]] bool bit_of(std::size_t line, int pattern) const;
    /// The line whose word stands there, and whether it is inverted.
    [[nodiscard]] std::optional<std::pair<std::size_t, bool>> line_at(const std::string& column) const;
    [[nodiscard]] std::string told(const Sight& sight, const Seen& seen) const;

    const BenchBoard& b_;
    int patterns_ = 0;
    std::vector<std::size_t> clocks_;
    std::vector<bool> analogue_;  // of watched
    bool gates_ = true;           ///< some lines show only while others stand right
    std::vector<Sight> expected_;
};

}  // namespace grayrelic
