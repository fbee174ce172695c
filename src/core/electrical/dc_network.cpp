// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrical/dc_network.hpp"

#include <Eigen/Dense>
#include <Eigen/SparseLU>
#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

constexpr double least_ohm = 1e-9;
constexpr double small_ohm =
    1e-3;  ///< below it a resistance's current is an unknown of its own: its conductance would drown the rest
constexpr double leak = 1e-12;  ///< siemens from each node to ground: what nothing holds is at 0 V
constexpr double volt_slack = 1e-9, ampere_slack = 1e-12;
constexpr double switcher_starts_v = 0.5;
constexpr int rounds_of_all = 40, most_rounds = 1000;

enum class State { on, off, limited, dropout };

/// One round: the states, the unknowns' places, and the result.
class Round {
  public:
    explicit Round(const DcNetwork& n)
        : n_(n),
          feeds_(n.feeds.size(), State::on),
          drops_(n.drops.size(), State::off),
          draws_(n.draws.size(), State::on),
          regulators_(n.regulators.size(), State::on) {
        for (std::size_t i = 0; i < n.resistances.size(); ++i)
            if (is_small(i)) small_.push_back(i);
        input_v_.reserve(n.regulators.size());
        for (const auto& r : n.regulators) input_v_.push_back(std::max(r.volts, 1.0) * 2);
    }

    void compute();
    /// States that the result contradicts are changed; how many were.
    int change(bool all);
    /// Do switching regulators still take another input than was assumed?
    bool inputs_moved();
    /// Does the answer satisfy the equations?
    [[nodiscard]] bool holds() const {
        return x_.allFinite() && (m_ * x_ - right_).lpNorm<Eigen::Infinity>() <=
                                     1e-7 * std::max(1.0, right_.lpNorm<Eigen::Infinity>());
    }
    [[nodiscard]] DcSolution solution() const;

  private:
    [[nodiscard]] int node(int k) const { return k - 1; }  ///< row of a node; ground has none
    [[nodiscard]] double volts(int k) const { return k == DcNetwork::ground ? 0.0 : x_[node(k)]; }
    [[nodiscard]] double current(std::size_t branch) const {
        return x_[n_.nodes - 1 + static_cast<Eigen::Index>(branch)];
    }
    [[nodiscard]] std::size_t branch_of_drop(std::size_t i) const { return n_.feeds.size() + i; }
    [[nodiscard]] std::size_t branch_of_regulator(std::size_t i) const {
        return n_.feeds.size() + n_.drops.size() + i;
    }
    [[nodiscard]] std::size_t branch_of_small(std::size_t k) const {
        return n_.feeds.size() + n_.drops.size() + n_.regulators.size() + k;
    }
    [[nodiscard]] bool is_small(std::size_t i) const {
        return n_.resistances[i].ohm < small_ohm && n_.resistances[i].a != n_.resistances[i].b;
    }
    void add(Eigen::Index row, Eigen::Index column, double value) {
        entries_.emplace_back(static_cast<int>(row), static_cast<int>(column), value);
    }
    void solve_equations();
    void add_small(std::size_t k);
    void conduct(int a, int b, double siemens);
    void leaves(int k, Eigen::Index column, double share) {
        if (k != DcNetwork::ground) add(node(k), column, share);
    }
    void put(Eigen::Index row, int k, double factor) {
        if (k != DcNetwork::ground) add(row, node(k), factor);
    }
    void add_feed(std::size_t i);
    void add_drop(std::size_t i);
    void add_draw(std::size_t i);
    void add_regulator(std::size_t i);
    [[nodiscard]] State next_of_feed(std::size_t i) const;
    [[nodiscard]] State next_of_drop(std::size_t i) const;
    [[nodiscard]] State next_of_draw(std::size_t i) const;
    [[nodiscard]] State next_of_regulator(std::size_t i) const;
    [[nodiscard]] double reachable(std::size_t i) const;

    const DcNetwork& n_;
    std::vector<State> feeds_, drops_, draws_, regulators_;
    std::vector<std::size_t> small_;  ///< resistances with a current of their own
    std::vector<double> input_v_;     ///< of switching regulators, as assumed
    std::vector<Eigen::Triplet<double>> entries_;
    Eigen::SparseMatrix<double> m_;
    Eigen::VectorXd right_, x_;
};

void Round::conduct(int a, int b, double siemens) {
    for (const auto& [here, there] : {std::pair(a, b), std::pair(b, a)}) {
        if (here == DcNetwork::ground) continue;
        add(node(here), node(here), siemens);
        if (there != DcNetwork::ground) add(node(here), node(there), -siemens);
    }
}

void Round::add_feed(std::size_t i) {
    const auto& f = n_.feeds[i];
    const auto row = n_.nodes - 1 + static_cast<Eigen::Index>(i);
    leaves(f.node, row, -1);
    if (feeds_[i] == State::on) {
        put(row, f.node, 1);
        add(row, row, std::max(f.ohm, least_ohm));
        right_[row] = f.volts;
    } else {
        add(row, row, 1);
        right_[row] = feeds_[i] == State::limited ? f.most_a : 0;
    }
}

