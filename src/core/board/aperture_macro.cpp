// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/aperture_macro.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr int deepest = 64;
constexpr std::size_t most_corners = 100'000, most_taken_away = 200, most_steps = 5'000;
constexpr int most_variable = 10'000;
constexpr double largest = 1e5;  // of a modifier, in the unit of the file

/// Sums of products of signed values; "x" and "X" multiply.
class Expression {
  public:
    Expression(std::string_view text, const std::vector<double>& variables)
        : text_(text), variables_(variables) {}
    std::optional<double> whole() {
        const auto v = sum(0);
        skip();
        return v && at_ == text_.size() ? v : std::nullopt;
    }

  private:
    void skip() {
        while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == '\t')) ++at_;
    }
    bool take(std::string_view any) {
        skip();
        if (at_ >= text_.size() || any.find(text_[at_]) == std::string_view::npos) return false;
        ++at_;
        return true;
    }
    std::optional<double> sum(int depth) {
        auto left = product(depth);
        while (left) {
            const bool plus = take("+");
            if (!plus && !take("-")) break;
            const auto right = product(depth);
            if (!right) return right;
            left = plus ? *left + *right : *left - *right;
        }
        return left;
    }
    std::optional<double> product(int depth) {
        auto left = single(depth);
        while (left) {
            const bool times = take("xX");
            if (!times && !take("/")) break;
            const auto right = single(depth);
            if (!right || (!times && *right == 0)) return std::nullopt;
            left = times ? *left * *right : *left / *right;
        }
        return left;
    }
    std::optional<double> single(int depth) {
        if (depth > deepest) return std::nullopt;
        if (take("-")) {
            const auto v = single(depth + 1);
            return v ? std::optional(-*v) : v;
        }
        if (take("+")) return single(depth + 1);
        if (take("(")) {
            const auto v = sum(depth + 1);
            return v && take(")") ? v : std::nullopt;
        }
        if (take("$")) {
            std::size_t n = 0;
            const auto begin = at_;
            while (at_ < text_.size() && text_[at_] >= '0' && text_[at_] <= '9' && n < most_variable)
                n = n * 10 + static_cast<std::size_t>(text_[at_++] - '0');
            if (at_ == begin || n == 0 || n >= most_variable) return std::nullopt;
            return n <= variables_.size() ? variables_[n - 1] : 0.0;
        }
        skip();
        const auto begin = at_;
        while (at_ < text_.size() && ((text_[at_] >= '0' && text_[at_] <= '9') || text_[at_] == '.')) ++at_;
        return decimal_number(text_.substr(begin, at_ - begin), '.');
    }
    std::string_view text_;
    const std::vector<double>& variables_;
    std::size_t at_ = 0;
};

struct Turn {
    double c = 1, s = 0;
    explicit Turn(double deg) {
        const double quarter = deg / 90;
        if (quarter == std::round(quarter)) {
            static constexpr double cosines[] = {1, 0, -1, 0};
            const auto k = static_cast<std::size_t>(((static_cast<long>(std::fmod(quarter, 4)) % 4) + 4) % 4);
            c = cosines[k];
            s = cosines[(k + 3) % 4];
        } else {
            c = std::cos(deg * std::numbers::pi / 180);
            s = std::sin(deg * std::numbers::pi / 180);
        }
    }
    [[nodiscard]] BoardXY operator()(double x, double y) const {
        return {static_cast<Nm>(std::llround(x * c - y * s)), static_cast<Nm>(std::llround(x * s + y * c))};
    }
};

/// The primitives one after the other; "exposure off" takes away from those before.
class Painter {
  public:
    Painter(double unit, const std::string& file, long line) : unit_(unit), file_(file), line_(line) {}

