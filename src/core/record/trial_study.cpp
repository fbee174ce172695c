// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/trial_study.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <boost/math/distributions/hypergeometric.hpp>
#include <iterator>
#include <map>
#include <set>
#include <string_view>

#include "core/base/statistics.hpp"
#include "core/base/text.hpp"
#include "core/record/next_trial.hpp"

namespace grayrelic {
namespace {

double chance_of(long runs, long bad, long with, long bad_with) {
    // So many of them are bad in any case.
    if (bad_with <= std::max(0L, bad + with - runs)) return 1;
    const boost::math::hypergeometric_distribution<> dealt(
        static_cast<unsigned>(bad), static_cast<unsigned>(with), static_cast<unsigned>(runs));
    return boost::math::cdf(boost::math::complement(dealt, static_cast<unsigned>(bad_with - 1)));
}

std::optional<double> median_of(std::vector<double> values) {
    if (values.empty()) return std::nullopt;
    return summarise(std::move(values)).median;
}

/// What all values are counted against.
struct Totals {
    long runs = 0, bad = 0;
    bool degrees = false;  ///< medians are worth their time
    /// What chance_of() gave, by runs with it and bad ones among them: values by the thousand share few of
    /// these.
    std::map<std::pair<long, long>, double> chances{};
    double chance(long with, long bad_with) {
        const auto [at, is_new] = chances.try_emplace({with, bad_with}, 0.0);
        if (is_new) at->second = chance_of(runs, bad, with, bad_with);
        return at->second;
    }
};

/// Of the runs in `with`, in their order.
ValueCount count_of(const TrialTable& table, std::vector<FactorValue> values,
                    const std::vector<std::size_t>& with, Totals& all) {
    ValueCount c;
    c.values = std::move(values);
    c.with = static_cast<long>(with.size());
    for (const auto r : with) c.bad_with += table.rows[r].bad ? 1 : 0;
    c.without = all.runs - c.with;
    c.bad_without = all.bad - c.bad_with;
    c.explains = c.with > 0 && c.bad_with == c.with && c.bad_without == 0;
    c.by_chance = all.chance(c.with, c.bad_with);
    if (!all.degrees) return c;
    std::vector<double> here, elsewhere;
    auto next = with.begin();
    for (std::size_t r = 0; r < table.rows.size(); ++r) {
        const bool has = next != with.end() && *next == r;
        if (has) ++next;
        if (table.rows[r].degree) (has ? here : elsewhere).push_back(*table.rows[r].degree);
    }
    c.degree_with = median_of(std::move(here));
    c.degree_without = median_of(std::move(elsewhere));
    return c;
}

/// All values of all factors, in the order they first come, with the runs that have them.
void count_singles(const TrialTable& table, Totals& all, TrialStudy& out,
                   std::vector<std::vector<std::size_t>>& rows) {
    for (std::size_t f = 0; f < table.factors.size(); ++f) {
        const auto values = values_of(table, f);
        std::map<std::string_view, std::size_t> place;
        for (std::size_t i = 0; i < values.size(); ++i) place.emplace(values[i], rows.size() + i);
        rows.resize(rows.size() + values.size());
        for (std::size_t r = 0; r < table.rows.size(); ++r)
            rows[place.at(table.rows[r].values[f])].push_back(r);
        for (const auto& value : values)
            out.single.push_back(count_of(table, {{f, value}}, rows[out.single.size()], all));
    }
}

void find_confounded(const std::vector<std::vector<std::size_t>>& rows, TrialStudy& out) {
    std::map<std::vector<std::size_t>, std::vector<std::size_t>> alike;
    for (std::size_t i = 0; i < rows.size(); ++i) alike[rows[i]].push_back(i);
    std::vector<std::pair<std::size_t, std::size_t>> found;
    for (const auto& [has, who] : alike)
        for (std::size_t i = 0; i < who.size(); ++i)
            for (std::size_t k = i + 1; k < who.size(); ++k) {
                if (found.size() >= most_confounded)
                    ++out.confounded_more;
                else
                    found.emplace_back(who[i], who[k]);
            }
    std::sort(found.begin(), found.end());
    for (const auto& [a, b] : found)
        out.confounded.emplace_back(out.single[a].values.front(), out.single[b].values.front());
}

/// Pairs that all bad runs have come first into account: only these can explain.
void count_pairs(const TrialTable& table, Totals& totals, TrialStudy& out,
                 const std::vector<std::vector<std::size_t>>& rows) {
    std::vector<std::size_t> in_bad;
    for (std::size_t i = 0; i < out.single.size(); ++i)
        if (out.single[i].bad_with > 0) in_bad.push_back(i);
    const bool all = in_bad.size() * in_bad.size() / 2 <= most_pairs;
    if (!all) std::erase_if(in_bad, [&](std::size_t i) { return out.single[i].bad_with < out.bad; });
    for (std::size_t i = 0; i < in_bad.size(); ++i)
        for (std::size_t k = i + 1; k < in_bad.size(); ++k) {
            const auto &a = out.single[in_bad[i]], &b = out.single[in_bad[k]];
            if (a.values.front().factor == b.values.front().factor) continue;
            std::vector<std::size_t> both;
            std::set_intersection(rows[in_bad[i]].begin(), rows[in_bad[i]].end(), rows[in_bad[k]].begin(),
                                  rows[in_bad[k]].end(), std::back_inserter(both));
            auto count = count_of(table, {a.values.front(), b.values.front()}, both, totals);
            if (count.bad_with > 0 && (count.explains || out.pairs.size() < most_pairs))
                out.pairs.push_back(std::move(count));
        }
}

void find_disagreements(const TrialTable& table, TrialStudy& out) {
    std::map<std::vector<std::string>, std::size_t> first;
    for (std::size_t r = 0; r < table.rows.size(); ++r) {
        const auto [at, is_new] = first.emplace(table.rows[r].values, r);
        if (!is_new && table.rows[at->second].bad != table.rows[r].bad)
            out.disagree.emplace_back(at->second, r);
    }
}

}  // namespace

std::vector<std::string> values_of(const TrialTable& table, std::size_t factor) {
    std::vector<std::string> out;
    std::set<std::string_view> seen;
    for (const auto& row : table.rows)
        if (seen.insert(row.values[factor]).second) out.push_back(row.values[factor]);
    return out;
}

std::vector<const ValueCount*> TrialStudy::explanations() const {
    std::vector<const ValueCount*> out;
    for (const auto* list : {&single, &pairs})
        for (const auto& c : *list)
            if (c.explains) out.push_back(&c);
    return out;
}

std::string print(const TrialTable& table, const FactorValue& value) {
    return table.factors[value.factor] + " " + value.value;
}

std::string print(const TrialTable& table, const ValueCount& count) {
    std::string out;
    for (const auto& v : count.values) out += (out.empty() ? "" : " with ") + print(table, v);
    return out;
}

TrialStudy study_trials(const TrialTable& table) {
    TrialStudy out;
    out.runs = static_cast<long>(table.rows.size());
    for (const auto& row : table.rows) out.bad += row.bad ? 1 : 0;
    constexpr std::size_t few_rows = 500;
    Totals all{out.runs, out.bad, table.rows.size() <= few_rows};
    std::vector<std::vector<std::size_t>> rows;
    count_singles(table, all, out, rows);
    find_confounded(rows, out);
    find_disagreements(table, out);
    const bool one_does =
        std::any_of(out.single.begin(), out.single.end(), [](const ValueCount& c) { return c.explains; });
    if (out.bad > 0 && !one_does) count_pairs(table, all, out, rows);
    propose_next(table, out);
    return out;
}

}  // namespace grayrelic
