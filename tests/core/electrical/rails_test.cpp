// SPDX-License-Identifier: GPL-3.0-or-later
// Rails against an independent solution: all node voltages and branch currents of a random tree as one linear
// system, written from Kirchhoff's laws and domain.md's relations and solved by another library; what is not
// linear (watts, switching converters) by repetition around it. No code is shared with core/electrical.
#include "core/electrical/rails_study.hpp"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <Eigen/Dense>

#include "core/base/random.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

/// A tree as the test knows it; rail 0 is the source's.
struct PlainTree {
    struct Part {
        char kind = 'd';  ///< d drop, s switch, l linear, w switcher
        int from = 0, to = 0;
        double volts = 0, ohm = 0, dropout = 0, iq = 0, theta = 0, efficiency = 0;
    };
    struct Load {
        int rail = 0;
        char kind = 'a';  ///< a ampere, w watt, o ohm
        double value = 0;
    };
    double volts = 0, tolerance = 0;
    std::vector<Part> parts;
    std::vector<Load> loads;
    int rails = 1;

    [[nodiscard]] std::string text() const {
        std::string out = fmt::format("source R0 {:.9g}V ±{:.9g}%\n", volts, 100 * tolerance);
        for (std::size_t i = 0; i < parts.size(); ++i) {
            const auto& p = parts[i];
            const auto way = fmt::format("P{} R{} -> R{}", i, p.from, p.to);
            if (p.kind == 'd') out += fmt::format("drop {} {:.9g}V\n", way, p.volts);
            if (p.kind == 's') out += fmt::format("switch {} ron {:.9g}ohm\n", way, p.ohm);
            if (p.kind == 'l')
                out += fmt::format("linear {} {:.9g}V dropout {:.9g}V iq {:.9g}A theta {:.9g} max 5A\n", way,
                                   p.volts, p.dropout, p.iq, p.theta);
            if (p.kind == 'w')
                out +=
                    fmt::format("switcher {} {:.9g}V eff {:.9g}% max 5A\n", way, p.volts, 100 * p.efficiency);
        }
        for (std::size_t i = 0; i < loads.size(); ++i)
            out += fmt::format("load L{} R{} {:.9g}{}\n", i, loads[i].rail, loads[i].value,
                               loads[i].kind == 'a'   ? "A"
                               : loads[i].kind == 'w' ? "W"
                                                      : "Ω");
        return out;
    }
};

double between(Random& random, double low, double high) {
    return low + (high - low) * random.uniform();
}

/// Parameters from the whole space that a hobbyist's board has, so that every regulator can regulate.
PlainTree random_tree(Random& random) {
    PlainTree t;
    t.volts = between(random, 9, 24);
    t.tolerance = between(random, 0, 0.1);
    std::vector<double> about{t.volts};  // a rough idea of each rail, so that what is drawn makes sense
    const auto parts = 1 + random.below(9);
    for (std::size_t i = 0; i < parts; ++i) {
        PlainTree::Part p;
        p.from = static_cast<int>(random.below(about.size()));
        if (about[static_cast<std::size_t>(p.from)] < 1.5) p.from = 0;
        p.to = t.rails++;
        const double in = about[static_cast<std::size_t>(p.from)];
        const auto kind = in < 3 ? random.below(2) : random.below(4);
        if (kind == 0) {
            p.kind = 'd';
            p.volts = between(random, 0.15, std::min(1.0, in / 5));
            about.push_back(in - p.volts - 0.2);
        } else if (kind == 1) {
            p.kind = 's';
            p.ohm = std::pow(10.0, between(random, -3, -0.3));
            about.push_back(in - 0.3);
        } else if (kind == 2) {
            p.kind = 'l';
            p.dropout = between(random, 0.1, 0.5);
            p.volts = between(random, 0.8, in * 0.8 - 0.6);
            p.iq = between(random, 0, 0.01);
            p.theta = between(random, 20, 200);
            about.push_back(p.volts);
        } else {
            p.kind = 'w';
            p.volts = between(random, 0.8, in * 1.2);
            p.efficiency = between(random, 0.6, 1);
            about.push_back(p.volts);
        }
        t.parts.push_back(p);
    }
    // Each rail has a load, so that every part conducts.
    for (int rail = 0; rail < t.rails; ++rail)
        for (std::size_t n = 1 + random.below(2); n-- > 0;) {
            const double v = about[static_cast<std::size_t>(rail)];
            const auto kind = random.below(3);
            const double amps = between(random, 0.001, 0.05);
            t.loads.push_back({rail,
                               kind == 0   ? 'a'
                               : kind == 1 ? 'w'
                                           : 'o',
                               kind == 0   ? amps
                               : kind == 1 ? amps * v
                                           : v / amps});
        }
    return t;
}

