// SPDX-License-Identifier: GPL-3.0-or-later
// Ghosts against exhaustive enumeration: every set of keys of small matrices closed, and the network of lines
// solved by spreading current, with nothing of rectangles or paths; and against closed counts on full
// matrices.
#include "core/input/ghosts.hpp"

#include <fmt/format.h>

#include <bit>
#include <random>
#include <set>

#include "core/input/scan_budget.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

MatrixModel full(std::size_t rows, std::size_t columns) {
    MatrixModel m;
    for (std::size_t r = 0; r < rows; ++r) m.rows.push_back(fmt::format("R{}", r));
    for (std::size_t c = 0; c < columns; ++c) m.columns.push_back(fmt::format("C{}", c));
    for (std::size_t r = 0; r < rows; ++r)
        for (std::size_t c = 0; c < columns; ++c) m.keys.push_back({fmt::format("K{}{}", r, c), r, c});
    return m;
}

GhostCount counted(const MatrixModel& m, std::size_t effort = 100'000'000) {
    Progress progress;
    return count_ghosts(m, progress, effort).value();
}

/// Which lines stand at the strobed row's low while these keys are closed: lines as nodes, each closed key a
/// resistor or a diode from column to row. Spread until nothing changes.
std::set<std::size_t> low_lines(const MatrixModel& m, unsigned closed, std::size_t row) {
    const std::size_t rows = m.rows.size();
    std::set<std::size_t> low{row};
    for (std::size_t before = 0; before != low.size();) {
        before = low.size();
        for (std::size_t k = 0; k < m.keys.size(); ++k) {
            if ((closed >> k & 1U) == 0) continue;
            const auto r = m.keys[k].row, c = rows + m.keys[k].column;
            if (low.count(r) != 0) low.insert(c);
            if (low.count(c) != 0 && !m.keys[k].diode) low.insert(r);
        }
    }
    return low;
}

/// Pairs of (set, faked key) where no smaller part of the set fakes that key: by the set's size.
std::map<int, std::size_t> enumerated(const MatrixModel& m) {
    const auto n = m.keys.size();
    std::vector<unsigned> fakes(1U << n);  // by set, the keys that it fakes
    for (unsigned set = 0; set < fakes.size(); ++set)
        for (std::size_t k = 0; k < n; ++k)
            if ((set >> k & 1U) == 0 &&
                low_lines(m, set, m.keys[k].row).count(m.rows.size() + m.keys[k].column) != 0)
                fakes[set] |= 1U << k;
    std::map<int, std::size_t> out;
    for (unsigned set = 0; set < fakes.size(); ++set)
        for (std::size_t k = 0; k < n; ++k) {
            if ((fakes[set] >> k & 1U) == 0) continue;
            bool least = true;
            for (std::size_t without = 0; without < n; ++without)
                if ((set >> without & 1U) != 0)
                    least = least && (fakes[set & ~(1U << without)] >> k & 1U) == 0;
            if (least) ++out[std::popcount(set)];
        }
    return out;
}

TEST(Ghosts, AgreeWithExhaustiveEnumerationOnTwoHundredMatrices) {
    std::mt19937 random(11);
    const auto pick = [&](std::size_t n) {
        return std::uniform_int_distribution<std::size_t>(0, n - 1)(random);
    };
    std::size_t with_ghosts = 0, with_longer = 0;
    for (int i = 0; i < 200; ++i) {
        auto m = full(2 + pick(3), 2 + pick(3));
        const auto diodes = pick(4);
        std::erase_if(m.keys, [&](const auto&) { return pick(4) == 0; });
        while (m.keys.size() > 12)
            m.keys.erase(m.keys.begin() + static_cast<std::ptrdiff_t>(pick(m.keys.size())));
        for (auto& k : m.keys) k.diode = diodes > 0 && pick(4) < diodes;
        const auto truth = enumerated(m);
        const auto count = counted(m);
        SCOPED_TRACE(fmt::format("case {}", i));
        const auto at = [&](int keys) { return truth.count(keys) != 0 ? truth.at(keys) : 0; };
        EXPECT_EQ(count.sets, at(3));
        std::size_t longer = 0;
        for (const auto& [keys, sets] : truth)
            if (keys > 3) longer += sets;
        EXPECT_EQ(count.longer, longer);
        EXPECT_EQ(count.counted_to, 0U);
        with_ghosts += count.sets > 0 ? 1 : 0;
        with_longer += count.longer > 0 ? 1 : 0;
    }
    EXPECT_GT(with_ghosts, 100U);
    EXPECT_GT(with_longer, 20U);
}

