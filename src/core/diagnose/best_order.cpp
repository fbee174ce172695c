// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/best_order.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <unordered_map>

namespace grayrelic {
namespace {

using Set = std::uint32_t;

class OrderWork {
  public:
    OrderWork(const std::vector<double>& chances, const std::vector<OrderTest>& tests, std::size_t most_sets)
        : chances_(chances), most_sets_(most_sets) {
        // Tests that part the things alike: the cheapest of them.
        std::map<std::vector<std::uint16_t>, std::size_t> best;
        for (std::size_t i = 0; i < tests.size(); ++i) {
            std::map<std::uint16_t, std::uint16_t> number;
            std::vector<std::uint16_t> parts;
            parts.reserve(chances.size());
            for (std::size_t k = 0; k < chances.size(); ++k)
                parts.push_back(number.emplace(tests[i].shows[k], static_cast<std::uint16_t>(number.size()))
                                    .first->second);
            if (number.size() < 2) continue;
            most_outcomes_ = std::max(most_outcomes_, number.size());
            const auto [it, fresh] = best.emplace(std::move(parts), i);
            if (!fresh && tests[i].effort < tests[it->second].effort) it->second = i;
        }
        for (auto& [parts, i] : best) {
            Test t{{}, tests[i].effort, i};
            for (std::size_t k = 0; k < chances.size(); ++k) {
                if (parts[k] >= t.outcomes.size()) t.outcomes.resize(parts[k] + 1U, 0);
                t.outcomes[parts[k]] |= Set{1} << k;
            }
            least_effort_ = std::min(least_effort_, t.effort);
            tests_.push_back(std::move(t));
        }
    }

    std::optional<BestOrder> work() {
        const auto all = static_cast<Set>((std::uint64_t{1} << chances_.size()) - 1);
        BestOrder out;
        out.effort = solve(all).effort;
        if (too_many_) return std::nullopt;
        if (const auto test = solve(all).test) out.first = tests_[*test].number;
        out.tests.resize(chances_.size(), 0);
        for (std::size_t k = 0; k < chances_.size(); ++k) {
            Set left = all;
            while (const auto test = solve(left).test) {
                out.tests[k] += 1;
                for (const auto o : tests_[*test].outcomes)
                    if ((o >> k & 1U) != 0) left &= o;
            }
        }
        return too_many_ ? std::nullopt : std::optional(out);
    }

  private:
    struct Test {
        std::vector<Set> outcomes;
        double effort;
        std::size_t number;
    };
    struct Solved {
        double effort = 0;
        std::optional<std::size_t> test;
    };

    double weight(Set set) const {
        double w = 0;
        for (std::size_t k = 0; k < chances_.size(); ++k)
            if ((set >> k & 1U) != 0) w += chances_[k];
        return w;
    }
    /// Only where each thing can be told from each other: else nothing is a bound.
    double least(Set set) const {
        if (!all_parted_ || (set & (set - 1)) == 0) return 0;
        const double whole = weight(set);
        double bits = 0;
        for (std::size_t k = 0; k < chances_.size(); ++k)
            if ((set >> k & 1U) != 0 && chances_[k] > 0)
                bits -= chances_[k] / whole * std::log2(chances_[k] / whole);
        return std::max(1.0, bits / std::log2(static_cast<double>(most_outcomes_))) * least_effort_;
    }

    Solved solve(Set set) {
        if ((set & (set - 1)) == 0) return {};
        if (const auto it = solved_.find(set); it != solved_.end()) return it->second;
        if (solved_.size() > most_sets_) too_many_ = true;
        if (too_many_) return {};
        const double whole = weight(set);
        // The most telling first: it bounds the others.
        std::vector<std::pair<double, std::size_t>> order;
        for (std::size_t t = 0; t < tests_.size(); ++t) {
            double expected = tests_[t].effort;
            int parts = 0;
            for (const auto o : tests_[t].outcomes)
                if ((o & set) != 0) {
                    ++parts;
                    expected += weight(o & set) / whole * least(o & set);
                }
            if (parts > 1) order.emplace_back(expected, t);
        }
        std::sort(order.begin(), order.end());
        Solved best{std::numeric_limits<double>::infinity(), std::nullopt};
        for (const auto& [bound, t] : order) {
            if (bound >= best.effort - 1e-12) break;
            double effort = bound;
            for (const auto o : tests_[t].outcomes) {
                const Set some = o & set;
                if (some == 0) continue;
                effort += weight(some) / whole * (solve(some).effort - least(some));
                if (effort >= best.effort - 1e-12) break;
            }
            if (effort < best.effort - 1e-12) best = {effort, t};
        }
        if (!best.test) best.effort = 0;
        solved_.emplace(set, best);
        return best;
    }

  public:
    /// Is there a test for each two things?
    void look_at_pairs() {
        for (std::size_t a = 0; a < chances_.size() && all_parted_; ++a)
            for (std::size_t b = a + 1; b < chances_.size() && all_parted_; ++b)
                all_parted_ = std::any_of(tests_.begin(), tests_.end(), [&](const Test& t) {
                    return std::any_of(t.outcomes.begin(), t.outcomes.end(),
                                       [&](Set o) { return ((o >> a) & 1U) != ((o >> b) & 1U); });
                });
    }

  private:
    const std::vector<double>& chances_;
    std::size_t most_sets_, most_outcomes_ = 2;
    double least_effort_ = std::numeric_limits<double>::infinity();
    bool too_many_ = false, all_parted_ = true;
    std::vector<Test> tests_;
    std::unordered_map<Set, Solved> solved_;
};

}  // namespace

std::optional<BestOrder> best_order(const std::vector<double>& chances, const std::vector<OrderTest>& tests,
                                    std::size_t most_sets) {
    if (chances.size() > most_in_order) return std::nullopt;
    OrderWork work(chances, tests, most_sets);
    work.look_at_pairs();
    return work.work();
}

}  // namespace grayrelic
