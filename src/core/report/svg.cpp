// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/svg.hpp"

#include <fmt/format.h>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

std::string n(double v) {
    auto s = fmt::format("{:.2f}", v);
    s.erase(s.find_last_not_of('0') + 1);
    if (s.back() == '.') s.pop_back();
    return s == "-0" ? "0" : s;
}

std::string points_of(const std::vector<std::pair<double, double>>& points) {
    std::string out;
    for (const auto& [x, y] : points) out += (out.empty() ? "" : " ") + n(x) + "," + n(y);
    return out;
}

}  // namespace

Svg::Svg(double width, double height, std::string_view title) : width_(width), height_(height) {
    const auto safe = escape_markup(title);
    body_ = fmt::format(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {0} {1}\" width=\"{0}\" height=\"{1}\" "
        "role=\"img\" "
        "aria-label=\"{2}\" font-family=\"B612, sans-serif\">\n<title>{2}</title>\n",
        n(width), n(height), safe);
}

void Svg::line(double x1, double y1, double x2, double y2, std::string_view colour, double width,
               std::string_view dash) {
    body_ += fmt::format("<line x1=\"{}\" y1=\"{}\" x2=\"{}\" y2=\"{}\" stroke=\"{}\" stroke-width=\"{}\"",
                         n(x1), n(y1), n(x2), n(y2), colour, n(width));
    if (!dash.empty()) body_ += fmt::format(" stroke-dasharray=\"{}\"", dash);
    body_ += "/>\n";
}

void Svg::rect(double x, double y, double w, double h, std::string_view fill, std::string_view stroke,
               double corner) {
    body_ += fmt::format("<rect x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\" fill=\"{}\"", n(x), n(y), n(w),
                         n(h), fill);
    if (corner > 0) body_ += fmt::format(" rx=\"{}\"", n(corner));
    if (!stroke.empty()) body_ += fmt::format(" stroke=\"{}\"", stroke);
    body_ += "/>\n";
}

void Svg::circle(double x, double y, double r, std::string_view fill, std::string_view stroke,
                 double stroke_width) {
    body_ += fmt::format("<circle cx=\"{}\" cy=\"{}\" r=\"{}\" fill=\"{}\"", n(x), n(y), n(r), fill);
    if (!stroke.empty()) body_ += fmt::format(" stroke=\"{}\" stroke-width=\"{}\"", stroke, n(stroke_width));
    body_ += "/>\n";
}

void Svg::curve(std::pair<double, double> from, std::pair<double, double> to, std::string_view colour,
                double width, std::string_view dash) {
    const double middle = (from.first + to.first) / 2;
    body_ +=
        fmt::format("<path d=\"M{},{} C{},{} {},{} {},{}\" fill=\"none\" stroke=\"{}\" stroke-width=\"{}\"",
                    n(from.first), n(from.second), n(middle), n(from.second), n(middle), n(to.second),
                    n(to.first), n(to.second), colour, n(width));
    if (!dash.empty()) body_ += fmt::format(" stroke-dasharray=\"{}\"", dash);
    body_ += "/>\n";
}

void Svg::path(const std::vector<std::pair<double, double>>& points, std::string_view colour, double width,
               std::string_view dash) {
    body_ += fmt::format("<polyline points=\"{}\" fill=\"none\" stroke=\"{}\" stroke-width=\"{}\"",
                         points_of(points), colour, n(width));
    if (!dash.empty()) body_ += fmt::format(" stroke-dasharray=\"{}\"", dash);
    body_ += "/>\n";
}

std::string Svg::rect_way(double x, double y, double w, double h) {
    return fmt::format("M{} {}h{}v{}h{}z", n(x), n(y), n(w), n(h), n(-w));
}

void Svg::fill_way(std::string_view way, std::string_view colour, double strength) {
    if (way.empty()) return;
    body_ += fmt::format("<path d=\"{}\" fill=\"{}\"", way, colour);
    if (strength < 1) body_ += fmt::format(" fill-opacity=\"{}\"", n(strength));
    body_ += "/>\n";
}

void Svg::image(double x, double y, double w, double h, std::string_view png) {
    body_ += fmt::format(
        "<image x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\" href=\"data:image/png;base64,{}\"/>\n", n(x),
        n(y), n(w), n(h), to_base64(png));
}

void Svg::polygon(const std::vector<std::pair<double, double>>& points, std::string_view fill,
                  std::string_view stroke) {
    body_ += fmt::format("<polygon points=\"{}\" fill=\"{}\"", points_of(points), fill);
    if (!stroke.empty()) body_ += fmt::format(" stroke=\"{}\"", stroke);
    body_ += "/>\n";
}

void Svg::area(const std::vector<std::vector<std::pair<double, double>>>& rings, std::string_view fill,
               double strength) {
    std::string way;
    for (const auto& ring : rings) {
        bool first = true;
        for (const auto& [x, y] : ring) {
            way += fmt::format("{}{} {}", first ? 'M' : 'L', n(x), n(y));
            first = false;
        }
        if (!ring.empty()) way += 'Z';
    }
    body_ += fmt::format("<path d=\"{}\" fill=\"{}\" fill-rule=\"evenodd\"", way, fill);
    if (strength < 1) body_ += fmt::format(" fill-opacity=\"{}\"", n(strength));
    body_ += "/>\n";
}

void Svg::place(double x, double y, const Svg& picture) {
    // As a group, not as a nested picture: many readers draw those wrongly or not at all.
    const auto inner = std::string_view(picture.body_).substr(picture.body_.find(">\n") + 2);
    body_ += fmt::format("<g transform=\"translate({} {})\">\n{}</g>\n", n(x), n(y), inner);
}

void Svg::text(double x, double y, std::string_view text, std::string_view colour, Anchor anchor, int size,
               bool bold) {
    constexpr std::string_view anchors[] = {"start", "middle", "end"};
    body_ +=
        fmt::format("<text x=\"{}\" y=\"{}\" fill=\"{}\" font-size=\"{}\" text-anchor=\"{}\"{}>{}</text>\n",
                    n(x), n(y), colour, size, anchors[static_cast<int>(anchor)],
                    bold ? " font-weight=\"bold\"" : "", escape_markup(text));
}

void Svg::set_paper(double width_mm, double height_mm) {
    const auto before = fmt::format(" width=\"{}\" height=\"{}\"", n(width_), n(height_));
    if (const auto at = body_.find(before); at != std::string::npos)
        body_.replace(at, before.size(),
                      fmt::format(" width=\"{}mm\" height=\"{}mm\"", n(width_mm), n(height_mm)));
}

std::string Svg::finish() const {
    return body_ + "</svg>\n";
}

}  // namespace grayrelic