std::size_t choose(std::size_t n, std::size_t k) {
    std::size_t out = 1;
    for (std::size_t i = 0; i < k; ++i) out = out * (n - i) / (i + 1);
    return out;
}

TEST(Ghosts, FullMatricesHaveClosedCounts) {
    // Rings of 2k keys in a full grid: C(rows, k) · C(columns, k) · k! · (k − 1)! / 2, and each can be cut at
    // 2k keys.
    const auto rings = [](std::size_t rows, std::size_t columns, std::size_t k) {
        std::size_t f = 1;
        for (std::size_t i = 2; i <= k; ++i) f *= i;
        return choose(rows, k) * choose(columns, k) * f * (f / k) / 2 * 2 * k;
    };
    for (std::size_t rows = 2; rows <= 6; ++rows)
        for (std::size_t columns = 2; columns <= 6; ++columns) {
            const auto count = counted(full(rows, columns));
            EXPECT_EQ(count.sets, 4 * choose(rows, 2) * choose(columns, 2));
            for (const auto& [keys, sets] : count.by_keys)
                EXPECT_EQ(sets, rings(rows, columns, (keys + 1) / 2));
        }
}

TEST(Ghosts, ADiodeAKeyLeavesNone) {
    auto m = full(5, 7);
    for (auto& k : m.keys) k.diode = true;
    const auto count = counted(m);
    EXPECT_EQ(count.sets, 0U);
    EXPECT_EQ(count.longer, 0U);
}

TEST(Ghosts, WhatIsNotCountedIsSaid) {
    const auto count = counted(full(8, 8), 2'000'000);
    EXPECT_EQ(count.sets, 4U * 28 * 28);
    EXPECT_GT(count.counted_to, 3U);
    EXPECT_LT(count.counted_to, 15U);
}

TEST(Ghosts, ALargeBareMatrixIsCountedAndRankedInLittleMemory) {
    // 130 × 130: 4 · C(130, 2)² = 281,232,900 sets of three; listed they would take tens of gigabytes.
    const auto m = full(130, 130);
    EXPECT_EQ(counted(m, 1000).sets, 281'232'900U);
    EXPECT_EQ(rank_ghosts(m, {{}, 10}).size(), 10U);
}

TEST(Ghosts, AChordThatIsNamedRanksFirst) {
    auto m = full(4, 4);
    for (auto& k : m.keys) {
        k.placed = true;
        k.x = static_cast<double>(k.column) * 4;
        k.y = static_cast<double>(k.row) * 4;
    }
    // K00, K03 and K33 are held together: K30 is what they fake, far apart though they lie.
    const auto worst = rank_ghosts(m, {{{0, 3, 15}}, 3});
    ASSERT_EQ(worst.size(), 3U);
    EXPECT_EQ(m.keys[worst[0].faked].name, "K30");
    EXPECT_EQ(worst[0].likelihood, 1);
    EXPECT_LT(worst[1].likelihood, 1);
    EXPECT_GE(worst[1].likelihood, worst[2].likelihood);
}

TEST(ScanView, ThreeCornersShowTheFourthAndBlockingLeavesThemOut) {
    const auto m = full(2, 2);
    const auto view = scan_view(m, {0, 1, 3});
    EXPECT_EQ(view.ghosts, (std::vector<std::size_t>{2}));
    EXPECT_EQ(view.blocked, (std::vector<std::size_t>{0, 1, 3}));
    auto vacant = m;
    vacant.keys.erase(vacant.keys.begin() + 2);
    const auto other = scan_view(vacant, {0, 1, 2});
    EXPECT_TRUE(other.ghosts.empty()) << "nobody listens to a vacancy";
    EXPECT_TRUE(other.blocked.empty());
}

