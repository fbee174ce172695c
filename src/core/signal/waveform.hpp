// SPDX-License-Identifier: GPL-3.0-or-later
// A digital waveform: the level of one wire over time, kept as sorted edge times.
//
// Between edges the level alternates, so an edge's direction follows from its number. Stretches in which the
// level is not known (before the first value, x or z in the source) are kept beside the edges; there the last
// known level stands in. Beside the edges stands a zoom pyramid: every 64th edge time, every 64th of those,
// and so on. With it, "how many edges before t" touches a few cache lines however long the waveform is, so
// that what is drawn costs pixels, not edges. A waveform is immutable once built.
#pragma once

#include <cstddef>
#include <span>
#include <vector>

#include "core/base/time.hpp"
#include "core/signal/edge_buffer.hpp"

namespace grayrelic {

enum class Direction { rise, fall, any };

class DigitalWaveform {
  public:
    DigitalWaveform() = default;
    /// Edge times must be strictly increasing; unknown spans sorted and disjoint.
    DigitalWaveform(bool first_level, const std::vector<Time>& edges, std::vector<Span> unknown = {});
    /// The same from a reader that has made sure of the order, without a copy and a second look.
    [[nodiscard]] static DigitalWaveform from_sorted(bool first_level, EdgeBuffer edges,
                                                     std::vector<Span> unknown, std::vector<Span> floating);

    [[nodiscard]] std::span<const Time> edges() const { return edges_.view(); }
    [[nodiscard]] std::span<const Span> unknown() const { return unknown_; }
    /// The part of the unknown spans in which the source says that nobody drives the wire (z).
    [[nodiscard]] std::span<const Span> floating() const { return floating_; }
    [[nodiscard]] bool first_level() const { return first_level_; }
    /// The level after n edges.
    [[nodiscard]] bool level_after(std::size_t n) const { return first_level_ != ((n & 1U) != 0); }
    [[nodiscard]] bool is_rise(std::size_t edge) const { return level_after(edge + 1); }
    [[nodiscard]] bool matches(std::size_t edge, Direction d) const {
        return d == Direction::any || is_rise(edge) == (d == Direction::rise);
    }
    /// How many edges lie before t (strictly).
    [[nodiscard]] std::size_t edges_before(Time t) const;
    /// How many edges lie at or before t.
    [[nodiscard]] std::size_t edges_until(Time t) const;
    [[nodiscard]] bool level_at(Time t) const {
        return level_after(edges_until(t));
    }  ///< an edge at t included
    [[nodiscard]] bool level_before(Time t) const { return level_after(edges_before(t)); }  ///< just before t
    [[nodiscard]] bool known_before(Time t) const;
    /// True when no unknown span touches (from, to).
    [[nodiscard]] bool known_between(Time from, Time to) const;
    /// Times of the edges with this direction.
    [[nodiscard]] std::vector<Time> edge_times(Direction d) const;
    [[nodiscard]] std::size_t bytes() const;  ///< memory held by edges and pyramid

    /// Steps of the pyramid: 0 holds the edges, 1 every 64th of them, and so on.
    [[nodiscard]] std::size_t steps() const { return pyramid_.size() + 1; }
    static constexpr std::size_t fan = 64;
    [[nodiscard]] std::span<const Time> entries(std::size_t step) const {
        return step == 0 ? edges_.view() : std::span<const Time>(pyramid_[step - 1]);
    }
    /// How many entries of a step lie before t: edges_before(t) ÷ 64^step, rounded up.
    [[nodiscard]] std::size_t entries_before(Time t, std::size_t step) const;

  private:
    void build_pyramid();

    bool first_level_ = false;
    EdgeBuffer edges_;
    std::vector<Span> unknown_;
    std::vector<Span> floating_;
    std::vector<std::vector<Time>>
        pyramid_;  // pyramid_[0] has every 64th edge, pyramid_[1] every 64th of those
};

/// What one pixel column of a drawn waveform shows. Exact, except between neighbours that both hold more than
/// 64 edges: there the border is known to within 64 edges or a quarter of the column's, whichever is more.
struct Column {
    std::size_t first_edge = 0;  ///< number of edges before the column
    std::size_t edge_count = 0;  ///< edges inside it
};

/// Fills columns for [from, to) cut into columns.size() equal parts; costs O(columns · log edges) and touches
/// the edges themselves only where they show.
void fill_columns(const DigitalWaveform& waveform, Time from, Time to, std::span<Column> columns);

}  // namespace grayrelic
