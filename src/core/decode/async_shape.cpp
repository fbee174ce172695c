// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/async_shape.hpp"

#include <algorithm>
#include <bit>
#include <cmath>
#include <set>
#include <vector>

#include "core/decode/settings.hpp"

namespace grayrelic::async_line {
namespace {

constexpr std::size_t trial_edges = 24'000;  ///< of the waveform, for choosing settings
constexpr long hopeless_after = 400;         ///< characters, most of them without a stop bit
constexpr int usual_bits = 8;
constexpr long enough_characters = 16;  ///< a shorter reading holds in all of them by chance once in 65,536

struct Trial {
    Shape shape;
    long characters = 0, framing = 0, breaks = 0;
    std::vector<std::uint32_t> data;  ///< of those that framed
    [[nodiscard]] double bad() const {
        return characters == 0 ? 1.0 : static_cast<double>(framing) / static_cast<double>(characters);
    }
};

Trial try_shape(const DigitalWaveform& waveform, Span extent, const Shape& shape) {
    Trial t;
    t.shape = shape;
    walk(Line(waveform, shape, extent.from), trial_edges, [&](const Character& c, std::size_t) {
        if (c.all_space && !c.stopped) {  // breaks tell nothing about the shape
            ++t.breaks;
            return true;
        }
        ++t.characters;
        if (c.stopped)
            t.data.push_back(c.data);
        else
            ++t.framing;
        return t.characters < hopeless_after ||
               2 * t.framing < t.characters;  // no better shape will come of it
    });
    return t;
}

/// Even or odd when all agree but for a few, and those that agree differ so much that chance would not do it:
/// each different character without parity agrees in one of two cases.
Parity find_parity(const Trial& t, int positions) {
    constexpr std::size_t few = 6, many = 9;
    std::set<std::uint32_t> even, odd;
    long evens = 0;
    for (const auto d : t.data) {
        const bool o = (std::popcount(d) & 1) != 0;
        (o ? odd : even).insert(d);
        evens += o ? 0 : 1;
    }
    const auto all = static_cast<long>(t.data.size());
    if (positions < 6 || all < 12) return Parity::none;
    const auto agrees = [&](const std::set<std::uint32_t>& with, const std::set<std::uint32_t>& against,
                            long others) {
        if (others == 0) return with.size() >= few;
        return all >= 24 && with.size() >= many && 10 * others <= all && 4 * against.size() <= with.size();
    };
    return agrees(even, odd, all - evens) ? Parity::even
           : agrees(odd, even, evens)     ? Parity::odd
                                          : Parity::none;
}

/// Mark or space when the last position stands there in nearly all.
Parity constant_top(const Trial& t, int positions) {
    long marks = 0;
    for (const auto d : t.data) marks += static_cast<long>((d >> static_cast<unsigned>(positions - 1)) & 1U);
    const auto all = static_cast<long>(t.data.size());
    if (all < 4) return Parity::none;
    return 20 * (all - marks) <= all ? Parity::mark : 20 * marks <= all ? Parity::space : Parity::none;
}

/// 1, 1.5 or 2: how close characters come to each other; nothing where they never come close.
std::optional<double> find_stop(const DigitalWaveform& waveform, Span extent, const Shape& shape) {
    std::vector<double> gaps;
    Time last;
    bool any = false;
    walk(Line(waveform, shape, extent.from), trial_edges, [&](const Character& c, std::size_t) {
        if (any)
            gaps.push_back(static_cast<double>((c.start - last).count()) / shape.bit_ps -
                           (shape.positions() + 1));
        any = c.stopped;
        last = c.start;
        return true;
    });
    if (gaps.size() < 3) return std::nullopt;
    std::sort(gaps.begin(), gaps.end());
    const double least = gaps[gaps.size() / 50];
    const auto close = std::count_if(gaps.begin(), gaps.end(), [&](double g) { return g < least + 0.2; });
    if (close < 3 || 10 * close < static_cast<long>(gaps.size())) return std::nullopt;
    for (const double stop : {1.0, 1.5, 2.0})
        if (std::abs(least - stop) < 0.2) return stop;
    return std::nullopt;
}

/// A line rests at mark. What it does at both ends says which level that is, else where it stays longer than
/// any character could; nothing where neither tells.
std::optional<bool> mark_level(const DigitalWaveform& waveform, Span extent, double bit_ps) {
    const auto edges = waveform.edges();
    const double end_rest = 3.0 * bit_ps, long_rest = 11.7 * bit_ps;
    const double before = static_cast<double>((edges.front() - extent.from).count()),
                 behind = static_cast<double>((extent.to - edges.back()).count());
    const bool first = waveform.first_level(), last = waveform.level_after(edges.size());
    if (first == last && std::min(before, behind) > end_rest) return first;
    double rests[2] = {0, 0};
    for (std::size_t i = 0; i + 1 < edges.size() && i < trial_edges; ++i) {
        const double d = static_cast<double>((edges[i + 1] - edges[i]).count());
        if (d > long_rest) rests[waveform.level_after(i + 1) ? 1 : 0] += 1;
    }
    if (before > long_rest) rests[first ? 1 : 0] += 1;
    if (behind > long_rest) rests[last ? 1 : 0] += 1;
    if (rests[0] == 0 && rests[1] == 0) return std::nullopt;
    if (std::min(rests[0], rests[1]) * 3 > std::max(rests[0], rests[1])) return std::nullopt;
    return rests[1] > rests[0];
}

/// Numbers of positions that the settings allow.
bool allowed(const Wanted& w, int positions) {
    const bool parity = w.parity && *w.parity != Parity::none;
    if (w.bits) {
        if (w.parity) return positions == *w.bits + (parity ? 1 : 0);
        return positions == *w.bits || positions == *w.bits + 1;
    }
    if (parity) return positions >= 6;
    return positions <= 9 || !w.parity;
}

struct Choice {
    Trial trial;
    bool few = false;
};

/// Of the readings at one rate and polarity: the fewest bits that read all there is, since more bits also
/// read what has pauses; eight while little was heard.
std::optional<Choice> best_of(const DigitalWaveform& waveform, Span extent, const Wanted& wanted, Shape s) {
    constexpr double hopeless = 0.5;
    // One odd character of twenty or more, or a few of hundreds, is an error in its place.
    const auto as_well = [](const Trial& t) {
        return 0.015 + 1.0 / static_cast<double>(std::max(20L, t.characters));
    };
    std::vector<Trial> trials;
    double least = 2;
    for (int positions = 5; positions <= 10; ++positions) {
        if (!allowed(wanted, positions)) continue;
        s.bits = positions;  // tried without parity
        auto t = try_shape(waveform, extent, s);
        if (t.characters == 0) continue;
        least = std::min(least, t.bad());
        trials.push_back(std::move(t));
    }
    std::erase_if(trials, [&](const Trial& t) { return t.bad() > least + as_well(t); });
    if (trials.empty()) return std::nullopt;
    const auto of = [&](int positions) {
        return std::find_if(trials.begin(), trials.end(),
                            [&](const Trial& t) { return t.shape.bits == positions; });
    };
    auto best =
        std::find_if(trials.begin(), trials.end(), [&](const Trial& t) { return t.bad() <= least + 1e-9; });
    // A longer reading takes a bad stop bit before a pause for a bit of data: rather an error in its place
    // than words of unusual length, or than a last bit that moves once in thirty characters or more.
    if (best->shape.bits > usual_bits && of(usual_bits) != trials.end())
        best = of(usual_bits);
    else if (const auto shorter = of(best->shape.bits - 1);
             shorter != trials.end() && shorter->framing == 1 && shorter->characters >= 30)
        best = shorter;
    bool few = false;
    if (best->shape.bits < usual_bits && of(usual_bits) != trials.end() &&
        of(usual_bits)->characters < enough_characters && best->bad() < hopeless)
        best = of(usual_bits), few = true;
    return Choice{std::move(*best), few};
}

void settle_parity(const Wanted& wanted, const Trial& trial, Shape& shape) {
    const int positions = shape.bits;
    if (wanted.parity) {
        shape.parity = *wanted.parity;
    } else if (wanted.bits) {
        shape.parity = positions == *wanted.bits ? Parity::none : find_parity(trial, positions);
        if (positions > *wanted.bits && shape.parity == Parity::none) {
            shape.parity = constant_top(trial, positions);
            if (shape.parity == Parity::none) shape.parity = Parity::even;  // a position is left over
        }
    } else {
        shape.parity = find_parity(trial, positions);
        if (shape.parity == Parity::none && positions == 10) {
            shape.parity = constant_top(trial, positions);
            if (shape.parity == Parity::none) shape.parity = Parity::space;
        }
        // Nine bits are rare; a ninth that never moves is no data.
        if (shape.parity == Parity::none && positions == 9) shape.parity = constant_top(trial, positions);
    }
    shape.bits = std::min(9, shape.parity == Parity::none ? positions : positions - 1);
}

void settle_stop(const DigitalWaveform& waveform, Span extent, Found& found) {
    const auto stop = find_stop(waveform, extent, found.shape);
    found.shape.stop = stop.value_or(1.0);
    found.stop_known = stop.has_value();
}

/// The best of these rates, each under the polarities that the line's rests leave open.
std::optional<Choice> choose(const DigitalWaveform& waveform, Span extent, const Wanted& wanted,
                             const std::vector<double>& times, Found& found) {
    std::optional<Choice> chosen;
    double least = 2;
    for (std::size_t k = 0; k < times.size(); ++k) {
        std::vector<bool> polarities;
        if (wanted.inverted)
            polarities = {*wanted.inverted};
        else if (const auto mark = mark_level(waveform, extent, times[k]))
            polarities = {!*mark};
        else
            polarities = {!resting_level(waveform), resting_level(waveform)};
        for (std::size_t v = 0; v < polarities.size(); ++v) {
            Shape s;
            s.bit_ps = times[k];
            s.inverted = polarities[v];
            auto choice = best_of(waveform, extent, wanted, s);
            if (!choice) continue;
            // Another rate or polarity must be clearly better.
            const double bad =
                choice->trial.bad() + 0.04 * static_cast<double>(k) + 0.03 * static_cast<double>(v);
            if (v == 1 && chosen && chosen->trial.shape.bit_ps == s.bit_ps &&
                choice->trial.bad() <= chosen->trial.bad())
                found.either_way = true;
            if (bad < least - 1e-9) least = bad, chosen = std::move(choice);
        }
    }
    return chosen;
}

/// More that does not end in a stop bit than errors explain.
bool reads_badly(const Trial& t) {
    const long all = t.characters + t.breaks;
    return 5 * (t.framing + t.breaks) > all;
}

}  // namespace

Found find_shape(const DigitalWaveform& waveform, Span extent, const Wanted& wanted) {
    Found found;
    auto& best = found.shape;
    if (wanted.parity) best.parity = *wanted.parity;
    if (wanted.bits) best.bits = *wanted.bits;
    if (wanted.inverted) best.inverted = *wanted.inverted;
    if (wanted.stop) best.stop = *wanted.stop;
    const auto times = wanted.bit_ps ? std::vector<double>{*wanted.bit_ps} : bit_time_candidates(waveform);
    if (times.empty()) return found;
    best.bit_ps = wanted.bit_ps.value_or(0);
    if (waveform.edges().empty()) return found;
    if (wanted.bit_ps && wanted.bits && wanted.parity && wanted.inverted) {
        // Nothing is left to choose: what the settings say is final.
        if (!wanted.stop) settle_stop(waveform, extent, found);
        return found;
    }
    auto chosen = choose(waveform, extent, wanted, times, found);
    if (!wanted.bit_ps && (!chosen || reads_badly(chosen->trial)))
        if (auto chatter = bit_times_behind_chatter(waveform); !chatter.bit_times_ps.empty()) {
            Found behind = found;
            auto other = choose(waveform, extent, wanted, chatter.bit_times_ps, behind);
            if (other && !reads_badly(other->trial)) {
                chosen = std::move(other);
                found.either_way = behind.either_way;
                found.chatter_ps = chatter.longest_ps;
            }
        }
    if (!chosen) return found;
    best = chosen->trial.shape;
    found.few = chosen->few;
    settle_parity(wanted, chosen->trial, best);
    if (wanted.stop)
        best.stop = *wanted.stop;
    else
        settle_stop(waveform, extent, found);
    return found;
}

BitTimeFit refine_rate(const DigitalWaveform& waveform, Span extent, Shape& shape) {
    BitTimeFit fit;
    for (int pass = 0; pass < 2; ++pass) {
        std::vector<double> offsets;
        std::vector<int> multiples;
        std::vector<char> turned;
        const Line line(waveform, shape, extent.from);
        walk(line, 4 * trial_edges, [&](const Character& c, std::size_t start) {
            if (!c.stopped) return true;
            for (auto i = start + 1; i < c.after; ++i) {
                const auto offset = static_cast<double>((line.edge(i) - c.start).count());
                const double k = std::round(offset / shape.bit_ps);
                if (std::abs(offset - k * shape.bit_ps) > 0.35 * shape.bit_ps) continue;
                offsets.push_back(offset);
                multiples.push_back(static_cast<int>(k));
                turned.push_back(line.is_mark_after(i + 1) ? 1 : 0);
            }
            return true;
        });
        const auto next = fit_bit_time(offsets, multiples, turned);
        if (!(next.ps > 0) || std::abs(next.ps / shape.bit_ps - 1) > 0.05) break;
        fit = next;
        shape.bit_ps = next.ps;
    }
    return fit;
}

}  // namespace grayrelic::async_line
