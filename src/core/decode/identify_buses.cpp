// SPDX-License-Identifier: GPL-3.0-or-later
// Families of several lines at once: strobed bus, select and enable multiplexed parallel, switch matrix.
#include <fmt/format.h>

#include <cmath>
#include <numbers>
#include <set>

#include "core/decode/identify_parts.hpp"

namespace grayrelic::identify_parts {
namespace {

/// Where in the beats of another line the edges of a line lie: strength 0 (anywhere) to 1 (one place), and
/// the mean place, 0 to 1 of a beat.
struct Phase {
    double strength = 0, place = 0;
    long edges = 0;
};

Phase phase_of(const DigitalWaveform& line, const std::vector<Time>& beats) {
    Phase p;
    double x = 0, y = 0;
    std::size_t k = 0;
    for (const auto t : line.edges()) {
        while (k + 1 < beats.size() && beats[k + 1] <= t) ++k;
        if (k + 1 >= beats.size()) break;
        if (t < beats[k]) continue;
        const double turn = 2 * std::numbers::pi * static_cast<double>((t - beats[k]).count()) /
                            static_cast<double>((beats[k + 1] - beats[k]).count());
        x += std::cos(turn);
        y += std::sin(turn);
        ++p.edges;
    }
    if (p.edges == 0) return p;
    p.strength = std::hypot(x, y) / static_cast<double>(p.edges);
    p.place = std::fmod(std::atan2(y, x) / (2 * std::numbers::pi) + 1.0, 1.0);
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
    std::size_t k = 0;
    for (const auto t : line.edges()) {
        while (k + 1 < leads.size() && leads[k + 1].first <= t) ++k;
        ++all;
        if (leads.empty() || t < leads[k].first) continue;
        const Time next =
            k + 1 < leads.size() ? leads[k + 1].first - leads[k].first : t - leads[k].first + Time::ps(1);
        if ((t - leads[k].first) * 4 > next) continue;
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

std::vector<std::string> names_of(const std::vector<const Line*>& lines) {
    std::vector<std::string> out;
    for (const auto* l : lines) out.push_back(l->name);
    return out;
}

std::size_t edges_of(const std::vector<const Line*>& lines) {
    std::size_t n = 0;
    for (const auto* l : lines) n += l->edges;
    return n;
}

void strobed(const Trial& trial, const Line& strobe, std::vector<Draft>& out, Progress& progress) {
    if (strobe.edges < 12) return;
    for (const auto direction : {Direction::rise, Direction::fall}) {
        const auto beats = strobe.waveform->edge_times(direction);
        std::vector<const Line*> lines;
        double strength = 0, weight = 0;
        for (const auto& l : trial.lines) {
            if (&l == &strobe || l.edges < 4 || l.edges > strobe.edges + 4) continue;
            const auto p = phase_of(*l.waveform, beats);
            // Data that moves at the reading edge itself is not read there.
            if (p.strength < 0.75 || p.edges < 4 || p.place < 0.04 || p.place > 0.97) continue;
            lines.push_back(&l);
            strength += p.strength * static_cast<double>(p.edges);
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
        x.quality =
            above_chance(strength / weight, 0.5) * std::min(1.0, static_cast<double>(values.size()) / 4.0);
        x.trust = 0.62 * enough(n, 4) * enough(static_cast<double>(lines.size()), 0.6);
        x.explained = 1.0;
        x.candidate.why =
            fmt::format("{} lines move at one place between {} strobes", lines.size(), d->frames.size());
        x.candidate.alternatives.emplace_back(
            "The order of the lines can't be told; a counting value would tell.");
        out.push_back(std::move(x));
    }
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
        // While disabled every line stands at one level.
        const bool passes_high = x.candidate.settings["enable-level"] == "high";
        long same = 0, all = 0;
        const auto edges = enable->waveform->edges();
        for (std::size_t i = 0; i + 1 < edges.size(); ++i) {
            if (enable->waveform->is_rise(i) == passes_high) continue;
            std::size_t high = 0;
            for (const auto* l : lines) high += l->waveform->level_before(edges[i + 1]) ? 1 : 0;
            same += high == 0 || high == lines.size() ? 1 : 0;
            ++all;
        }
        forced = all == 0 ? 0.0 : static_cast<double>(same) / static_cast<double>(all);
        if (forced < 0.8) return;
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

/// Lines that are active one after another, never two at once, and equally often.
std::vector<const Line*> strobes_of(const Trial& trial, bool active_high) {
    std::vector<const Line*> out;
    for (const auto& l : trial.lines)
        if (l.rests_high != active_high && l.edges >= 4) out.push_back(&l);
    // The largest group with like counts of edges whose pulses do not meet.
    std::vector<const Line*> best;
    for (const auto* seed : out) {
        std::vector<const Line*> group;
        for (const auto* l : out) {
            const double ratio = static_cast<double>(l->edges) / static_cast<double>(seed->edges);
            if (ratio < 0.9 || ratio > 1.1) continue;
            bool apart = true;
            for (const auto* g : group) {
                const auto edges = l->waveform->edges();
                long meets = 0, pulses = 0;
                for (std::size_t i = l->waveform->is_rise(0) == active_high ? 0 : 1;
                     i + 1 < std::min<std::size_t>(edges.size(), 4000); i += 2) {
                    ++pulses;
                    meets +=
                        g->waveform->level_at(edges[i]) == active_high ||
                                g->waveform->edges_before(edges[i + 1]) != g->waveform->edges_until(edges[i])
                            ? 1
                            : 0;
                }
                apart = apart && 20 * meets <= pulses;
            }
            if (apart) group.push_back(l);
        }
        if (group.size() > best.size()) best = group;
    }
    return best;
}

void matrix(const Trial& trial, std::vector<Draft>& out, Progress& progress) {
    for (const bool active_high : {false, true}) {
        const auto strobes = strobes_of(trial, active_high);
        if (strobes.size() < 3) continue;
        // In what order their pulses begin: round and round.
        std::vector<std::pair<Time, std::size_t>> starts;
        for (std::size_t s = 0; s < strobes.size(); ++s)
            for (const auto t :
                 strobes[s]->waveform->edge_times(active_high ? Direction::rise : Direction::fall))
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
        const double round =
            starts.size() < 2 ? 0 : static_cast<double>(usual) / static_cast<double>(starts.size() - 1);
        std::vector<std::pair<Time, bool>> leads;
        for (const auto* s : strobes)
            for (const auto t : s->waveform->edges()) leads.emplace_back(t, true);
        std::sort(leads.begin(), leads.end());
        std::vector<const Line*> senses;
        for (const auto& l : trial.lines) {
            if (std::find(strobes.begin(), strobes.end(), &l) != strobes.end() || l.edges < 2) continue;
            if (follow_of(*l.waveform, leads).share > 0.8) senses.push_back(&l);
        }
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

}  // namespace

void try_buses(const Trial& trial, std::vector<Draft>& out, Progress& progress) {
    if (trial.lines.size() > 64) return;
    for (const auto& l : trial.lines) {
        if (progress.cancelled()) return;
        strobed(trial, l, out, progress);
        select_bank(trial, l, nullptr, out, progress);
        for (const auto& e : trial.lines)
            if (&e != &l && e.edges >= 4 && e.edges <= 4 * l.edges) select_bank(trial, l, &e, out, progress);
    }
    matrix(trial, out, progress);
}

}  // namespace grayrelic::identify_parts
