// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/compare_captures.hpp"

#include "core/base/long_work.hpp"

#include <algorithm>

namespace grayrelic {
namespace {

Time usual_tolerance(const DigitalWaveform& waveform) {
    const auto edges = waveform.edges();
    if (edges.size() < 2) return Time::us(1);
    std::vector<Time> apart;
    for (std::size_t i = 1; i < std::min<std::size_t>(edges.size(), 100'000); ++i)
        apart.push_back(edges[i] - edges[i - 1]);
    const auto middle = apart.begin() + static_cast<std::ptrdiff_t>(apart.size() / 2);
    std::nth_element(apart.begin(), middle, apart.end());
    return *middle / 2;
}

std::optional<Time> first_edge(const DigitalWaveform& waveform, Direction d) {
    const auto edges = waveform.edges();
    for (std::size_t i = 0; i < std::min<std::size_t>(2, edges.size()); ++i)
        if (waveform.matches(i, d)) return edges[i];
    return std::nullopt;
}

SignalDifference compare_lines(const DigitalWaveform& a, const DigitalWaveform& b, Time shift,
                               std::optional<Time> tolerance) {
    SignalDifference out;
    const auto ea = a.edges(), eb = b.edges();
    out.edges_a = static_cast<long>(ea.size());
    out.edges_b = static_cast<long>(eb.size());
    out.tolerance = tolerance ? *tolerance : usual_tolerance(a);
    std::vector<Time> delays;
    const auto lost = [&](Time t) {
        ++out.missing;
        if (out.missing_at.size() < most_listed) out.missing_at.push_back(t);
        if (!out.first || t < *out.first) out.first = t;
    };
    const auto more = [&](Time t) {
        ++out.extra;
        if (out.extra_at.size() < most_listed) out.extra_at.push_back(t);
        if (!out.first || t < *out.first) out.first = t;
    };
    std::size_t i = 0, j = 0;
    while (i < ea.size() || j < eb.size()) {
        if (i == ea.size()) {
            more(eb[j++] + shift);
            continue;
        }
        if (j == eb.size()) {
            lost(ea[i++]);
            continue;
        }
        const Time ta = ea[i], tb = eb[j] + shift;
        const bool near = tb >= ta - out.tolerance && tb <= ta + out.tolerance;
        if (near && a.is_rise(i) == b.is_rise(j)) {
            delays.push_back(tb - ta);
            ++i;
            ++j;
        } else if (tb < ta) {  // too far apart, or of the other direction: whichever comes first stands alone
            more(tb);
            ++j;
        } else {
            lost(ta);
            ++i;
        }
    }
    out.delay = summarise(delays);
    return out;
}

}  // namespace

Result<CaptureComparison> compare_captures(const Capture& original, const Capture& replica,
                                           const CompareRequest& request, Progress& progress) {
    long_work("compare_captures");
    if (request.signals.empty()) return fail_usage("no signals to compare", "at least one ORIGINAL=REPLICA");
    CaptureComparison out;
    if (request.align) {
        const auto a = original.find_digital(request.align->signal);
        if (!a) return fail(a.error());
        std::string other = request.align->signal;
        const auto full = original.find(request.align->signal);
        for (const auto& [x, y] : request.signals)
            if (const auto s = original.find(x); s && *s == *full) other = y;
        const auto b = replica.find_digital(other);
        if (!b) return fail(b.error());
        const auto ta = first_edge(**a, request.align->direction),
                   tb = first_edge(**b, request.align->direction);
        if (!ta || !tb)
            return fail_usage("no " + show_edge(*request.align) + " in the " + (ta ? "replica" : "original"),
                              "an edge that both have, to lay them over each other");
        out.shift = *ta - *tb;
    }
    out.same = true;
    for (std::size_t i = 0; i < request.signals.size(); ++i) {
        const auto& [x, y] = request.signals[i];
        const auto a = original.find_digital(x);
        if (!a) return fail(a.error());
        const auto b = replica.find_digital(y);
        if (!b) return fail(b.error());
        auto d = compare_lines(**a, **b, out.shift, request.tolerance);
        d.name = (*original.find(x))->name;
        d.other = (*replica.find(y))->name;
        if (d.edges_a == 0 && d.edges_b == 0 && (*a)->first_level() != (*b)->first_level()) {
            d.missing = d.extra = 0;
            d.first = original.extent.from;
        }
        out.same = out.same && !d.first;
        if (d.first && (!out.first_difference || *d.first < *out.first_difference))
            out.first_difference = d.first;
        out.signals.push_back(std::move(d));
        progress.report(static_cast<double>(i + 1) / static_cast<double>(request.signals.size()));
        if (progress.cancelled()) return fail_cancelled();
    }
    return out;
}

namespace {

/// The signal of the same name; else the one that goes by a name of this one too, such as that of a pin.
const Signal* partner_of(const Capture& original, const Signal& signal, const Capture& replica) {
    for (const auto& o : replica.signals)
        if (o.digital && short_name(o.name) == short_name(signal.name)) return &o;
    std::vector<std::string> names{signal.name, short_name(signal.name)};
    for (const auto& [called, own] : original.also_called)
        if (const auto found = original.find(own); found && *found == &signal) names.push_back(called);
    for (const auto& [called, own] : replica.also_called)
        if (std::find(names.begin(), names.end(), called) != names.end())
            if (const auto found = replica.find(own); found && (*found)->digital) return *found;
    // What is called like a pin here, and is tied to nothing there.
    for (const auto& o : replica.signals)
        if (o.digital && std::find(names.begin(), names.end(), short_name(o.name)) != names.end()) return &o;
    return nullptr;
}

}  // namespace

std::vector<std::pair<std::string, std::string>> same_names(const Capture& original, const Capture& replica,
                                                            std::size_t most) {
    std::vector<std::pair<std::string, std::string>> out;
    for (const auto& s : original.signals) {
        if (!s.digital || out.size() >= most) continue;
        if (const auto* o = partner_of(original, s, replica)) out.emplace_back(s.name, o->name);
    }
    return out;
}

std::optional<EdgeName> first_edge_of(const Capture& original,
                                      const std::vector<std::pair<std::string, std::string>>& pairs) {
    std::optional<EdgeName> out;
    Time first = Time::max();
    for (const auto& [name, other] : pairs) {
        const auto waveform = original.find_digital(name);
        if (!waveform || (*waveform)->edges().empty() || (*waveform)->edges().front() >= first) continue;
        first = (*waveform)->edges().front();
        out = EdgeName{name, (*waveform)->is_rise(0) ? Direction::rise : Direction::fall};
    }
    return out;
}

}  // namespace grayrelic
