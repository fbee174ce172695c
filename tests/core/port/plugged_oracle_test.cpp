// SPDX-License-Identifier: GPL-3.0-or-later
// The currents of circuits that meet at random, against a nodal solution written apart: every element a
// smooth law of its own voltage, Newton's method on Kirchhoff's currents, dense elimination of another
// library. The program assumes states and changes them; here are none.
#include <fmt/format.h>

#include <Eigen/Dense>

#include <cmath>
#include <random>

#include "core/port/pin_entry.hpp"
#include "core/port/plugged.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

/// Currents as smooth functions of the voltage across.
class SmoothCircuit {
  public:
    int node() { return nodes_++; }
    void ohm(int a, int b, double r) { parts_.push_back({a, b, 0, r, 0, 1e9}); }
    /// Conducts from a to b above v.
    void diode(int a, int b, double v, double r) { parts_.push_back({a, b, 1, r, v, 1e9}); }
    /// Holds node b at v behind r, against ground, giving at most this.
    std::size_t source(int b, double v, double r, double most = 1e9) {
        parts_.push_back({0, b, 2, r, v, most});
        return parts_.size() - 1;
    }
    bool solve() {
        v_ = Eigen::VectorXd::Zero(nodes_);
        // The diodes' knees are sharpened step by step.
        for (const double knee : {0.3, 0.1, 0.03, 0.01, 0.003, 0.001})
            if (!newton(knee)) return false;
        return true;
    }
    [[nodiscard]] double volts(int n) const { return v_[n]; }
    [[nodiscard]] double between(int a, int b, double r) const { return (v_[a] - v_[b]) / r; }

  private:
    struct Part {
        int a, b, kind;
        double r, v, most;
    };
    /// Current from a to b and its slope.
    [[nodiscard]] std::pair<double, double> current(const Part& p, double knee) const {
        const double across = v_[p.a] - v_[p.b];
        if (p.kind == 0) return {across / p.r, 1 / p.r};
        if (p.kind == 1) {
            const double x = (across - p.v) / knee;
            if (x > 40) return {(across - p.v) / p.r, 1 / p.r};
            if (x < -40) return {1e-12 * across, 1e-12};
            return {knee * std::log1p(std::exp(x)) / p.r + 1e-12 * across,
                    1 / (1 + std::exp(-x)) / p.r + 1e-12};
        }
        const double free = (p.v - v_[p.b]) / p.r;
        if (p.most > 1e8) return {free, 1 / p.r};
        // Rounded where it reaches its limit.
        const double round = knee / p.r, x = (p.most - free) / round;
        if (x > 40) return {free, 1 / p.r};
        if (x < -40) return {p.most, 1e-9};
        return {p.most - round * std::log1p(std::exp(x)), std::max(1e-9, 1 / (1 + std::exp(-x)) / p.r)};
    }
    double residual(double knee, Eigen::VectorXd& f, Eigen::MatrixXd* slope) const {
        f.setZero(nodes_);
        if (slope != nullptr) slope->setZero(nodes_, nodes_);
        for (const auto& p : parts_) {
            const auto [i, g] = current(p, knee);
            f[p.a] += i;
            f[p.b] -= i;
            if (slope == nullptr) continue;
            if (p.kind != 2) {
                (*slope)(p.a, p.a) += g;
                (*slope)(p.a, p.b) -= g;
                (*slope)(p.b, p.a) -= g;
            }
            (*slope)(p.b, p.b) += g;
        }
        for (int n = 1; n < nodes_; ++n) {
            f[n] += 1e-12 * v_[n];
            if (slope != nullptr) (*slope)(n, n) += 1e-12;
        }
        f[0] = 0;
        return f.norm();
    }
    bool newton(double knee) {
        Eigen::VectorXd f;
        Eigen::MatrixXd j;
        for (int round = 0; round < 400; ++round) {
            const double before = residual(knee, f, &j);
            if (before < 1e-9) return true;
            j.row(0).setZero();
            j.col(0).setZero();
            j(0, 0) = 1;
            const Eigen::VectorXd step = j.fullPivLu().solve(f);
            const Eigen::VectorXd from = v_;
            double share = 1;
            for (; share > 1e-6; share /= 2) {
                v_ = from - share * step;
                v_[0] = 0;
                Eigen::VectorXd g;
                if (residual(knee, g, nullptr) < before * (1 - 0.1 * share)) break;
            }
            if ((v_ - from).norm() < 1e-11) return before < 1e-4;
        }
        return false;
    }
    int nodes_ = 1;
    std::vector<Part> parts_;
    Eigen::VectorXd v_;
};

