// SPDX-License-Identifier: GPL-3.0-or-later
// A line's pulses fall into brief and lasting ones where their lengths leave a wide step. What counts is how
// many brief pulses stand between two lasting ones: an even number means that the level changed with chatter
// around it, an odd number of very few that the line twitched and stayed. A line whose brief pulses are no
// shorter than what other lines do on purpose has none of either: they are its signal.
#include "core/signal/line_health.hpp"

#include "core/base/long_work.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/signal/measure.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_edges = 2'000'000;
constexpr std::size_t few = 4;             ///< brief pulses, to speak of them at all
constexpr double wide_step = 3;            ///< ratio between the longest brief and the shortest lasting pulse
constexpr std::size_t longest_group = 64;  ///< brief pulses in a row that still are chatter

struct Pulses {
    std::vector<std::int64_t> lengths;  ///< between successive edges
    std::int64_t brief = 0;             ///< those up to here are brief; 0 for none
};

std::span<const Time> looked_at(const DigitalWaveform& t) {
    return t.edges().first(std::min(t.edges().size(), most_edges));
}

std::int64_t quantile(std::vector<std::int64_t> v, double q) {
    const auto at = v.begin() + static_cast<std::ptrdiff_t>(q * static_cast<double>(v.size() - 1));
    std::nth_element(v.begin(), at, v.end());
    return *at;
}

/// The longest brief pulse: below the widest step, in ratio, with some pulses on both sides of it.
std::int64_t brief_limit(const std::vector<std::int64_t>& lengths, std::int64_t at_most) {
    if (lengths.size() < 2 * few) return 0;
    // Only what may be brief is put in order, and one more for the last step: most pulses of a long recording
    // are neither.
    auto sorted = lengths;
    const auto beyond =
        std::partition(sorted.begin(), sorted.end(), [&](std::int64_t x) { return x <= at_most; });
    std::sort(sorted.begin(), beyond);
    if (beyond != sorted.end()) std::iter_swap(beyond, std::min_element(beyond, sorted.end()));
    std::int64_t limit = 0;
    double widest = wide_step;
    for (std::size_t i = few - 1; i + few < sorted.size() && sorted[i] <= at_most; ++i) {
        const double step =
            static_cast<double>(sorted[i + 1]) / static_cast<double>(std::max<std::int64_t>(1, sorted[i]));
        if (step > widest) widest = step, limit = sorted[i];
    }
    return limit;
}

/// A run of brief pulses between two lasting ones: its first edge, and how many brief pulses it has.
struct Group {
    std::size_t edge;
    std::size_t brief;
};

/// What stands before the first and behind the last edge counts as lasting when it is longer than the brief
/// ones.
std::vector<Group> groups_of(const Pulses& p, std::span<const Time> edges, Span extent) {
    std::vector<Group> out;
    const bool rests_before = (edges.front() - extent.from).count() > p.brief,
               rests_behind = (extent.to - edges.back()).count() > p.brief;
    for (std::size_t i = 0; i < p.lengths.size();) {
        if (p.lengths[i] > p.brief) {
            ++i;
            continue;
        }
        const auto from = i;
        while (i < p.lengths.size() && p.lengths[i] <= p.brief) ++i;
        // Cut off at either end it can't be counted.
        if ((from > 0 || rests_before) && (i < p.lengths.size() || rests_behind) && i - from <= longest_group)
            out.push_back({from, i - from});
    }
    return out;
}

/// The line that has most often an edge within `near` of these moments, and how often any has.
struct Company {
    std::string name;
    long with_any = 0;
};
Company company_of(const std::vector<Time>& moments, Time near, const Capture& capture,
                   const std::vector<const DigitalWaveform*>& without) {
    std::map<std::string, long> by_line;
    Company c;
    for (const auto t : moments) {
        bool any = false;
        for (const auto& s : capture.signals) {
            if (!s.digital || std::find(without.begin(), without.end(), s.digital.get()) != without.end())
                continue;
            if (s.digital->edges_until(t + near) == s.digital->edges_before(t - near)) continue;
            any = true;
            ++by_line[s.name];
        }
        c.with_any += any ? 1 : 0;
    }
    long most = 0;
    for (const auto& [name, n] : by_line)
        if (n > most) most = n, c.name = name;
    return c;
}

