// SPDX-License-Identifier: GPL-3.0-or-later
// Families of several lines at once: strobed bus, select and enable multiplexed parallel, switch matrix.
#include <fmt/format.h>

#include <cmath>
#include <set>

#include "core/decode/identify_parts.hpp"

namespace grayrelic::identify_parts {
namespace {

/// How the edges of a line stand to the nearest active edge of a strobe: share in the two places where most
/// of them lie (data is put out at one moment before the strobe and may go at one behind it), and the place
/// nearest to the strobe itself. Places are counted in the strobe's usual distance.
struct Places {
    double share = 0;      ///< in the two fullest windows
    double nearest = 1;    ///< distance of the fuller one from the active edge
    double chance = 1;     ///< share that edges at random would have there
    double before = 0;     ///< share of all that come before the strobe
    bool lets_go = false;  ///< right behind the active edge it only ever goes back to one level
    long edges = 0;
};

constexpr double too_near = 0.03;  ///< of the usual distance: data that moves there is not read there

Places places_of(const DigitalWaveform& line, const std::vector<Time>& beats, double usual) {
    constexpr int cells = 50;  // to each side, of 1/50 of the usual distance
    constexpr int wide = 3;    // a window
    std::vector<long> counts(2 * cells + 1, 0);
    Places p;
    long before = 0, right_before = 0, back[2] = {0, 0};
    std::size_t k = 0;
    for (std::size_t i = 0; i < line.edges().size(); ++i) {
        const auto t = line.edges()[i];
        while (k + 1 < beats.size() && beats[k + 1] <= t) ++k;
        if (k + 1 >= beats.size()) break;
        if (t < beats[k]) continue;
        const double behind = static_cast<double>((t - beats[k]).count()) / usual,
                     ahead = static_cast<double>((beats[k + 1] - t).count()) / usual;
        const double at = behind < ahead ? behind : -ahead;
        ++p.edges;
        if (std::abs(at) > 0.98) continue;  // far from any strobe: in no place
        ++counts[static_cast<std::size_t>(std::lround(at * cells) + cells)];
        before += at < 0 ? 1 : 0;
        if (std::abs(at) >= too_near) continue;
        right_before += at < 0 ? 1 : 0;
        if (at >= 0) ++back[line.is_rise(i) ? 1 : 0];
    }
    if (p.edges == 0) return p;
    p.lets_go = 50 * right_before <= p.edges && 20 * std::min(back[0], back[1]) <= std::max(back[0], back[1]);
    double nearest = 1;
    long taken = 0;
    for (int round = 0; round < 2; ++round) {
        long best = 0;
        std::size_t at = 0;
        for (std::size_t i = 0; i + wide <= counts.size(); ++i) {
            const long n = counts[i] + counts[i + 1] + counts[i + 2];
            if (n > best) best = n, at = i;
        }
        if (best == 0) break;
        if (round == 0 || 5 * best > p.edges)
            nearest = std::min(nearest, std::abs(static_cast<double>(at) + 1 - cells) / cells);
        taken += best;
        for (std::size_t i = at; i < at + wide; ++i) counts[i] = 0;
    }
    p.share = static_cast<double>(taken) / static_cast<double>(p.edges);
    p.nearest = nearest;
    p.before = static_cast<double>(before) / static_cast<double>(p.edges);
    // Two windows of the stretch between two strobes.
    p.chance = std::min(0.9, 2.0 * wide / static_cast<double>(cells));
    return p;
}

/// Share of a line's edges that follow an edge of `leader` within a quarter of the time to its next one; and
/// how many of those follow its rises.
struct Follow {
    double share = 0, after_rise = 0;
};

Follow follow_of(const DigitalWaveform& line, const std::vector<std::pair<Time, bool>>& leads) {
    Follow f;
    long close = 0, rises = 0, all = 0;
    std::size_t k = 0, answered = leads.size();
    for (const auto t : line.edges()) {
        while (k + 1 < leads.size() && leads[k + 1].first <= t) ++k;
        ++all;
        if (leads.empty() || t < leads[k].first) continue;
        const Time next =
            k + 1 < leads.size() ? leads[k + 1].first - leads[k].first : t - leads[k].first + Time::ps(1);
        if ((t - leads[k].first) * 4 > next) continue;
        // One answer to each edge; a line that goes on moving has reasons of its own.
        if (answered == k) continue;
        answered = k;
        ++close;
        rises += leads[k].second ? 1 : 0;
    }
    if (all > 0) f.share = static_cast<double>(close) / static_cast<double>(all);
    if (close > 0) f.after_rise = static_cast<double>(rises) / static_cast<double>(close);
    return f;
}

std::vector<std::pair<Time, bool>> leads_of(std::initializer_list<const Line*> lines) {
    std::vector<std::pair<Time, bool>> out;
    for (const auto* l : lines) {
        if (l == nullptr) continue;
        const auto edges = l->waveform->edges();
        for (std::size_t i = 0; i < edges.size(); ++i) out.emplace_back(edges[i], l->waveform->is_rise(i));
    }
    std::sort(out.begin(), out.end());
    return out;
}

void strobed(const Trial& trial, const Line& strobe, std::vector<Draft>& out, Progress& progress) {
    if (strobe.edges < 12) return;
    for (const auto direction : {Direction::rise, Direction::fall}) {
        const auto beats = strobe.waveform->edge_times(direction);
        const auto usual = median_distance(beats);
        if (!usual || *usual <= Time{}) continue;
        std::vector<const Line*> lines;
        double kept = 0, weight = 0;
        for (const auto& l : trial.lines) {
            if (&l == &strobe || l.edges < 6 || l.edges > 2 * strobe.edges) continue;
            const auto p = places_of(*l.waveform, beats, static_cast<double>(usual->count()));
            // Data that moves at the reading edge itself is not read there; but a device that was read lets
            // go right behind it.
            if (p.share < 0.75 || p.edges < 8 || p.before < 0.2) continue;
            if (p.nearest < too_near && !p.lets_go) continue;
            lines.push_back(&l);
            kept += above_chance(p.share, 0.4) * static_cast<double>(p.edges);
            weight += static_cast<double>(p.edges);
        }
        if (lines.size() < 2) continue;
        Draft x;
        const auto d =
            try_decoder(trial, "strobed-bus", {{"strobe", {strobe.name}}, {"data", names_of(lines)}},
                        {{"edge", std::string(word(direction))}}, x, progress);
        if (!d || d->frames.size() < 4) continue;
        std::set<std::uint64_t> values;
        for (const auto& f : d->frames)
            if (f.value) values.insert(*f.value);
        const double n = static_cast<double>(d->frames.size());
        x.quality = kept / weight * std::min(1.0, static_cast<double>(values.size()) / 4.0);
        // A clock, a select and a data line keep time with each other too; four lines that do are a bus.
        x.trust = (lines.size() == 2   ? 0.5
                   : lines.size() == 3 ? 0.7
                                       : 0.88) *
                  enough(n, 6) * enough(weight, 8.0 * static_cast<double>(lines.size()) / 2);
        x.explained = 1.0;
        x.candidate.why = fmt::format("{} lines rest around each of {} strobes and move between them",
                                      lines.size(), d->frames.size());
        x.candidate.alternatives.emplace_back(
            "The order of the lines can't be told; a counting value would tell.");
        out.push_back(std::move(x));
    }
}

/// Share of these edges that at least one of the lines answers, before anything else leads.
double answered_of(const Group& lines, std::span<const Time> edges,
                   const std::vector<std::pair<Time, bool>>& leads) {
    long answered = 0;
    for (const auto t : edges) {
        const auto next = std::upper_bound(leads.begin(), leads.end(), std::pair(t, true));
        const Time until = next == leads.end() ? Time::max() : t + (next->first - t) / 4;
        answered +=
            std::any_of(lines.begin(), lines.end(),
                        [&](const Line* l) {
                            const auto n = l->waveform->edges_before(t);
                            return n < l->waveform->edges().size() && l->waveform->edges()[n] <= until;
                        })
                ? 1
                : 0;
    }
    return edges.empty() ? 0 : static_cast<double>(answered) / static_cast<double>(edges.size());
}

/// In how many of the stretches in which the enable line does not let through all lines stand at one level,
/// and how many there are.
std::pair<double, long> forced_by(const Line& enable, bool passes_high, const Group& lines) {
    long same = 0, all = 0;
    const auto edges = enable.waveform->edges();
    for (std::size_t i = 0; i + 1 < edges.size(); ++i) {
        if (enable.waveform->is_rise(i) == passes_high) continue;
        std::size_t high = 0;
        for (const auto* l : lines) high += l->waveform->level_before(edges[i + 1]) ? 1 : 0;
        same += high == 0 || high == lines.size() ? 1 : 0;
        ++all;
    }
    return {all == 0 ? 0.0 : static_cast<double>(same) / static_cast<double>(all), all};
}

void select_bank(const Trial& trial, const Line& select, const Line* enable, std::vector<Draft>& out,
                 Progress& progress) {
    const auto leads = leads_of({&select, enable});
    const auto own = leads_of({&select});
    if (own.size() < 8) return;
    std::vector<const Line*> lines;
    double follow = 0, weight = 0, rises = 0;
    for (const auto& l : trial.lines) {
        if (&l == &select || &l == enable || l.edges < 2) continue;
        // A bank is shown once for each edge of the lines that choose it.
        if (10 * l.edges > 11 * leads.size() + 40) continue;
        const auto f = follow_of(*l.waveform, leads);
        if (f.share < 0.85) continue;
        lines.push_back(&l);
        follow += f.share * static_cast<double>(l.edges);
        rises += follow_of(*l.waveform, own).after_rise * static_cast<double>(l.edges);
        weight += static_cast<double>(l.edges);
    }
    if (lines.size() < 2 || weight < 8) return;
    Draft x;
    RoleMap roles{{"select", {select.name}}, {"data", names_of(lines)}};
    if (enable != nullptr) roles["enable"] = {enable->name};
    const auto d = try_decoder(trial, "select-bank", roles, {}, x, progress);
    if (!d || d->frames.size() < 4) return;
    // Both edges of the select line bring new data, and the two banks differ.
    double both = 2.0 * std::min(rises, weight - rises) / weight;
    if (enable != nullptr) {
        // The select line may move while disabled; then the banks themselves must both be read.
        long high = 0;
        for (const auto& f : d->frames) high += std::get<long long>(f.extra.at("bank")) == 1 ? 1 : 0;
        const auto n = static_cast<long>(d->frames.size());
        both = 2.0 * static_cast<double>(std::min(high, n - high)) / static_cast<double>(n);
    }
    long unlike = 0;
    for (std::size_t i = 1; i < d->frames.size(); ++i)
        unlike += d->frames[i].value != d->frames[i - 1].value ? 1 : 0;
    const bool differ = 10 * unlike > static_cast<long>(d->frames.size());
    double forced = 1.0;
    if (enable != nullptr) {
        const auto [share, all] = forced_by(*enable, x.candidate.settings["enable-level"] == "high", lines);
        forced = share;
        // By chance two lines are alike every second time: a few of them prove nothing, and a line that
        // nobody answers enables nothing.
        if (forced < 0.8 || all < 4 || answered_of(lines, enable->waveform->edges(), leads) < 0.4) return;
    }
    x.quality =
        above_chance(follow / weight, 0.6) * std::min(1.0, 2.2 * both) * (differ ? 1.0 : 0.4) * forced;
    x.trust = (enable != nullptr ? 0.85 : 0.78) * enough(static_cast<double>(d->frames.size()), 4);
    x.explained = 1.0;
    x.candidate.why =
        fmt::format("{} lines change after {:.0f} % of the select line's edges, in two banks{}", lines.size(),
                    100 * follow / weight, enable != nullptr ? ", and rest at one level while disabled" : "");
    out.push_back(std::move(x));
}

}  // namespace

std::vector<std::string> names_of(const Group& lines) {
    std::vector<std::string> out;
    for (const auto* l : lines) out.push_back(l->name);
    return out;
}

void try_buses(const Trial& trial, std::vector<Draft>& out, Progress& progress) {
    if (trial.lines.size() > 64) return;
    for (const auto& l : trial.lines) {
        if (progress.cancelled()) return;
        strobed(trial, l, out, progress);
        select_bank(trial, l, nullptr, out, progress);
        for (const auto& e : trial.lines)
            if (&e != &l && e.edges >= 4 && e.edges <= 4 * l.edges) select_bank(trial, l, &e, out, progress);
    }
    try_matrix(trial, out, progress);
}

}  // namespace grayrelic::identify_parts