struct Contact {
    enum Kind { rail, ground, output, input } kind;
    std::string family;  // of a signal
};
struct Made {
    double rail_v = 5, limit_a = 0, load_a = 0;
    std::vector<Contact> machine, plug;
    std::vector<std::pair<int, int>> touches;
};

struct Figures {
    double high_v, high_a, low_a;
    bool clamps, collector;
};
Figures of(const std::string& f) {
    if (f == "hct") return {5.5, 0.08, 0.08, true, false};
    if (f == "4000b") return {5.25, 0.006, 0.006, true, false};
    if (f == "ttl") return {5.25, 0.055, 0.1, false, false};
    if (f == "ls") return {5.25, 0.1, 0.1, false, false};
    return {5.0, 0.1, 0.1, true, true};  // an open collector of unknown family: taken as one that clamps
}

/// The largest current through each touch over both levels of both sides.
class Oracle {
  public:
    explicit Oracle(const Made& m) : m_(m), most(m.touches.size(), 0.0) {
        for (const auto& [a, b] : m.touches)
            grounded_ = grounded_ ||
                        (m.machine[at(a)].kind == Contact::ground && m.plug[at(b)].kind == Contact::ground);
    }
    const Made& m_;
    std::vector<double> most;
    bool solved = true;

    void run() {
        for (const bool s : {false, true})
            for (const bool p : {false, true})
                if (supplied(s, p, false) && solved) supplied(s, p, true);
    }

  private:
    static std::size_t at(int i) { return static_cast<std::size_t>(i); }
    bool grounded_ = false;

    bool supplied(bool machine_high, bool plug_high, bool runs) {
        SmoothCircuit c;
        const int machine_rail = c.node(), plug_ground = c.node(), plug_rail = c.node();
        c.source(machine_rail, m_.rail_v, 0.1, m_.limit_a > 0 ? m_.limit_a : 1e9);
        c.diode(plug_rail, plug_ground, 0.0, m_.rail_v / m_.load_a);
        c.diode(plug_ground, plug_rail, 0.7, 0.2);
        std::vector<std::pair<int, int>> ends;
        for (const auto& [a, b] : m_.touches) {
            const int lower = c.node(), upper = c.node();
            c.ohm(lower, upper, 0.01);
            ends.emplace_back(lower, upper);
            place(c, m_.machine[at(a)], lower, machine_rail, 0, true, machine_high, true);
            place(c, m_.plug[at(b)], upper, plug_rail, plug_ground, false, plug_high, runs);
        }
        if (!c.solve()) {
            solved = false;
            return false;
        }
        for (std::size_t i = 0; i < ends.size(); ++i)
            most[i] = std::max(most[i], std::abs(c.between(ends[i].first, ends[i].second, 0.01)));
        return (c.volts(plug_rail) - c.volts(plug_ground)) / m_.rail_v >= 0.7;
    }

    void place(SmoothCircuit& c, const Contact& k, int node, int rail, int ground, bool machine, bool high,
               bool drives) {
        if (k.kind == Contact::rail) return c.ohm(node, rail, 0.001);
        if (k.kind == Contact::ground) return c.ohm(node, ground, 0.001);
        const auto f = of(k.family);
        if (f.clamps) c.diode(node, rail, 0.7, 5);
        c.diode(ground, node, 0.7, 5);
        if (k.kind == Contact::input || !drives || (high && f.collector)) return;
        const double r = high ? f.high_v / f.high_a : 5.0 / f.low_a;
        if (machine || grounded_)
            c.source(node, high ? f.high_v : 0.0, r);
        else if (high)
            c.diode(rail, node, std::max(0.0, 5.0 - f.high_v), r);
        else
            c.ohm(node, ground, r);
    }
};

const char* word_of(const Contact& k, bool machine) {
    if (k.kind == Contact::ground) return "GND";
    if (k.kind == Contact::rail) return "V supply";
    return (k.kind == Contact::output) == machine ? "S relic" : "S bridge";
}

