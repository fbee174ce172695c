// SPDX-License-Identifier: GPL-3.0-or-later
// A small writer of SVG 1.1 pictures. All text is escaped; numbers are written with two decimals at most, so
// that equal figures give equal bytes.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/palette.hpp"

namespace grayrelic {

class Svg {
  public:
    enum class Anchor { start, middle, end };
    /// `title` is what a screen reader says.
    Svg(double width, double height, std::string_view title);
    void line(double x1, double y1, double x2, double y2, std::string_view colour, double width = 1.0,
              std::string_view dash = {});
    void rect(double x, double y, double w, double h, std::string_view fill, std::string_view stroke = {},
              double corner = 0.0);
    void circle(double x, double y, double r, std::string_view fill, std::string_view stroke = {},
                double stroke_width = 1.0);
    void path(const std::vector<std::pair<double, double>>& points, std::string_view colour,
              double width = 1.5, std::string_view dash = {});
    /// From one point to another, leaving and arriving level.
    void curve(std::pair<double, double> from, std::pair<double, double> to, std::string_view colour,
               double width, std::string_view dash = {});
    void polygon(const std::vector<std::pair<double, double>>& points, std::string_view fill,
                 std::string_view stroke = {});
    /// Rings filled by the even-odd rule; `strength` from 0 to 1.
    void area(const std::vector<std::vector<std::pair<double, double>>>& rings, std::string_view fill,
              double strength = 1.0);
    /// Things with x, y, w and h as one shape.
    template <class Rects>
    void fill(const Rects& rects, std::string_view colour, double strength = 1.0) {
        std::string way;
        for (const auto& r : rects) way += rect_way(r.x, r.y, r.w, r.h);
        fill_way(way, colour, strength);
    }
    /// The bytes of a PNG file.
    void image(double x, double y, double w, double h, std::string_view png);
    /// Another picture, with its own size, at a place of this one.
    void place(double x, double y, const Svg& picture);
    void text(double x, double y, std::string_view text, std::string_view colour = paper::ink,
              Anchor anchor = Anchor::start, int size = 12, bool bold = false);
    /// For printing: the size of the sheet in millimetres; its units are then points (1/72 inch).
    void set_paper(double width_mm, double height_mm);
    [[nodiscard]] std::string finish() const;

  private:
    [[nodiscard]] static std::string rect_way(double x, double y, double w, double h);
    void fill_way(std::string_view way, std::string_view colour, double strength);
    double width_ = 0.0, height_ = 0.0;
    std::string body_;
};

}  // namespace grayrelic
