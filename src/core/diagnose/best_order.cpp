// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/best_order.hpp"

#include <algorithm>
#include <limits>
#include <map>
#include <set>

namespace grayrelic {
namespace {

class OrderWork {
  public:
    OrderWork(const std::vector<double>& chances, const std::vector<OrderTest>& tests) : chances_(chances) {
        // Tests that part the things alike: the cheapest of them.
        std::map<std::vector<std::uint16_t>, std::size_t> best;
        for (std::size_t i = 0; i < tests.size(); ++i) {
            std::map<std::uint16_t, std::uint16_t> number;
            std::vector<std::uint16_t> parts;
            parts.reserve(chances.size());
            for (std::size_t k = 0; k < chances.size(); ++k)
                parts.push_back(
                    number.emplace(tests[i].shows[k], static_cast<std::uint16_t>(number.size())).first->second);
            if (number.size() < 2) continue;
            const auto [it, fresh] = best.emplace(std::move(parts), i);
            if (!fresh && tests[i].effort < tests[it->second].effort) it->second = i;
        }
        for (auto& [parts, i] : best) tests_.push_back({parts, tests[i].effort, i});
        solved_.assign(std::size_t{1} << chances.size(), {});
    }

    BestOrder work() {
        const auto all = static_cast<unsigned>((std::size_t{1} << chances_.size()) - 1);
        BestOrder out;
        const auto& s = solve(all);
        out.effort = s.effort;
        if (s.test) out.first = tests_[*s.test].number;
        out.tests.resize(chances_.size(), 0);
        for (std::size_t k = 0; k < chances_.size(); ++k) {
            unsigned left = all;
            while (const auto test = solve(left).test) {
                out.tests[k] += 1;
                left = same_as(left, *test, k);
            }
        }
        return out;
    }

  private:
    struct Test {
        std::vector<std::uint16_t> parts;
        double effort;
        std::size_t number;
    };
    struct Solved {
        bool done = false;
        double effort = 0;
        std::optional<std::size_t> test;
    };

    unsigned same_as(unsigned set, std::size_t test, std::size_t thing) const {
        unsigned out = 0;
        for (std::size_t k = 0; k < chances_.size(); ++k)
            if ((set >> k & 1U) != 0 && tests_[test].parts[k] == tests_[test].parts[thing]) out |= 1U << k;
        return out;
    }
    double weight(unsigned set) const {
        double w = 0;
        for (std::size_t k = 0; k < chances_.size(); ++k)
            if ((set >> k & 1U) != 0) w += chances_[k];
        return w;
    }

    const Solved& solve(unsigned set) {
        auto& s = solved_[set];
        if (s.done) return s;
        s.done = true;
        const double whole = weight(set);
        double least = std::numeric_limits<double>::infinity();
        for (std::size_t t = 0; t < tests_.size(); ++t) {
            double effort = tests_[t].effort;
            bool parts = false;
            unsigned left = set;
            while (left != 0 && effort < least) {
                std::size_t k = 0;
                while ((left >> k & 1U) == 0) ++k;
                const auto some = same_as(set, t, k);
                if (some == set) break;
                parts = true;
                effort += (whole > 0 ? weight(some) / whole : 0) * solve(some).effort;
                left &= ~some;
            }
            if (parts && left == 0 && effort < least) {
                least = effort;
                s.effort = effort;
                s.test = t;
            }
        }
        return s;
    }

    const std::vector<double>& chances_;
    std::vector<Test> tests_;
    std::vector<Solved> solved_;
};

}  // namespace

std::optional<BestOrder> best_order(const std::vector<double>& chances, const std::vector<OrderTest>& tests) {
    if (chances.size() > most_in_order) return std::nullopt;
    return OrderWork(chances, tests).work();
}

}  // namespace grayrelic