struct Solved {
    std::vector<double> volts, amps, in;  ///< by rail; out of and into each part
    std::vector<double> loads;
};

/// Unknowns: rail voltages, then the current out of each part, then what the source gives.
Solved by_kirchhoff(const PlainTree& t, double source, const std::vector<double>* fixed_amps) {
    const auto rails = static_cast<Eigen::Index>(t.rails), parts = static_cast<Eigen::Index>(t.parts.size());
    std::vector<double> guess(static_cast<std::size_t>(t.rails), source);
    Solved s;
    for (int round = 0; round < 500; ++round) {
        Eigen::MatrixXd m = Eigen::MatrixXd::Zero(rails + parts + 1, rails + parts + 1);
        Eigen::VectorXd b = Eigen::VectorXd::Zero(rails + parts + 1);
        // Row k < rails: what flows into rail k is what flows out of it.
        m(0, rails + parts) = 1;
        for (Eigen::Index i = 0; i < parts; ++i) {
            const auto& p = t.parts[static_cast<std::size_t>(i)];
            const double vin = guess[static_cast<std::size_t>(p.from)];
            m(p.to, rails + i) += 1;
            m(p.from, rails + i) -= p.kind == 'w' ? p.volts / (p.efficiency * vin) : 1.0;
            if (p.kind == 'l') b(p.from) += p.iq;
            const auto row = rails + i;
            if (p.kind == 'd' || p.kind == 's') {
                m(row, p.from) = 1;
                m(row, p.to) = -1;
                m(row, rails + i) = -p.ohm;
                b(row) = p.kind == 'd' ? p.volts : 0;
            } else {
                m(row, p.to) = 1;
                b(row) = p.volts;
            }
        }
        for (std::size_t i = 0; i < t.loads.size(); ++i) {
            const auto& l = t.loads[i];
            if (l.kind == 'o')
                m(l.rail, l.rail) -= 1 / l.value;
            else if (fixed_amps != nullptr)
                b(l.rail) += (*fixed_amps)[i];
            else
                b(l.rail) += l.kind == 'a' ? l.value : l.value / guess[static_cast<std::size_t>(l.rail)];
        }
        m(rails + parts, 0) = 1;
        b(rails + parts) = source;
        const Eigen::VectorXd x = m.fullPivLu().solve(b);
        double moved = 0;
        for (Eigen::Index k = 0; k < rails; ++k) {
            moved = std::max(moved, std::abs(x(k) - guess[static_cast<std::size_t>(k)]));
            guess[static_cast<std::size_t>(k)] = x(k);
        }
        if (moved > 1e-13) continue;
        s.volts = guess;
        for (Eigen::Index i = 0; i < parts; ++i) {
            const auto& p = t.parts[static_cast<std::size_t>(i)];
            s.amps.push_back(x(rails + i));
            s.in.push_back(p.kind == 'w' ? p.volts * x(rails + i) /
                                               (p.efficiency * guess[static_cast<std::size_t>(p.from)])
                           : p.kind == 'l' ? x(rails + i) + p.iq
                                           : x(rails + i));
        }
        for (const auto& l : t.loads) {
            const double v = guess[static_cast<std::size_t>(l.rail)];
            s.loads.push_back(l.kind == 'a' ? l.value : l.kind == 'w' ? l.value / v : v / l.value);
        }
        return s;
    }
    ADD_FAILURE() << "the oracle did not settle for\n" << t.text();
    return s;
}

