// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/analysis/analysis.hpp"

#include <algorithm>

#include "core/analysis/analysis_parts.hpp"
#include "core/decode/decode_chain.hpp"
#include "core/decode/suggest_roles.hpp"
#include "core/dossier/store.hpp"

namespace grayrelic {
namespace {

using namespace analysing;

/// Names of bits do not change what is read.
bool reads_alike(const DecodeSetup& a, const DecodeSetup& b) {
    return a.kind == b.kind && a.roles == b.roles && a.settings == b.settings;
}

/// The further decoders of a capture, each on its own.
void decode_further(CaptureAnalysis& a, const CaptureAnalysis* before, Progress& progress) {
    for (std::size_t i = 0; i < a.ref.also.size() && !progress.cancelled(); ++i) {
        const auto& setup = a.ref.also[i];
        if (before != nullptr && i < before->also.size() && reads_alike(before->ref.also[i], setup)) {
            a.also.push_back(before->also[i]);
            continue;
        }
        DecodedLane lane;
        lane.title = setup.kind;
        auto chain = decode_chain(*a.capture, setup.kind, setup.roles, setup.settings, progress);
        if (chain)
            lane.decoding = std::make_shared<const Decoding>(std::move(chain->decoding));
        else
            lane.problem = chain.error().message();
        a.also.push_back(std::move(lane));
    }
}

CaptureAnalysis analyse_capture(const CaptureRef& ref, const std::filesystem::path& folder,
                                CaptureStore& store, Progress& progress, const CaptureAnalysis* before) {
    CaptureAnalysis a;
    a.ref = ref;
    const auto path = capture_path(ref, folder);
    if (!path) {
        a.problem = path.error().message();
        return a;
    }
    auto capture = store.read(*path, progress, ref.read_as);
    if (!capture) {
        a.problem = capture.error().message();
        return a;
    }
    a.capture = *capture;
    if (ref.sample_rate.value && ref.sample_rate.value->value() > 0.0)
        a.sample_period = Time::from_seconds(1.0 / ref.sample_rate.value->value());
    else if (before != nullptr && before->capture == a.capture && before->sample_period_found)
        a.sample_period = before->sample_period;
    else
        a.sample_period = find_sample_period(*a.capture);
    a.sample_period_found = a.sample_period && !ref.sample_rate.value;
    if (progress.cancelled()) return a;
    if (a.sample_period) a.sampling = judge_sampling(*a.capture, *a.sample_period);
    if (progress.cancelled()) return a;
    if (ref.decode.roles.empty())
        a.suggested = before != nullptr && before->capture == a.capture && !before->suggested.empty()
                          ? before->suggested
                          : suggest_latch_shift_roles(*a.capture);
    const bool known = before != nullptr && before->capture == a.capture;
    if (known)
        a.health = before->health;
    else
        a.health = examine_lines(*a.capture, progress);
    decode_further(a, known ? before : nullptr, progress);
    if (ref.decode.kind.empty()) return a;
    if (known && reads_alike(before->ref.decode, ref.decode)) {
        a.decoding = before->decoding;
        a.characters = before->characters;
        a.decode_problem = before->decode_problem;
        return a;
    }
    auto chain = decode_chain(*a.capture, ref.decode.kind, ref.decode.roles, ref.decode.settings, progress);
    if (!chain) {
        a.decode_problem = chain.error().message();
        return a;
    }
    a.decoding = std::make_shared<const Decoding>(std::move(chain->decoding));
    if (chain->characters) a.characters = std::make_shared<const Decoding>(std::move(*chain->characters));
    return a;
}

Status find_trace(Analysis& a, const std::filesystem::path& folder, const CaptureStore& store,
                  Progress& progress, const Analysis* before) {
    if (!a.data) return {};
    const auto& d = a.dossier;
    if (before != nullptr && before->trace && before->data == a.data &&
        before->dossier.trace.same_version(d.trace) && before->dossier.readings.same_version(d.readings) &&
        before->dossier.ports.same_version(d.ports)) {
        a.trace = before->trace;
        return {};
    }
    auto traced = analyse_trace(d, folder, a.data->parts, store.read_picture, progress,
                                before == nullptr ? nullptr : before->trace.get(),
                                before == nullptr ? nullptr : &before->dossier);
    if (!traced) return fail(traced.error());
    a.trace = std::move(*traced);
    return {};
}

}  // namespace

const CaptureAnalysis* Analysis::find_capture(std::string_view id) const {
    return find_in(captures, [&](const CaptureAnalysis& c) { return c.ref.id == id; });
}
const ContractFigure* Analysis::find_figure(std::string_view id) const {
    return find_in(contract, [&](const ContractFigure& f) { return f.interval.id == id; });
}
const OptionAnalysis* Analysis::find_option(std::string_view id) const {
    return find_in(options, [&](const OptionAnalysis& o) { return o.option.id == id; });
}
const NetworkAnalysis* Analysis::find_network(std::string_view id) const {
    return find_in(networks, [&](const NetworkAnalysis& n) { return n.source.id == id; });
}
const ClockAnalysis* Analysis::find_clock(std::string_view id) const {
    return find_in(clocks, [&](const ClockAnalysis& c) { return c.study.id == id; });
}
const BudgetAnalysis* Analysis::find_budget(std::string_view id) const {
    return find_in(budgets, [&](const BudgetAnalysis& b) { return b.budget.id == id; });
}
const GoldenAnalysis* Analysis::find_golden(std::string_view id) const {
    return find_in(golden, [&](const GoldenAnalysis& g) { return g.pair.id == id; });
}
IntervalSource Analysis::source_of(std::string_view id) const {
    const auto* c = find_capture(id);
    if (c == nullptr) return {std::string(id), std::string(id), nullptr, nullptr, std::nullopt};
    return {c->ref.id, c->ref.title, c->capture.get(), c->decoding.get(), c->sample_period};
}

Verdict judge(const ReplySummary& s) {
    if (s.replies == 0 || !s.enough_latency) return Verdict::unknown;
    if (s.missed > 0 || !s.worst_margin || *s.worst_margin < Time{}) return Verdict::stop;
    return s.worst_margin->seconds() < thin_margin_share * s.enough_latency->seconds() ? Verdict::doubt
                                                                                       : Verdict::holds;
}

Result<std::shared_ptr<Analysis>> work_out(const Dossier& dossier, const std::filesystem::path& folder,
                                           CaptureStore& store, Progress& progress, const Analysis* before,
                                           std::shared_ptr<const DataLibrary> data) {
    auto a = std::make_shared<Analysis>();
    a->dossier = dossier;
    a->data = std::move(data);
    bool captures_same = before != nullptr && before->captures.size() == dossier.captures->size();
    for (std::size_t i = 0; i < dossier.captures->size(); ++i) {
        const auto& ref = (*dossier.captures)[i];
        const auto kept = keep(before == nullptr ? nullptr : &before->captures,
                               [&](const CaptureAnalysis& c) { return c.ref.id == ref.id; });
        if (kept && kept->ref == ref && kept->capture) {
            a->captures.push_back(kept);
        } else {
            a->captures.push_back(std::make_shared<const CaptureAnalysis>(
                analyse_capture(ref, folder, store, progress, kept.get())));
            // Intervals, budgets and networks may rest on frames, replicas on words.
            const auto& now = *a->captures.back();
            captures_same = captures_same && kept && kept->capture == now.capture &&
                            kept->sample_period == now.sample_period && kept->decoding == now.decoding &&
                            reads_alike(kept->ref.decode, ref.decode);
        }
        if (progress.cancelled()) return fail_cancelled();
        progress.report(0.6 * static_cast<double>(i + 1) / static_cast<double>(dossier.captures->size()));
    }
    if (auto timed = analyse_timing(*a, before, captures_same, progress); !timed) return fail(timed.error());
    if (auto traced = find_trace(*a, folder, store, progress, before); !traced) return fail(traced.error());
    return a;
}

}  // namespace grayrelic
