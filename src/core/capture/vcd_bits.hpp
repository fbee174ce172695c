// SPDX-License-Identifier: GPL-3.0-or-later
// One bit of a value change dump while it is read: value after value becomes edges and unknown spans.
//
// BitPiece collects one bit's changes in a piece of the file without knowing what came before it; BitState
// takes the pieces in order. What depends on the past, the changes up to the first known level, is kept apart
// (the head) and replayed; the rest is appended as it is. So pieces can be read side by side. Of several
// values at one time only the last one counts.
#pragma once

#include <algorithm>
#include <vector>

#include "core/signal/edge_buffer.hpp"
#include "core/signal/waveform.hpp"

namespace grayrelic {

inline bool is_level(char v) {
    return v == '0' || v == '1';
}

/// The stretches without a level, and those of them in which nobody drives the wire (z).
struct UnknownSpans {
    std::vector<Span> unknown;
    std::vector<Span> floating;
    Time unknown_since = Time::min();
    Time floating_since;

    /// From one value to another at `now`; values are '0', '1', 'x' and 'z'.
    void change(char from, char to, Time now) {
        if (from == 'z' && floating_since < now) floating.push_back({floating_since, now});
        if (to == 'z') floating_since = now;
        if (is_level(from)) {
            if (!is_level(to)) unknown_since = now;
        } else if (is_level(to) && unknown_since < now) {
            unknown.push_back({unknown_since, now});  // before the first value: since ever
        }
    }
};

class BitPiece {
  public:
    /// v is '0', '1', 'x' or 'z'.
    void change(char v, Time now) {
        if ((v ^ value_) == 1) [[likely]] {  // between 0 and 1: always an edge
            value_ = v;
            toggle(now);
            return;
        }
        if (v != value_) change_slowly(v, now);
    }
    [[nodiscard]] bool untouched() const { return value_ == nothing; }
    void clear() {
        edges_.clear();
        head_.clear();
        gaps_.unknown.clear();
        gaps_.floating.clear();
        value_ = nothing;
    }

  private:
    friend struct BitState;
    static constexpr char nothing = 'e';
    struct Change {
        char value;
        Time at;
    };

    void change_slowly(char v, Time now) {
        const char before = value_;
        value_ = v;
        if (!is_level(v) && is_level(before)) {  // a level of this very time does not count
            if (!edges_.empty() && edges_.back() == now)
                edges_.pop_back();
            else if (edges_.empty() && head_.back().at == now)
                head_.pop_back();
        }
        if (head_.empty() || !is_level(head_.back().value)) {
            head_.push_back({v, now});
            return;
        }
        gaps_.change(before, v, now);
        if (!is_level(v)) return;
        const bool first_level = head_.back().value == '1';
        if ((v == '1') != (first_level != (edges_.size() % 2 != 0))) toggle(now);
    }

    void toggle(Time now) {
        if (edges_.empty()) [[unlikely]] {
            if (head_.back().at == now)
                head_.back().value = value_;
            else
                edges_.push_back(now);
        } else if (edges_.back() == now) [[unlikely]] {
            edges_.pop_back();  // there and back at one time: no change
        } else {
            edges_.push_back(now);
        }
    }

    std::vector<Time> edges_;  // behind the head
    char value_ = nothing;
    std::vector<Change> head_;  // the changes up to the first level
    UnknownSpans gaps_;
};

struct BitState {
    EdgeBuffer edges;
    UnknownSpans gaps;
    char value = '?';  // '?' before the first value; unknown, as if x
    bool has_level = false;
    bool first_level = false;
    Time first_at;

    /// v is '0', '1', 'x' or 'z'; times must not decrease.
    void change(char v, Time now) {
        if (v == value) return;
        if (!is_level(v) && is_level(value)) {
            if (!edges.empty() && edges.back() == now)
                edges.pop_back();
            else if (edges.empty() && first_at == now)
                has_level = first_level = false;
        }
        gaps.change(value, v, now);
        value = v;
        if (!is_level(v)) return;
        const bool high = v == '1';
        if (!has_level || (edges.empty() && first_at == now)) {
            has_level = true;
            first_level = high;
            first_at = now;
            return;
        }
        if (high == (first_level != (edges.size() % 2 != 0))) return;
        if (!edges.empty() && edges.back() == now)
            edges.pop_back();
        else
            edges.push_back(now);
    }

    void append(const BitPiece& piece) {
        for (const auto& c : piece.head_) change(c.value, c.at);
        if (piece.head_.empty() || !is_level(piece.head_.back().value)) return;
        edges.append(piece.edges_);
        const auto add = [](std::vector<Span>& to, const std::vector<Span>& from) {
            to.insert(to.end(), from.begin(), from.end());
        };
        add(gaps.unknown, piece.gaps_.unknown);
        add(gaps.floating, piece.gaps_.floating);
        value = piece.value_;
        gaps.unknown_since = piece.gaps_.unknown_since;
        gaps.floating_since = piece.gaps_.floating_since;
    }

    [[nodiscard]] DigitalWaveform finish(Time start, Time end) {
        if (!is_level(value)) gaps.change(value, '0', end);
        edges.shrink_to_fit();
        return DigitalWaveform::from_sorted(first_level, std::move(edges), joined(gaps.unknown, start),
                                            joined(gaps.floating, start));
    }

    /// A copy of what happened from `from` to `to`, its last time.
    [[nodiscard]] DigitalWaveform last(Time from, Time to) const {
        const auto all = edges.view();
        const auto first =
            static_cast<std::size_t>(std::upper_bound(all.begin(), all.end(), from) - all.begin());
        auto spans = gaps;
        if (!is_level(value)) spans.change(value, '0', to);
        return DigitalWaveform::from_sorted(first_level != (first % 2 != 0), EdgeBuffer(all.subspan(first)),
                                            joined(spans.unknown, from), joined(spans.floating, from));
    }

  private:
    static std::vector<Span> joined(const std::vector<Span>& spans, Time start) {
        std::vector<Span> out;
        for (auto s : spans) {
            s.from = std::max(s.from, start);
            if (s.from >= s.to) continue;
            if (!out.empty() && out.back().to >= s.from)
                out.back().to = std::max(out.back().to, s.to);
            else
                out.push_back(s);
        }
        return out;
    }
};

}  // namespace grayrelic
