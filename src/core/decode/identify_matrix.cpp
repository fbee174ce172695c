// SPDX-License-Identifier: GPL-3.0-or-later
// Switch matrices: lines that take turns, and lines that answer them.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/decode/identify_parts.hpp"

namespace grayrelic::identify_parts {
namespace {

std::size_t edges_of(const std::vector<const Line*>& lines) {
    std::size_t n = 0;
    for (const auto* l : lines) n += l->edges;
    return n;
}

/// Is `other` active while this line is, in more than one of twenty of its pulses? A driver that lets go a
/// little late is no meeting.
bool meet(const Line& line, const Line& other, bool active_high) {
    constexpr std::size_t looked_at = 4000;
    const auto edges = line.waveform->edges();
    long meets = 0, pulses = 0;
    for (std::size_t i = line.waveform->is_rise(0) == active_high ? 0 : 1;
         i + 1 < std::min(edges.size(), looked_at); i += 2) {
        const Time length = edges[i + 1] - edges[i];
        ++pulses;
        bool both = false;
        for (const int part : {2, 5, 8})
            both = both || other.waveform->level_at(edges[i] + length * part / 10) == active_high;
        meets += both ? 1 : 0;
    }
    return 20 * meets > pulses;
}

/// Groups of lines that are active one after another, never two at once, and equally often.
std::vector<Group> strobes_of(const Trial& trial, bool active_high) {
    Group all;
    for (const auto& l : trial.lines)
        if (l.rests_high != active_high && l.edges >= 4) all.push_back(&l);
    std::vector<Group> out;
    for (const auto* seed : all) {
        Group group;
        for (const auto* l : all) {
            const double ratio = static_cast<double>(l->edges) / static_cast<double>(seed->edges);
            if (ratio < 0.9 || ratio > 1.1) continue;
            if (std::none_of(group.begin(), group.end(),
                             [&](const Line* g) { return meet(*l, *g, active_high); }))
                group.push_back(l);
        }
        if (group.size() >= 3 && std::find(out.begin(), out.end(), group) == out.end())
            out.push_back(std::move(group));
    }
    return out;
}

/// How often the pulse of a line is followed by that of the line which usually follows it: round and round.
double round_of(const Group& strobes, bool active_high) {
    std::vector<std::pair<Time, std::size_t>> starts;
    for (std::size_t s = 0; s < strobes.size(); ++s)
        for (const auto t : strobes[s]->waveform->edge_times(active_high ? Direction::rise : Direction::fall))
            starts.emplace_back(t, s);
    std::sort(starts.begin(), starts.end());
    std::vector<long> follows(strobes.size() * strobes.size(), 0);
    for (std::size_t i = 1; i < starts.size(); ++i)
        ++follows[starts[i - 1].second * strobes.size() + starts[i].second];
    long usual = 0;
    for (std::size_t s = 0; s < strobes.size(); ++s) {
        const auto row = follows.begin() + static_cast<std::ptrdiff_t>(s * strobes.size());
        usual += *std::max_element(row, row + static_cast<std::ptrdiff_t>(strobes.size()));
    }
    return starts.size() < 2 ? 0 : static_cast<double>(usual) / static_cast<double>(starts.size() - 1);
}

/// Share of the distances from the last of `leads` to each of `edges` that lie within `near` of the usual
/// one.
double steadiness(const std::vector<Time>& edges, const std::vector<Time>& leads, Time near) {
    std::vector<double> distances;
    std::size_t k = 0;
    for (const auto t : edges) {
        while (k + 1 < leads.size() && leads[k + 1] <= t) ++k;
        if (!leads.empty() && leads[k] <= t) distances.push_back(static_cast<double>((t - leads[k]).count()));
    }
    if (distances.empty()) return 0;
    const auto middle = distances.begin() + static_cast<std::ptrdiff_t>(distances.size() / 2);
    std::nth_element(distances.begin(), middle, distances.end());
    const double usual = *middle, reach = static_cast<double>(near.count());
    return static_cast<double>(std::count_if(distances.begin(), distances.end(),
                                             [&](double d) { return std::abs(d - usual) <= reach; })) /
           static_cast<double>(edges.size());
}

/// Strobes' beginnings and ends, each in order of time, and how far an answer may be from its usual place: a
/// tenth of a strobe, or what sampling takes.
struct Beats {
    std::vector<Time> on, off;
    Time near;
};

Beats beats_of(const Trial& trial, const Group& strobes, bool active_high) {
    Beats b;
    std::vector<Time> lengths;
    for (const auto* s : strobes) {
        const auto on = s->waveform->edge_times(active_high ? Direction::rise : Direction::fall);
        const auto off = s->waveform->edge_times(active_high ? Direction::fall : Direction::rise);
        b.on.insert(b.on.end(), on.begin(), on.end());
        b.off.insert(b.off.end(), off.begin(), off.end());
        const auto edges = s->waveform->edges();
        for (std::size_t i = s->waveform->is_rise(0) == active_high ? 0 : 1; i + 1 < edges.size(); i += 2)
            lengths.push_back(edges[i + 1] - edges[i]);
    }
    std::sort(b.on.begin(), b.on.end());
    std::sort(b.off.begin(), b.off.end());
    if (!lengths.empty()) {
        const auto middle = lengths.begin() + static_cast<std::ptrdiff_t>(lengths.size() / 2);
        std::nth_element(lengths.begin(), middle, lengths.end());
        b.near = std::max(*middle / 10, trial.sample_period.value_or(Time{}) * 3 / 2);
    }
    return b;
}

/// A line goes active behind the beginning of a strobe, and back behind the end of one, each time as late.
bool answers(const Line& line, const Beats& beats, bool active_high) {
    // An edge lies there by chance in one of five: three of each kind that do prove it.
    constexpr std::size_t few = 6;
    const double nearly_always = line.edges < 20 ? 0.95 : 0.7;
    if (line.edges < few || line.edges > beats.on.size() + beats.off.size()) return false;
    return steadiness(line.waveform->edge_times(active_high ? Direction::rise : Direction::fall), beats.on,
                      beats.near) > nearly_always &&
           steadiness(line.waveform->edge_times(active_high ? Direction::fall : Direction::rise), beats.off,
                      beats.near) > nearly_always;
}

}  // namespace

void try_matrix(const Trial& trial, std::vector<Draft>& out, Progress& progress) {
    for (const bool active_high : {false, true})
        for (const auto& strobes : strobes_of(trial, active_high)) {
            if (progress.cancelled()) return;
            const double round = round_of(strobes, active_high);
            if (round < 0.6) continue;
            const auto beats = beats_of(trial, strobes, active_high);
            Group senses;
            for (const auto& l : trial.lines)
                if (std::find(strobes.begin(), strobes.end(), &l) == strobes.end() &&
                    answers(l, beats, active_high))
                    senses.push_back(&l);
            if (senses.empty()) continue;
            Draft x;
            const auto d =
                try_decoder(trial, "matrix", {{"strobe", names_of(strobes)}, {"sense", names_of(senses)}},
                            {{"active", active_high ? "high" : "low"}}, x, progress);
            if (!d || d->frames.size() < 3) continue;
            x.quality = above_chance(round, 0.5) * (1.0 - static_cast<double>(d->frames_with_errors()) /
                                                              static_cast<double>(d->frames.size()));
            x.trust = 0.92 * enough(static_cast<double>(d->frames.size()), 2) *
                      enough(static_cast<double>(strobes.size()), 0.3);
            x.explained = 1.0;
            x.candidate.why = fmt::format("{} lines take turns in one order, {} answer them ({} edges)",
                                          strobes.size(), senses.size(), edges_of(senses));
            out.push_back(std::move(x));
        }
}

}  // namespace grayrelic::identify_parts