RailModeFigures figures_of(const std::string& text, double ambient = 25) {
    auto tree = rails_from_text(text, "t.rails");
    EXPECT_TRUE(tree) << (tree ? "" : tree.error().message()) << '\n' << text;
    return tree ? rail_figures(*tree, {}, ambient) : RailModeFigures{};
}

TEST(Rails, AgreeWithAnIndependentSolution) {
    Random random(2511);
    long figures = 0;
    for (int n = 0; n < 300; ++n) {
        const auto t = random_tree(random);
        SCOPED_TRACE(t.text());
        const auto ours = figures_of(t.text());
        ASSERT_TRUE(ours.settled);
        const auto want = by_kirchhoff(t, t.volts, nullptr);
        const auto low = by_kirchhoff(t, t.volts * (1 - t.tolerance), &want.loads);
        const auto high = by_kirchhoff(t, t.volts * (1 + t.tolerance), &want.loads);
        std::vector<double> load(want.volts.size(), 0.0);
        for (std::size_t i = 0; i < t.parts.size(); ++i)
            load[static_cast<std::size_t>(t.parts[i].from)] += want.in[i];
        for (std::size_t i = 0; i < t.loads.size(); ++i)
            load[static_cast<std::size_t>(t.loads[i].rail)] += want.loads[i];
        for (std::size_t k = 0; k < want.volts.size(); ++k) {
            const auto* r = ours.find_rail(fmt::format("R{}", k));
            ASSERT_NE(r, nullptr);
            EXPECT_NEAR(r->volts, want.volts[k], 1e-6);
            EXPECT_NEAR(r->least, low.volts[k], 1e-6);
            EXPECT_NEAR(r->most, high.volts[k], 1e-6);
            EXPECT_NEAR(r->load_a, load[k], 1e-6 * std::max(1.0, load[k]));
            figures += 4;
        }
        for (std::size_t i = 0; i < t.parts.size(); ++i) {
            const auto& p = t.parts[i];
            const double in = want.volts[static_cast<std::size_t>(p.from)],
                         out = want.volts[static_cast<std::size_t>(p.to)];
            // domain.md: (Vin − Vout)·I + Vin·iq; Vout·I/η − Vout·I; R·I²; V·I.
            const double loss = p.kind == 'l'   ? (in - out) * want.amps[i] + in * p.iq
                                : p.kind == 'w' ? out * want.amps[i] * (1 / p.efficiency - 1)
                                : p.kind == 's' ? p.ohm * want.amps[i] * want.amps[i]
                                                : p.volts * want.amps[i];
            EXPECT_NEAR(ours.parts[i].loss_w, loss, 1e-6);
            ++figures;
            if (p.kind != 'l') continue;
            EXPECT_NEAR(*ours.parts[i].junction_c, 25 + p.theta * loss, 1e-3);
            EXPECT_NEAR(*ours.parts[i].headroom_v,
                        low.volts[static_cast<std::size_t>(p.from)] - p.volts - p.dropout, 1e-6);
            figures += 2;
        }
    }
    EXPECT_GT(figures, 5000);
}

TEST(Rails, AddingALoadNeverRaisesARail) {
    Random random(77);
    for (int n = 0; n < 300; ++n) {
        auto t = random_tree(random);
        const auto before = figures_of(t.text());
        t.loads.push_back({static_cast<int>(random.below(static_cast<std::size_t>(t.rails))), 'a',
                           between(random, 0.001, 0.03)});
        const auto after = figures_of(t.text());
        SCOPED_TRACE(t.text());
        for (std::size_t k = 0; k < before.rails.size(); ++k) {
            EXPECT_LE(after.rails[k].volts, before.rails[k].volts + 1e-7);
            EXPECT_LE(after.rails[k].least, before.rails[k].least + 1e-7);
        }
    }
}

