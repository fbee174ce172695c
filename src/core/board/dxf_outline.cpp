// SPDX-License-Identifier: GPL-3.0-or-later
// DXF as text: pairs of a code and a value, a line each. Of its entities those that draw ways: LINE, ARC,
// CIRCLE, LWPOLYLINE, POLYLINE, ELLIPSE. Written from the published reference of the format.
#include "core/board/outline_readers.hpp"

#include <fmt/format.h>

#include <map>
#include <optional>
#include <set>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_pairs = 4'000'000;

struct Pair {
    int code = 0;
    std::string_view value;
    long line = 0;  ///< of the value
};

class DxfReader {
  public:
    DxfReader(std::string_view text, const std::string& name) : text_(text), name_(name) {}

    Result<WayList> run() {
        std::string section;
        while (auto pair = next()) {
            if (problem_) break;
            if (pair->code == 0 && pair->value == "SECTION") {
                if (const auto what = next(); what && what->code == 2) section = what->value;
            } else if (pair->code == 0 && pair->value == "ENDSEC") {
                section.clear();
            } else if (pair->code == 0 && pair->value == "EOF") {
                ended_ = true;
                break;
            } else if (section == "HEADER" && pair->code == 9) {
                if (pair->value == "$INSUNITS") read_units();
            } else if (section == "ENTITIES" && pair->code == 0) {
                entity(*pair);
            }
        }
        if (problem_) return fail(*problem_);
        if (!ended_) return fail_at(name_, line_, "the end of the text", "0 and EOF");
        if (!units_known_) out_.remarks.emplace_back("the drawing says no unit: millimetres are taken");
        for (const auto& w : left_out_) out_.remarks.push_back(w + " is left out");
        for (auto& w : out_.ways)
            for (auto& [x, y] : w.points) {
                x *= scale_;
                y *= scale_;
            }
        return std::move(out_);
    }

