// SPDX-License-Identifier: GPL-3.0-or-later
// A drawing as plain lines and texts, so that the window and the SVG writer show the same thing in their own
// colours.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/dossier/port.hpp"
#include "core/report/svg.hpp"

namespace grayrelic {

enum class Ink { ink, ink2, hairline, relic, bridge, both, stop, doubt, holds, sheet };

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
        double strength = 1.0;  ///< 0 to 1: how much of the sheet it covers
    };
    struct Circle {
        double x, y, r;
        Ink ink = Ink::ink;
        bool filled = false;
        double width = 1.0;
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
};

[[nodiscard]] Ink ink_of(Driver driver);
/// In the light theme's colours; to be placed on a page, or as a file of its own.
[[nodiscard]] Svg drawing_figure(const Drawing& drawing, std::string_view title);
[[nodiscard]] std::string drawing_svg(const Drawing& drawing, std::string_view title);

}  // namespace grayrelic