/// Do these changes keep to half periods of the mains? Each distance must be a whole number of them, within 3
/// %.
double mains_of(const std::vector<Time>& changes) {
    if (changes.size() < 8) return 0;
    for (const double hz : {50.0, 60.0}) {
        const double half = 0.5 / hz;
        std::size_t fits = 0, told = 0;
        for (std::size_t i = 0; i + 1 < changes.size(); ++i) {
            const double n = (changes[i + 1] - changes[i]).seconds() / half;
            if (n > 8) continue;  // too far apart to tell one grid from the other
            ++told;
            if (n > 0.9 && std::abs(n - std::round(n)) < 0.06) ++fits;
        }
        if (told >= 8 && static_cast<double>(fits) > 0.9 * static_cast<double>(told)) return hz;
    }
    return 0;
}

/// Brief pulses after which a line is as before; whether they are ailments depends on the other lines.
struct Twitches {
    std::vector<Time> begins, ends;
    std::int64_t brief = 0;
    [[nodiscard]] bool some() const { return !begins.empty(); }
};

Twitches examine_digital(LineHealth& h, const Signal& s, const Pulses& p, const Capture& capture) {
    const auto edges = looked_at(*s.digital);
    h.changes = static_cast<long>(edges.size());
    Twitches out;
    if (p.brief == 0) return out;
    out.brief = p.brief;
    const auto groups = groups_of(p, edges, capture.extent);
    std::vector<Time> changes;
    long even = 0, even_pulses = 0, odd_long = 0;
    for (const auto& g : groups) {
        if (g.brief % 2 == 0) {
            ++even;
            even_pulses += static_cast<long>(g.brief);
            const bool rise = s.digital->is_rise(g.edge);
            (rise ? h.chatter_after_rise : h.chatter_after_fall) += 1;
            const Time length = edges[g.edge + g.brief] - edges[g.edge];
            if (length > h.chatter_longest) h.chatter_longest = length, h.chatter_at = edges[g.edge];
            changes.push_back(edges[g.edge]);
        } else if (g.brief == 1) {
            out.begins.push_back(edges[g.edge]);
            out.ends.push_back(edges[g.edge + 1]);
        } else {
            ++odd_long;
        }
    }
    // A burst of data leaves both kinds by chance; chatter hardly ever leaves the line where it was.
    if (even < static_cast<long>(few) || odd_long * 4 > even)
        h.chatter_after_rise = h.chatter_after_fall = 0, even_pulses = 0, changes.clear();
    h.changes -= even_pulses;
    // A latch or strobe pulse leaves the line as it was, too, again and again: that is what it is for.
    const long lasting = h.changes - std::min(h.changes, 2 * static_cast<long>(out.begins.size()));
    if (static_cast<long>(out.begins.size()) * 4 > lasting) out = {};
    if (h.chatter() > 0 && 10 * h.chatter() >= 3 * h.changes) {
        // A host that works by picture frames keeps to the mains' time, too: then its other lines move along.
        const bool alone = company_of(changes, Time::us(200), capture, {s.digital.get()}).with_any * 2 <
                           static_cast<long>(changes.size());
        h.mains_hz = alone ? mains_of(changes) : 0;
        h.perhaps_floating = h.mains_hz > 0;
    }
    return out;
}

