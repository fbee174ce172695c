// SPDX-License-Identifier: GPL-3.0-or-later
// Families with a clock of their own: latch and shift, clock and data with framing, plain clocked serial.
#include <fmt/format.h>

#include <cmath>
#include <map>
#include <numeric>

#include "core/decode/identify_parts.hpp"

namespace grayrelic::identify_parts {
namespace {

/// A line that could be a clock: bursts of edges at an even pace.
struct Clock {
    const Line* line = nullptr;
    Time period;                                              ///< between edges of one direction, median
    std::vector<std::pair<std::size_t, std::size_t>> bursts;  ///< of edges
    double even = 0;        ///< share of distances inside bursts within 25 % of the usual one of their kind
    double alike = 0;       ///< share of bursts of the three most frequent lengths
    std::size_t usual = 0;  ///< edges in the most frequent burst
};

std::optional<Clock> clock_of(const Line& line) {
    if (line.edges < 16) return std::nullopt;
    Clock c;
    c.line = &line;
    const auto edges = line.waveform->edges();
    std::vector<Time> all(edges.begin(), edges.end());
    std::vector<Time> rises;
    rises.reserve(edges.size() / 2 + 1);
    for (std::size_t i = line.waveform->is_rise(0) ? 0 : 1; i < edges.size(); i += 2)
        rises.push_back(edges[i]);
    const auto period = median_distance(rises);
    if (!period || *period <= Time{}) return std::nullopt;
    c.period = *period;
    c.bursts = bursts_of(all, c.period * 3);
    long even = 0, inside = 0;
    for (std::size_t i = 1; i < rises.size(); ++i) {
        const Time d = rises[i] - rises[i - 1];
        if (d > c.period * 3) continue;
        ++inside;
        even += std::abs(static_cast<double>(d.count()) / static_cast<double>(c.period.count()) - 1) < 0.25
                    ? 1
                    : 0;
    }
    c.even = inside == 0 ? 0 : static_cast<double>(even) / static_cast<double>(inside);
    std::map<std::size_t, std::size_t> lengths;
    for (const auto& [from, to] : c.bursts) ++lengths[to - from];
    std::vector<std::pair<std::size_t, std::size_t>> sorted;
    sorted.reserve(lengths.size());
    for (const auto& [length, n] : lengths) sorted.emplace_back(n, length);
    std::sort(sorted.rbegin(), sorted.rend());
    std::size_t top = 0;
    for (std::size_t i = 0; i < std::min<std::size_t>(3, sorted.size()); ++i) top += sorted[i].first;
    c.alike = static_cast<double>(top) / static_cast<double>(std::max<std::size_t>(1, c.bursts.size()));
    c.usual = sorted.empty() ? 0 : sorted.front().second;
    // One endless burst says nothing about framing, and bursts of one edge are no clock.
    if (c.even < 0.7 || c.usual < 6) return std::nullopt;
    return c;
}

/// How a data line moves with a clock.
struct Follows {
    double one_edge = 0;  ///< share of its edges in bursts that come after the same kind of clock edge
    double inside = 0;    ///< share of its edges that lie in bursts, or just around them
    long moves = 0;       ///< inside bursts
};

Follows follows(const DigitalWaveform& data, const Clock& c) {
    Follows f;
    const auto clocks = c.line->waveform->edges();
    const auto moves = data.edges();
    if (moves.empty()) return f;
    long after_rise = 0, after_fall = 0, near = 0;
    std::size_t b = 0, k = 0;
    for (const auto t : moves) {
        while (b < c.bursts.size() && clocks[c.bursts[b].second - 1] + c.period * 2 < t) ++b;
        if (b == c.bursts.size()) break;
        const auto [from, to] = c.bursts[b];
        if (t < clocks[from] - c.period * 4) continue;  // in the pause
        ++near;
        if (t < clocks[from] || t > clocks[to - 1]) continue;
        k = std::max(k, from);
        while (k + 1 < to && clocks[k + 1] <= t) ++k;
        (c.line->waveform->is_rise(k) ? after_rise : after_fall) += 1;
    }
    f.moves = after_rise + after_fall;
    f.one_edge = f.moves == 0
                     ? 0.5
                     : static_cast<double>(std::max(after_rise, after_fall)) / static_cast<double>(f.moves);
    f.inside = static_cast<double>(near) / static_cast<double>(moves.size());
    return f;
}

/// How a control line stands to the bursts of a clock.
struct Control {
    double pulse_before =
        0;  ///< share of bursts with exactly one pulse in the pause before, over before the clock starts
    double quiet = 0;  ///< share of its edges that lie outside bursts
};

/// A line as a select: it rests at one level; each time it is at the other, a like number of clock edges
/// comes, whole pulses of them, and the data moves. Clocks while it rests are for others, and words within it
/// may be parted by pauses.
struct Select {
    double filled = 0;       ///< share of its active stretches with whole clock pulses, three at least
    double alike = 0;        ///< share of them with one of the three most frequent numbers of clock edges
    double close = 0;        ///< share of them that begin and end within a few clocks of what runs in them
    double data_inside = 0;  ///< share of the data's edges that lie in them
    std::size_t clock_edges = 0, data_edges = 0;  ///< in them
    long stretches = 0;
    /// 0 to 1.
    [[nodiscard]] double quality() const {
        return above_chance(filled, 0.5) * above_chance(alike, 0.3) *
               std::max(above_chance(data_inside, 0.85), above_chance(close, 0.5)) *
               enough(static_cast<double>(stretches), 1);
    }
};

Control control_of(const DigitalWaveform& line, const Clock& c) {
    Control out;
    const auto clocks = c.line->waveform->edges();
    long pulse = 0, inside = 0, pauses = 0;
    for (std::size_t b = 0; b < c.bursts.size(); ++b) {
        const auto [from, to] = c.bursts[b];
        const Time start = clocks[from], end = clocks[to - 1];
        const auto n_start = line.edges_before(start), n_end = line.edges_until(end);
        inside += static_cast<long>(n_end - n_start);
        const Time before = b == 0 ? start - c.period * 100 : clocks[c.bursts[b - 1].second - 1];
        const auto n_before = line.edges_until(before);
        if (b == 0 && n_start - n_before != 2) continue;  // what came before the capture is not known
        ++pauses;
        if (n_start - n_before == 2) {
            // Where it is for most of the pause tells a latch from a select line.
            const auto edges = line.edges();
            const Time there = edges[n_before + 1] - edges[n_before], pause = start - before;
            if (there + there < pause) ++pulse;
        }
    }
    const auto n = static_cast<double>(std::max(1L, pauses));
    out.pulse_before = static_cast<double>(pulse) / n;
    out.quiet = line.edges().empty()
                    ? 0
                    : 1.0 - static_cast<double>(inside) / static_cast<double>(line.edges().size());
    return out;
}

Select select_of(const DigitalWaveform& line, const Clock& c, const DigitalWaveform& data) {
    Select best;
    const auto& clock = *c.line->waveform;
    const auto clocks = clock.edges();
    const auto edges = line.edges();
    const Time few = c.period * 6;
    for (const bool active : {false, true}) {
        Select s;
        std::vector<Span> spans;
        std::map<std::size_t, long> counts;
        long filled = 0, close = 0;
        for (std::size_t i = 0; i + 1 < edges.size(); ++i) {
            if (line.level_after(i + 1) != active) continue;
            const auto first = clock.edges_before(edges[i]), last = clock.edges_until(edges[i + 1]);
            spans.push_back({edges[i], edges[i + 1]});
            ++counts[last - first];
            if (last - first < 6 || (last - first) % 2 != 0) continue;
            ++filled;
            close += clocks[first] - edges[i] < few && edges[i + 1] - clocks[last - 1] < few ? 1 : 0;
        }
        if (spans.size() < 3) continue;
        std::vector<long> often;
        often.reserve(counts.size());
        for (const auto& [n, times] : counts) often.push_back(times);
        std::sort(often.rbegin(), often.rend());
        if (often.size() > 3) often.resize(3);
        const auto all = static_cast<double>(spans.size());
        s.stretches = static_cast<long>(spans.size());
        s.filled = static_cast<double>(filled) / all;
        s.close = static_cast<double>(close) / all;
        // How many came again: the first of each number proves nothing.
        const auto kinds = static_cast<double>(often.size());
        s.alike = all > kinds
                      ? (static_cast<double>(std::accumulate(often.begin(), often.end(), 0L)) - kinds) /
                            (all - kinds)
                      : 0.0;
        // The sender may let go of the line a little later.
        for (auto& span : spans) span.from -= c.period / 2, span.to += c.period;
        s.clock_edges = edges_inside(clock, spans);
        s.data_edges = edges_inside(data, spans);
        s.data_inside = data.edges().empty()
                            ? 0.0
                            : static_cast<double>(s.data_edges) / static_cast<double>(data.edges().size());
        if (s.quality() > best.quality()) best = s;
    }
    return best;
}

double share(std::size_t part, std::size_t whole) {
    return whole == 0 ? 0.0 : static_cast<double>(part) / static_cast<double>(whole);
}

/// Edges that follow the clock count for more than chance gives; a line that hardly moves proves little.
double data_quality(const Follows& f) {
    if (f.moves < 4) return 0.55 * f.inside;
    return above_chance(f.one_edge, 0.7) * above_chance(f.inside, 0.3) *
           enough(static_cast<double>(f.moves), 1.5);
}

void latch_shift(const Trial& trial, const Clock& c, const Line& latch, const Control& control,
                 const Line& data, const Follows& f, std::vector<Draft>& out, Progress& progress) {
    Draft x;
    const auto d = try_decoder(trial, "latch-shift",
                               {{"latch", {latch.name}}, {"clock", {c.line->name}}, {"data", {data.name}}},
                               {}, x, progress);
    if (!d || d->frames.size() < 2) return;
    std::vector<Span> spans;
    for (const auto& frame : d->frames) spans.push_back({frame.start, frame.end + c.period});
    x.quality = above_chance(control.pulse_before, 0.3) * control.quiet * c.alike * data_quality(f);
    x.trust = 0.93 * enough(static_cast<double>(d->frames.size()), 1.5);
    const auto inside = edges_inside(*latch.waveform, spans) + edges_inside(*c.line->waveform, spans) +
                        edges_inside(*data.waveform, spans);
    x.explained = share(inside, latch.edges + c.line->edges + data.edges);
    x.candidate.why =
        fmt::format("a pulse before {:.0f} % of {} bursts of {} clocks, and data that moves with the clock",
                    100 * control.pulse_before, c.bursts.size(), c.usual / 2);
    if (f.moves < 4)
        x.candidate.alternatives.emplace_back(
            "The data line hardly moves; which edge it is read at would show while something is pressed.");
    out.push_back(std::move(x));
}

void framed(const Trial& trial, const Clock& c, const Line& data, const Follows& f, std::vector<Draft>& out,
            Progress& progress) {
    Draft x;
    const auto d = try_decoder(trial, "framed-clock", {{"clock", {c.line->name}}, {"data", {data.name}}}, {},
                               x, progress);
    if (!d || d->frames.size() < 3) return;
    const auto clean = d->frames.size() - static_cast<std::size_t>(d->frames_with_errors());
    const bool parity = x.candidate.settings["parity"] != "none";
    // Start, stop and parity stand by chance in one of eight frames, without parity in one of four.
    x.quality = above_chance(share(clean, d->frames.size()), parity ? 0.4 : 0.6) *
                (f.moves < 4 ? 0.6 : above_chance(f.one_edge, 0.6));
    x.trust = (parity ? 0.99 : 0.85) * enough(static_cast<double>(d->frames.size()), 2);
    std::vector<Span> spans;
    for (const auto& frame : d->frames)
        if (frame.errors.empty()) spans.push_back({frame.start - c.period, frame.end + c.period});
    x.explained = share(edges_inside(*c.line->waveform, spans) + edges_inside(*data.waveform, spans),
                        c.line->edges + data.edges);
    x.candidate.why = fmt::format("start, stop{} are right in {} of {} frames",
                                  parity ? " and " + x.candidate.settings["parity"] + " parity" : "", clean,
                                  d->frames.size());
    out.push_back(std::move(x));
}

void clocked(const Trial& trial, const Clock& c, const Line& data, const Follows& f, const Line* select,
             const Select& chosen, std::vector<Draft>& out, Progress& progress) {
    Draft x;
    RoleMap roles{{"clock", {c.line->name}}, {"data", {data.name}}};
    if (select != nullptr) roles["select"] = {select->name};
    const auto d = try_decoder(trial, "clocked", roles, {}, x, progress);
    if (!d || d->frames.size() < 2) return;
    const auto clean = d->frames.size() - static_cast<std::size_t>(d->frames_with_errors());
    std::vector<Span> spans;
    for (const auto& frame : d->frames)
        if (frame.errors.empty()) spans.push_back({frame.start - c.period, frame.end + c.period});
    x.quality =
        data_quality(f) * share(clean, d->frames.size()) * (select != nullptr ? chosen.quality() : c.alike);
    x.trust = (select != nullptr ? 0.86 : 0.66) * enough(static_cast<double>(d->frames.size()), 1.5);
    auto inside = edges_inside(*c.line->waveform, spans) + edges_inside(*data.waveform, spans);
    auto whole = c.line->edges + data.edges;
    // Clocks while it is not selected are for others.
    if (select != nullptr)
        inside += select->edges, whole = chosen.clock_edges + chosen.data_edges + select->edges;
    x.explained = std::min(1.0, share(inside, whole));
    x.candidate.why = fmt::format("bursts of {} clocks, data that rests at the reading edge{}", c.usual / 2,
                                  select != nullptr ? ", a select line around them" : "");
    out.push_back(std::move(x));
}

/// The clock and the data with each further line, as a latch or as a select.
void with_controls(const Trial& trial, const Clock& c, const Line& data, const Follows& f,
                   std::vector<Draft>& out, Progress& progress) {
    for (const auto& other : trial.lines) {
        if (&other == c.line || &other == &data || other.edges >= c.line->edges) continue;
        const auto control = control_of(*other.waveform, c);
        if (control.pulse_before > 0.5 && control.quiet > 0.8)
            latch_shift(trial, c, other, control, data, f, out, progress);
        if (control.pulse_before > 0.5) continue;
        const auto chosen = select_of(*other.waveform, c, *data.waveform);
        // A clock that never pauses is nobody's; whoever is selected makes it run.
        if (chosen.quality() > 0.3 && 4 * c.bursts.size() >= static_cast<std::size_t>(chosen.stretches))
            clocked(trial, c, data, f, &other, chosen, out, progress);
    }
}

}  // namespace

void try_clocks(const Trial& trial, std::vector<Draft>& out, Progress& progress) {
    std::vector<Clock> clocks;
    for (const auto& line : trial.lines)
        if (auto c = clock_of(line)) clocks.push_back(std::move(*c));
    // The busiest six: a clock has more edges than what it clocks.
    std::stable_sort(clocks.begin(), clocks.end(),
                     [](const Clock& x, const Clock& y) { return x.line->edges > y.line->edges; });
    if (clocks.size() > 6) clocks.resize(6);
    for (const auto& c : clocks)
        for (const auto& data : trial.lines) {
            if (&data == c.line || progress.cancelled()) continue;
            const auto f = follows(*data.waveform, c);
            if (f.inside < 0.5 || (f.moves >= 4 && f.one_edge < 0.75)) continue;
            if (data.edges > c.line->edges) continue;
            framed(trial, c, data, f, out, progress);
            // Without a select only bursts tell where a word begins, and only a line that moves is data.
            if (f.moves >= 8 && c.bursts.size() >= 4) clocked(trial, c, data, f, nullptr, {}, out, progress);
            with_controls(trial, c, data, f, out, progress);
        }
}

}  // namespace grayrelic::identify_parts