    Status take(const std::vector<double>& m) {
        if (!(m[0] >= 0 && m[0] <= 99) || m[0] != std::floor(m[0]))
            return fault(fmt::format("primitive {}", m[0]), "a whole number from 1 to 22");
        const int code = static_cast<int>(m[0]);
        const auto need = [&](std::size_t least, std::size_t most, const char* what) -> Status {
            if (m.size() < least || m.size() > most)
                return fault(fmt::format("{} with {} modifiers", what, m.size() - 1),
                             least == most ? fmt::format("{}", least - 1)
                                           : fmt::format("{} to {}", least - 1, most - 1));
            return {};
        };
        for (std::size_t i = 1; i < m.size(); ++i)
            if (std::abs(m[i]) > largest)
                return fault(fmt::format("{} in a macro", m[i]), "a size that a board has");
        switch (code) {
            case 1: return need(5, 6, "a circle").and_then([&]() -> Status { return circle(m); });
            case 2:
            case 20: return need(8, 8, "a vector line").and_then([&]() -> Status { return vector_line(m); });
            case 21: return need(7, 7, "a centre line").and_then([&]() -> Status { return box(m, true); });
            case 22:
                return need(7, 7, "a lower left line").and_then([&]() -> Status { return box(m, false); });
            case 4: return outline(m);
            case 5: return need(7, 7, "a polygon").and_then([&]() -> Status { return polygon(m); });
            case 6: return need(10, 10, "a moire").and_then([&]() -> Status { return moire(m); });
            case 7: return need(7, 7, "a thermal").and_then([&]() -> Status { return thermal(m); });
            default: break;
        }
        return fault(fmt::format("primitive {}", code), "1, 4, 5, 7, 20, 21 or, of older files, 2, 6, 22");
    }
    [[nodiscard]] Rings result() {
        flush();
        return done_;
    }