/// A line that another one gates has brief pulses that end with an edge of that one; crosstalk dies out by
/// itself. Lines that twitch themselves gate nothing: a poor ground moves them together.
void judge_twitches(LineHealth& h, const Twitches& t, const Signal& s, const Capture& capture,
                    const std::vector<const DigitalWaveform*>& twitching) {
    if (!t.some()) return;
    if (company_of(t.ends, Time::ps(std::max<std::int64_t>(1, t.brief / 2)), capture, twitching).with_any *
            2 >
        static_cast<long>(t.ends.size()))
        return;
    h.twitches = static_cast<long>(t.begins.size());
    h.changes -= 2 * h.twitches;
    h.twitch_at = t.begins.front();
    const auto c = company_of(t.begins, Time::ps(t.brief * 2), capture, {s.digital.get()});
    h.twitches_with_others = c.with_any;
    h.twitches_with = c.name;
}

/// What the samples do around the crossings of the middle.
LineHealth::Analogue examine_analogue(const AnalogueWaveform& a, const DigitalWaveform& levels) {
    LineHealth::Analogue out;
    std::vector<float> sorted;
    const auto& samples = a.samples();
    const auto stride = std::max<std::size_t>(1, samples.size() / 200'000);
    for (std::size_t i = 0; i < samples.size(); i += stride)
        if (std::isfinite(samples[i])) sorted.push_back(samples[i]);
    if (sorted.size() < 20) return out;
    std::sort(sorted.begin(), sorted.end());
    const double least = sorted.front(), most = sorted.back(),
                 middle = (sorted[sorted.size() / 50] + sorted[sorted.size() - 1 - sorted.size() / 50]) / 2.0;
    const auto split = std::lower_bound(sorted.begin(), sorted.end(), static_cast<float>(middle));
    if (!(most > least) || split == sorted.begin() || split == sorted.end()) return out;
    // The levels it rests at: the middle of what lies below and above.
    out.low = sorted[static_cast<std::size_t>(split - sorted.begin()) / 2];
    out.high = sorted[static_cast<std::size_t>(split - sorted.begin()) +
                      static_cast<std::size_t>(sorted.end() - split) / 2];
    const double swing = out.high - out.low;
    if (!(swing > 0)) return out;
    std::vector<double> beyond, periods;
    double greatest = 0;
    const auto edges = looked_at(levels);
    for (std::size_t i = 0; i < std::min<std::size_t>(edges.size(), 5000); ++i) {
        const bool rise = levels.is_rise(i);
        const auto from = static_cast<std::size_t>(std::max(0.0, std::ceil(a.sample_at(edges[i]))));
        const auto until = i + 1 < edges.size()
                               ? static_cast<std::size_t>(std::max(0.0, a.sample_at(edges[i + 1])))
                               : samples.size();
        const auto to = std::min({until, from + 256, samples.size()});
        if (to < from + 6) continue;
        const double target = rise ? out.high : out.low, sign = rise ? 1 : -1;
        std::size_t peak = from;
        for (auto k = from; k < to; ++k)
            if (sign * samples[k] > sign * samples[peak]) peak = k;
        const double over = sign * (samples[peak] - target) / swing;
        beyond.push_back(std::max(0.0, over));
        if (over > greatest) greatest = over, out.overshoot_at = edges[i];
        // It rings when it swings back to the other side of the level and over it again.
        std::size_t trough = peak;
        for (auto k = peak; k < to; ++k) {
            if (sign * samples[k] < sign * samples[trough]) trough = k;
            if (sign * (samples[k] - target) > 0 && trough > peak &&
                sign * (target - samples[trough]) > 0.05 * swing)
                break;
        }
        if (over > 0.1 && sign * (target - samples[trough]) > 0.05 * swing)
            periods.push_back(2 * static_cast<double>(trough - peak) * a.period_ps() * 1e-12);
    }
    if (!beyond.empty()) {
        std::nth_element(beyond.begin(), beyond.begin() + static_cast<std::ptrdiff_t>(beyond.size() / 2),
                         beyond.end());
        out.overshoot = beyond[beyond.size() / 2];
    }
    if (periods.size() * 2 > beyond.size() && !periods.empty()) {
        std::nth_element(periods.begin(), periods.begin() + static_cast<std::ptrdiff_t>(periods.size() / 2),
                         periods.end());
        out.ringing_hz = 1 / periods[periods.size() / 2];
    }
    return out;
}

}  // namespace