void Round::add_drop(std::size_t i) {
    const auto& d = n_.drops[i];
    const auto row = n_.nodes - 1 + static_cast<Eigen::Index>(branch_of_drop(i));
    leaves(d.from, row, 1);
    leaves(d.to, row, -1);
    if (drops_[i] == State::on) {
        put(row, d.from, 1);
        put(row, d.to, -1);
        add(row, row, -std::max(d.ohm, least_ohm));
        right_[row] = d.volts;
    } else {
        add(row, row, 1);
    }
}

void Round::add_small(std::size_t k) {
    const auto& r = n_.resistances[small_[k]];
    const auto row = n_.nodes - 1 + static_cast<Eigen::Index>(branch_of_small(k));
    leaves(r.a, row, 1);
    leaves(r.b, row, -1);
    put(row, r.a, 1);
    put(row, r.b, -1);
    add(row, row, -std::max(r.ohm, least_ohm));
}

void Round::add_draw(std::size_t i) {
    const auto& d = n_.draws[i];
    if (draws_[i] == State::on) {
        if (d.from != DcNetwork::ground) right_[node(d.from)] -= d.amps;
        if (d.to != DcNetwork::ground) right_[node(d.to)] += d.amps;
    } else {
        conduct(d.from, d.to, d.amps / std::max(d.full_v, 1e-3));
    }
}

void Round::add_regulator(std::size_t i) {
    const auto& r = n_.regulators[i];
    const auto row = n_.nodes - 1 + static_cast<Eigen::Index>(branch_of_regulator(i));
    leaves(r.out, row, -1);
    // What its input takes of what its output gives; a switching one by its power at the assumed input.
    const double share =
        r.efficiency > 0 ? r.volts / (r.efficiency * std::max(input_v_[i], switcher_starts_v)) : 1.0;
    leaves(r.in, row, share);
    if (regulators_[i] != State::off && r.in != DcNetwork::ground) right_[node(r.in)] -= r.own_a;
    switch (regulators_[i]) {
        case State::on:
            put(row, r.out, 1);
            add(row, row, least_ohm);
            right_[row] = r.volts;
            break;
        case State::dropout:
            put(row, r.in, 1);
            put(row, r.out, -1);
            add(row, row, -least_ohm);
            right_[row] = r.dropout;
            break;
        case State::limited:
            add(row, row, 1);
            right_[row] = r.most_a;
            break;
        case State::off: add(row, row, 1); break;
    }
}

void Round::compute() {
    const auto size = n_.nodes - 1 + static_cast<Eigen::Index>(branch_of_small(small_.size()));
    entries_.clear();
    right_.setZero(size);
    for (int k = 1; k < n_.nodes; ++k) add(node(k), node(k), leak);
    for (std::size_t i = 0; i < n_.resistances.size(); ++i) {
        const auto& r = n_.resistances[i];
        if (r.a != r.b && !is_small(i)) conduct(r.a, r.b, 1 / r.ohm);
    }
    for (std::size_t k = 0; k < small_.size(); ++k) add_small(k);
    for (std::size_t i = 0; i < n_.feeds.size(); ++i) add_feed(i);
    for (std::size_t i = 0; i < n_.drops.size(); ++i) add_drop(i);
    for (std::size_t i = 0; i < n_.draws.size(); ++i) add_draw(i);
    for (std::size_t i = 0; i < n_.regulators.size(); ++i) add_regulator(i);
    m_.resize(size, size);
    m_.setFromTriplets(entries_.begin(), entries_.end());
    solve_equations();
}

/// A tree has few entries; where the sparse way finds no pivot, and for a few unknowns, the dense one.
void Round::solve_equations() {
    constexpr Eigen::Index few = 40;
    if (m_.rows() > few) {
        Eigen::SparseLU<Eigen::SparseMatrix<double>> lu;
        lu.compute(m_);
        if (lu.info() == Eigen::Success) {
            x_ = lu.solve(right_);
            if (x_.allFinite()) return;
        }
    }
    x_ = Eigen::MatrixXd(m_).partialPivLu().solve(right_);
}

State Round::next_of_feed(std::size_t i) const {
    const auto& f = n_.feeds[i];
    const double v = volts(f.node), a = current(i);
    switch (feeds_[i]) {
        case State::on:
            if (a > f.most_a + ampere_slack) return State::limited;
            if (!f.takes_back && a < -ampere_slack) return State::off;
            return State::on;
        case State::limited: return v > f.volts - f.ohm * f.most_a + volt_slack ? State::on : State::limited;
        default: return v < f.volts - volt_slack ? State::on : State::off;
    }
}

State Round::next_of_drop(std::size_t i) const {
    const auto& d = n_.drops[i];
    if (drops_[i] == State::on) return current(branch_of_drop(i)) < -ampere_slack ? State::off : State::on;
    return volts(d.from) - volts(d.to) > d.volts + volt_slack ? State::on : State::off;
}

