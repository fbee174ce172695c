// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/waveform.hpp"

#include <algorithm>
#include <stdexcept>

namespace grayrelic {

DigitalWaveform::DigitalWaveform(bool first_level, const std::vector<Time>& edges, std::vector<Span> unknown)
    : first_level_(first_level), edges_(std::span<const Time>(edges)), unknown_(std::move(unknown)) {
    if (std::adjacent_find(edges.begin(), edges.end(), std::greater_equal<>{}) != edges.end())
        throw std::logic_error("DigitalWaveform: edge times must increase");
    build_pyramid();
}

DigitalWaveform DigitalWaveform::from_sorted(bool first_level, EdgeBuffer edges, std::vector<Span> unknown,
                                             std::vector<Span> floating) {
    DigitalWaveform waveform;
    waveform.first_level_ = first_level;
    waveform.edges_ = std::move(edges);
    waveform.unknown_ = std::move(unknown);
    waveform.floating_ = std::move(floating);
    waveform.build_pyramid();
    return waveform;
}

void DigitalWaveform::build_pyramid() {
    std::span<const Time> below = edges_.view();
    while (below.size() > fan) {
        std::vector<Time> level;
        level.reserve(below.size() / fan + 1);
        for (std::size_t i = 0; i < below.size(); i += fan) level.push_back(below[i]);
        pyramid_.push_back(std::move(level));
        below = pyramid_.back();
    }
}

std::size_t DigitalWaveform::entries_before(Time t, std::size_t step) const {
    // From the top: among at most 64 entries find the last one below t; it names the block one step down.
    std::size_t block = 0;
    for (std::size_t k = steps(); k-- > step;) {
        const auto level = entries(k);
        const auto from = level.begin() + static_cast<std::ptrdiff_t>(std::min(block * fan, level.size()));
        const auto to =
            level.begin() + static_cast<std::ptrdiff_t>(std::min(block * fan + fan, level.size()));
        const auto below = static_cast<std::size_t>(std::lower_bound(from, to, t) - level.begin());
        if (k == step || below == 0) return below;
        block = below - 1;
    }
    return 0;
}

std::size_t DigitalWaveform::edges_before(Time t) const {
    return entries_before(t, 0);
}

std::size_t DigitalWaveform::edges_until(Time t) const {
    return t == Time::max() ? edges_.size() : entries_before(t + Time::ps(1), 0);
}

bool DigitalWaveform::known_before(Time t) const {
    const auto it = std::upper_bound(unknown_.begin(), unknown_.end(), t,
                                     [](Time v, const Span& s) { return v <= s.to; });
    return it == unknown_.end() || it->from >= t;
}

bool DigitalWaveform::known_between(Time from, Time to) const {
    const auto it = std::upper_bound(unknown_.begin(), unknown_.end(), from,
                                     [](Time v, const Span& s) { return v < s.to; });
    return it == unknown_.end() || it->from >= to;
}

std::vector<Time> DigitalWaveform::edge_times(Direction d) const {
    const auto all = edges_.view();
    if (d == Direction::any) return {all.begin(), all.end()};
    std::vector<Time> out;
    out.reserve(all.size() / 2 + 1);
    const bool want_rise = d == Direction::rise;
    for (std::size_t i = is_rise(0) == want_rise ? 0 : 1; i < all.size(); i += 2) out.push_back(all[i]);
    return out;
}

std::size_t DigitalWaveform::bytes() const {
    std::size_t total = edges_.bytes() + (unknown_.capacity() + floating_.capacity()) * sizeof(Span);
    for (const auto& level : pyramid_) total += level.capacity() * sizeof(Time);
    return total;
}

void fill_columns(const DigitalWaveform& waveform, Time from, Time to, std::span<Column> columns) {
    if (columns.empty()) return;
    const auto count = columns.size();
    const auto n = static_cast<long double>(count);
    const auto width = static_cast<long double>(to.count()) - static_cast<long double>(from.count());
    const auto border = [&](std::size_t i) {
        if (i == count) return to;
        return Time::ps(static_cast<std::int64_t>(static_cast<long double>(from.count()) +
                                                  width * static_cast<long double>(i) / n));
    };
    // The coarsest step with at least four entries a column tells most columns apart.
    std::size_t step = waveform.steps() - 1;
    while (step > 0 && waveform.entries_before(to, step) - waveform.entries_before(from, step) < 4 * count)
        --step;
    std::size_t scale = 1;
    for (std::size_t k = 0; k < step; ++k) scale *= DigitalWaveform::fan;
    std::vector<std::size_t> coarse(count + 1);
    coarse[0] = waveform.entries_before(from, step);
    const auto entries = waveform.entries(step);
    for (std::size_t i = 1; i <= count; ++i) {
        // The next border is seldom far: look ahead in growing steps before searching.
        const Time t = border(i);
        std::size_t low = coarse[i - 1];
        std::size_t ahead = 1;
        while (low + ahead <= entries.size() && entries[low + ahead - 1] < t) {
            low += ahead;
            ahead *= 2;
        }
        const auto end = std::min(low + ahead, entries.size());
        coarse[i] =
            static_cast<std::size_t>(std::lower_bound(entries.begin() + static_cast<std::ptrdiff_t>(low),
                                                      entries.begin() + static_cast<std::ptrdiff_t>(end), t) -
                                     entries.begin());
    }
    const auto dense = [&](std::size_t i) { return coarse[i + 1] - coarse[i] >= 3; };
    std::size_t before = 0;
    for (std::size_t i = 0; i <= count; ++i) {
        const bool exact = step > 0 && (i == 0 || i == count || !dense(i - 1) || !dense(i));
        const auto edges = exact ? waveform.edges_before(border(i)) : coarse[i] * scale;
        if (i > 0) columns[i - 1] = {before, edges - before};
        before = edges;
    }
}

}  // namespace grayrelic
