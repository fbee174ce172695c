// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/timing_analysis.hpp"

#include <algorithm>

#include "core/timing/timing_work.hpp"

namespace grayrelic {
namespace {

template <class T, class Match>
const T* find_in(const std::vector<std::shared_ptr<const T>>& list, Match match) {
    const auto it = std::find_if(list.begin(), list.end(), [&](const auto& p) { return match(*p); });
    return it == list.end() ? nullptr : it->get();
}

/// What is made, and in the place of what is not what was made of an earlier version.
template <class T, class Id>
std::vector<std::shared_ptr<const T>> filled(const std::vector<std::shared_ptr<const T>>& made,
                                             const std::vector<std::string>& ids,
                                             const std::vector<std::shared_ptr<const T>>* before, Id id) {
    std::vector<std::shared_ptr<const T>> out;
    for (std::size_t i = 0; i < made.size(); ++i) {
        if (made[i]) {
            out.push_back(made[i]);
        } else if (before != nullptr) {
            for (const auto& b : *before)
                if (id(*b) == ids[i]) out.push_back(b);
        }
    }
    return out;
}

template <class T>
std::vector<std::string> ids_of(const std::vector<T>& items) {
    std::vector<std::string> out;
    out.reserve(items.size());
    for (const auto& i : items) out.push_back(i.id);
    return out;
}

}  // namespace

const ContractFigure* TimingAnalysis::find_figure(std::string_view id) const {
    return find_in(contract, [&](const ContractFigure& f) { return f.interval.id == id; });
}
const OptionAnalysis* TimingAnalysis::find_option(std::string_view id) const {
    return find_in(options, [&](const OptionAnalysis& o) { return o.option.id == id; });
}
const NetworkAnalysis* TimingAnalysis::find_network(std::string_view id) const {
    return find_in(networks, [&](const NetworkAnalysis& n) { return n.source.id == id; });
}
const ClockAnalysis* TimingAnalysis::find_clock(std::string_view id) const {
    return find_in(clocks, [&](const ClockAnalysis& c) { return c.study.id == id; });
}
const BudgetAnalysis* TimingAnalysis::find_budget(std::string_view id) const {
    return find_in(budgets, [&](const BudgetAnalysis& b) { return b.budget.id == id; });
}
const GoldenAnalysis* TimingAnalysis::find_golden(std::string_view id) const {
    return find_in(golden, [&](const GoldenAnalysis& g) { return g.pair.id == id; });
}
const CaptureBreaches* TimingAnalysis::find_breaches(std::string_view id) const {
    return find_in(breaches, [&](const CaptureBreaches& b) { return b.capture == id; });
}

IntervalSource interval_source(const ListenAnalysis& listen, std::string_view id) {
    const auto* c = listen.find_capture(id);
    if (c == nullptr) return {std::string(id), std::string(id), nullptr, nullptr, std::nullopt};
    return {c->ref.id, c->ref.title, c->named.get(), c->decoding.get(), c->sample_period};
}

Verdict judge(const ReplySummary& s) {
    if (s.replies == 0 || !s.enough_latency) return Verdict::unknown;
    if (s.missed > 0 || !s.worst_margin || *s.worst_margin < Time{}) return Verdict::stop;
    return s.worst_margin->seconds() < thin_margin_share * s.enough_latency->seconds() ? Verdict::doubt
                                                                                       : Verdict::holds;
}

TimingWork::TimingWork(const Dossier& dossier, TimingData data, Memory& memory, MemoryRun& run,
                       std::shared_ptr<const TimingAnalysis> before, std::function<void()> changed)
    : timing_(dossier.timing),
      units_(dossier.units),
      data_(std::move(data)),
      memory_(memory),
      run_(run),
      before_(std::move(before)),
      changed_(std::move(changed)) {
    measured_.resize(timing_->intervals.size());
    contract_.resize(timing_->intervals.size());
    breaches_.resize(dossier.captures->size());
    options_.resize(timing_->options.size());
    if (data_.logic) networks_.resize(timing_->networks.size());
    clocks_.resize(timing_->clocks.size());
    budgets_.resize(timing_->budgets.size());
    golden_.resize(timing_->golden.size());
}

double TimingWork::weight(const Dossier& dossier) {
    const auto& t = *dossier.timing;
    return static_cast<double>(t.intervals.size() + dossier.captures->size() + t.clocks.size() +
                               t.budgets.size() + t.golden.size() + t.networks.size()) +
           timing_parts::option_weight * static_cast<double>(t.options.size()) + 1;
}

bool TimingWork::contract(const ListenAnalysis& listen) {
    return intervals(listen) && clocks() && breaches(listen) && budgets(listen) && golden(listen);
}

bool TimingWork::replies(const ListenAnalysis& listen) {
    return question(listen) && networks() && options(listen);
}

std::shared_ptr<const TimingAnalysis> TimingWork::now() {
    const std::lock_guard lock(mutex_);
    const auto& t = *timing_;
    TimingAnalysis a;
    a.contract = filled(contract_, ids_of(t.intervals), before_ ? &before_->contract : nullptr,
                        [](const ContractFigure& f) { return f.interval.id; });
    a.options = filled(options_, ids_of(t.options), before_ ? &before_->options : nullptr,
                       [](const OptionAnalysis& o) { return o.option.id; });
    a.networks = filled(networks_, ids_of(t.networks), before_ ? &before_->networks : nullptr,
                        [](const NetworkAnalysis& n) { return n.source.id; });
    a.clocks = filled(clocks_, ids_of(t.clocks), before_ ? &before_->clocks : nullptr,
                      [](const ClockAnalysis& c) { return c.study.id; });
    a.budgets = filled(budgets_, ids_of(t.budgets), before_ ? &before_->budgets : nullptr,
                       [](const BudgetAnalysis& b) { return b.budget.id; });
    a.golden = filled(golden_, ids_of(t.golden), before_ ? &before_->golden : nullptr,
                      [](const GoldenAnalysis& g) { return g.pair.id; });
    if (breaches_done_) {
        for (const auto& b : breaches_)
            if (b && !b->breaches.empty()) a.breaches.push_back(b);
    } else if (before_) {
        a.breaches = before_->breaches;
    }
    if (question_) {
        a.tasks = question_->tasks;
        a.question_problem = question_->problem;
        a.least_allowed = question_->least_allowed;
    } else if (before_) {
        a.tasks = before_->tasks;
        a.question_problem = before_->question_problem;
        a.least_allowed = before_->least_allowed;
    } else {
        a.question_problem = "the captures are still being read";
    }
    for (std::size_t i = 0; i < contract_.size(); ++i)
        if (!contract_[i]) a.under_way.push_back("contract: " + t.intervals[i].name);
    for (std::size_t i = 0; i < options_.size(); ++i)
        if (!options_[i]) a.under_way.push_back("replies of " + t.options[i].name);
    for (std::size_t i = 0; i < budgets_.size(); ++i)
        if (!budgets_[i]) a.under_way.push_back("budget: " + t.budgets[i].name);
    if (!breaches_done_ && !t.intervals.empty()) a.under_way.emplace_back("breaches of the contract");
    for (const auto& g : golden_)
        if (!g) a.under_way.emplace_back("a replica");
    // What is not whole is not remembered: the next version of it is about to come.
    if (!a.under_way.empty()) return std::make_shared<const TimingAnalysis>(std::move(a));
    auto parts = std::tuple(a.contract, a.breaches, a.tasks, a.question_problem, a.options, a.networks,
                            a.clocks, a.budgets, a.golden, a.under_way);
    return memory_.recall_here<TimingAnalysis>(run_, "timing", std::move(parts), [&] { return a; });
}

}  // namespace grayrelic
