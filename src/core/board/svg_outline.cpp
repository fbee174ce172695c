// SPDX-License-Identifier: GPL-3.0-or-later
// SVG 1.1: paths and basic shapes with their transforms, in the size that the root says.
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <pugixml.hpp>
#include <set>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"
#include "core/board/outline_readers.hpp"
#include "core/board/svg_path.hpp"

namespace grayrelic {
namespace {

constexpr int deepest = 200;
constexpr double px = 25.4 / 96;

/// x' = a·x + c·y + e, y' = b·x + d·y + f
struct Transform {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
    [[nodiscard]] Transform then_of(const Transform& inner) const {
        return {a * inner.a + c * inner.b, b * inner.a + d * inner.b,     a * inner.c + c * inner.d,
                b * inner.c + d * inner.d, a * inner.e + c * inner.f + e, b * inner.e + d * inner.f + f};
    }
    [[nodiscard]] double scale() const { return std::sqrt(std::abs(a * d - b * c)); }
};

std::vector<double> numbers_in(std::string_view text) {
    std::vector<double> out;
    std::string word;
    const auto take = [&] {
        if (!word.empty())
            if (const auto v = decimal_number(word, '.')) out.push_back(*v);
        word.clear();
    };
    for (const char c : text)
        if (c == ',' || c == ' ' || c == '\n' || c == '\r' || c == '\t')
            take();
        else
            word += c;
    take();
    return out;
}

std::optional<Transform> transform_of(std::string_view text) {
    Transform out;
    text = trim(text);
    while (!text.empty()) {
        const auto open = text.find('('), close = text.find(')');
        if (open == std::string_view::npos || close == std::string_view::npos || close < open)
            return std::nullopt;
        const auto name = trim(text.substr(0, open));
        const auto v = numbers_in(text.substr(open + 1, close - open - 1));
        const auto at = [&](std::size_t i, double without) { return i < v.size() ? v[i] : without; };
        Transform t;
        if (name == "matrix" && v.size() == 6) {
            t = {v[0], v[1], v[2], v[3], v[4], v[5]};
        } else if (name == "translate" && !v.empty()) {
            t.e = v[0];
            t.f = at(1, 0);
        } else if (name == "scale" && !v.empty()) {
            t.a = v[0];
            t.d = at(1, v[0]);
        } else if (name == "rotate" && !v.empty()) {
            const double r = v[0] * std::numbers::pi / 180, x = at(1, 0), y = at(2, 0);
            t = {std::cos(r), std::sin(r), -std::sin(r), std::cos(r), 0, 0};
            t.e = x - t.a * x - t.c * y;
            t.f = y - t.b * x - t.d * y;
        } else if ((name == "skewX" || name == "skewY") && v.size() == 1) {
            (name == "skewX" ? t.c : t.b) = std::tan(v[0] * std::numbers::pi / 180);
        } else {
            return std::nullopt;
        }
        out = out.then_of(t);
        text.remove_prefix(close + 1);
        while (!text.empty() && (text.front() == ',' || text.front() == ' ' || text.front() == '\n'))
            text.remove_prefix(1);
    }
    return out;
}

/// Millimetres; nothing for shares of something.
std::optional<double> length_mm(std::string_view text) {
    text = trim(text);
    double unit = px;
    for (const auto& [suffix, mm] : {std::pair<std::string_view, double>{"mm", 1.0},
                                     {"cm", 10.0},
                                     {"in", 25.4},
                                     {"pt", 25.4 / 72},
                                     {"pc", 25.4 / 6},
                                     {"px", px}})
        if (text.ends_with(suffix)) {
            unit = mm;
            text = trim(text.substr(0, text.size() - suffix.size()));
            break;
        }
    const auto v = decimal_number(text, '.');
    return v && *v > 0 && *v * unit < 1e5 ? std::optional(*v * unit) : std::nullopt;
}

class SvgReader {
  public:
    SvgReader(std::string_view text, const std::string& name) : text_(text), name_(name) {}

    Result<WayList> run() {
        pugi::xml_document document;
        const auto parsed = document.load_buffer(text_.data(), text_.size(), pugi::parse_default);
        if (!parsed)
            return fail_at(name_, line_of(parsed.offset), parsed.description(),
                           "an SVG drawing that is whole");
        const auto root = document.document_element();
        if (own_name(root) != "svg") return fail_at(name_, 1, in_quotes(root.name()), "an SVG drawing");
        Transform page;
        const auto box = numbers_in(root.attribute("viewBox").value());
        const auto width = length_mm(root.attribute("width").value()),
                   height = length_mm(root.attribute("height").value());
        if (box.size() == 4 && box[2] > 0 && box[3] > 0 && (width || height)) {
            // One scale for both, as pictures keep their proportions unless told otherwise.
            double scale = width ? *width / box[2] : *height / box[3];
            if (width && height) scale = std::min(*width / box[2], *height / box[3]);
            page = {scale, 0, 0, scale, -box[0] * scale, -box[1] * scale};
        } else {
            page = {px, 0, 0, px, 0, 0};
            if (!width) out_.remarks.emplace_back("the drawing says no size: 96 units are taken for an inch");
        }
        walk(root, page, 0);
        if (problem_) return fail(*problem_);
        for (const auto& w : left_out_) out_.remarks.push_back(w + " is left out");
        for (auto& w : out_.ways)
            for (auto& p : w.points) p.second = -p.second;
        return std::move(out_);
    }