  private:
    [[nodiscard]] Failure fault(std::string found, std::string expected) const {
        return fail_at(file_, line_, std::move(found), std::move(expected));
    }
    Status add(double exposure, Rings rings) {
        if (exposure != 0 && exposure != 1) return fault(fmt::format("exposure {}", exposure), "0 or 1");
        for (const auto& r : rings) corners_ += r.size();
        if (corners_ > most_corners)
            return fault("a macro of too many corners", fmt::format("at most {}", most_corners));
        if (exposure == 1) {
            for (auto& r : rings) pending_.push_back(std::move(r));
        } else {
            if (++taken_away_ > most_taken_away)
                return fault("a macro that takes away too often",
                             fmt::format("at most {} times", most_taken_away));
            flush();
            done_ = rings_of(without(done_, rings));
        }
        return {};
    }
    void flush() {
        if (pending_.empty()) return;
        done_.insert(done_.end(), pending_.begin(), pending_.end());
        if (done_.size() > 1) done_ = joined(done_);
        pending_.clear();
    }
    Status circle(const std::vector<double>& m) {
        if (m[2] < 0) return fault("a diameter below 0", "0 or more");
        const Turn turn(m.size() > 5 ? m[5] : 0);
        return add(m[1], m[2] > 0 ? Rings{circle_ring(turn(m[3] * unit_, m[4] * unit_), m[2] * unit_ / 2)}
                                  : Rings{});
    }
    Status corners(double exposure, double turn_deg, const std::vector<std::pair<double, double>>& places) {
        const Turn turn(turn_deg);
        Ring ring;
        for (const auto& [x, y] : places) ring.push_back(turn(x * unit_, y * unit_));
        return add(exposure, {turned_left(std::move(ring))});
    }
    Status vector_line(const std::vector<double>& m) {
        const double dx = m[5] - m[3], dy = m[6] - m[4], length = std::hypot(dx, dy);
        if (m[2] < 0) return fault("a width below 0", "0 or more");
        if (length == 0 || m[2] == 0) return {};
        const double nx = -dy / length * m[2] / 2, ny = dx / length * m[2] / 2;
        return corners(
            m[1], m[7],
            {{m[3] + nx, m[4] + ny}, {m[3] - nx, m[4] - ny}, {m[5] - nx, m[6] - ny}, {m[5] + nx, m[6] + ny}});
    }
    Status box(const std::vector<double>& m, bool centre) {
        if (m[2] < 0 || m[3] < 0) return fault("a width or height below 0", "0 or more");
        if (m[2] == 0 || m[3] == 0) return {};
        const double left = centre ? m[4] - m[2] / 2 : m[4], low = centre ? m[5] - m[3] / 2 : m[5];
        return corners(m[1], m[6],
                       {{left, low}, {left + m[2], low}, {left + m[2], low + m[3]}, {left, low + m[3]}});
    }
    Status outline(const std::vector<double>& m) {
        if (m.size() < 3 || m[2] != std::floor(m[2]) || m[2] < 1 || m[2] > 20'000)
            return fault(
                "an outline of " + (m.size() > 2 ? fmt::format("{}", m[2]) : std::string("no")) + " points",
                "1 to 20000 points after the first");
        const auto n = static_cast<std::size_t>(m[2]);
        const auto needed = 3 + 2 * (n + 1) + 1;
        if (m.size() != needed && m.size() != needed - 1)
            return fault(fmt::format("an outline of {} points with {} modifiers", n, m.size() - 1),
                         fmt::format("{}", needed - 1));
        std::vector<std::pair<double, double>> places;
        for (std::size_t i = 0; i < n; ++i) places.emplace_back(m[3 + 2 * i], m[4 + 2 * i]);
        if (m[3] != m[3 + 2 * n] || m[4] != m[4 + 2 * n]) places.emplace_back(m[3 + 2 * n], m[4 + 2 * n]);
        return corners(m[1], m.size() == needed ? m.back() : 0, places);
    }
    Status polygon(const std::vector<double>& m) {
        if (m[2] != std::floor(m[2]) || m[2] < 3 || m[2] > 12)
            return fault(fmt::format("a polygon of {} corners", m[2]), "3 to 12");
        if (m[5] < 0) return fault("a diameter below 0", "0 or more");
        std::vector<std::pair<double, double>> places;
        for (int i = 0; i < static_cast<int>(m[2]); ++i) {
            const double a = 2 * std::numbers::pi * i / m[2];
            places.emplace_back(m[3] + m[5] / 2 * std::cos(a), m[4] + m[5] / 2 * std::sin(a));
        }
        return corners(m[1], m[6], places);
    }
    static Rings ring_between(BoardXY at, double outer, double inner) {
        Rings rings{circle_ring(at, outer)};
        if (inner > 0) {
            auto hole = circle_ring(at, inner);
            std::reverse(hole.begin(), hole.end());
            rings.push_back(std::move(hole));
        }
        return rings;
    }
    Status moire(const std::vector<double>& m) {
        const Turn turn(m[9]);
        const auto at = turn(m[1] * unit_, m[2] * unit_);
        if (m[6] < 0 || m[6] > 1000) return fault(fmt::format("a moire of {} rings", m[6]), "0 to 1000");
        double diameter = m[3] * unit_;
        for (int i = 0; i < static_cast<int>(m[6]) && diameter > 0; ++i) {
            if (auto ok = add(1, ring_between(at, diameter / 2, diameter / 2 - m[4] * unit_)); !ok) return ok;
            diameter -= 2 * (m[4] + m[5]) * unit_;
        }
        if (m[7] <= 0 || m[8] <= 0) return {};
        const double w = m[8] / 2, t = m[7] / 2;
        for (const auto& [a, b] : {std::pair(w, t), std::pair(t, w)})
            if (auto ok = corners(
                    1, m[9],
                    {{m[1] - a, m[2] - b}, {m[1] + a, m[2] - b}, {m[1] + a, m[2] + b}, {m[1] - a, m[2] + b}});
                !ok)
                return ok;
        return {};
    }
    Status thermal(const std::vector<double>& m) {
        if (!(m[3] > m[4]) || m[4] < 0 || m[5] < 0)
            return fault(fmt::format("a thermal of outer {}, inner {}, gap {}", m[3], m[4], m[5]),
                         "an outer diameter over the inner one, and a gap of 0 or more");
        const Turn turn(m[6]);
        const auto ring = ring_between(turn(m[1] * unit_, m[2] * unit_), m[3] * unit_ / 2, m[4] * unit_ / 2);
        Rings gaps;
        const double reach = m[3], half = m[5] / 2;
        for (const auto& [a, b] : {std::pair(reach, half), std::pair(half, reach)})
            if (half > 0)
                gaps.push_back({turn((m[1] - a) * unit_, (m[2] - b) * unit_),
                                turn((m[1] + a) * unit_, (m[2] - b) * unit_),
                                turn((m[1] + a) * unit_, (m[2] + b) * unit_),
                                turn((m[1] - a) * unit_, (m[2] + b) * unit_)});
        return add(1, rings_of(without(ring, gaps)));
    }

    double unit_;
    const std::string& file_;
    long line_;
    Rings done_, pending_;
    std::size_t corners_ = 0, taken_away_ = 0;
};

}  // namespace

