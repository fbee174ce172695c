// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/golden.hpp"

#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

/// An interval's event with the signal as the replica calls it.
std::string renamed(const std::string& event, const GoldenPair& pair) {
    const auto colon = event.rfind(':');
    if (colon == std::string::npos || event.starts_with("frame:")) return event;
    const auto it = pair.signals.find(event.substr(0, colon));
    return it == pair.signals.end() ? event : it->second + event.substr(colon);
}

}  // namespace

Result<GoldenResult> compare_golden(const GoldenPair& pair, const IntervalSource& original,
                                    const IntervalSource& replica,
                                    const std::vector<std::shared_ptr<const ContractFigure>>& contract,
                                    Progress& progress) {
    if (original.capture == nullptr || replica.capture == nullptr)
        return fail_usage("a capture that can't be read", "two captures, the original's and the replica's");
    GoldenResult r;
    CompareRequest request;
    for (const auto& [a, b] : pair.signals) request.signals.emplace_back(a, b);
    if (request.signals.empty()) request.signals = same_names(*original.capture, *replica.capture);
    if (request.signals.empty())
        return fail_usage("no signal of the same name in both", "which signal is which");
    if (!pair.align.empty()) {
        auto edge = parse_edge(pair.align);
        if (!edge) return fail(edge.error());
        request.align = std::move(*edge);
    } else {
        request.align = first_edge_of(*original.capture, request.signals);
    }
    if (pair.tolerance > Time{}) request.tolerance = pair.tolerance;
    auto edges = compare_captures(*original.capture, *replica.capture, request, progress);
    if (!edges) return fail(edges.error());
    r.edges = std::move(*edges);
    if (original.decoding != nullptr && replica.decoding != nullptr)
        r.words = compare_frames(*original.decoding, *replica.decoding, r.edges.shift);

    long broken = 0, judged = 0;
    const auto sampling = replica.sample_period.value_or(replica.capture->resolution);
    for (const auto& f : contract) {
        GoldenInterval g;
        g.id = f->interval.id;
        g.name = f->interval.name;
        g.limits = limits_of(*f);
        if (!g.limits.least && !g.limits.most) continue;
        auto interval = f->interval;
        interval.from = renamed(interval.from, pair);
        interval.to = renamed(interval.to, pair);
        const auto measured = measure_interval(interval, *replica.capture, replica.decoding);
        if (!measured || measured->answered.empty()) continue;
        const Time slack = sampling + f->sampling;
        g.n = static_cast<long>(measured->answered.size());
        g.least = g.most = measured->answered.front().length();
        for (const auto& i : measured->answered) {
            g.least = std::min(g.least, i.length());
            g.most = std::max(g.most, i.length());
            if ((g.limits.least && i.length() < *g.limits.least - slack) ||
                (g.limits.most && i.length() > *g.limits.most + slack)) {
                ++g.broken;
                if (!g.first) g.first = i.from;
            }
        }
        judged += g.n;
        broken += g.broken;
        r.intervals.push_back(std::move(g));
    }
    const bool words_differ = r.words && !r.words->all_same();
    if (broken > 0 || words_differ)
        r.verdict = Verdict::stop;
    else
        r.verdict = r.edges.same ? Verdict::holds : Verdict::doubt;
    if (broken > 0)
        r.says =
            fmt::format("{} of {} intervals break the contract", print_count(broken), print_count(judged));
    else if (words_differ)
        r.says = fmt::format("{} of {} words differ",
                             print_count(r.words->differ + r.words->missing + r.words->extra),
                             print_count(r.words->same + r.words->differ + r.words->missing));
    else if (!r.edges.same)
        r.says = "the words and the contract hold, edges differ";
    else
        r.says = "same edges, same words, the contract holds";
    return r;
}

}  // namespace grayrelic