constexpr auto example = R"(source USB 5V ±5% limit 500mA            # a rail of the same name
source BRICK 9V ±10% limit 1A
drop   D1 BRICK -> VRAW 0.45V
switch Q1 VRAW -> KBD ron 60mΩ
linear U1 VRAW -> V5 5V dropout 1.5V iq 5mA theta 60 max 1A
switcher U2 VRAW -> V3 3.3V eff 85% max 800mA
load   KEYS KBD 320mA
load   LOGIC V3 40mA in idle 12mA
load   CHIPS V5 200mA
)";

TEST(Rails, TheExampleByHand) {
    auto tree = rails_from_text(example, "e.rails");
    ASSERT_TRUE(tree);
    const auto f = rail_figures(*tree, {}, 25);
    EXPECT_NEAR(f.find_rail("VRAW")->volts, 8.55, 1e-7);
    EXPECT_NEAR(f.find_rail("VRAW")->least, 9 * 0.9 - 0.45, 1e-7);
    EXPECT_NEAR(f.find_rail("VRAW")->most, 9 * 1.1 - 0.45, 1e-7);
    EXPECT_NEAR(f.find_rail("KBD")->volts, 8.55 - 0.32 * 0.06, 1e-7);
    // 0.32 + 0.2 + 0.005 + 3.3·0.04/(0.85·8.55)
    const double total = 0.525 + 3.3 * 0.04 / (0.85 * 8.55);
    EXPECT_NEAR(f.find_rail("BRICK")->load_a, total, 1e-7);
    EXPECT_EQ(f.find_rail("USB")->load_a, 0);
    EXPECT_EQ(f.find_rail("V5")->limit_a, 1.0);
    EXPECT_FALSE(f.find_rail("KBD")->limit_a);
    // (8.55 − 5)·0.2 + 8.55·0.005 = 0.75275 W; 25 + 60 · 0.75275 = 70.165 °C
    EXPECT_NEAR(f.parts[2].loss_w, 0.75275, 1e-6);
    EXPECT_NEAR(*f.parts[2].junction_c, 70.165, 1e-4);
    // 7.65 − 5 − 1.5
    EXPECT_NEAR(*f.parts[2].headroom_v, 1.15, 1e-6);
    EXPECT_FALSE(f.parts[3].headroom_v);
    EXPECT_EQ(f.verdict(), Verdict::holds);
    const auto idle = rail_figures(*tree, "idle", 25);
    EXPECT_NEAR(idle.find_rail("V3")->load_a, 0.012, 1e-7);
    EXPECT_TRUE(back_feed(*tree).empty());
}

struct Judged {
    const char* text;
    Verdict verdict;
    const char* says;
};

