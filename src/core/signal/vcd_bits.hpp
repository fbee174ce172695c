// SPDX-License-Identifier: GPL-3.0-or-later
// One bit of a value change dump while it is read: value after value becomes edges and unknown spans.
//
// BitPiece collects one bit's changes in a piece of the file without knowing what came before it; BitState
// takes the pieces in order. What depends on the past, the changes up to the first known level, is kept apart
// (the head) and replayed; the rest is appended as it is. So pieces can be read side by side.
#pragma once

#include <algorithm>
#include <vector>

#include "core/signal/edge_buffer.hpp"
#include "core/signal/trace.hpp"

namespace grayrelic {

class BitPiece {
  public:
    /// v is '0', '1' or 'x'.
    void change(char v, Time now) {
        if ((v ^ value_) == 1) {  // between 0 and 1: always an edge
            value_ = v;
            if (!edges_.empty() && edges_.back() == now)
                edges_.pop_back();  // there and back at one time: no change
            else
                edges_.push_back(now);
            return;
        }
        if (v != value_) change_slowly(v, now);
    }
    [[nodiscard]] bool untouched() const { return value_ == nothing; }
    void clear() {
        edges_.clear();
        unknown_.clear();
        value_ = nothing;
        has_head_x_ = has_level_ = false;
    }

  private:
    friend struct BitState;
    static constexpr char nothing = 'e';

    void change_slowly(char v, Time now) {
        const char before = value_;
        value_ = v;
        if (v == 'x') {
            if (before == nothing) {
                has_head_x_ = true;
                head_x_ = now;
            }
            unknown_since_ = now;
            return;
        }
        const bool high = v == '1';
        if (!has_level_) {
            has_level_ = true;
            head_level_ = high;
            head_at_ = now;
            return;
        }
        if (unknown_since_ < now) unknown_.push_back({unknown_since_, now});
        if (high == (edges_.size() % 2 == 0 ? head_level_ : !head_level_)) return;
        if (!edges_.empty() && edges_.back() == now)
            edges_.pop_back();
        else
            edges_.push_back(now);
    }

    std::vector<Time> edges_;  // after the head
    char value_ = nothing;
    bool has_head_x_ = false;
    bool has_level_ = false;
    bool head_level_ = false;
    Time head_x_;
    Time head_at_;
    Time unknown_since_;
    std::vector<Span> unknown_;
};

struct BitState {
    EdgeBuffer edges;
    std::vector<Span> unknown;
    Time unknown_since;
    char value = '?';  // '?' before the first value, 'x' while unknown, else '0' or '1'
    bool has_level = false;
    bool first_level = false;

    void append(const BitPiece& piece) {
        if (piece.has_head_x_) change('x', piece.head_x_);
        if (!piece.has_level_) return;
        change(piece.head_level_ ? '1' : '0', piece.head_at_);
        std::span<const Time> more = piece.edges_;
        if (!more.empty() && !edges.empty() && edges.back() == more.front()) {
            edges.pop_back();
            more = more.subspan(1);
        }
        edges.append(more);
        unknown.insert(unknown.end(), piece.unknown_.begin(), piece.unknown_.end());
        value = piece.value_;
        unknown_since = piece.unknown_since_;
    }

    [[nodiscard]] DigitalTrace finish(Time start, Time end) {
        if (value == 'x' || value == '?') unknown.push_back({value == '?' ? start : unknown_since, end});
        std::vector<Span> spans;
        for (auto s : unknown) {
            s.from = std::max(s.from, start);
            if (s.from >= s.to) continue;
            if (!spans.empty() && spans.back().to >= s.from)
                spans.back().to = std::max(spans.back().to, s.to);
            else
                spans.push_back(s);
        }
        edges.shrink_to_fit();
        return DigitalTrace::from_sorted(first_level, std::move(edges), std::move(spans));
    }

  private:
    void change(char v, Time now) {
        if (v == value) return;
        if (v == 'x') {
            if (value != '?') {
                unknown_since = now;
                value = 'x';
            }
            return;
        }
        if (value == '?' || (value == 'x' && unknown_since < now)) unknown.push_back({unknown_since, now});
        value = v;
        const bool high = v == '1';
        if (!has_level) {
            has_level = true;
            first_level = high;
            return;
        }
        if (high == (first_level != (edges.size() % 2 != 0))) return;
        if (!edges.empty() && edges.back() == now)
            edges.pop_back();
        else
            edges.push_back(now);
    }
};

}  // namespace grayrelic
