// SPDX-License-Identifier: GPL-3.0-or-later
// The pass over contract, clocks, budgets and replicas. What each part rests on stands where it is asked for.
#include <algorithm>
#include <set>

#include "core/base/text.hpp"
#include "core/timing/timing_work.hpp"

namespace grayrelic {
namespace {

using namespace timing_parts;

/// The events that a budget takes from a capture; a usage error when it can't.
Result<std::vector<Time>> budget_events(const Budget& b, const Source& source) {
    const auto capture = b.words.find("capture"), event = b.words.find("event");
    if (capture == b.words.end() || capture->second.empty()) return std::vector<Time>{};
    if (!source.capture)
        return fail_usage("capture " + in_quotes(capture->second) + ", which can't be read",
                          "the id of a capture in the dossier");
    if (event == b.words.end())
        return fail_usage("a capture without an event", "an edge such as STEP:rise, or frame:start");
    const auto name = parse_event(event->second);
    if (!name) return fail(name.error());
    return event_times(*name, *source.capture, source.decoding.get());
}

ClockAnalysis analyse_clock(const ClockStudy& study, const ClockLibrary* sources) {
    ClockAnalysis c;
    c.study = study;
    const double rate = study.rate.value.value();
    // Without a word, as far as a ceramic resonator may be off.
    c.within_ppm = study.within_ppm > 0 ? std::min(study.within_ppm, 50'000.0) : 5000;
    const auto uncertain = study.rate.uncertainty && rate > 0
                               ? std::optional(*study.rate.uncertainty / rate * 1e6)
                               : std::nullopt;
    auto explained = explain_clock(
        rate, c.within_ppm, sources != nullptr ? sources->sources : std::vector<ClockSource>{}, uncertain);
    if (explained)
        c.explanation = std::move(*explained);
    else
        c.problem = explained.error().message();
    if (study.clock.value.value() <= 0) return c;
    const auto q = question_of(study);
    auto serial = clock_serial(q);
    if (serial)
        c.serial = std::move(*serial);
    else
        c.serial_problem = serial.error().message();
    c.bearable_ppm = most_error_ppm(q);
    return c;
}

/// Where an interval is taken over several boards or machines, each title says which.
template <class Source>
void name_units(const std::vector<JobUnit>& units, const ListenAnalysis& listen,
                const std::vector<Source>& sources, std::vector<std::string>& titles) {
    std::set<std::string> named;
    for (const auto& s : sources)
        if (const auto* c = listen.find_capture(s.id)) named.insert(c->ref.unit);
    if (named.size() < 2) return;
    for (std::size_t k = 0; k < sources.size(); ++k) {
        const auto* c = listen.find_capture(sources[k].id);
        if (c == nullptr) continue;
        const auto at =
            std::find_if(units.begin(), units.end(), [&](const JobUnit& u) { return u.id == c->ref.unit; });
        titles[k] += " (" +
                     (at != units.end()     ? at->name
                      : c->ref.unit.empty() ? "unit not said"
                                            : c->ref.unit) +
                     ")";
    }
}

}  // namespace

bool TimingWork::intervals(const ListenAnalysis& listen) {
    std::size_t i = 0;
    return each(timing_->intervals, contract_,
                [&](const ContractInterval& interval) -> std::shared_ptr<const ContractFigure> {
                    std::vector<Source> sources;
                    std::vector<std::string> titles;
                    const auto add = [&](const std::string& id) {
                        sources.push_back(source_of(listen, id));
                        titles.push_back(std::exchange(sources.back().title,
                                                       {}));  // a title is no reason to measure again
                    };
                    if (!interval.capture.empty()) add(interval.capture);
                    for (const auto& id : interval.also) add(id);
                    name_units(*units_, listen, sources, titles);
                    const auto measured = memory_.recall<ContractFigure>(
                        run_, "interval " + interval.id, std::tuple(interval, sources), 1,
                        [interval, sources](Progress& progress) -> Result<ContractFigure> {
                            std::vector<IntervalSource> views;
                            views.reserve(sources.size());
                            for (const auto& s : sources) views.push_back(s.view());
                            auto figure = figure_of(interval, views);
                            if (progress.cancelled()) return fail_cancelled();
                            return figure;
                        });
                    if (!measured) return nullptr;
                    {
                        const std::lock_guard lock(mutex_);
                        measured_[i++] = measured;
                    }
                    return memory_.recall_here<ContractFigure>(
                        run_, "titled interval " + interval.id, std::tuple(measured, titles), [&] {
                            auto figure = *measured;
                            for (auto& specimen : figure.specimens)
                                for (std::size_t k = 0; k < sources.size(); ++k)
                                    if (sources[k].id == specimen.id) specimen.title = titles[k];
                            say_source(figure);
                            return figure;
                        });
                });
}

bool TimingWork::breaches(const ListenAnalysis& listen) {
    for (std::size_t i = 0; i < breaches_.size(); ++i) {
        const auto source = source_of(listen, listen.captures[i]->ref.id);
        auto made = memory_.recall<CaptureBreaches>(
            run_, "breaches " + source.id,
            std::tuple(source.capture, source.decoding, source.period, measured_), 1,
            [source, figures = measured_](Progress& progress) -> Result<CaptureBreaches> {
                CaptureBreaches b{source.id, {}};
                if (source.capture)
                    b.breaches = contract_breaches(*source.capture, figures,
                                                   source.period.value_or(source.capture->resolution),
                                                   source.decoding.get(), source.id);
                if (progress.cancelled()) return fail_cancelled();
                return b;
            });
        if (!made) return false;
        const std::lock_guard lock(mutex_);
        breaches_[i] = std::move(made);
    }
    {
        const std::lock_guard lock(mutex_);
        breaches_done_ = true;
    }
    changed_();
    return true;
}

bool TimingWork::clocks() {
    return each(timing_->clocks, clocks_, [&](const ClockStudy& study) {
        return memory_.recall<ClockAnalysis>(
            run_, "clock " + study.id, std::tuple(study, data_.clocks), 1,
            [study, sources = data_.clocks](Progress&) -> Result<ClockAnalysis> {
                return analyse_clock(study, sources.get());
            });
    });
}

bool TimingWork::budgets(const ListenAnalysis& listen) {
    return each(timing_->budgets, budgets_, [&](const Budget& budget) {
        const auto capture = budget.words.find("capture");
        const auto source = capture == budget.words.end() ? Source{} : source_of(listen, capture->second);
        return memory_.recall<BudgetAnalysis>(
            run_, "budget " + budget.id, std::tuple(budget, source.capture, source.decoding), 1,
            [budget, source](Progress& progress) -> Result<BudgetAnalysis> {
                BudgetAnalysis b{budget, {}, {}};
                const auto events = budget_events(budget, source);
                auto result = events ? evaluate_budget(budget, *events, progress)
                                     : Result<BudgetResult>(fail(events.error()));
                if (progress.cancelled()) return fail_cancelled();
                if (result)
                    b.result = std::move(*result);
                else
                    b.problem = result.error().message();
                return b;
            });
    });
}

bool TimingWork::golden(const ListenAnalysis& listen) {
    return each(timing_->golden, golden_, [&](const GoldenPair& pair) {
        const auto original = source_of(listen, pair.original), replica = source_of(listen, pair.replica);
        return memory_.recall<GoldenAnalysis>(
            run_, "replica " + pair.id, std::tuple(pair, original, replica, measured_), 1,
            [pair, original, replica, figures = measured_](Progress& progress) -> Result<GoldenAnalysis> {
                GoldenAnalysis g{pair, {}, {}};
                auto result = compare_golden(pair, original.view(), replica.view(), figures, progress);
                if (progress.cancelled()) return fail_cancelled();
                if (result)
                    g.result = std::move(*result);
                else
                    g.problem = result.error().message();
                return g;
            });
    });
}

}  // namespace grayrelic