  private:
    std::optional<std::string_view> next_line() {
        if (at_ >= text_.size()) return std::nullopt;
        const auto end = text_.find('\n', at_);
        auto line = text_.substr(at_, end == std::string_view::npos ? end : end - at_);
        at_ = end == std::string_view::npos ? text_.size() : end + 1;
        ++line_;
        return trim(line);
    }
    std::optional<Pair> next() {
        if (kept_) return std::exchange(kept_, std::nullopt);
        const auto code = next_line();
        if (!code) return std::nullopt;
        const auto number = decimal_number(*code, '.');
        if (!number || *number != std::floor(*number) || std::abs(*number) > 2000) {
            problem_ = fail_at(name_, line_, in_quotes(*code), "a group code, a whole number").value();
            return std::nullopt;
        }
        const auto value = next_line();
        if (!value) {
            problem_ = fail_at(name_, line_, "the end of the text", "the value of a group code").value();
            return std::nullopt;
        }
        if (++pairs_ > most_pairs) {
            problem_ =
                fail_at(name_, line_, "more than 4,000,000 pairs", "the drawing of an outline").value();
            return std::nullopt;
        }
        return Pair{static_cast<int>(*number), *value, line_};
    }
    void read_units() {
        const auto pair = next();
        if (!pair || pair->code != 70) return;
        // The reference's table of insertion units.
        static const std::map<std::string_view, double> units{{"1", 25.4},   {"2", 304.8},  {"4", 1.0},
                                                              {"5", 10.0},   {"6", 1000.0}, {"8", 25.4e-6},
                                                              {"9", 0.0254}, {"13", 0.001}};
        const auto it = units.find(pair->value);
        units_known_ = it != units.end();
        if (units_known_) scale_ = it->second;
    }
    /// All pairs of an entity, up to the next.
    std::vector<Pair> body() {
        std::vector<Pair> out;
        while (auto pair = next()) {
            if (pair->code == 0) {
                kept_ = pair;
                break;
            }
            out.push_back(*pair);
        }
        return out;
    }
    std::optional<double> number(const std::vector<Pair>& pairs, int code) {
        for (const auto& p : pairs)
            if (p.code == code) return figure(p);
        return std::nullopt;
    }
    std::optional<double> figure(const Pair& p) {
        const auto v = decimal_number(p.value, '.');
        if (!v || !(std::abs(*v) < 1e7)) {
            if (!problem_) problem_ = fail_at(name_, p.line, in_quotes(p.value), "a number").value();
            return std::nullopt;
        }
        return v;
    }
    void entity(const Pair& head) {
        const auto pairs = body();
        if (problem_) return;
        const auto kind = head.value;
        if (kind == "LINE")
            line(pairs, head.line);
        else if (kind == "ARC" || kind == "CIRCLE")
            arc(pairs, head.line, kind == "CIRCLE");
        else if (kind == "LWPOLYLINE")
            polyline(pairs, head.line);
        else if (kind == "POLYLINE")
            old_polyline(pairs, head.line);
        else if (kind == "ELLIPSE")
            ellipse(pairs, head.line);
        else if (kind == "SPLINE" || kind == "INSERT")
            problem_ = fail_at(name_, head.line, std::string(kind),
                               kind == "SPLINE" ? "lines and arcs: export curves as polylines"
                                                : "the drawing itself: export with its blocks exploded")
                           .value();
        else if (kind != "SEQEND" && kind != "VIEWPORT" && kind != "POINT")
            left_out_.insert(in_quotes(kind));
    }
    void add(Way way) {
        out_.points += way.points.size();
        if (out_.points > most_way_points && !problem_)
            problem_ =
                fail_at(name_, way.line, "more than 400,000 corners", "the drawing of an outline").value();
        out_.ways.push_back(std::move(way));
    }
    void missing(long line, const char* what) {
        if (!problem_) problem_ = fail_at(name_, line, "an entity without its places", what).value();
    }
    void line(const std::vector<Pair>& pairs, long at) {
        const auto x1 = number(pairs, 10), y1 = number(pairs, 20), x2 = number(pairs, 11),
                   y2 = number(pairs, 21);
        if (!x1 || !y1 || !x2 || !y2) return missing(at, "codes 10, 20, 11 and 21");
        add({{{*x1, *y1}, {*x2, *y2}}, false, at});
    }
    void arc(const std::vector<Pair>& pairs, long at, bool whole) {
        const auto x = number(pairs, 10), y = number(pairs, 20), r = number(pairs, 40);
        if (!x || !y || !r || !(*r > 0)) return missing(at, "codes 10, 20 and a radius, 40");
        double from = 0, turn = 2 * std::numbers::pi;
        if (!whole) {
            const auto a = number(pairs, 50), b = number(pairs, 51);
            if (!a || !b) return missing(at, "angles, 50 and 51");
            from = *a * std::numbers::pi / 180;
            turn = std::fmod(*b - *a, 360.0);
            if (turn <= 0) turn += 360;
            turn *= std::numbers::pi / 180;
        }
        curve(*x, *y, *r, *r, 0, from, turn, whole, at);
    }
    void curve(double x, double y, double a, double b, double tilt, double from, double turn, bool closed,
               long at) {
        Way w{{}, closed, at};
        const int n = arc_chords(std::max(a, b) * scale_, turn);
        for (int i = 0; i <= (closed ? n - 1 : n); ++i) {
            const double t = from + turn * i / n, u = a * std::cos(t), v = b * std::sin(t);
            w.points.emplace_back(x + u * std::cos(tilt) - v * std::sin(tilt),
                                  y + u * std::sin(tilt) + v * std::cos(tilt));
        }
        add(std::move(w));
    }
    void ellipse(const std::vector<Pair>& pairs, long at) {
        const auto x = number(pairs, 10), y = number(pairs, 20), mx = number(pairs, 11),
                   my = number(pairs, 21), ratio = number(pairs, 40);
        if (!x || !y || !mx || !my || !ratio) return missing(at, "codes 10, 20, 11, 21 and 40");
        const double a = std::hypot(*mx, *my), from = number(pairs, 41).value_or(0);
        double turn = number(pairs, 42).value_or(2 * std::numbers::pi) - from;
        if (turn <= 0) turn += 2 * std::numbers::pi;
        const bool whole = turn > 2 * std::numbers::pi - 1e-6;
        curve(*x, *y, a, a * *ratio, std::atan2(*my, *mx), from, turn, whole, at);
    }
    /// From a corner to the next on an arc whose bulge is the tangent of a quarter of its angle.
    void bulge(Way& w, std::pair<double, double> a, std::pair<double, double> b, double amount) {
        if (std::abs(amount) > 1e-9) {
            const double turn = 4 * std::atan(amount), dx = b.first - a.first, dy = b.second - a.second;
            const double length = std::hypot(dx, dy);
            if (length > 0) {
                const double r = length / (2 * std::sin(std::abs(turn) / 2));
                const double reach = length / 2 / std::tan(turn / 2);
                const double mx = (a.first + b.first) / 2 - dy / length * reach,
                             my = (a.second + b.second) / 2 + dx / length * reach;
                const double from = std::atan2(a.second - my, a.first - mx);
                const int n = arc_chords(r * scale_, turn);
                for (int i = 1; i < n; ++i)
                    w.points.emplace_back(mx + r * std::cos(from + turn * i / n),
                                          my + r * std::sin(from + turn * i / n));
            }
        }
        w.points.push_back(b);
    }
    struct Corner {
        double x = 0, y = 0, bulge = 0;
    };
    void corners(const std::vector<Corner>& list, bool closed, long at) {
        if (list.size() < 2) return missing(at, "two corners or more");
        Way w{{{list[0].x, list[0].y}}, closed, at};
        for (std::size_t i = 1; i < list.size(); ++i)
            bulge(w, {list[i - 1].x, list[i - 1].y}, {list[i].x, list[i].y}, list[i - 1].bulge);
        if (closed) {
            bulge(w, {list.back().x, list.back().y}, {list[0].x, list[0].y}, list.back().bulge);
            w.points.pop_back();
        }
        add(std::move(w));
    }
    void polyline(const std::vector<Pair>& pairs, long at) {
        std::vector<Corner> list;
        bool closed = false;
        for (const auto& p : pairs) {
            if (p.code == 70) {
                const auto flags = figure(p);
                closed = flags && (static_cast<int>(*flags) & 1) != 0;
            } else if (p.code == 10) {
                list.push_back({figure(p).value_or(0), 0, 0});
            } else if (p.code == 20 && !list.empty()) {
                list.back().y = figure(p).value_or(0);
            } else if (p.code == 42 && !list.empty()) {
                list.back().bulge = figure(p).value_or(0);
            }
        }
        corners(list, closed, at);
    }
    void old_polyline(const std::vector<Pair>& pairs, long at) {
        const bool closed = (static_cast<int>(number(pairs, 70).value_or(0)) & 1) != 0;
        std::vector<Corner> list;
        while (auto pair = next()) {
            if (pair->code != 0) continue;
            if (pair->value == "SEQEND") {
                (void)body();
                break;
            }
            if (pair->value != "VERTEX") {
                kept_ = pair;
                break;
            }
            const auto vertex = body();
            list.push_back({number(vertex, 10).value_or(0), number(vertex, 20).value_or(0),
                            number(vertex, 42).value_or(0)});
        }
        if (!problem_) corners(list, closed, at);
    }

    std::string_view text_;
    const std::string& name_;
    std::size_t at_ = 0, pairs_ = 0;
    long line_ = 0;
    std::optional<Pair> kept_;
    std::optional<Error> problem_;
    WayList out_;
    std::set<std::string> left_out_;
    double scale_ = 1;
    bool units_known_ = false, ended_ = false;
};

}  // namespace

Result<WayList> read_dxf_ways(std::string_view text, const std::string& name) {
    return DxfReader(text, name).run();
}

}  // namespace grayrelic
