// SPDX-License-Identifier: GPL-3.0-or-later
// Holes, slots and routed ways.
#include "core/board/drill_reader.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"

namespace grayrelic {

Status DrillReader::blocks(std::string_view words, std::string_view line) {
    if (words[0] == 'T') return take_tool(words, line);
    Order order;
    order.rout = routing_;
    auto rest = words;
    while (!rest.empty()) {
        const char letter = rest[0];
        if (letter == ' ') {
            rest.remove_prefix(1);
            continue;
        }
        const auto end = std::min(rest.size(), rest.find_first_not_of("+-.0123456789", 1));
        const auto value = rest.substr(1, end - 1);
        rest.remove_prefix(end);
        if (auto taken = take_word(order, letter, value, line); !taken) return taken;
    }
    if (order.drill) {
        finish_way();
        down_ = false;
    }
    routing_ = order.rout && !order.drill;
    if (order.motion) motion_ = *order.motion;
    if (!order.x && !order.y && !order.x2 && !order.y2) return {};
    if (order.repeat > 0) return take_repeat(order.repeat, order.x.value_or(0), order.y.value_or(0));
    const BoardXY from = here_, to{order.x.value_or(here_.x), order.y.value_or(here_.y)};
    here_ = to;
    if (order.slot) {
        here_ = {order.x2.value_or(to.x), order.y2.value_or(to.y)};
        return add({to, here_});
    }
    return routing_ ? rout(order, from, to) : add({to});
}

Status DrillReader::take_word(Order& order, char letter, std::string_view value, std::string_view line) {
    if (std::string_view("XYAIJ").find(letter) != std::string_view::npos) {
        const auto v = coordinate(value);
        if (!v) return fail(v.error());
        switch (letter) {
            case 'X': (order.slot ? order.x2 : order.x) = *v; break;
            case 'Y': (order.slot ? order.y2 : order.y) = *v; break;
            case 'A': order.radius = *v; break;
            case 'I': order.i = *v; break;
            default: order.j = *v; break;
        }
        return {};
    }
    if (std::string_view("NFSZBH").find(letter) != std::string_view::npos) return {};
    const auto n = number(value);
    if (!n || *n != std::floor(*n) || *n < 0 || *n > 100'000)
        return fault(in_quotes(line), "words of a drill file");
    const int code = static_cast<int>(*n);
    if (letter == 'G') return take_g(order, code);
    if (letter == 'M') return take_m(code);
    if (letter == 'R' && code > 0) {
        order.repeat = code;
        return {};
    }
    return fault(in_quotes(line), "words of a drill file");
}

Status DrillReader::take_g(Order& order, int code) {
    switch (code) {
        case 85:
            if (!order.x && !order.y) return fault("G85 without a place before it", "X…Y…G85X…Y…");
            order.slot = true;
            return {};
        case 0:
        case 1:
        case 2:
        case 3:
            order.motion = code;
            order.rout = true;
            return {};
        case 5:
        case 81: order.drill = true; return {};
        case 40:
        case 90: return {};
        case 91: return fault("G91, incremental coordinates", "absolute ones");
        case 93: return fault("G93, a zero set anew", "places from one zero: export without it");
        default: break;
    }
    return fault(fmt::format("G{:02}", code), "holes, G85 and routed slots by G00 to G03: export as XNC");
}

Status DrillReader::take_m(int code) {
    if (code == 15) {
        down_ = true;
        way_ = {here_};
        way_open_ = true;
        return {};
    }
    if (code == 16 || code == 17) {
        finish_way();
        down_ = false;
        return {};
    }
    for (const int harmless : {6, 8, 9, 14, 18, 47})
        if (code == harmless) return {};
    return fault(fmt::format("M{:02}", code), "M15, M16 or M30: export as XNC");
}

Status DrillReader::rout(const Order& order, BoardXY from, BoardXY to) {
    if (motion_ == 0) {
        finish_way();
        if (down_) {
            way_ = {here_};
            way_open_ = true;
        }
        return {};
    }
    if (!down_) return fault("a routed line with the tool up", "M15 before it");
    if (motion_ == 1) {
        way_.push_back(to);
    } else {
        BoardXY middle = from;
        if (order.i || order.j)
            middle = from + BoardXY{order.i.value_or(0), order.j.value_or(0)};
        else if (order.radius && *order.radius > 0)
            middle = middle_of(from, to, static_cast<double>(*order.radius), motion_ == 2);
        else
            return fault("an arc without A, I or J", "A with its radius");
        const auto points = arc_points(from, to, middle, motion_ == 2);
        way_.insert(way_.end(), points.begin(), points.end());
    }
    if (way_.size() > most_slot_points)
        return fault("a slot of too many points", fmt::format("at most {}", most_slot_points));
    return {};
}

BoardXY DrillReader::middle_of(BoardXY from, BoardXY to, double radius, bool clockwise) {
    const double dx = static_cast<double>(to.x - from.x), dy = static_cast<double>(to.y - from.y),
                 d = std::hypot(dx, dy);
    if (d == 0) return from;
    const double h = std::sqrt(std::max(0.0, radius * radius - d * d / 4)), sign = clockwise ? -1 : 1;
    return {static_cast<Nm>(std::llround(static_cast<double>(from.x) + dx / 2 - sign * dy / d * h)),
            static_cast<Nm>(std::llround(static_cast<double>(from.y) + dy / 2 + sign * dx / d * h))};
}

void DrillReader::finish_way() {
    if (way_open_ && way_.size() > 1) {
        if (auto done = add(std::move(way_)); !done) late_ = done;
    }
    way_.clear();
    way_open_ = false;
}

Status DrillReader::take_repeat(int times, Nm dx, Nm dy) {
    if (out_.holes.empty()) return fault("a repeat before a hole", "a hole before it");
    auto last = out_.holes.back();
    for (int k = 0; k < times; ++k) {
        for (auto& p : last.way) p = p + BoardXY{dx, dy};
        if (auto done = add(last.way); !done) return done;
    }
    here_ = last.way.back();
    return {};
}

Status DrillReader::add(std::vector<BoardXY> way) {
    if (!tool_) return fault("a hole before a tool is chosen", "T1 before it");
    for (const auto p : way)
        if (std::abs(p.x) > 2'000'000'000 || std::abs(p.y) > 2'000'000'000)
            return fault("a place beyond 2 m", "a board");
    if (way.size() == 2 && way[0] == way[1]) way.pop_back();
    points_ += way.size();
    if (out_.holes.size() >= most_holes || points_ > most_drill_points)
        return fault("too many holes", fmt::format("at most {}", most_holes));
    DrillHole h;
    h.way = std::move(way);
    h.tool = *tool_;
    h.diameter = out_.tools[*tool_].diameter;
    h.line = line_;
    if (h.diameter <= 0)
        return fault(fmt::format("a hole by T{}, whose size is not known", out_.tools[*tool_].number),
                     "T with C and its size in the head");
    out_.holes.push_back(std::move(h));
    return {};
}

}  // namespace grayrelic