PluggedCase case_of(const Made& m, std::vector<std::unique_ptr<Pin>>& pins, const FamilyLibrary& families) {
    PluggedCase c;
    for (const bool machine : {true, false}) {
        auto& side = machine ? c.socket : c.plug;
        for (const auto& k : machine ? m.machine : m.plug) {
            Pin p;
            p.number = std::to_string(side.terminals.size() + 1);
            auto line = fmt::format("{} {}", word_of(k, machine), k.family);
            if (k.kind == Contact::rail)
                line = fmt::format("V supply {}V {}mA", m.rail_v, 1000 * (machine ? m.limit_a : m.load_a));
            if (k.kind == Contact::rail && machine && m.limit_a == 0)
                line = fmt::format("V supply {}V", m.rail_v);
            const auto entered = pin_with_entry(p, line, {});
            EXPECT_TRUE(entered) << line;
            pins.push_back(std::make_unique<Pin>(*entered));
            side.terminals.push_back(terminal(pins.back().get(), p.number, Side::relic, machine, families));
        }
    }
    c.plug.machine = false;
    c.plug.called = "plug";
    for (const auto& [a, b] : m.touches)
        c.touches.push_back({static_cast<std::size_t>(a), static_cast<std::size_t>(b), false});
    return c;
}

TEST(PluggedOracle, CurrentsAgreeWithANodalSolution) {
    const auto families = FamilyLibrary::load(disk(), {test::source_folder() / "data"});
    std::mt19937 random(20261130);
    const auto pick = [&](int n) { return std::uniform_int_distribution<int>(0, n - 1)(random); };
    constexpr int cases = 400;
    long compared = 0, agree = 0, unsolved = 0;
    std::string first;
    for (int n = 0; n < cases; ++n) {
        Made m;
        m.limit_a = pick(3) == 0 ? 0 : 0.05 * (1 + pick(40));
        m.load_a = 0.02 * (1 + pick(30));
        const int contacts = 2 + pick(6);
        constexpr std::array names{"hct", "ttl", "oc", "4000b", "ls"};
        for (auto* side : {&m.machine, &m.plug}) {
            side->push_back({Contact::rail, ""});
            side->push_back({Contact::ground, ""});
            for (int i = 2; i < contacts; ++i)
                side->push_back({pick(2) == 0   ? Contact::output
                                 : pick(4) == 0 ? Contact::ground
                                                : Contact::input,
                                 names[static_cast<std::size_t>(pick(5))]});
            std::shuffle(side->begin(), side->end(), random);
        }
        std::vector<int> order;
        for (int i = 0; i < contacts; ++i) order.push_back(i);
        std::shuffle(order.begin(), order.end(), random);
        const int touching = 1 + pick(contacts);
        for (int i = 0; i < touching; ++i) m.touches.emplace_back(i, order[static_cast<std::size_t>(i)]);
        Oracle oracle(m);
        oracle.run();
        if (!oracle.solved) {
            ++unsolved;
            continue;
        }
        std::vector<std::unique_ptr<Pin>> pins;
        const auto c = case_of(m, pins, families);
        const auto s = study_plugged(c, true);
        ASSERT_EQ(s.touch_a.size(), oracle.most.size());
        for (std::size_t i = 0; i < s.touch_a.size(); ++i) {
            ++compared;
            const bool same = std::abs(s.touch_a[i] - oracle.most[i]) <= 0.2 * oracle.most[i] + 2e-4;
            agree += same ? 1 : 0;
            if (same || first.size() > 4000) continue;
            first +=
                fmt::format("case {} touch {}: {} A here, {} A there;", n, i, s.touch_a[i], oracle.most[i]);
            for (const auto& t : c.touches)
                first += fmt::format(" {}{}-{}{}", static_cast<int>(c.socket.terminals[t.socket].kind),
                                     m.machine[t.socket].family,
                                     static_cast<int>(c.plug.terminals[t.plug].kind), m.plug[t.plug].family);
            first += fmt::format(" limit {} load {}\n", m.limit_a, m.load_a);
        }
    }
    EXPECT_LT(unsolved, cases / 20);
    EXPECT_GT(compared, 1000);
    EXPECT_EQ(agree, compared) << first;
}

}  // namespace
}  // namespace grayrelic
