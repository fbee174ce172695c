// SPDX-License-Identifier: GPL-3.0-or-later
// Families of two equal lines: quadrature and the modern side's bus.
#include <fmt/format.h>

#include <cmath>

#include "core/decode/identify_parts.hpp"
#include "core/signal/merged_edges.hpp"

namespace grayrelic::identify_parts {
namespace {

/// Of two lines, their edges in one order: how many come together, how many follow one of the other line,
/// and how even their pace is. A wheel can't turn at two speeds at once, so one step takes about as long as
/// the one before; the edges of two lines that know nothing of each other come at any distance.
struct Company {
    double together = 0, alternating = 0, even = 0;
    long steps = 0;
};

Company company_of(const DigitalWaveform& a, const DigitalWaveform& b) {
    constexpr double like = 0.3;  // of two distances, the shorter one to the longer one
    MergedEdges edges({&a, &b});
    MergedEdges::Step s;
    long together = 0, alternating = 0, all = 0, even = 0, pairs = 0;
    std::optional<MergedEdges::Step> last;
    double before = -1;
    while (edges.next(s) && all < 100'000) {
        if (last) {
            ++all;
            together += s.line != last->line && s.time == last->time ? 1 : 0;
            alternating += s.line != last->line ? 1 : 0;
            const auto now = static_cast<double>((s.time - last->time).count());
            if (before >= 0) {
                ++pairs;
                even += std::min(before, now) > like * std::max(before, now) ? 1 : 0;
            }
            before = now;
        }
        last = s;
    }
    const auto n = static_cast<double>(std::max(1L, all));
    return {static_cast<double>(together) / n, static_cast<double>(alternating) / n,
            static_cast<double>(even) / static_cast<double>(std::max(1L, pairs)), all};
}

Draft quadrature_draft(const Trial& trial, const Line& a, const Line& b, const Company& company,
                       Progress& progress) {
    Draft x;
    auto d = try_decoder(trial, "quadrature", {{"a", {a.name}}, {"b", {b.name}}}, {}, x, progress);
    if (!d) return x;
    if (d->counts.at("position") < 0) {
        d = try_decoder(trial, "quadrature", {{"a", {b.name}}, {"b", {a.name}}}, {}, x, progress);
        if (!d) return x;
    }
    const auto forward = d->counts.at("forward"), backward = d->counts.at("backward"),
               illegal = d->counts.at("illegal");
    const auto n = static_cast<double>(forward + backward + illegal);
    // Two lines that know nothing of each other alternate half of the time, and every second distance is
    // unlike the one before ((1 - 0.3) / (1 + 0.3) = 0.54 for edges at random).
    x.quality = above_chance(company.even, 0.6) *
                std::min(1.0, 3.0 * above_chance(company.alternating, 0.4)) *
                (1.0 - std::min(1.0, 4.0 * static_cast<double>(illegal) / std::max(1.0, n)));
    // What never turns back may as well be a handshake, or two control lines that take turns.
    x.trust = (backward > 0 ? 0.9 : 0.55) * enough(n, 16);
    x.explained = n > 0 ? 1.0 - static_cast<double>(illegal) / n : 0.0;
    x.candidate.why = fmt::format("{} steps forward, {} backward, {} illegal", forward, backward, illegal);
    x.candidate.alternatives.emplace_back("Which way is forward can't be told; turn it a known way.");
    if (backward == 0)
        x.candidate.alternatives.emplace_back(
            "A handshake of two lines, or a clock in two phases, looks the same while nothing ever turns "
            "back; turn it both ways.");
    return x;
}

Draft usb_draft(const Trial& trial, const Line& a, const Line& b, Progress& progress) {
    Draft best;
    for (const bool turned : {false, true}) {
        Draft x;
        const auto& p = turned ? b : a;
        const auto& m = turned ? a : b;
        const auto d =
            try_decoder(trial, "usb-low-full", {{"plus", {p.name}}, {"minus", {m.name}}}, {}, x, progress);
        if (!d || d->frames.size() < 2) continue;
        long clean = 0, packets = 0;
        std::vector<Span> spans;
        for (const auto& f : d->frames) {
            // Two low lines are a reset for anybody who wants to see one: only packets prove something.
            if (!f.value && f.levels.empty()) continue;
            ++packets;
            const bool fine = f.errors.empty() || (f.errors.size() == 1 && f.errors.front() == "no-answer");
            clean += fine ? 1 : 0;
            if (fine) spans.push_back({f.start, f.end});
        }
        if (packets < 2) continue;
        const auto n = static_cast<double>(packets);
        x.quality = above_chance(static_cast<double>(clean) / n, 0.2);
        x.trust = enough(n, 0.6);
        x.explained =
            static_cast<double>(edges_inside(*a.waveform, spans) + edges_inside(*b.waveform, spans)) /
            static_cast<double>(a.edges + b.edges);
        x.candidate.why = fmt::format("{} of {} packets have right checks", clean, packets);
        if (x.quality > best.quality) best = std::move(x);
    }
    return best;
}

}  // namespace

void try_pairs(const Trial& trial, std::vector<Draft>& out, Progress& progress) {
    for (std::size_t i = 0; i < trial.lines.size(); ++i)
        for (std::size_t j = i + 1; j < trial.lines.size(); ++j) {
            const auto &a = trial.lines[i], &b = trial.lines[j];
            if (a.edges < 4 || b.edges < 4 || progress.cancelled()) continue;
            const double ratio = static_cast<double>(std::min(a.edges, b.edges)) /
                                 static_cast<double>(std::max(a.edges, b.edges));
            if (ratio < 0.4) continue;
            const auto c = company_of(*a.waveform, *b.waveform);
            if (c.alternating > 0.5 && c.even > 0.7 && c.together < 0.1)
                out.push_back(quadrature_draft(trial, a, b, c, progress));
            if (c.alternating > 0.45 && ratio > 0.75 && a.edges >= 16)
                out.push_back(usb_draft(trial, a, b, progress));
        }
}

}  // namespace grayrelic::identify_parts