std::vector<LineHealth> examine_lines(const Capture& capture, Progress& progress) {
    std::vector<Pulses> pulses(capture.signals.size());
    std::vector<std::int64_t> usual(capture.signals.size(), 0);  // what each line does on purpose
    for (std::size_t i = 0; i < capture.signals.size(); ++i) {
        const auto& s = capture.signals[i];
        if (!s.digital) continue;
        const auto edges = looked_at(*s.digital);
        auto& lengths = pulses[i].lengths;
        lengths.reserve(edges.size());
        for (std::size_t k = 0; k + 1 < edges.size(); ++k)
            lengths.push_back((edges[k + 1] - edges[k]).count());
        if (lengths.size() >= 16) usual[i] = quantile(lengths, 0.5);
        if (progress.cancelled()) return {};
    }
    std::vector<LineHealth> out;
    std::vector<std::pair<std::size_t, Twitches>> suspects;  // of each entry: its signal
    std::vector<const DigitalWaveform*> twitching;
    for (std::size_t i = 0; i < capture.signals.size(); ++i) {
        const auto& s = capture.signals[i];
        if (!s.digital || s.digital->edges().empty()) continue;
        if (progress.cancelled()) return out;
        LineHealth h;
        h.signal = s.name;
        auto at_most = std::numeric_limits<std::int64_t>::max();
        for (std::size_t k = 0; k < usual.size(); ++k)
            if (k != i && usual[k] > 0 && capture.signals[k].digital != s.digital)
                at_most = std::min(at_most, usual[k] / 4);
        pulses[i].brief = brief_limit(pulses[i].lengths, at_most);
        suspects.emplace_back(i, examine_digital(h, s, pulses[i], capture));
        if (suspects.back().second.some()) twitching.push_back(s.digital.get());
        if (s.analogue) {
            h.analogue = examine_analogue(*s.analogue, *s.digital);
            const auto t = guess_threshold(*s.analogue);
            const double swing = h.analogue->high - h.analogue->low;
            if (swing > 0)
                h.analogue->least_clearance =
                    std::min(t.level - h.analogue->low, h.analogue->high - t.level) / swing;
        }
        out.push_back(std::move(h));
        progress.report(static_cast<double>(i + 1) / static_cast<double>(capture.signals.size()));
    }
    for (std::size_t k = 0; k < out.size(); ++k)
        judge_twitches(out[k], suspects[k].second, capture.signals[suspects[k].first], capture, twitching);
    return out;
}

DigitalWaveform without_chatter(const DigitalWaveform& waveform, Time within) {
    long_work("without_chatter");
    const auto edges = waveform.edges();
    std::vector<Time> kept;
    for (std::size_t i = 0; i < edges.size();) {
        const auto from = i;
        while (i + 1 < edges.size() && edges[i + 1] - edges[i] < within) ++i;
        ++i;
        // An odd number of edges leaves the line at the other level, from the first of them on.
        if ((i - from) % 2 == 1) kept.push_back(edges[from]);
    }
    return {waveform.first_level(), kept, {waveform.unknown().begin(), waveform.unknown().end()}};
}

Capture without_chatter(const Capture& capture, Time within) {
    long_work("without_chatter");
    auto out = capture;
    std::map<const DigitalWaveform*, std::shared_ptr<const DigitalWaveform>> done;
    for (auto& s : out.signals) {
        if (!s.digital) continue;
        auto& d = done[s.digital.get()];
        if (!d) d = std::make_shared<const DigitalWaveform>(without_chatter(*s.digital, within));
        s.digital = d;
    }
    return out;
}

}  // namespace grayrelic