TEST(Rails, VerdictsAtTheirBorders) {
    const Judged cases[] = {
        {"source A 5V limit 100mA\nload L A 90mA\n", Verdict::holds, ""},
        {"source A 5V limit 100mA\nload L A 91mA\n", Verdict::doubt, "less than a tenth"},
        {"source A 5V limit 100mA\nload L A 100mA\n", Verdict::doubt, "less than a tenth"},
        {"source A 5V limit 100mA\nload L A 101mA\n", Verdict::stop, "100 mA at most"},
        {"source A 5V\nload L A 9A\n", Verdict::holds, ""},
        // 6 − 5 − 1 = 0 V left of a dropout of 1 V
        {"source A 6V\nlinear U A -> B 5V dropout 1V max 1A\nload L B 1mA\n", Verdict::doubt,
         "left above the dropout"},
        {"source A 6.05V\nlinear U A -> B 5V dropout 1V max 1A\nload L B 1mA\n", Verdict::doubt,
         "left above the dropout"},
        {"source A 6.15V\nlinear U A -> B 5V dropout 1V max 1A\nload L B 1mA\n", Verdict::holds, ""},
        {"source A 6.15V ±5%\nlinear U A -> B 5V dropout 1V max 1A\nload L B 1mA\n", Verdict::stop, "lacks"},
        {"source A 9V\nlinear U A -> B 5V max 1A\nload L B 1mA\n", Verdict::doubt, "dropout is not said"},
        {"source A 9V\nlinear U A -> B 5V dropout 1V\nload L B 1mA\n", Verdict::doubt,
         "how much it can give"},
        {"source A 9V\nswitcher U A -> B 5V eff 80%\nload L B 1mA\n", Verdict::doubt, "ow much it can give"},
        // 25 + 50 · (10 − 5) · 0.3 = 100 °C; 0.301 A: above; 0.4 A: 125 °C
        {"source A 10V\nlinear U A -> B 5V dropout 1V theta 50 max 1A\nload L B 300mA\n", Verdict::holds, ""},
        {"source A 10V\nlinear U A -> B 5V dropout 1V theta 50 max 1A\nload L B 302mA\n", Verdict::doubt,
         "°C"},
        {"source A 10V\nlinear U A -> B 5V dropout 1V theta 50 max 1A\nload L B 402mA\n", Verdict::stop,
         "too much"},
        {"source A 5V ±10%\nload L A 1mA works 4.6V\n", Verdict::stop, "needs"},
        {"source A 5V ±10%\nload L A 1mA dies 5.4V\n", Verdict::stop, "endures"},
        {"source A 5V ±10%\nload L A 1mA works 4.5V dies 5.5V\n", Verdict::holds, ""},
        // More power than 5²/(4·10) = 0.625 W can't come through 10 Ω.
        {"source A 5V ri 10Ω\nload L A 0.7W\n", Verdict::stop, "more power"},
        {"source A 5V ri 10Ω\nload L A 0.5W\n", Verdict::holds, ""},
    };
    for (const auto& c : cases) {
        SCOPED_TRACE(c.text);
        const auto f = figures_of(c.text);
        EXPECT_EQ(f.verdict(), c.verdict);
        std::string why;
        for (const auto& r : f.rails) why += r.why;
        for (const auto& p : f.parts) why += p.why;
        for (const auto& l : f.loads) why += l.why;
        if (*c.says != 0) {
            EXPECT_THAT(why, HasSubstr(std::string(c.says).substr(1)));
        } else {
            EXPECT_EQ(why, "");
        }
    }
}

TEST(Rails, ConstantPowerTakesTheHigherOfTheTwoVolts) {
    // V² − 5V + P·R = 0 with P·R = 5: (5 + √5)/2
    const auto f = figures_of("source A 5V ri 10Ω\nload L A 0.5W\n");
    EXPECT_NEAR(f.find_rail("A")->volts, (5 + std::sqrt(5.0)) / 2, 1e-6);
}

TEST(Rails, OfTwoFeedsTheHigherCarriesTheRail) {
    // 9 − 0.1 · 0.05 through the switch; the diode gives nothing at 4.6 V.
    const auto f = figures_of(
        "source A 5V\nsource B 9V\ndrop D A -> V 0.4V\nswitch S B -> V ron 0.05Ω\nload L V 100mA\n");
    EXPECT_NEAR(f.find_rail("V")->volts, 9 - 0.1 * 0.05, 1e-7);
    EXPECT_EQ(f.find_rail("A")->load_a, 0);
    // Both through switches: what would flow back is back-feed, not the rail's load.
    const auto both = figures_of(
        "source A 5V limit 1A\nsource B 9V limit 1A\nswitch R A -> V ron 0.05Ω\nswitch S B -> V ron "
        "0.05Ω\nload L V 100mA\n");
    EXPECT_NEAR(both.find_rail("V")->volts, 9 - 0.1 * 0.05, 1e-7);
    EXPECT_NEAR(both.find_rail("B")->load_a, 0.1, 1e-7);
    EXPECT_EQ(both.find_rail("A")->load_a, 0);
    // Onto a rail that has a source of its own, which is lower.
    const auto onto = figures_of("source A 5V\nsource B 9V\ndrop S B -> A 0.3V\nload L A 100mA dies 6V\n");
    EXPECT_NEAR(onto.find_rail("A")->volts, 8.7, 1e-7);
    EXPECT_EQ(onto.verdict(), Verdict::stop);
}

}  // namespace
}  // namespace grayrelic
