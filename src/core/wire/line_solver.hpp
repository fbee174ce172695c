// SPDX-License-Identifier: GPL-3.0-or-later
// The voltages of one line: used by links.cpp only.
#pragma once

#include <map>

#include "core/electrical/nodal.hpp"
#include "core/wire/links.hpp"

namespace grayrelic {

class LineSolver {
  public:
    LineSolver(const Circuit& circuit, const WireLine& line);
    /// Nothing where the two are one part's pin, or no way leads from one to the other.
    [[nodiscard]] std::optional<LineLink> judge(std::size_t driver, std::size_t receiver) const;
    /// Between two nets of the line, supplies left out.
    [[nodiscard]] std::optional<double> ohm_between(int a, int b) const;
    /// From a net to the supplies and grounds that pull it; nothing where none does.
    [[nodiscard]] std::optional<double> pull_ohm(int net) const;

  private:
    enum class Level { high, low };
    enum class Corner { least, most };
    struct Made {
        NodalNetwork network;
        std::map<int, std::size_t> node;
    };
    /// Resistances of the line with supplies held at a corner; only switches of `way` are on; level shifters
    /// conduct where `lows`.
    [[nodiscard]] Made make(Corner corner, const std::vector<std::size_t>& way, bool lows) const;
    /// Edges on the shortest way between two nets; nothing where there is none.
    [[nodiscard]] std::optional<std::vector<std::size_t>> way(int from, int to) const;
    struct Reach {
        std::optional<double> least_high, most_low;
        double highest = 0, lowest = 0;
        std::string high_problem, low_problem;
        bool high_unknown = false;
    };
    struct Ends {
        const NetEnd* driver;
        const NetEnd* receiver;
        const Family* drives;
        const Family* reads;
        bool shifter;  ///< a level shifter lies between: only lows pass
        /// Both ends stand on one supply: rails, driver and reader are at this corner together.
        std::optional<Corner> together{};
    };
    void solve_high(const Ends& e, const std::vector<std::size_t>& way, Reach& out) const;
    void solve_low(const Ends& e, const std::vector<std::size_t>& way, Reach& out) const;
    void solve_extremes(const Ends& e, const std::vector<std::size_t>& way, Reach& out) const;
    [[nodiscard]] LinkVerdict levels(const Ends& e, const std::vector<std::size_t>& way,
                                     bool may_be_off) const;
    [[nodiscard]] LinkVerdict levels_together(const Ends& e, const std::vector<std::size_t>& way) const;
    void load(Made& made, Level level) const;
    void judge_clamp(const Ends& e, const std::vector<std::size_t>& way, LineLink& link) const;
    void judge_rise(const Ends& e, const std::vector<std::size_t>& way, LineLink& link) const;
    const Circuit& c_;
    const WireLine& line_;
};

}  // namespace grayrelic
