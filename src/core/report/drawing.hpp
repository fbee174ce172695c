// SPDX-License-Identifier: GPL-3.0-or-later
// A drawing as a list of what is to be seen, so that window, SVG, PDF and report show the same thing in their
// own colours.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/dossier/port.hpp"
#include "core/report/svg.hpp"

namespace grayrelic {

enum class Ink { ink, ink2, hairline, relic, bridge, both, stop, doubt, holds, sheet, shade };

struct Drawing {
    struct Line {
        double x1, y1, x2, y2;
        Ink ink = Ink::ink;
        double width = 1.0;
        bool dashed = false;
    };
    enum class Anchor { start, middle, end };
    struct Text {
        double x, y;  ///< of the base line
        std::string text;
        Ink ink = Ink::ink;
        Anchor anchor = Anchor::start;
        int size = 12;
        bool bold = false, figure = false, italic = false;
        bool backed = false;  ///< on a patch of the sheet, where it stands over something
    };
    struct Arrow {  ///< a head at (x, y) that points to the left or right
        double x, y;
        bool right = true;
        Ink ink = Ink::ink;
    };
    struct Box {
        double x, y, w, h;
        Ink ink = Ink::hairline;
    };
    struct Mark {  ///< a verdict, by shape and colour, 10 wide
        double x, y;
        Verdict verdict = Verdict::unknown;
    };
    struct Band {  ///< leaves and arrives level, in a curve between: what flows, as wide as it is
        double x1, y1, x2, y2;
        double width = 1.0;
        Ink ink = Ink::ink;
        bool dashed = false;
    };
    struct Area {  ///< rings filled by the even-odd rule: holes stay open
        std::vector<std::vector<std::pair<double, double>>> rings;
        Ink ink = Ink::ink;
        double strength = 1.0;  ///< 0 to 1: how much of the sheet it covers; 0: only its edge is drawn
        std::optional<Ink> edge{};
        double edge_width = 1.5;
        bool edge_dashed = false;
    };
    struct Circle {
        double x, y, r;
        Ink ink = Ink::ink;
        bool filled = false;
        double width = 1.0;
    };
    struct Stroke {  ///< a line through many points
        std::vector<std::pair<double, double>> points;
        Ink ink = Ink::ink;
        double width = 1.5;
        bool dashed = false;
    };
    struct Rect {
        double x = 0, y = 0, w = 0, h = 0;
        bool operator==(const Rect&) const = default;
    };
    struct Fill {  ///< rectangles as one shape: where they overlap they cover once
        std::vector<Rect> rects;
        Ink ink = Ink::ink;
        double strength = 1.0;
    };
    struct Image {
        Rect at;
        std::string png;  ///< the bytes of the file
    };
    struct Place {  ///< what stands where, for the mouse
        std::string id;
        double x, y, w, h;
    };
    double width = 0, height = 0;
    std::vector<Line> lines;
    std::vector<Text> texts;
    std::vector<Arrow> arrows;
    std::vector<Box> boxes;  ///< filled, over the lines and under the texts
    std::vector<Place> places;
    std::vector<Mark> marks{};
    std::vector<Band> bands{};      ///< under all else but areas
    std::vector<Area> areas{};      ///< under all else, in their order
    std::vector<Circle> circles{};  ///< over the lines
    std::vector<Image> images{};    ///< under all else
    std::vector<Fill> fills{};      ///< over the areas
    std::vector<Stroke> strokes{};  ///< over the lines, under the circles
};

/// About how wide a text is; exactly for figures, whose letters are all alike.
[[nodiscard]] double text_width(std::string_view text, int size = 12, bool figure = false);
/// A circle as a ring of corners, for areas and strokes.
[[nodiscard]] std::vector<std::pair<double, double>> ring_of_circle(double x, double y, double r);
/// A box with round corners.
[[nodiscard]] std::vector<std::pair<double, double>> ring_of_box(const Drawing::Rect& box, double corner);

[[nodiscard]] Ink ink_of(Driver driver);
/// In the day's colours; to be placed on a page, or as a file of its own. `on_sheet`: on the sheet's colour.
[[nodiscard]] Svg drawing_figure(const Drawing& drawing, std::string_view title, bool on_sheet = true);
[[nodiscard]] std::string drawing_svg(const Drawing& drawing, std::string_view title);

}  // namespace grayrelic
