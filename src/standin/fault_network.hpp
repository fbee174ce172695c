// SPDX-License-Identifier: GPL-3.0-or-later
// A whole board as one network of conductances, diodes and chips, with one fault in it. For fault_bench.cpp.
#pragma once

#include <Eigen/SparseCholesky>
#include <cmath>
#include <map>
#include <memory>
#include <set>
#include <string>
#include <utility>
#include <vector>

#include "core/base/random.hpp"
#include "core/diagnose/bench_board.hpp"
#include "standin/bench_chips.hpp"

namespace grayrelic::standin {

/// Two names.
using NamePair = std::pair<std::string, std::string>;
[[nodiscard]] std::string part_of(const std::string& lead);
/// Pairs of nets that solder may bridge; `leads` (null for none) gets a place of each.
[[nodiscard]] std::vector<NamePair> bridges(const BenchBoard& board, std::map<NamePair, NamePair>* leads);

/// Conductances between nodes, sources, diodes and chips; one fault in it.
class FaultNetwork {
  public:
    FaultNetwork(const BenchBoard& b, std::uint64_t seed, const std::string& fault) : b_(b), random_(seed) {
        for (std::size_t i = 0; i < b.nets.size(); ++i)
            for (const auto& lead : b.nets[i].leads) node_[lead] = static_cast<int>(i);
        for (const auto& t : b.things)
            for (const auto& p : t.pins) node_.emplace(t.ref + "." + p.number, p.net);
        nodes_ = static_cast<int>(b.nets.size());
        for (const auto& t : b.things) {
            values_[t.ref] = t.value * (1 + t.tolerance * random_.uniform(-0.9, 0.9));
            for (const auto& p : t.pins) far_[t.ref + "." + p.number] = t.ref + "." + p.number;
        }
        const auto colon = fault.find(": ");
        if (colon != std::string::npos) break_it(fault.substr(0, colon), fault.substr(colon + 2));
        build();
    }

    std::string unable;
    std::string broken_kind, broken_part;
    bool late = false, turned_order = false;
    std::string odd_line;

    int node(const std::string& lead) const;

    // --- power off -------------------------------------------------------------------------------------
    double ohms(int a, int c);
    /// A milliampere in, as meters do; at most 2.8 V.
    double diode_range(int a, int c);
    double farads(int a, int c);

    // --- power on --------------------------------------------------------------------------------------
    void power(const std::vector<bool>& lines);
    void line(std::size_t i, bool high) {
        lines_[i] = high;
        settle();
    }
    double volts(int n) const { return n < 0 ? 0 : volts_[static_cast<std::size_t>(n)]; }
    bool module_fed(const std::string& ref) const;
    int watched(std::size_t i) const { return watched_[i]; }
    double lamp_amps(const std::string& ref) const {
        for (const auto& d : diodes_)
            if (d.ref == ref) return law(d, volts(d.from) - volts(d.to));
        return 0;
    }

  private:
    struct Wire {
        int a, b;
        double siemens;
    };
    struct Diode {
        int from, to;
        double drop;  ///< at 10 mA
        std::string ref;
        bool chip = false;
    };
    struct Source {
        int node;
        double volts, ohm;
        std::size_t line = 1000000;  ///< of a driven line
        std::string module{};
        bool limited = false;  ///< a supply gives no more than its limit
    };
    struct Chip {
        std::unique_ptr<BenchChip> does;
        std::map<int, int> node;  ///< by pin number
        std::vector<bool> now, before;
        double threshold = 1.4;
    };
    struct Module {
        std::string ref;
        int plus, minus;
    };
    struct Store {
        int a, b;
        double farad;
    };

    static double law(const Diode& d, double v) {
        const double slope = 0.05, one = 0.01;
        return one * (std::exp(std::min((v - d.drop) / slope, 12.0)) - std::exp(-d.drop / slope));
    }

    void break_it(const std::string& kind, const std::string& place);

    /// A package turned by half: what was pin 1 lies where the pin across the middle should.
    void turn(const std::string& ref);

    void mirror(const std::string& ref);

    int pin(const BenchThing& t, const std::string& name) const {
        for (const auto& p : t.pins)
            if (p.name == name) return node(t.ref + "." + p.number);
        return -1;
    }
    void wire(int a, int c, double ohm) {
        if (a >= 0 && c >= 0 && a != c) wires_.push_back({a, c, 1 / std::max(ohm, 0.02)});
    }

    void build();

    void place(const BenchThing& t);

    void ladder(const BenchThing& t, double r);

    void logic(const BenchThing& t);

    /// Conductances and currents to voltages; each node leaks a little to where it rests.
    std::vector<double> solve(const std::vector<Wire>& wires, const std::vector<double>& into,
                              const std::vector<double>& to_ground);

    void hold_nodes(std::vector<double>& into, std::vector<double>& leak) const;
    bool limit_supplies();
    void solve_now();

    void settle();

    const BenchBoard& b_;
    Random random_;
    std::map<std::string, int> node_;
    std::map<std::string, std::string> far_;  ///< where a contact's wire ends: a lead; empty: nowhere
    std::map<std::string, double> values_;
    std::set<std::string> lost_;
    std::string gone_, other_position_;
    int nodes_ = 0;
    std::vector<Wire> wires_;
    std::set<std::size_t> wired_power_;
    std::vector<Diode> diodes_;
    std::vector<Store> stores_;
    std::vector<Source> sources_;
    std::vector<Chip> chips_;
    std::vector<Module> modules_;
    std::vector<int> watched_;
    std::vector<double> rests_at_, volts_;
    std::vector<bool> lines_;
    Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver_;
};

}  // namespace grayrelic::standin