Result<double> macro_value(std::string_view text, const std::vector<double>& variables,
                           const std::string& file, long line) {
    const auto v = Expression(text, variables).whole();
    if (!v || !std::isfinite(*v))
        return fail_at(file, line, "the expression " + in_quotes(text),
                       "numbers, $1 …, + - x / and brackets");
    return *v;
}

Result<ApertureMacro> read_macro(const std::vector<std::pair<std::string, long>>& blocks,
                                 const std::string& file) {
    ApertureMacro out;
    for (const auto& [block, line] : blocks) {
        const auto text = trim(block);
        // Primitive 0 is a remark up to the end of the block.
        if (text.empty() || text == "0" || text.starts_with("0 ") || text.starts_with("0,")) continue;
        MacroStep step;
        step.line = line;
        if (text.front() == '$') {
            const auto equals = text.find('=');
            const auto n = equals == std::string_view::npos
                               ? std::nullopt
                               : decimal_number(trim(text.substr(1, equals - 1)), '.');
            if (!n || *n < 1 || *n >= most_variable || *n != std::floor(*n))
                return fail_at(file, line, in_quotes(text), "$n= and an expression");
            step.variable = static_cast<int>(*n);
            step.modifiers.emplace_back(trim(text.substr(equals + 1)));
        } else {
            auto rest = text;
            for (;;) {
                const auto comma = rest.find(',');
                step.modifiers.emplace_back(trim(rest.substr(0, comma)));
                if (comma == std::string_view::npos) break;
                rest.remove_prefix(comma + 1);
            }
            // A comma at the end is met in the field.
            if (step.modifiers.size() > 1 && step.modifiers.back().empty()) step.modifiers.pop_back();
        }
        if (out.steps.size() >= most_steps)
            return fail_at(file, line, "a macro of many steps", fmt::format("at most {}", most_steps));
        out.steps.push_back(std::move(step));
    }
    return out;
}

Result<Rings> paint_macro(const ApertureMacro& macro, const std::vector<double>& parameters, double unit,
                          const std::string& file, long line) {
    auto variables = parameters;
    Painter painter(unit, file, line);
    for (const auto& step : macro.steps) {
        if (step.variable > 0) {
            const auto v = macro_value(step.modifiers.front(), variables, file, step.line);
            if (!v) return fail(v.error());
            const auto at = static_cast<std::size_t>(step.variable);
            if (variables.size() < at) variables.resize(at, 0);
            variables[at - 1] = *v;
            continue;
        }
        std::vector<double> values;
        values.reserve(step.modifiers.size());
        for (const auto& m : step.modifiers) {
            const auto v = macro_value(m, variables, file, step.line);
            if (!v) return fail(v.error());
            values.push_back(*v);
        }
        if (auto painted = painter.take(values); !painted) return fail(painted.error());
    }
    return painter.result();
}

}  // namespace grayrelic
