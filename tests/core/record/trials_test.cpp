// SPDX-License-Identifier: GPL-3.0-or-later
// Trials against brute force: all subsets of factors, all setups one change away. The tables are drawn; what
// is expected is counted here from the definitions of cli.md, by sets of rows.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <functional>
#include <map>
#include <random>
#include <set>

#include "core/record/trial_study.hpp"

namespace grayrelic {
namespace {

using Levels = std::vector<std::string>;
using Named = std::set<std::pair<std::size_t, std::string>>;  // factor and value

struct Drawn {
    TrialTable table;
    std::vector<std::size_t> values;  // of each factor
};

std::string value_name(std::size_t v) {
    return std::string(1, static_cast<char>('p' + v));
}

/// A table of runs whose outcome hangs on one value, on two, or on nothing.
Drawn draw(std::mt19937& die, int kind) {
    const auto upto = [&](std::size_t low, std::size_t high) {
        return std::uniform_int_distribution<std::size_t>(low, high)(die);
    };
    Drawn out;
    const auto factors = upto(2, 5);
    for (std::size_t f = 0; f < factors; ++f) {
        out.table.factors.push_back("f" + std::to_string(f));
        out.values.push_back(upto(1, 3));
    }
    const auto cause = upto(0, factors - 1), other = (cause + 1 + upto(0, factors - 2)) % factors;
    const auto runs = upto(2, 12);
    for (std::size_t r = 0; r < runs; ++r) {
        TrialRow row;
        row.line = static_cast<long>(r) + 2;
        for (std::size_t f = 0; f < factors; ++f)
            row.values.push_back(value_name(upto(0, out.values[f] - 1)));
        row.bad = kind == 0   ? row.values[cause] == "p"
                  : kind == 1 ? row.values[cause] == "p" && row.values[other] == "p"
                              : upto(0, 2) == 0;
        row.outcome = row.bad ? "no" : "yes";
        out.table.rows.push_back(std::move(row));
    }
    return out;
}

std::set<std::size_t> rows_of(const TrialTable& t, const Named& named) {
    std::set<std::size_t> out;
    for (std::size_t r = 0; r < t.rows.size(); ++r) {
        bool all = true;
        for (const auto& [f, v] : named) all = all && t.rows[r].values[f] == v;
        if (all) out.insert(r);
    }
    return out;
}

std::set<std::size_t> bad_rows(const TrialTable& t) {
    std::set<std::size_t> out;
    for (std::size_t r = 0; r < t.rows.size(); ++r)
        if (t.rows[r].bad) out.insert(r);
    return out;
}

/// All sets of values of different factors, by size, whose rows are the bad ones.
std::map<std::size_t, std::set<Named>> all_explanations(const TrialTable& t) {
    std::map<std::size_t, std::set<Named>> out;
    const auto bad = bad_rows(t);
    if (bad.empty()) return out;
    const auto& one = t.rows[*bad.begin()].values;  // it has every value that explains
    for (std::size_t subset = 1; subset < std::size_t{1} << t.factors.size(); ++subset) {
        Named named;
        for (std::size_t f = 0; f < t.factors.size(); ++f)
            if ((subset >> f & 1U) != 0) named.emplace(f, one[f]);
        if (rows_of(t, named) == bad) out[named.size()].insert(named);
    }
    return out;
}

Named named_of(const ValueCount& c) {
    Named out;
    for (const auto& v : c.values) out.emplace(v.factor, v.value);
    return out;
}

/// All setups one change away from a run, of values that were seen.
std::set<Levels> neighbours(const TrialTable& t) {
    std::set<Levels> made, out;
    for (const auto& row : t.rows) made.insert(row.values);
    for (const auto& row : t.rows)
        for (std::size_t f = 0; f < t.factors.size(); ++f)
            for (const auto& from : t.rows) {
                auto next = row.values;
                next[f] = from.values[f];
                if (made.count(next) == 0) out.insert(next);
            }
    return out;
}

long split_by(const std::set<Named>& left, const Levels& setup) {
    long still = 0;
    for (const auto& named : left) {
        bool holds = true;
        for (const auto& [f, v] : named) holds = holds && setup[f] == v;
        still += holds ? 1 : 0;
    }
    return std::min(still, static_cast<long>(left.size()) - still);
}

TEST(Trials, AreAsBruteForceCounts) {
    std::mt19937 die(31);
    int single = 0, pair = 0, none = 0, told_apart = 0;
    for (int n = 0; n < 600; ++n) {
        const auto drawn = draw(die, n % 3);
        const auto& t = drawn.table;
        const auto s = study_trials(t);
        const auto bad = bad_rows(t);
        const auto expected = all_explanations(t);
        SCOPED_TRACE(n);
        ASSERT_EQ(s.bad, static_cast<long>(bad.size()));
        // Each value of each factor once, with its counts.
        std::set<Named> listed, explaining;
        for (const auto& c : s.single) {
            const auto named = named_of(c);
            EXPECT_TRUE(listed.insert(named).second);
            const auto rows = rows_of(t, named);
            long bad_with = 0;
            for (const auto r : rows) bad_with += static_cast<long>(bad.count(r));
            EXPECT_EQ(c.with, static_cast<long>(rows.size()));
            EXPECT_EQ(c.bad_with, bad_with);
            EXPECT_EQ(c.without, static_cast<long>(t.rows.size() - rows.size()));
            EXPECT_EQ(c.bad_without, static_cast<long>(bad.size()) - bad_with);
            if (c.explains) explaining.insert(named);
        }
        std::set<Named> all;
        for (const auto& row : t.rows)
            for (std::size_t f = 0; f < t.factors.size(); ++f) all.insert({{f, row.values[f]}});
        EXPECT_EQ(listed, all);
        const auto at = [&](std::size_t size) {
            const auto found = expected.find(size);
            return found == expected.end() ? std::set<Named>{} : found->second;
        };
        EXPECT_EQ(explaining, at(1));
        std::set<Named> pairs;
        for (const auto& c : s.pairs)
            if (c.explains) pairs.insert(named_of(c));
        EXPECT_EQ(pairs, explaining.empty() ? at(2) : std::set<Named>{});
        // Confounded: no run has one without the other.
        std::set<std::pair<Named, Named>> confounded, counted;
        for (const auto& [a, b] : s.confounded)
            confounded.insert(std::minmax(Named{{a.factor, a.value}}, Named{{b.factor, b.value}}));
        for (const auto& a : all)
            for (const auto& b : all)
                if (a < b && rows_of(t, a) == rows_of(t, b)) counted.emplace(a, b);
        EXPECT_EQ(confounded, counted);
        // The next run.
        const auto left = explaining.empty() ? pairs : explaining;
        (left.size() == 1 && explaining.empty() ? pair
         : left.size() == 1                     ? single
         : left.empty()                         ? none
                                                : told_apart) += 1;
        if (bad.empty() || left.size() == 1) {
            EXPECT_FALSE(s.next);
            continue;
        }
        const auto near = neighbours(t);
        if (!s.next) {
            EXPECT_TRUE(left.empty() && near.empty()) << s.why;
            continue;
        }
        ASSERT_EQ(s.next->values.size(), t.factors.size());
        std::size_t apart = 0;
        for (std::size_t f = 0; f < t.factors.size(); ++f)
            apart += s.next->values[f] != t.rows[s.next->from].values[f] ? 1 : 0;
        EXPECT_EQ(apart, 1U);
        for (const auto& row : t.rows) EXPECT_NE(row.values, s.next->values);
        if (left.empty()) continue;
        long best = 0;
        for (const auto& setup : near) best = std::max(best, split_by(left, setup));
        EXPECT_GE(split_by(left, s.next->values), std::max(best, 1L)) << s.why;
    }
    // The drawn tables hold all cases.
    EXPECT_GT(single, 20);
    EXPECT_GT(pair, 5);
    EXPECT_GT(none, 50);
    EXPECT_GT(told_apart, 50);
}

TEST(Trials, RunningTheNextOneUntilNoneIsLeftFindsTheCause) {
    std::mt19937 die(32);
    int worlds = 0, found = 0, runs = 0;
    for (int n = 0; n < 400; ++n) {
        auto drawn = draw(die, n % 2);
        auto& t = drawn.table;
        // The truth is told by the first rows: which values fail, as draw() made them.
        const auto bad = bad_rows(t);
        if (bad.empty() || bad.size() == t.rows.size()) continue;
        const auto first = all_explanations(t);
        const auto size = static_cast<std::size_t>(n % 2) + 1;
        if (first.count(size) == 0) continue;
        // One of the explanations that stand is the truth; it is drawn, and answers the runs that are asked.
        const auto& may = first.begin()->second;
        auto truth = *std::next(
            may.begin(), std::uniform_int_distribution<long>(0, static_cast<long>(may.size()) - 1)(die));
        ++worlds;
        for (int step = 0; step < 40; ++step) {
            const auto s = study_trials(t);
            if (!s.next) {
                const auto left = s.explanations();
                found += left.size() == 1 && named_of(*left.front()) == truth ? 1 : 0;
                break;
            }
            TrialRow row;
            row.line = static_cast<long>(t.rows.size()) + 2;
            row.values = s.next->values;
            row.bad = true;
            for (const auto& [f, v] : truth) row.bad = row.bad && row.values[f] == v;
            t.rows.push_back(row);
            ++runs;
        }
    }
    EXPECT_GT(worlds, 150);
    EXPECT_EQ(found, worlds);
    EXPECT_LT(static_cast<double>(runs) / worlds, 4.0);
}

TEST(Trials, ChanceIsTheHypergeometricTail) {
    // 6 runs, 3 failed, all 3 with the value and no other: 1 way of C(6,3) = 20.
    TrialTable t;
    t.factors = {"host"};
    for (int i = 0; i < 6; ++i) t.rows.push_back({i + 2, {}, {i < 3 ? "second" : "first"}, "", i < 3, {}});
    const auto s = study_trials(t);
    EXPECT_NEAR(s.single[0].by_chance, 1.0 / 20, 1e-12);
    EXPECT_TRUE(s.single[0].explains);
    EXPECT_FALSE(s.next);
    EXPECT_THAT(s.why, testing::HasSubstr("1 time in 20"));
    // 2 of 4 with it fail, 1 of 2 without: at least 2 bad among 4 of 6 with 3 bad:
    // (C(3,2)C(3,2)+C(3,3)C(3,1))/C(6,4) = (9 + 3)/15.
    for (int i = 0; i < 6; ++i) {
        t.rows[static_cast<std::size_t>(i)].values = {i < 4 ? "a" : "b"};
        t.rows[static_cast<std::size_t>(i)].bad = i == 0 || i == 1 || i == 4;
    }
    EXPECT_NEAR(study_trials(t).single[0].by_chance, 12.0 / 15, 1e-12);
}

TEST(Trials, AFactorWithOneValueIsChangedToAnyOther) {
    // Both factors always had one value, and every run failed: both explain, and only another value tells.
    TrialTable t;
    t.factors = {"cable", "host"};
    t.rows = {{2, {}, {"long", "first"}, "no", true, {}}, {3, {}, {"long", "first"}, "no", true, {}}};
    const auto s = study_trials(t);
    ASSERT_TRUE(s.next);
    EXPECT_TRUE(s.next->other_value);
    EXPECT_EQ(s.next->values, (Levels{"other than long", "first"}));
    EXPECT_EQ(s.confounded.size(), 1U);
}

TEST(Trials, DoubleRunsThatDisagreeAreNamed) {
    const auto t = read_trials("host,cable,went\nfirst,short,yes\nfirst,short,no\nsecond,short,yes\n",
                               "t.csv", {"went", "no", {}, {}});
    ASSERT_TRUE(t);
    const auto s = study_trials(*t);
    ASSERT_EQ(s.disagree.size(), 1U);
    EXPECT_EQ(t->rows[s.disagree[0].first].line, 2);
    EXPECT_EQ(t->rows[s.disagree[0].second].line, 3);
    EXPECT_TRUE(s.explanations().empty());
    // One of two failed: five in a row that work are needed, as 0.5^5 = 0.03 < 0.05 < 0.5^4 = 0.06.
    EXPECT_THAT(s.why, testing::HasSubstr("when 5 in a row work"));
}

TEST(Trials, BadTablesAreRefusedWithTheirLine) {
    const TrialColumns columns{"went", "no", {}, {}};
    const auto message = [&](const char* text, TrialColumns c) {
        const auto t = read_trials(text, "t.csv", c);
        return t ? std::string("taken") : t.error().message();
    };
    EXPECT_THAT(message("host,went\nfirst,yes\n,no\n", columns),
                testing::StartsWith("t.csv:3: found nothing below \"host\""));
    EXPECT_THAT(message("host,went\nfirst\n", columns),
                testing::StartsWith("t.csv:2: found nothing below \"went\""));
    EXPECT_THAT(message("host,outcome\nfirst,yes\n", columns),
                testing::StartsWith("t.csv:1: found the columns host, outcome"));
    EXPECT_THAT(message("host,host,went\na,b,no\n", columns),
                testing::StartsWith("t.csv:1: found the column \"host\" a second time"));
    EXPECT_THAT(message("host,went\nfirst,yes,more\n", columns),
                testing::StartsWith("t.csv:2: found 3 cells"));
    EXPECT_THAT(message("host,went\n", columns),
                testing::StartsWith("t.csv:1: found a heading without runs"));
    EXPECT_THAT(message("", columns), testing::StartsWith("t.csv:1: "));
    EXPECT_THAT(message("host,lost,went\nfirst,much,no\n", {"went", "no", "lost", {}}),
                testing::StartsWith("t.csv:2: found \"much\""));
    EXPECT_EQ(message("host,note,went\nfirst,,no\n", {"went", "no", {}, {"note"}}), "taken");
}

TEST(Trials, DaysSayWhenAndAreNoFactor) {
    const auto t =
        read_trials("day,host,went\n2026-11-02,a,yes\n2026-11-01,b,no\n", "t.csv", {"went", "no", {}, {}});
    ASSERT_TRUE(t);
    EXPECT_EQ(t->factors, std::vector<std::string>{"host"});
    ASSERT_EQ(t->late.size(), 1U);
    EXPECT_EQ(t->late[0].line, 3);
    EXPECT_THAT(t->late[0].message(), testing::HasSubstr("\"2026-11-01\" after \"2026-11-02\""));
}

TEST(Trials, DegreesAreShownWithAndWithout) {
    const auto t =
        read_trials("host,lost,went\na,10,no\na,30,no\nb,1,yes\n", "t.csv", {"went", "no", "lost", {}});
    ASSERT_TRUE(t);
    const auto s = study_trials(*t);
    EXPECT_DOUBLE_EQ(s.single[0].degree_with.value(), 20);
    EXPECT_DOUBLE_EQ(s.single[0].degree_without.value(), 1);
}

}  // namespace
}  // namespace grayrelic
