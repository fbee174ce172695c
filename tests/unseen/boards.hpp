// SPDX-License-Identifier: GPL-3.0-or-later
// A second artist of board scans: layouts whose copper is known, painted as flatbeds and cameras see them.
// It shares nothing with the stand-in's artist nor with what reads pictures; nothing of src/ is used.
//
// Places are millimetres from the board's upper left corner, seen from the front, x to the right, y down.
#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <vector>

namespace grayrelic::unseen {

struct BoardPad {
    std::string name;
    double x = 0, y = 0, w = 1.5, h = 1.5;
    double hole = 0;      ///< 0: a surface pad
    bool square = false;  ///< else with round ends
    int side = -1;        ///< 0 front, 1 back, -1 both
    int net = -1;
};
enum class ViaLook { open, tented, filled };
struct BoardVia {
    double x = 0, y = 0, across = 0.7, hole = 0.35;
    ViaLook look = ViaLook::open;
    int net = -1;
};
struct BoardTrack {
    int side = 0;
    double x1 = 0, y1 = 0, x2 = 0, y2 = 0, width = 0.3;
    int net = -1;
    bool thin = false;  ///< narrower than five pixels on purpose
};
/// A rectangle of copper that keeps its distance from other nets.
struct BoardPour {
    int side = 0;
    double x1 = 0, y1 = 0, x2 = 0, y2 = 0, clearance = 0.3;
    int net = -1;
    bool spokes = true;
};
struct BoardInk {
    int side = 0;
    double x1 = 0, y1 = 0, x2 = 0, y2 = 0, width = 0.18;
};

struct BoardLayout {
    double width = 0, height = 0;
    std::vector<BoardPad> pads;
    std::vector<BoardVia> vias;
    std::vector<BoardTrack> tracks;
    std::vector<BoardPour> pours;
    std::vector<BoardInk> ink;
};

/// What the drawn copper joins: for each pad the number of its group.
struct BoardTruth {
    std::vector<int> joined;  ///< by any copper
    std::vector<int> sure;    ///< by copper that is nowhere narrower than this many pixels
};
[[nodiscard]] BoardTruth truth_of(const BoardLayout& board, double dpi, double pixels = 5);

struct LayoutWish {
    double width = 40, height = 30;
    double pitch = 0.635, track = 0.3;  ///< mm; gaps are what is left of the pitch
    double thin_track = 0;              ///< mm; some tracks are so narrow; 0 for none
    bool pours = false, surface = true, ink = true;
    double via_hole = 0.35;
};
[[nodiscard]] BoardLayout lay_out(std::uint64_t seed, const LayoutWish& wish);

/// Red, green, blue, 0 to 255.
using Tone = std::array<double, 3>;

/// What the materials look like in even light.
struct BoardLook {
    std::string name;
    bool masked = true;
    Tone laminate{}, copper{};  ///< under the mask, or bare
    Tone metal{}, bare{};       ///< pads; laminate in the mask's openings
    Tone ink{}, hole{}, outside{};
    double step = 0;  ///< grey levels from laminate to copper
};
/// "green", "blue", "red", "black", "white", "yellow", "bare", "tinned"; with this step, 0: drawn from 12
/// to 40.
[[nodiscard]] const std::vector<std::string>& board_looks();
[[nodiscard]] BoardLook board_look(std::uint64_t seed, const std::string& name, double step = 0);

/// Everything between the board and the file; 0 is none, 1 is bad.
struct BoardTrouble {
    double slope = 0, corners = 0, glare = 0, shadows = 0, dust = 0, scratches = 0, jpeg = 0, blur = 0,
           noise = 0, cast = 0, weave = 0, rims = 0;
};
[[nodiscard]] const std::vector<std::string>& board_troubles();
[[nodiscard]] double& trouble_of(BoardTrouble& t, const std::string& name);

struct BoardPicture {
    int width = 0, height = 0;
    std::vector<std::uint8_t> rgb;
    /// Four corners of the board: x, y in pixels and in millimetres.
    std::vector<std::array<double, 4>> references;
};
[[nodiscard]] BoardPicture paint(const BoardLayout& board, int side, const BoardLook& look,
                                 const BoardTrouble& trouble, double dpi, std::uint64_t seed);

}  // namespace grayrelic::unseen
