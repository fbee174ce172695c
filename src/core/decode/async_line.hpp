// SPDX-License-Identifier: GPL-3.0-or-later
// The line of an asynchronous serial link as characters, under a shape that is given: where one starts, what
// stands in the middles of its bits, and where reading goes on after one that did not end as it should. For
// async_serial.cpp.
#pragma once

#include <algorithm>
#include <array>
#include <cstdint>
#include <span>
#include <utility>

#include "core/signal/waveform.hpp"

namespace grayrelic::async_line {

inline constexpr int clean_in_a_row = 3;  ///< characters that prove that reading is in step again

enum class Parity { none, even, odd, mark, space };
inline constexpr std::pair<const char*, Parity> parities[] = {{"none", Parity::none},
                                                              {"even", Parity::even},
                                                              {"odd", Parity::odd},
                                                              {"mark", Parity::mark},
                                                              {"space", Parity::space}};

struct Shape {
    double bit_ps = 0;
    bool inverted = false;
    int bits = 8;
    Parity parity = Parity::none;
    double stop = 1;
    [[nodiscard]] int positions() const {
        return bits + (parity == Parity::none ? 0 : 1);
    }  ///< between start and stop
};

struct Character {
    Time start;
    std::uint32_t data = 0;  ///< position i in bit i, parity on top; 1 is mark
    bool started = false;    ///< space in the middle of the start bit
    bool stopped = false;    ///< mark in the middle of the stop bit
    bool all_space = false;
    std::size_t after = 0;  ///< number of edges up to the middle of the stop bit
};

/// Characters out of one waveform.
class Line {
  public:
    /// `begins`: of the capture; before it nothing is known.
    Line(const DigitalWaveform& waveform, const Shape& shape, Time begins)
        : waveform_(waveform),
          edges_(waveform.edges()),
          shape_(shape),
          begins_(begins),
          per_bit_(1 / shape.bit_ps) {
        for (std::size_t k = 0; k < middles_.size(); ++k)
            middles_[k] = Time::ps(static_cast<std::int64_t>((static_cast<double>(k) + 0.5) * shape.bit_ps));
    }

    /// The first edge from `from` on that goes to space.
    [[nodiscard]] std::size_t next_start(std::size_t from) const {
        // Edges alternate, so it is this one or the next.
        if (from < edges_.size() && is_mark_after(from + 1)) ++from;
        return from;
    }
    [[nodiscard]] bool is_mark_after(std::size_t edges) const {
        return waveform_.level_after(edges) != shape_.inverted;
    }
    [[nodiscard]] std::size_t count() const { return edges_.size(); }
    [[nodiscard]] Time edge(std::size_t i) const { return edges_[i]; }

    /// Levels in the middles of start, positions and stop. Each edge turns all middles behind it around: that
    /// is fewer steps than looking from middle to middle.
    [[nodiscard]] Character read(std::size_t start) const {
        Character c;
        c.start = edges_[start];
        const auto positions = static_cast<unsigned>(shape_.positions());
        const Time stop = c.start + middles_[positions + 1];
        std::uint32_t turned = 0;
        std::size_t i = start + 1;
        for (; i < edges_.size() && edges_[i] <= stop; ++i) {
            const Time behind = edges_[i] - c.start;
            // The first middle at or behind the edge; rounding may be one off.
            const double place = static_cast<double>(behind.count()) * per_bit_ + 0.5;
            auto k = static_cast<std::size_t>(place);
            if (middles_[k] < behind)
                ++k;
            else if (k > 0 && middles_[k - 1] >= behind)
                --k;
            turned ^= ~0U << static_cast<unsigned>(k);
        }
        const std::uint32_t marks = is_mark_after(start + 1) ? ~turned : turned;
        c.started = (marks & 1U) == 0;
        c.data = marks >> 1U & ((1U << positions) - 1);
        c.stopped = (marks >> (positions + 1) & 1U) != 0;
        c.all_space = c.data == 0 && i == start + 1;
        c.after = i;
        return c;
    }

    /// Are this character and those behind it clean, as many as needed or until the line rests?
    [[nodiscard]] bool in_step(std::size_t start) const {
        for (int n = 0; n < clean_in_a_row; ++n) {
            if (start >= edges_.size()) return n > 0;
            const auto c = read(start);
            if (!c.started || !c.stopped) return false;
            start = next_start(c.after);
            if (start < edges_.size() && static_cast<double>((edges_[start] - c.start).count()) >
                                             2.5 * (shape_.positions() + 2) * shape_.bit_ps)
                return true;
        }
        return true;
    }

    /// Did the line rest at mark for a whole character before this edge? Then it is a start, whatever
    /// follows.
    [[nodiscard]] bool rested_before(std::size_t start) const {
        if (!is_mark_after(start)) return false;
        const Time since = start == 0 ? begins_ : edges_[start - 1];
        return static_cast<double>((edges_[start] - since).count()) >
               (shape_.positions() + 0.7) * shape_.bit_ps;
    }

    /// Where to go on after a character that did not end in a stop bit: never before its end; at the next
    /// start that is sure, or the next edge to space from which characters are clean.
    [[nodiscard]] std::size_t resume(const Character& c) const {
        const auto next = next_start(c.after);
        auto at = next;
        for (int tries = 0; at < edges_.size() && tries < most_tries; ++tries, at = next_start(at + 1))
            if (rested_before(at) || in_step(at)) return at;
        return next;
    }

    /// The first character: behind a rest the first edge to space. A capture that begins within characters
    /// has to find its step first.
    [[nodiscard]] std::size_t first() const {
        const auto start = next_start(0);
        if (start >= edges_.size() || rested_before(start)) return start;
        auto at = start;
        for (int tries = 0; at < edges_.size() && tries < most_tries; ++tries, at = next_start(at + 1))
            if (rested_before(at) || in_step(at)) return at;
        return start;
    }

  private:
    static constexpr int most_tries = 24;

    const DigitalWaveform& waveform_;
    std::span<const Time> edges_;
    const Shape shape_;
    const Time begins_;
    const double per_bit_;
    std::array<Time, 16> middles_;  ///< of start, positions and stop, behind the first edge
};

/// Calls each with every character and the edge it starts at, in order; each gives false to stop.
template <class Each>
void walk(const Line& line, std::size_t until_edge, Each each) {
    for (auto start = line.first(); start < std::min(until_edge, line.count());) {
        const auto c = line.read(start);
        if (!c.started) {  // shorter than half a bit: no start
            start = line.next_start(start + 1);
            continue;
        }
        if (!each(c, start)) return;
        if (c.stopped)
            start = line.next_start(c.after);
        else if (c.all_space)
            start = line.next_start(start + 2);  // a break: nothing happens until it ends
        else
            start = line.resume(c);
    }
}

}  // namespace grayrelic::async_line
