// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/next_trial.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

using Values = std::vector<std::string>;

/// "1 in 84": what chance makes of it.
std::string by_chance_text(double p) {
    if (p >= 0.5) return "chance alone does that every second time or more";
    const double times = std::round(1 / p);
    return times > 1e6 ? "chance alone would hardly do that"
                       : fmt::format("chance alone does that 1 time in {:.0f}", times);
}

class Proposer {
  public:
    Proposer(const TrialTable& table, TrialStudy& study) : table_(table), study_(study) {
        for (const auto& row : table.rows) made_.insert(row.values);
        for (std::size_t f = 0; f < table.factors.size(); ++f) values_.push_back(values_of(table, f));
        for (const auto& c : study.single)
            counts_[{c.values.front().factor, c.values.front().value}] = {c.with - c.bad_with, c.by_chance};
    }
    void split_explanations();
    void narrow_down();
    void vary_repeats();

  private:
    /// The values that explanations name, by their factors.
    [[nodiscard]] std::map<std::size_t, Values> suspected() const;
    /// Setups beside a run.
    void consider(std::size_t row, const std::map<std::size_t, Values>& named);
    /// Proposes it where it splits what is left better; false where it was made.
    bool take_if_better(NextTrial next);
    [[nodiscard]] bool holds(const ValueCount& c, const Values& setup) const {
        return std::all_of(c.values.begin(), c.values.end(),
                           [&](const FactorValue& v) { return setup[v.factor] == v.value; });
    }
    /// The values that a factor can be changed to: those seen, most good runs first, else any other.
    [[nodiscard]] Values other_values(std::size_t factor, const std::string& now) const;
    [[nodiscard]] NextTrial changed(std::size_t row, std::size_t factor, const std::string& value) const;
    /// The first setup beside the row that was not made.
    [[nodiscard]] std::optional<NextTrial> beside(std::size_t row) const;
    [[nodiscard]] long good_with(std::size_t factor, const std::string& value) const {
        const auto at = counts_.find({factor, value});
        return at == counts_.end() ? 0 : at->second.first;
    }
    [[nodiscard]] std::string tells(const NextTrial& next) const {
        const auto& from = table_.rows[next.from];
        return fmt::format("Next: as {} {}, but {} {} in place of {}", from.id.empty() ? "line" : "trial",
                           from.id.empty() ? std::to_string(from.line) : from.id, table_.factors[next.factor],
                           next.values[next.factor], from.values[next.factor]);
    }

    const TrialTable& table_;
    TrialStudy& study_;
    std::set<Values> made_;
    std::vector<const ValueCount*> left_;  ///< what still explains
    std::vector<Values> values_;
    /// Of each value: its good runs, and how likely its bad ones are by chance.
    std::map<std::pair<std::size_t, std::string>, std::pair<long, double>> counts_;
};

Values Proposer::other_values(std::size_t factor, const std::string& now) const {
    Values out;
    for (const auto& v : values_[factor])
        if (v != now) out.push_back(v);
    std::stable_sort(out.begin(), out.end(), [&](const std::string& a, const std::string& b) {
        return good_with(factor, a) > good_with(factor, b);
    });
    if (out.empty()) out.push_back("other than " + now);
    return out;
}

NextTrial Proposer::changed(std::size_t row, std::size_t factor, const std::string& value) const {
    NextTrial n;
    n.values = table_.rows[row].values;
    n.values[factor] = value;
    n.from = row;
    n.factor = factor;
    n.other_value = values_[factor].size() < 2;
    return n;
}

std::optional<NextTrial> Proposer::beside(std::size_t row) const {
    for (std::size_t f = 0; f < table_.factors.size(); ++f)
        for (const auto& v : other_values(f, table_.rows[row].values[f])) {
            auto n = changed(row, f, v);
            if (made_.count(n.values) == 0) return n;
        }
    return std::nullopt;
}

std::map<std::size_t, Values> Proposer::suspected() const {
    std::map<std::size_t, Values> out;
    for (const auto* c : left_)
        for (const auto& v : c->values) {
            auto& values = out[v.factor];
            if (std::find(values.begin(), values.end(), v.value) == values.end()) values.push_back(v.value);
        }
    return out;
}

bool Proposer::take_if_better(NextTrial next) {
    if (made_.count(next.values) != 0) return false;
    for (const auto* c : left_) (holds(*c, next.values) ? next.still : next.not_any_more) += 1;
    const auto splits = [](const NextTrial& n) { return std::min(n.still, n.not_any_more); };
    if (splits(next) > (study_.next ? splits(*study_.next) : 0)) study_.next = std::move(next);
    return true;
}

void Proposer::consider(std::size_t row, const std::map<std::size_t, Values>& named) {
    const bool bad = table_.rows[row].bad;
    for (const auto& [f, values] : named) {
        // A good run tells something only where it takes on what is suspected; in a failed one all is, and
        // whatever it is changed to tells the same.
        const auto to = bad ? other_values(f, table_.rows[row].values[f]) : values;
        for (const auto& value : to)
            if (take_if_better(changed(row, f, value)) && bad) break;
    }
}

