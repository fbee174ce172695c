// SPDX-License-Identifier: GPL-3.0-or-later
// One layer of a board as the published Gerber layer format has it (the format's specification, revision
// 2022.02: X2 and the older RS-274X): apertures, macros, flashes, lines, arcs in single- and multi-quadrant
// mode, regions, polarity, mirroring, turning and scaling, step and repeat, block apertures, attributes.
//
// What is refused, because it is rare and has a better form: incremental coordinates, image offset, scale,
// rotation, mirroring and justification by OF, SF, IR, MI, AS and IJ other than neutral ones, negative images
// by IPNEG.
#pragma once

#include <array>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/board/shape.hpp"

namespace grayrelic {

/// A place in a file with what is remarkable there; reading went on.
struct FileNote {
    long line = 0;
    std::string text;
};

struct Aperture {
    enum class Form { circle, rectangle, obround, polygon, macro, block };
    Form form = Form::circle;
    double width = 0, height = 0;  ///< nanometres; of a circle or polygon the (outer) diameter twice
    double hole = 0;               ///< diameter of the hole in its middle, nothing is drawn there
    int corners = 0;
    double turn_deg = 0;
    Rings rings;             ///< about the origin, outer ones counter-clockwise; empty for a block
    std::string function{};  ///< ".AperFunction": "ViaPad", "ComponentPad", "Conductor" …
    long line = 0;
    /// Narrowest across: what a line drawn with it is wide.
    [[nodiscard]] double least() const { return width < height ? width : height; }
};

/// What an object says of itself: attributes .N, .P and .C.
struct ObjectMarks {
    std::string net, ref, pin;
    bool operator==(const ObjectMarks&) const = default;
};

struct GerberObject {
    enum class Kind { line, arc, flash, region };
    Kind kind = Kind::flash;
    bool dark = true;
    bool clockwise = false;
    std::uint32_t aperture = 0;  ///< into apertures; of a region nothing
    std::uint32_t marks = 0;     ///< into marks
    long line = 0;
    BoardXY from{}, to{}, middle{};  ///< a flash stands at `to`
    std::uint32_t turn = 0;          ///< into turns: mirrored, turned, scaled
    std::uint32_t region = 0;        ///< into regions
};

/// What LM, LR and LS do to an aperture.
struct ApertureTurn {
    bool mirror_x = false, mirror_y = false;
    double turn_deg = 0, scale = 1;
    bool operator==(const ApertureTurn&) const = default;
};

struct GerberLayer {
    std::vector<GerberObject> objects;
    std::vector<Aperture> apertures;
    std::vector<Rings> regions;  ///< each with the contours of one G36 … G37
    std::vector<ObjectMarks> marks{ObjectMarks{}};
    std::vector<ApertureTurn> turns{ApertureTurn{}};
    std::map<std::string, std::string> attributes;  ///< ".FileFunction" to "Copper,L1,Top" …
    bool inch = false;
    std::vector<FileNote> notes;
    /// What this object covers, polarity left aside; outer rings counter-clockwise.
    [[nodiscard]] Rings shape(const GerberObject& object) const;
    [[nodiscard]] Extent extent() const;  ///< of all dark objects
};

/// Does the text begin as one?
[[nodiscard]] bool looks_like_gerber(std::string_view text);
[[nodiscard]] Result<GerberLayer> read_gerber(std::string_view text, const std::string& name,
                                              Progress& progress);

/// What is left of a layer's dark objects after the clear ones, in the order of the file, as pieces that do
/// not touch.
[[nodiscard]] Result<BoardPieces> layer_pieces(const GerberLayer& layer, Progress& progress);

inline constexpr std::size_t most_gerber_bytes = 128U << 20U;
inline constexpr std::size_t most_gerber_objects = 500'000;
inline constexpr std::size_t most_region_points = 8'000'000;
inline constexpr double widest_mm = 2'000;  ///< apertures and places beyond it are no board

}  // namespace grayrelic