State Round::next_of_draw(std::size_t i) const {
    const auto& d = n_.draws[i];
    const double v = volts(d.from) - volts(d.to);
    if (draws_[i] == State::on) return v < d.full_v - volt_slack ? State::off : State::on;
    return v > d.full_v + volt_slack ? State::on : State::off;
}

/// What its output could be held at by its input.
double Round::reachable(std::size_t i) const {
    const auto& r = n_.regulators[i];
    const double in = volts(r.in);
    if (r.efficiency > 0 && r.dropout <= 0) return in > switcher_starts_v ? r.volts : 0.0;
    return std::min(r.volts, in - r.dropout);
}

State Round::next_of_regulator(std::size_t i) const {
    const auto& r = n_.regulators[i];
    const double out = volts(r.out), a = current(branch_of_regulator(i)), can = reachable(i);
    switch (regulators_[i]) {
        case State::on:
        case State::dropout:
            if (a < -ampere_slack || can <= 0) return State::off;
            if (a > r.most_a + ampere_slack) return State::limited;
            if (regulators_[i] == State::on) return can < r.volts - volt_slack ? State::dropout : State::on;
            return out > r.volts + volt_slack ? State::on : State::dropout;
        case State::limited:
            if (can <= 0) return State::off;
            return out > can + volt_slack ? (can < r.volts ? State::dropout : State::on) : State::limited;
        case State::off:
            if (can <= 0 || out >= can - volt_slack) return State::off;
            return can < r.volts ? State::dropout : State::on;
    }
    return State::off;
}

int Round::change(bool all) {
    int changed = 0;
    const auto go = [&](std::vector<State>& states, auto next) {
        for (std::size_t i = 0; i < states.size(); ++i) {
            if (!all && changed > 0) return;
            const auto to = next(i);
            if (to == states[i]) continue;
            states[i] = to;
            ++changed;
        }
    };
    // Sources before what they feed: a chain settles in as many rounds as it is long.
    go(feeds_, [&](std::size_t i) { return next_of_feed(i); });
    go(drops_, [&](std::size_t i) { return next_of_drop(i); });
    go(regulators_, [&](std::size_t i) { return next_of_regulator(i); });
    go(draws_, [&](std::size_t i) { return next_of_draw(i); });
    return changed;
}

bool Round::inputs_moved() {
    bool moved = false;
    for (std::size_t i = 0; i < n_.regulators.size(); ++i) {
        if (n_.regulators[i].efficiency <= 0) continue;
        const double v = std::max(volts(n_.regulators[i].in), switcher_starts_v);
        moved |= std::abs(v - input_v_[i]) > 1e-10 * std::max(1.0, v);
        input_v_[i] = v;
    }
    return moved;
}

DcSolution Round::solution() const {
    DcSolution s;
    s.volts.push_back(0);
    for (int k = 1; k < n_.nodes; ++k) s.volts.push_back(x_[node(k)]);
    for (std::size_t i = 0; i < n_.feeds.size(); ++i) s.feed_a.push_back(current(i));
    for (const auto& r : n_.resistances)
        s.resistance_a.push_back(r.a == r.b ? 0.0 : (volts(r.a) - volts(r.b)) / std::max(r.ohm, small_ohm));
    for (std::size_t k = 0; k < small_.size(); ++k) s.resistance_a[small_[k]] = current(branch_of_small(k));
    for (std::size_t i = 0; i < n_.drops.size(); ++i)
        s.drop_a.push_back(std::max(0.0, current(branch_of_drop(i))));
    for (std::size_t i = 0; i < n_.draws.size(); ++i) {
        const auto& d = n_.draws[i];
        s.draw_a.push_back(draws_[i] == State::on
                               ? d.amps
                               : d.amps * (volts(d.from) - volts(d.to)) / std::max(d.full_v, 1e-3));
    }
    for (std::size_t i = 0; i < n_.regulators.size(); ++i) {
        const auto& r = n_.regulators[i];
        const double a = std::max(0.0, current(branch_of_regulator(i)));
        s.regulator_a.push_back(a);
        const double share =
            r.efficiency > 0 ? r.volts / (r.efficiency * std::max(input_v_[i], switcher_starts_v)) : 1.0;
        s.regulator_in_a.push_back(a * share + (regulators_[i] == State::off ? 0.0 : r.own_a));
    }
    return s;
}

}  // namespace

DcSolution solve(const DcNetwork& network) {
    Round round(network);
    int rounds = 0;
    bool settled = false;
    while (!settled && rounds < most_rounds) {
        ++rounds;
        round.compute();
        const int changed = round.change(rounds <= rounds_of_all);
        settled = changed == 0 && !round.inputs_moved();
    }
    // Things that fight without a resistance between leave the equations without an answer.
    settled = settled && round.holds();
    auto out = round.solution();
    out.settled =
        settled && std::all_of(out.volts.begin(), out.volts.end(), [](double v) { return std::isfinite(v); });
    out.rounds = rounds;
    return out;
}

}  // namespace grayrelic