void Proposer::split_explanations() {
    left_ = study_.explanations();
    const auto named = suspected();
    for (const bool bad : {true, false}) {
        std::set<Values> seen;
        for (std::size_t r = 0; r < table_.rows.size(); ++r)
            if (table_.rows[r].bad == bad && seen.insert(table_.rows[r].values).second) consider(r, named);
    }
    constexpr std::size_t most_named = 4;
    std::vector<std::string> names;
    names.reserve(most_named);
    for (std::size_t i = 0; i < std::min(most_named, left_.size()); ++i)
        names.push_back(print(table_, *left_[i]));
    study_.why =
        fmt::format("{} explain the failures equally well ({}{}): they were always changed together.",
                    plural(static_cast<long long>(left_.size()), "thing", "things"), fmt::join(names, "; "),
                    left_.size() > most_named ? "; …" : "");
    if (study_.next)
        study_.why += fmt::format(" {}: if it fails, {} of them {} left, if it works, {}.",
                                  tells(*study_.next), study_.next->still,
                                  study_.next->still == 1 ? "is" : "are", study_.next->not_any_more);
}

void Proposer::narrow_down() {
    // The failed run and the good one that differ in the fewest factors: what is between them decides. Taken
    // over one by one, beginning with what goes most with failure.
    std::vector<std::vector<std::size_t>> ids(table_.rows.size());  // values by their places
    for (std::size_t f = 0; f < values_.size(); ++f) {
        std::map<std::string_view, std::size_t> place;
        for (std::size_t i = 0; i < values_[f].size(); ++i) place.emplace(values_[f][i], i);
        for (std::size_t r = 0; r < ids.size(); ++r) ids[r].push_back(place.at(table_.rows[r].values[f]));
    }
    std::vector<std::pair<std::size_t, std::pair<std::size_t, std::size_t>>> pairs;
    for (std::size_t b = 0; b < table_.rows.size(); ++b)
        for (std::size_t g = 0; table_.rows[b].bad && g < table_.rows.size(); ++g) {
            if (table_.rows[g].bad) continue;
            std::size_t apart = 0;
            for (std::size_t f = 0; f < table_.factors.size(); ++f) apart += ids[b][f] != ids[g][f] ? 1 : 0;
            if (apart > 1) pairs.push_back({apart, {b, g}});
        }
    std::stable_sort(pairs.begin(), pairs.end(),
                     [](const auto& a, const auto& b) { return a.first < b.first; });
    const auto suspicion = [&](std::size_t f, const std::string& value) {
        return counts_.at({f, value}).second;
    };
    for (const auto& [apart, who] : pairs) {
        const auto &bad = table_.rows[who.first].values, &good = table_.rows[who.second].values;
        std::vector<std::size_t> order;
        for (std::size_t f = 0; f < bad.size(); ++f)
            if (bad[f] != good[f]) order.push_back(f);
        std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
            return suspicion(a, bad[a]) < suspicion(b, bad[b]);
        });
        for (const auto f : order) {
            auto n = changed(who.first, f, good[f]);
            if (made_.count(n.values) != 0) continue;
            study_.why +=
                fmt::format(" {}: it stands between a run that failed and one that worked.", tells(n));
            study_.next = std::move(n);
            return;
        }
    }
    for (std::size_t r = 0; r < table_.rows.size() && !study_.next; ++r)
        if (table_.rows[r].bad) study_.next = beside(r);
    if (study_.next) study_.why += fmt::format(" {}.", tells(*study_.next));
}

void Proposer::vary_repeats() {
    const auto [first, other] = study_.disagree.front();
    long runs = 0, bad = 0;
    for (const auto& row : table_.rows)
        if (row.values == table_.rows[first].values) {
            ++runs;
            bad += row.bad ? 1 : 0;
        }
    constexpr double sure = 0.95;
    const double share = static_cast<double>(bad) / static_cast<double>(runs);
    const long again = static_cast<long>(std::ceil(std::log(1 - sure) / std::log(1 - share)));
    study_.why = fmt::format(
        "Lines {} and {} are the same setup, and one failed: what decides is not in the table, or it comes "
        "and "
        "goes. It failed in {} of {}: a change is only seen to help when {} in a row work (95 %). "
        "Write down what else could differ, and repeat before anything is changed.",
        table_.rows[first].line, table_.rows[other].line, bad, plural(runs, "run", "runs"), again);
    for (std::size_t r = 0; r < table_.rows.size() && !study_.next; ++r)
        if (table_.rows[r].bad) study_.next = beside(r);
}

}  // namespace

void propose_next(const TrialTable& table, TrialStudy& study) {
    if (study.bad == 0) {
        // A word that no run has may be a slip of the pen: what they do say stands beside it.
        constexpr std::size_t most_said = 5;
        std::vector<std::string> said;
        for (const auto& row : table.rows)
            if (said.size() < most_said && std::find(said.begin(), said.end(), row.outcome) == said.end())
                said.push_back(row.outcome);
        study.why = study.runs == 0
                        ? "No run has an outcome yet."
                        : fmt::format("None of {} failed (they say: {}): there is nothing to explain.",
                                      plural(study.runs, "run", "runs"), fmt::join(said, ", "));
        return;
    }
    Proposer proposer(table, study);
    const auto left = study.explanations();
    if (left.size() == 1) {
        const auto& c = *left.front();
        study.why = fmt::format(
            "Only {} explains: {} of {} with it failed, none of {} without; {}.{}", print(table, c),
            c.bad_with, c.with, c.without, by_chance_text(c.by_chance),
            study.runs < 6 ? " So few runs prove little: repeat one with it and one without." : "");
        return;
    }
    if (!left.empty()) {
        proposer.split_explanations();
        return;
    }
    if (!study.disagree.empty()) {
        proposer.vary_repeats();
        return;
    }
    study.why = study.bad == study.runs
                    ? "Every run failed, whatever was changed."
                    : "No single value explains the failures, and no pair: more than one cause, or something "
                      "that is not in the table.";
    proposer.narrow_down();
}

}  // namespace grayrelic
