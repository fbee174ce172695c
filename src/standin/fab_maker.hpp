// SPDX-License-Identifier: GPL-3.0-or-later
// Plays a layout program and its plotter: parts and nets in, fabrication files out, for the demo dossiers.
// Parts stand where they are put; the tracks are found on a grid, two layers, by Lee's algorithm (1961).
// Nobody would order these boards; they are right where nothing else was asked for.
#pragma once

#include <map>
#include <string>
#include <vector>

namespace grayrelic::standin {

struct MadePad {
    std::string pin;
    double x = 0, y = 0;  ///< millimetres, y upwards
    double width = 1.6, height = 1.6;
    double hole = 0.8;  ///< 0: a finger or surface pad
    bool top = true, bottom = true;
};
struct MadePart {
    std::string ref;
    std::vector<MadePad> pads;
};
struct MadeNet {
    std::string name;
    std::vector<std::string> points;
};
struct FabPlan {
    double width = 100, height = 80;
    std::vector<MadePart> parts;
    std::vector<MadeNet> nets;
    std::string open_net;  ///< one of its connections is left out
    std::string thin_net;  ///< its tracks are drawn with 0.1 mm
    double track = 0.25;
};
/// File names to texts. Empty when no order of the nets could be routed.
[[nodiscard]] std::map<std::string, std::string> make_fabrication(const FabPlan& plan);

}  // namespace grayrelic::standin
