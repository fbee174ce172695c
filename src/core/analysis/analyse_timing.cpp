// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>

#include "core/analysis/analysis_parts.hpp"
#include "core/base/text.hpp"

namespace grayrelic::analysing {
namespace {

void find_contract(Analysis& a, const Analysis* before, bool captures_same) {
    for (const auto& interval : a.dossier.timing->intervals) {
        auto kept = keep(captures_same ? &before->contract : nullptr,
                         [&](const ContractFigure& f) { return f.interval == interval; });
        if (!kept) {
            std::vector<IntervalSource> sources;
            if (!interval.capture.empty()) sources.push_back(a.source_of(interval.capture));
            for (const auto& id : interval.also) sources.push_back(a.source_of(id));
            kept = std::make_shared<const ContractFigure>(figure_of(interval, sources));
        }
        a.contract.push_back(std::move(kept));
    }
}

void find_breaches(Analysis& a, const Analysis* before, bool captures_same, Progress& progress) {
    if (captures_same && before->breaches && before->contract == a.contract) {
        a.breaches = before->breaches;
        return;
    }
    std::vector<CaptureBreaches> all;
    for (const auto& c : a.captures) {
        if (!c->capture || progress.cancelled()) continue;
        auto list = contract_breaches(*c->capture, a.contract,
                                      c->sample_period.value_or(c->capture->resolution), c->decoding.get());
        if (!list.empty()) all.push_back({c->ref.id, std::move(list)});
    }
    a.breaches = std::make_shared<const std::vector<CaptureBreaches>>(std::move(all));
}

void find_questions(Analysis& a, const Analysis* before, bool captures_same) {
    const auto& q = a.dossier.timing->reply;
    if (q.trigger.empty()) {
        a.question_problem = "no reply is asked for yet";
        return;
    }
    if (before != nullptr && captures_same && before->tasks && before->dossier.timing->reply == q) {
        a.tasks = before->tasks;
        return;
    }
    const auto* capture = a.find_capture(q.capture);
    if (capture == nullptr || !capture->capture) {
        a.question_problem = "its capture can't be read";
        return;
    }
    const auto trigger = parse_edge(q.trigger);
    const auto look = parse_look(q.look.value);
    if (!trigger || !look) {
        a.question_problem = (trigger ? look.error() : trigger.error()).message();
        return;
    }
    auto tasks = find_tasks(*capture->capture, *trigger, *look, q.guard.value, q.within);
    if (!tasks)
        a.question_problem = tasks.error().message();
    else if (tasks->empty())
        a.question_problem = "no " + show_edge(*trigger) + " in the capture is followed by a look";
    else
        a.tasks = std::make_shared<const std::vector<ReplyTask>>(std::move(*tasks));
}

void find_networks(Analysis& a, const Analysis* before) {
    if (!a.data) return;
    for (const auto& n : a.dossier.timing->networks) {
        auto kept = keep(before == nullptr ? nullptr : &before->networks,
                         [&](const NetworkAnalysis& k) { return k.source == n && k.data == a.data; });
        if (!kept)
            kept = std::make_shared<const NetworkAnalysis>(
                NetworkAnalysis{n, a.data, read_network(n.text, a.data->logic)});
        a.networks.push_back(std::move(kept));
    }
}

/// The recorded answer's name: the data role of the question's capture.
std::string answer_of(const CaptureAnalysis& c) {
    const auto role = c.ref.decode.roles.find("data");
    return role == c.ref.decode.roles.end() || role->second.empty() ? std::string() : role->second.front();
}

/// Entry latencies from a capture, when the option asks for them.
Result<std::vector<Time>> measured_latencies(const BuildOption& option, const Analysis& a) {
    if (option.measured.capture.empty()) return std::vector<Time>{};
    const auto* c = a.find_capture(option.measured.capture);
    if (c == nullptr || !c->capture)
        return fail_usage("the capture of its latency can't be read", "a capture of the dossier");
    ContractInterval i;
    i.from = option.measured.from;
    i.to = option.measured.to;
    const auto m = measure_interval(i, *c->capture, c->decoding.get());
    if (!m) return fail(m.error());
    std::vector<Time> out;
    for (const auto& x : m->answered) out.push_back(x.length());
    if (out.empty())
        return fail_usage("no " + option.measured.to + " after " + option.measured.from + " in its capture",
                          "a capture in which the pin answers");
    return out;
}

OptionAnalysis analyse_option(const BuildOption& option, bool chosen, const Analysis& a, Progress& progress) {
    OptionAnalysis o;
    o.option = option;
    o.chosen = chosen;
    if (!a.tasks) {
        o.problem = a.question_problem;
        return o;
    }
    if (option.kind == "network") {
        const auto* n = a.find_network(option.network);
        const auto* c = a.find_capture(a.dossier.timing->reply.capture);
        if (n == nullptr) {
            o.problem = option.network.empty() ? "no network is named"
                                               : "network " + in_quotes(option.network) +
                                                     " is not in the dossier, or the parts' data is missing";
            return o;
        }
        auto reply =
            reply_of_network(n->network, *c->capture, c->decoding.get(), *a.tasks, answer_of(*c), progress);
        if (!reply) {
            o.problem = reply.error().message();
            return o;
        }
        o.summary = reply->summary;
        for (const auto& k : reply->corners)
            if (o.corners.size() < 3)
                o.corners.push_back({k.name, k.slowest, k.worst_margin.value_or(Time{})});
        o.network = std::make_shared<const NetworkReply>(std::move(*reply));
    } else {
        auto measured = measured_latencies(option, a);
        if (!measured) {
            o.problem = measured.error().message();
            return o;
        }
        auto model = model_of(option, std::move(*measured));
        if (!model) {
            o.problem = model.error().message();
            return o;
        }
        auto summary = simulate_replies(*a.tasks, *model, a.dossier.timing->reply.seed, progress);
        if (!summary) {
            o.problem = summary.error().message();
            return o;
        }
        if (summary->enough_latency)
            o.sensitivity = sensitivities(*model, *summary->enough_latency, *a.tasks);
        o.corners = reply_corners(*model, *summary);
        o.summary = std::move(*summary);
        o.model = std::move(*model);
    }
    o.verdict = judge(*o.summary);
    o.confidence = confidence_of(*o.summary, option);
    return o;
}

void find_clocks(Analysis& a, const Analysis* before) {
    for (const auto& study : a.dossier.timing->clocks) {
        auto kept = keep(before == nullptr ? nullptr : &before->clocks,
                         [&](const ClockAnalysis& c) { return c.study == study && before->data == a.data; });
        if (!kept) {
            ClockAnalysis c;
            c.study = study;
            const double rate = study.rate.value.value();
            // Without a word, as far as a ceramic resonator may be off.
            c.within_ppm = study.within_ppm > 0 ? std::min(study.within_ppm, 50'000.0) : 5000;
            const auto uncertain = study.rate.uncertainty && rate > 0
                                       ? std::optional(*study.rate.uncertainty / rate * 1e6)
                                       : std::nullopt;
            auto explained = explain_clock(
                rate, c.within_ppm, a.data ? a.data->clocks.sources : std::vector<ClockSource>{}, uncertain);
            if (explained)
                c.explanation = std::move(*explained);
            else
                c.problem = explained.error().message();
            if (study.clock.value.value() > 0) {
                SerialQuestion q;
                q.target_hz = rate;
                q.clock_hz = study.clock.value.value();
                q.divider = divider_kind(study.divider).value_or(DividerKind::integer);
                q.oversample = study.oversample;
                q.bits = study.bits;
                q.jitter = study.jitter;
                auto serial = clock_serial(q);
                if (serial)
                    c.serial = std::move(*serial);
                else
                    c.serial_problem = serial.error().message();
            }
            kept = std::make_shared<const ClockAnalysis>(std::move(c));
        }
        a.clocks.push_back(std::move(kept));
    }
}

/// The events that a budget takes from a capture; a usage error when it can't.
Result<std::vector<Time>> budget_events(const Budget& b, const Analysis& a) {
    const auto capture = b.words.find("capture"), event = b.words.find("event");
    if (capture == b.words.end() || capture->second.empty()) return std::vector<Time>{};
    const auto* c = a.find_capture(capture->second);
    if (c == nullptr || !c->capture)
        return fail_usage("capture " + in_quotes(capture->second) + ", which can't be read",
                          "the id of a capture in the dossier");
    if (event == b.words.end())
        return fail_usage("a capture without an event", "an edge such as STEP:rise, or frame:start");
    const auto name = parse_event(event->second);
    if (!name) return fail(name.error());
    return event_times(*name, *c->capture, c->decoding.get());
}

void find_budgets(Analysis& a, const Analysis* before, bool captures_same, Progress& progress) {
    for (const auto& budget : a.dossier.timing->budgets) {
        auto kept = keep(captures_same ? &before->budgets : nullptr,
                         [&](const BudgetAnalysis& b) { return b.budget == budget; });
        if (!kept) {
            BudgetAnalysis b;
            b.budget = budget;
            const auto events = budget_events(budget, a);
            auto result = events ? evaluate_budget(budget, *events, progress)
                                 : Result<BudgetResult>(fail(events.error()));
            if (result)
                b.result = std::move(*result);
            else
                b.problem = result.error().message();
            kept = std::make_shared<const BudgetAnalysis>(std::move(b));
        }
        a.budgets.push_back(std::move(kept));
    }
}

void find_golden(Analysis& a, const Analysis* before, bool captures_same, Progress& progress) {
    const bool contract_same = captures_same && before->contract == a.contract;
    for (const auto& pair : a.dossier.timing->golden) {
        auto kept = keep(contract_same ? &before->golden : nullptr,
                         [&](const GoldenAnalysis& g) { return g.pair == pair; });
        if (!kept) {
            GoldenAnalysis g;
            g.pair = pair;
            auto result = compare_golden(pair, a.source_of(pair.original), a.source_of(pair.replica),
                                         a.contract, progress);
            if (result)
                g.result = std::move(*result);
            else
                g.problem = result.error().message();
            kept = std::make_shared<const GoldenAnalysis>(std::move(g));
        }
        a.golden.push_back(std::move(kept));
    }
}

}  // namespace

Status analyse_timing(Analysis& a, const Analysis* before, bool captures_same, Progress& progress) {
    find_contract(a, before, captures_same);
    find_breaches(a, before, captures_same, progress);
    find_questions(a, before, captures_same);
    find_networks(a, before);
    const bool same_question = before != nullptr && before->tasks == a.tasks &&
                               before->dossier.timing->reply == a.dossier.timing->reply;
    for (const auto& option : a.dossier.timing->options) {
        const bool chosen = option.id == a.dossier.timing->chosen;
        // What rests on a network or on a measured latency also rests on those.
        const bool network_same = option.kind != "network" ||
                                  (before != nullptr && captures_same &&
                                   before->find_network(option.network) == a.find_network(option.network));
        const bool measured_same = option.measured.capture.empty() || captures_same;
        auto kept = keep(same_question && network_same && measured_same ? &before->options : nullptr,
                         [&](const OptionAnalysis& o) { return o.option == option && o.chosen == chosen; });
        if (!kept) kept = std::make_shared<const OptionAnalysis>(analyse_option(option, chosen, a, progress));
        a.options.push_back(std::move(kept));
        if (progress.cancelled()) return fail_cancelled();
    }
    find_clocks(a, before);
    find_budgets(a, before, captures_same, progress);
    find_golden(a, before, captures_same, progress);
    if (progress.cancelled()) return fail_cancelled();
    return {};
}

}  // namespace grayrelic::analysing
