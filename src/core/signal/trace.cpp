// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/trace.hpp"

#include <algorithm>
#include <stdexcept>

namespace grayrelic {

DigitalTrace::DigitalTrace(bool first_level, const std::vector<Time>& edges, std::vector<Span> unknown)
    : first_level_(first_level), edges_(std::span<const Time>(edges)), unknown_(std::move(unknown)) {
    if (std::adjacent_find(edges.begin(), edges.end(), std::greater_equal<>{}) != edges.end())
        throw std::logic_error("DigitalTrace: edge times must increase");
    build_pyramid();
}

DigitalTrace DigitalTrace::from_sorted(bool first_level, EdgeBuffer edges, std::vector<Span> unknown,
                                       std::vector<Span> floating) {
    DigitalTrace trace;
    trace.first_level_ = first_level;
    trace.edges_ = std::move(edges);
    trace.unknown_ = std::move(unknown);
    trace.floating_ = std::move(floating);
    trace.build_pyramid();
    return trace;
}

void DigitalTrace::build_pyramid() {
    std::span<const Time> below = edges_.view();
    while (below.size() > fan) {
        std::vector<Time> level;
        level.reserve(below.size() / fan + 1);
        for (std::size_t i = 0; i < below.size(); i += fan)
            level.push_back(below[i]);
        pyramid_.push_back(std::move(level));
        below = pyramid_.back();
    }
}

std::size_t DigitalTrace::count_below(Time t) const {
    // From the top: among at most 64 entries find the last one below t; it names the block one level down.
    std::size_t block = 0;
    for (std::size_t k = pyramid_.size(); k-- > 0;) {
        const auto& level = pyramid_[k];
        const auto from = level.begin() + static_cast<std::ptrdiff_t>(std::min(block * fan, level.size()));
        const auto to =
            level.begin() + static_cast<std::ptrdiff_t>(std::min(block * fan + fan, level.size()));
        const auto it = std::lower_bound(from, to, t);
        if (it == level.begin()) return 0;
        block = static_cast<std::size_t>(it - level.begin()) - 1;
    }
    const auto all = edges_.view();
    const auto from = all.begin() + static_cast<std::ptrdiff_t>(std::min(block * fan, all.size()));
    const auto to = all.begin() + static_cast<std::ptrdiff_t>(std::min(block * fan + fan, all.size()));
    return static_cast<std::size_t>(std::lower_bound(from, to, t) - all.begin());
}

std::size_t DigitalTrace::edges_before(Time t) const {
    return count_below(t);
}

std::size_t DigitalTrace::edges_until(Time t) const {
    return t == Time::max() ? edges_.size() : count_below(t + Time::ps(1));
}

bool DigitalTrace::known_before(Time t) const {
    const auto it = std::upper_bound(unknown_.begin(), unknown_.end(), t,
                                     [](Time v, const Span& s) { return v <= s.to; });
    return it == unknown_.end() || it->from >= t;
}

bool DigitalTrace::known_between(Time from, Time to) const {
    const auto it = std::upper_bound(unknown_.begin(), unknown_.end(), from,
                                     [](Time v, const Span& s) { return v < s.to; });
    return it == unknown_.end() || it->from >= to;
}

std::vector<Time> DigitalTrace::edge_times(Direction d) const {
    const auto all = edges_.view();
    if (d == Direction::any) return {all.begin(), all.end()};
    std::vector<Time> out;
    out.reserve(all.size() / 2 + 1);
    const bool want_rise = d == Direction::rise;
    for (std::size_t i = is_rise(0) == want_rise ? 0 : 1; i < all.size(); i += 2)
        out.push_back(all[i]);
    return out;
}

std::size_t DigitalTrace::bytes() const {
    std::size_t total = edges_.bytes() + (unknown_.capacity() + floating_.capacity()) * sizeof(Span);
    for (const auto& level : pyramid_)
        total += level.capacity() * sizeof(Time);
    return total;
}

void fill_columns(const DigitalTrace& trace, Time from, Time to, std::span<Column> columns) {
    if (columns.empty()) return;
    const auto n = static_cast<long double>(columns.size());
    const auto width = static_cast<long double>(to.count()) - static_cast<long double>(from.count());
    std::size_t before = trace.edges_before(from);
    const auto edges = trace.edges();
    for (std::size_t i = 0; i < columns.size(); ++i) {
        const Time end =
            i + 1 == columns.size()
                ? to
                : Time::ps(static_cast<std::int64_t>(static_cast<long double>(from.count()) +
                                                     width * static_cast<long double>(i + 1) / n));
        // Most columns end before the next edge: look there before searching.
        const std::size_t until =
            before < edges.size() && edges[before] < end ? trace.edges_before(end) : before;
        columns[i] = {before, until - before};
        before = until;
    }
}

}  // namespace grayrelic