  private:
    [[nodiscard]] long line_of(std::ptrdiff_t offset) const {
        const auto end =
            text_.begin() + std::clamp<std::ptrdiff_t>(offset, 0, static_cast<std::ptrdiff_t>(text_.size()));
        return 1 + static_cast<long>(std::count(text_.begin(), end, '\n'));
    }
    static std::string_view own_name(const pugi::xml_node& n) {
        const std::string_view name(n.name());
        const auto colon = name.find(':');
        return colon == std::string_view::npos ? name : name.substr(colon + 1);
    }
    void refuse(const pugi::xml_node& n, const std::string& found, const std::string& expected) {
        if (!problem_) problem_ = fail_at(name_, line_of(n.offset_debug()), found, expected).value();
    }
    void walk(const pugi::xml_node& parent, const Transform& outer, int depth) {
        if (depth > deepest)
            return refuse(parent, "groups within groups, more than 200 deep", "the drawing of an outline");
        for (const auto& n : parent.children()) {
            if (problem_) return;
            if (n.type() != pugi::node_element) continue;
            const auto name = own_name(n);
            if (std::string_view(n.attribute("display").value()) == "none" ||
                std::string(n.attribute("style").value()).find("display:none") != std::string::npos)
                continue;
            const auto inner = transform_of(n.attribute("transform").value());
            if (!inner)
                return refuse(n, in_quotes(n.attribute("transform").value()),
                              "a transform such as translate(1 2)");
            const auto t = outer.then_of(*inner);
            if (name == "g" || name == "a" || name == "svg")
                walk(n, t, depth + 1);
            else if (name == "use")
                return refuse(n, "a clone (use)", "the drawing itself: turn clones into paths");
            else if (name == "text" || name == "image")
                left_out_.insert(std::string(name));
            else
                shape(n, name, t);
        }
    }
    [[nodiscard]] static double attribute(const pugi::xml_node& n, const char* key) {
        const std::string_view text(n.attribute(key).value());
        if (const auto plain = decimal_number(trim(text), '.')) return *plain;
        // With a unit it is a length, of which the user's own is a pixel.
        const auto mm = length_mm(text);
        return mm ? *mm / px : 0;
    }
    void shape(const pugi::xml_node& n, std::string_view name, const Transform& t) {
        std::string d;
        const auto a = [&](const char* key) { return attribute(n, key); };
        if (name == "path") {
            d = n.attribute("d").value();
        } else if (name == "rect") {
            const double x = a("x"), y = a("y"), w = a("width"), h = a("height");
            double rx = a("rx"), ry = a("ry");
            if (rx == 0) rx = ry;
            if (ry == 0) ry = rx;
            rx = std::min(rx, w / 2);
            ry = std::min(ry, h / 2);
            if (!(w > 0) || !(h > 0)) return;
            d = rx > 0 ? fmt::format(
                             "M{} {}h{}a{} {} 0 0 1 {} {}v{}a{} {} 0 0 1 {} {}h{}a{} {} 0 0 1 {} {}v{}a{} {} "
                             "0 0 1 {} {}z",
                             x + rx, y, w - 2 * rx, rx, ry, rx, ry, h - 2 * ry, rx, ry, -rx, ry, 2 * rx - w,
                             rx, ry, -rx, -ry, 2 * ry - h, rx, ry, rx, -ry)
                       : fmt::format("M{} {}h{}v{}h{}z", x, y, w, h, -w);
        } else if (name == "circle" || name == "ellipse") {
            const double rx = name == "circle" ? a("r") : a("rx"), ry = name == "circle" ? a("r") : a("ry");
            if (!(rx > 0) || !(ry > 0)) return;
            d = fmt::format("M{} {}a{} {} 0 0 1 {} 0a{} {} 0 0 1 {} 0z", a("cx") - rx, a("cy"), rx, ry,
                            2 * rx, rx, ry, -2 * rx);
        } else if (name == "line") {
            d = fmt::format("M{} {}L{} {}", a("x1"), a("y1"), a("x2"), a("y2"));
        } else if (name == "polyline" || name == "polygon") {
            d = "M" + std::string(n.attribute("points").value()) + (name == "polygon" ? "z" : "");
        } else {
            return;  // definitions, titles, what draws nothing
        }
        auto path = svg_path(d, t.scale());
        if (!path.problem.empty()) return refuse(n, path.problem, "commands of SVG paths");
        for (auto& w : path.ways) {
            w.line = line_of(n.offset_debug());
            for (auto& [x, y] : w.points) {
                const double px_x = x;
                x = t.a * px_x + t.c * y + t.e;
                y = t.b * px_x + t.d * y + t.f;
            }
            out_.points += w.points.size();
            out_.ways.push_back(std::move(w));
        }
        if (out_.points > most_way_points)
            refuse(n, "more than 400,000 corners", "the drawing of an outline");
    }

    std::string_view text_;
    const std::string& name_;
    std::optional<Error> problem_;
    WayList out_;
    std::set<std::string> left_out_;
};

}  // namespace

Result<WayList> read_svg_ways(std::string_view text, const std::string& name) {
    return SvgReader(text, name).run();
}

}  // namespace grayrelic
