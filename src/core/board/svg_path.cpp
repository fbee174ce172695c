// SPDX-License-Identifier: GPL-3.0-or-later
// After chapter 9 of the recommendation; arcs after its implementation notes.
#include "core/board/svg_path.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numbers>
#include <utility>

namespace grayrelic {
namespace {

struct P {
    double x = 0, y = 0;
};
P operator+(P a, P b) {
    return {a.x + b.x, a.y + b.y};
}
P operator-(P a, P b) {
    return {a.x - b.x, a.y - b.y};
}
P operator*(double k, P a) {
    return {k * a.x, k * a.y};
}

class PathReader {
  public:
    PathReader(std::string_view d, double mm) : rest_(d), mm_(mm) {}

    SvgPath run() {
        char command = 0;
        while (true) {
            skip();
            if (rest_.empty()) break;
            token_ = rest_;
            const char c = rest_.front();
            if ((c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z')) {
                command = c;
                rest_.remove_prefix(1);
            } else if (command == 0 || command == 'Z' || command == 'z') {
                return refused();
            } else if (command == 'M' || command == 'm') {
                command = command == 'M' ? 'L' : 'l';  // more pairs are lines
            }
            if (!step(command)) return refused();
            if (points_ > most_way_points) {
                out_.problem = "more than 400,000 corners";
                return std::move(out_);
            }
        }
        finish(false);
        return std::move(out_);
    }

  private:
    SvgPath refused() {
        out_.problem = "\"" + std::string(token_.substr(0, 12)) + "\" in a path";
        return std::move(out_);
    }
    void skip() {
        while (!rest_.empty() && (rest_.front() == ' ' || rest_.front() == ',' || rest_.front() == '\n' ||
                                  rest_.front() == '\r' || rest_.front() == '\t'))
            rest_.remove_prefix(1);
    }
    std::optional<double> number() {
        skip();
        auto text = rest_;
        if (!text.empty() && text.front() == '+') text.remove_prefix(1);
        double v = 0;
        const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), v);
        if (code != std::errc() || !(std::abs(v) < 1e9)) return std::nullopt;
        rest_ = std::string_view(end, static_cast<std::size_t>(rest_.data() + rest_.size() - end));
        return v;
    }
    /// A flag of an arc may stand without a space behind it.
    std::optional<bool> flag() {
        skip();
        if (rest_.empty() || (rest_.front() != '0' && rest_.front() != '1')) return std::nullopt;
        const bool on = rest_.front() == '1';
        rest_.remove_prefix(1);
        return on;
    }
    std::optional<P> point(bool relative) {
        const auto x = number();
        const auto y = x ? number() : std::nullopt;
        if (!y) return std::nullopt;
        return relative ? now_ + P{*x, *y} : P{*x, *y};
    }
    void finish(bool closed) {
        if (way_.points.size() > 1) {
            way_.closed = closed;
            out_.ways.push_back(std::move(way_));
        }
        way_ = {};
    }
    void to(P p) {
        if (way_.points.empty()) way_.points.emplace_back(now_.x, now_.y);
        way_.points.emplace_back(p.x, p.y);
        ++points_;
        now_ = p;
    }
    void cubic(P b, P c, P d) {
        const P a = now_;
        const P first = a - 2 * b + c, second = b - 2 * c + d;
        const double bend = std::max(std::hypot(first.x, first.y), std::hypot(second.x, second.y)) * mm_;
        const int n = chords_between(std::sqrt(6 * bend / (8 * chord_error_mm)), 1, 2000);
        for (int i = 1; i <= n; ++i) {
            const double t = static_cast<double>(i) / n, u = 1 - t;
            to(u * u * u * a + 3 * u * u * t * b + 3 * u * t * t * c + t * t * t * d);
        }
        now_ = d;
        handle_ = c;
    }
    void quadratic(P b, P c) {
        const P a = now_;
        cubic(a + 2.0 / 3.0 * (b - a), c + 2.0 / 3.0 * (b - c), c);
        handle_ = b;
    }
    void arc(double rx, double ry, double tilt_deg, bool large, bool sweep, P end) {
        const P start = now_;
        if (rx == 0 || ry == 0 || (start.x == end.x && start.y == end.y)) return to(end);
        rx = std::abs(rx);
        ry = std::abs(ry);
        const double tilt = tilt_deg * std::numbers::pi / 180, c = std::cos(tilt), s = std::sin(tilt);
        const P half = 0.5 * (start - end);
        const P m{c * half.x + s * half.y, -s * half.x + c * half.y};
        const double large_enough = m.x * m.x / (rx * rx) + m.y * m.y / (ry * ry);
        if (large_enough > 1) {
            rx *= std::sqrt(large_enough);
            ry *= std::sqrt(large_enough);
        }
        const double below = rx * rx * m.y * m.y + ry * ry * m.x * m.x;
        const double over = std::max(0.0, rx * rx * ry * ry - below);
        const double k = (large == sweep ? -1 : 1) * std::sqrt(over / below);
        const P o{k * rx * m.y / ry, -k * ry * m.x / rx};
        const P middle = P{c * o.x - s * o.y, s * o.x + c * o.y} + 0.5 * (start + end);
        const double from = std::atan2((m.y - o.y) / ry, (m.x - o.x) / rx);
        double turn = std::atan2((-m.y - o.y) / ry, (-m.x - o.x) / rx) - from;
        if (!sweep && turn > 0) turn -= 2 * std::numbers::pi;
        if (sweep && turn < 0) turn += 2 * std::numbers::pi;
        const int n = arc_chords(std::max(rx, ry) * mm_, turn);
        for (int i = 1; i < n; ++i) {
            const double t = from + turn * i / n, u = rx * std::cos(t), v = ry * std::sin(t);
            to(middle + P{c * u - s * v, s * u + c * v});
        }
        to(end);
    }
    bool step(char command) {
        const bool relative = command >= 'a';
        const char kind = static_cast<char>(relative ? command - 32 : command);
        const P before = std::exchange(handle_, now_);
        const char last = std::exchange(last_, kind);
        switch (kind) {
            case 'M': return move(relative);
            case 'Z':
                finish(true);
                now_ = handle_ = begin_;
                return true;
            case 'L': {
                const auto p = point(relative);
                if (p) to(*p);
                handle_ = now_;
                return p.has_value();
            }
            case 'H':
            case 'V': return straight(kind == 'H', relative);
            case 'C':
            case 'S':
                return cubics(kind == 'C', last == 'C' || last == 'S' ? 2 * now_ - before : now_, relative);
            case 'Q':
            case 'T':
                return quadratics(kind == 'Q', last == 'Q' || last == 'T' ? 2 * now_ - before : now_,
                                  relative);
            case 'A': return arcs(relative);
            default: return false;
        }
    }
    bool move(bool relative) {
        finish(false);
        const auto p = point(relative);
        if (p) now_ = begin_ = handle_ = *p;
        return p.has_value();
    }
    bool straight(bool across, bool relative) {
        const auto v = number();
        if (!v) return false;
        const double at = relative ? (across ? now_.x : now_.y) + *v : *v;
        to(across ? P{at, now_.y} : P{now_.x, at});
        handle_ = now_;
        return true;
    }
    /// `mirrored` is the first handle where the command gives none.
    bool cubics(bool whole, P mirrored, bool relative) {
        const auto first = whole ? point(relative) : std::optional(mirrored);
        const auto second = first ? point(relative) : std::nullopt;
        const auto end = second ? point(relative) : std::nullopt;
        if (end) cubic(*first, *second, *end);
        return end.has_value();
    }
    bool quadratics(bool whole, P mirrored, bool relative) {
        const auto middle = whole ? point(relative) : std::optional(mirrored);
        const auto end = middle ? point(relative) : std::nullopt;
        if (end) quadratic(*middle, *end);
        return end.has_value();
    }
    bool arcs(bool relative) {
        const auto rx = number(), ry = rx ? number() : rx, tilt = ry ? number() : ry;
        const auto large = tilt ? flag() : std::nullopt, sweep = large ? flag() : std::nullopt;
        const auto end = sweep ? point(relative) : std::nullopt;
        if (end) arc(*rx, *ry, *tilt, *large, *sweep, *end);
        handle_ = now_;
        return end.has_value();
    }

    std::string_view rest_, token_;  ///< the latter: where the command or its figures begin
    double mm_;
    SvgPath out_;
    Way way_;
    P now_, begin_, handle_;
    char last_ = 0;
    std::size_t points_ = 0;
};

}  // namespace

SvgPath svg_path(std::string_view d, double mm) {
    return PathReader(d, mm).run();
}

}  // namespace grayrelic