TEST(GuardCosts, FewDiodesAreEnoughForTheChordsThatAreNamed) {
    const auto m = full(3, 3);
    const std::vector<std::vector<std::size_t>> chords{{0, 1, 4}, {0, 4}, {2, 4, 8}};
    const auto cost = guard_costs(m, chords, counted(m));
    EXPECT_EQ(cost.triples, 84U);        // 9 · 8 · 7 / 6
    EXPECT_EQ(cost.triples_wrong, 36U);  // 4 · 3 · 3
    EXPECT_EQ(cost.chords_wrong, 1U) << "K00 K01 K11 fake K10; K02 K11 K22 lie on no rectangle";
    EXPECT_EQ(cost.needed.size(), 1U);
    auto mended = m;
    for (const auto k : cost.needed) mended.keys[k].diode = true;
    for (const auto& chord : chords) EXPECT_TRUE(scan_view(mended, chord).ghosts.empty());
}

TEST(Pins, AreCountedForEachWayToBuild) {
    const auto p = pins_of(6, 9, 47);
    EXPECT_EQ(p.direct, 15U);
    EXPECT_EQ(p.folded, 14U) << "7 × 7 = 49 positions hold 47 keys; 13 pins hold 6 × 7 = 42 at most";
    EXPECT_EQ(p.folded_rows, 7U);
    EXPECT_EQ(p.decoder, 10U) << "4 address lines for 9, and 6";
    EXPECT_EQ(p.strobe_register, 9U);
}

TEST(Pins, FoldedIsTheFewestOfAllWays) {
    for (std::size_t keys = 1; keys <= 200; ++keys) {
        std::size_t best = 1000;
        for (std::size_t r = 1; r <= 200; ++r)
            for (std::size_t c = 1; c <= 200; ++c)
                if (r * c >= keys) best = std::min(best, r + c);
        EXPECT_EQ(pins_of(1, keys, keys).folded, best) << keys;
    }
}

TEST(ScanBudget, IsFiveTimesTheSlowestEdgeAStrobe) {
    DeviceMap map;
    const auto number = [](const char* key, double value) {
        return NumberFact{key, {value, {}, {EvidenceKind::measured, {}, {}, {}}}};
    };
    map.matrix.numbers = {number("foil_ohm", 500),   number("pull_ohm", 9500), number("farad", 200e-12),
                          number("debounce", 4),     number("volts", 5),       number("driver_ohm", 50),
                          number("register_hz", 1e6)};
    map.modern.poll.value = Time::ms(10);
    const auto n = scan_numbers(map);
    EXPECT_TRUE(n.assumed.empty());
    const auto b = scan_budget(full(6, 9), n, "push-pull");
    // 5 · 10 kΩ · 200 pF = 10 µs; 6 strobes; 4 scans and 10 ms; with registers 15 bits at 1 MHz a strobe.
    EXPECT_NEAR(b.settle_s, 10e-6, 1e-15);
    EXPECT_NEAR(b.scan_s, 60e-6, 1e-15);
    EXPECT_NEAR(b.latency_s, 0.01024, 1e-12);
    EXPECT_NEAR(b.register_scan_s, 150e-6, 1e-15);
    // 5 V · 550 / 10050; 5 V through twice 500 + 50 Ω.
    EXPECT_NEAR(b.low_v, 0.27363, 1e-4);
    EXPECT_NEAR(b.fight_a, 5.0 / 1100, 1e-9);
    EXPECT_EQ(b.fight, Verdict::holds);
    EXPECT_EQ(scan_budget(full(6, 9), n, "").fight, Verdict::doubt)
        << "nobody said how the strobes are driven";
    auto metal = n;
    metal.foil_ohm = 1;
    EXPECT_EQ(scan_budget(full(6, 9), metal, "push-pull").fight, Verdict::stop) << "5 V / 102 Ω = 49 mA";
    EXPECT_EQ(scan_budget(full(6, 9), metal, "open-drain").fight, Verdict::holds);
    auto diodes = full(6, 9);
    for (auto& k : diodes.keys) k.diode = true;
    EXPECT_EQ(scan_budget(diodes, metal, "push-pull").fight, Verdict::holds);
}

TEST(ScanBudget, ANumberThatNobodyMeasuredIsNamed) {
    EXPECT_EQ(scan_numbers({}).assumed.size(), 7U);
}

}  // namespace
}  // namespace grayrelic
