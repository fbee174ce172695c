// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/trial_study.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <boost/math/distributions/hypergeometric.hpp>
#include <map>

#include "core/base/statistics.hpp"
#include "core/base/text.hpp"
#include "core/record/next_trial.hpp"

namespace grayrelic {
namespace {

using Rows = std::vector<bool>;

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

ValueCount count_of(const TrialTable& table, std::vector<FactorValue> values, const Rows& has, long bad) {
    ValueCount c;
    c.values = std::move(values);
    std::vector<double> with, without;
    for (std::size_t r = 0; r < table.rows.size(); ++r) {
        const auto& row = table.rows[r];
        (has[r] ? c.with : c.without) += 1;
        if (row.bad) (has[r] ? c.bad_with : c.bad_without) += 1;
        if (row.degree) (has[r] ? with : without).push_back(*row.degree);
    }
    c.explains = c.with > 0 && c.bad_with == c.with && c.bad_without == 0;
    c.by_chance = chance_of(static_cast<long>(table.rows.size()), bad, c.with, c.bad_with);
    c.degree_with = median_of(std::move(with));
    c.degree_without = median_of(std::move(without));
    return c;
}

Rows rows_with(const TrialTable& table, std::size_t factor, const std::string& value) {
    Rows out(table.rows.size());
    for (std::size_t r = 0; r < table.rows.size(); ++r) out[r] = table.rows[r].values[factor] == value;
    return out;
}

/// All values of all factors, in the order they first come, with the runs that have them.
void count_singles(const TrialTable& table, TrialStudy& out, std::vector<Rows>& rows) {
    for (std::size_t f = 0; f < table.factors.size(); ++f)
        for (const auto& value : values_of(table, f)) {
            rows.push_back(rows_with(table, f, value));
            out.single.push_back(count_of(table, {{f, value}}, rows.back(), out.bad));
        }
}

void find_confounded(const std::vector<Rows>& rows, TrialStudy& out) {
    std::map<Rows, std::vector<std::size_t>> alike;
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
void count_pairs(const TrialTable& table, TrialStudy& out, const std::vector<Rows>& rows) {
    std::vector<std::size_t> in_bad;
    for (std::size_t i = 0; i < out.single.size(); ++i)
        if (out.single[i].bad_with > 0) in_bad.push_back(i);
    const bool all = in_bad.size() * in_bad.size() / 2 <= most_pairs;
    for (std::size_t i = 0; i < in_bad.size(); ++i)
        for (std::size_t k = i + 1; k < in_bad.size(); ++k) {
            const auto &a = out.single[in_bad[i]], &b = out.single[in_bad[k]];
            if (a.values.front().factor == b.values.front().factor) continue;
            if (!all && (a.bad_with < out.bad || b.bad_with < out.bad)) continue;
            Rows both(table.rows.size());
            for (std::size_t r = 0; r < both.size(); ++r) both[r] = rows[in_bad[i]][r] && rows[in_bad[k]][r];
            auto count = count_of(table, {a.values.front(), b.values.front()}, both, out.bad);
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
    for (const auto& row : table.rows)
        if (std::find(out.begin(), out.end(), row.values[factor]) == out.end())
            out.push_back(row.values[factor]);
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
    std::vector<Rows> rows;
    count_singles(table, out, rows);
    find_confounded(rows, out);
    find_disagreements(table, out);
    const bool one_does =
        std::any_of(out.single.begin(), out.single.end(), [](const ValueCount& c) { return c.explains; });
    if (out.bad > 0 && !one_does) count_pairs(table, out, rows);
    propose_next(table, out);
    return out;
}

}  // namespace grayrelic
