// SPDX-License-Identifier: GPL-3.0-or-later
// One bit of a value change dump while it is read: value after value becomes edges and unknown spans.
#pragma once

#include <algorithm>
#include <vector>

#include "core/signal/trace.hpp"

namespace grayrelic {

/// Grows one bit's trace change by change.
struct BitBuilder {
    std::vector<Time> edges;
    std::vector<Span> unknown;
    Time unknown_since;
    char value = '?';  // '?' before the first value, 'x' while unknown, else '0' or '1'
    bool has_level = false;
    bool first_level = false;
    bool level = false;

    void change(char v, Time now) {
        if (v == value) return;
        if (v == 'x') {
            if (value != '?') unknown_since = now;
            value = value == '?' ? '?' : 'x';
            return;
        }
        if (value == 'x' || value == '?') {
            const Time since = unknown_since;
            if (since < now || value == '?') unknown.push_back({since, now});
        }
        value = v;
        const bool high = v == '1';
        if (!has_level) {
            has_level = true;
            first_level = level = high;
            return;
        }
        if (high == level) return;
        level = high;
        if (!edges.empty() && edges.back() == now)
            edges.pop_back();  // there and back at one time: no change
        else
            edges.push_back(now);
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
        return {first_level, std::move(edges), std::move(spans)};
    }
};

}  // namespace grayrelic
