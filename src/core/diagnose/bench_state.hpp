// SPDX-License-Identifier: GPL-3.0-or-later
// A board under power: supplies first, then what follows from the levels of its drivers, part by part, until
// nothing changes. Steady states only, no time: each change of an input is let settle.
//
// Supplies are solved once, with all chips drawing what they usually do; what a signal does to a supply
// afterwards is left out. An unpowered chip does nothing; an input that nothing holds is unknown.
#pragma once

#include <map>
#include <optional>
#include <vector>

#include "core/diagnose/faults.hpp"
#include "core/electrical/dc_network.hpp"

namespace grayrelic {

class BenchState {
  public:
    /// All driven lines stand as they idle. `circuit` and its board must outlive it.
    explicit BenchState(const BenchCircuit& circuit);
    /// Index into BenchBoard::driven. What stands afterwards has settled.
    void drive(std::size_t line, bool high);
    /// Against the supplies' ground; nothing where nothing holds the node.
    [[nodiscard]] std::optional<double> volts(int node) const;
    /// A driver whose level can't be told has a say in it.
    [[nodiscard]] bool unknown(int node) const;
    /// '0', '1' or 'x', as what reads it would see it; of a lamp '1' while it is lit; '-' where the module
    /// that should tell is not fed.
    [[nodiscard]] char seen(std::size_t watched) const;
    [[nodiscard]] bool oscillates() const { return oscillates_; }

  private:
    struct Driver {
        int node = -1;
        double volts = 0, ohm = 0;
        bool on = false, unknown = false;
    };
    struct Group {
        std::vector<int> nodes;                                    // of signals
        std::vector<std::size_t> edges;                            // into edges_
        std::vector<std::size_t> drivers;                          // into drivers_
        std::map<std::vector<double>, std::vector<double>> known;  // what the drivers give to the volts
        bool held_by_edge = false, stale = true;
    };
    struct Edge {
        int a = 0, b = 0;
        double ohm = 0;
        std::optional<double> drop;
    };
    /// An expression with where each of its names stands: an input, or (below 0) a bit; see term_of().
    struct Term {
        const Expression* expression = nullptr;
        std::vector<int> names;
    };
    struct Chip {
        std::size_t thing = 0;
        bool powered = false;
        double vcc = 0, gnd = 0;
        std::vector<int> inputs;            // nodes of logic->inputs
        std::vector<std::size_t> outputs;   // drivers of logic->outputs
        std::vector<Levels> level, before;  // of inputs
        std::vector<Levels> bits;
        std::vector<Term> values, enables;  // of logic->outputs
        struct Rule {
            std::size_t pin = 0;  // of an edge
            Term condition;
            std::vector<std::pair<std::size_t, Term>> set;
        };
        std::vector<Rule> rules;  // of logic->rules
    };
    void gather();
    void mark_rails();
    void add_load(std::size_t thing, const std::vector<int>& number, DcNetwork& net) const;
    void solve_supplies();
    void make_drivers();
    void make_groups();
    void make_chips();
    void settle();
    bool spread();
    bool update_bits();
    void solve(Group& group);
    [[nodiscard]] std::vector<double> solve_linear(const Group& group, const std::vector<double>& now) const;
    [[nodiscard]] std::vector<double> solve_drops(const Group& group, const std::vector<double>& now) const;
    void set_output(Chip& chip, std::size_t output);
    [[nodiscard]] static Term term_of(const Expression& e, const PartLogic& logic);
    [[nodiscard]] static Levels value_of(const Term& term, const Chip& chip);
    void set_driver(std::size_t driver, double volts, bool on);
    [[nodiscard]] Levels level_at(int node, double low_max, double high_min) const;
    [[nodiscard]] std::optional<double> pin_volts(std::size_t thing, std::string_view name) const;
    [[nodiscard]] bool is_rail(int node) const { return node >= 0 && rail_[static_cast<std::size_t>(node)]; }

    const BenchCircuit& c_;
    std::vector<bool> rail_;
    std::vector<std::optional<double>> volts_;  // by node
    std::vector<Edge> edges_;
    std::vector<Driver> drivers_;
    std::vector<bool> tells_;       // of BenchBoard::watched
    std::vector<int> line_driver_;  // of BenchBoard::driven, −1 where it leads nowhere
    std::vector<Group> groups_;
    std::vector<int> group_of_;  // by node, −1
    std::vector<Chip> chips_;
    std::vector<std::size_t> stale_;     // groups whose drivers changed
    std::vector<std::size_t> restless_;  // drivers that changed in the last rounds of a settling
    bool oscillates_ = false, noting_ = false;
};

}  // namespace grayrelic
