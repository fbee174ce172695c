// SPDX-License-Identifier: GPL-3.0-or-later
// One picture on the board's grid told apart into what it shows. For the scan readers only; places are in
// grid pixels here.
//
// No colour is known beforehand. Where two areas meet, both tones stand side by side in the same light: from
// such edges come the two tones that fill the board, as surfaces that follow the light (scan_tones.cpp). What
// is neither is sorted by its colour and by what it lies on: metal of pads stands around holes, ink lies in
// thin strokes (scan_matter.cpp). Then every pixel is held against these (scan_ground.cpp).
#pragma once

#include <array>
#include <cstdint>
#include <opencv2/core.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/trace/scan.hpp"

namespace grayrelic::scan_ground {

/// What a pixel is made of, before anything is concluded from its neighbours.
enum class Matter : std::uint8_t { outside, board, copper, metal, ink, hole, other };

/// An expression worked out, as bytes.
[[nodiscard]] inline cv::Mat1b plane(const cv::MatExpr& expression) {
    cv::Mat out = expression;
    return out;
}

/// The doubt of a side whose two tones are found, but not which of them is copper.
inline constexpr const char* copper_not_told = "which of the two tones is copper can't be told";

/// A click on the grid.
struct Touch {
    ClickKind kind = ClickKind::board;
    cv::Point at;
};

/// What a shade is when a person says so.
[[nodiscard]] Matter matter_of(ClickKind kind);

inline constexpr double one_shade = 26.0;  ///< levels; closer colours are one

/// A colour that is neither of the two tones, relative to the lower tone's mean.
struct Shade {
    cv::Vec3f colour;
    Matter matter = Matter::other;
    float reach2 = 1e18F;  ///< pixels farther off, squared, are none of it: so far reaches what a click made
};

inline constexpr double vote_of_person = 9;

/// The two tones that fill the board, as they change over it, and the other shades.
struct Tones {
    double cell = 1;      ///< grid pixels to a cell of the fields
    cv::Mat3f low, step;  ///< by cell: the one tone, and the other less this one
    cv::Vec3f low_mean, step_mean;
    double noise = 1;      ///< deviation of a smoothed pixel within one tone
    double grey_step = 0;  ///< levels between the tones
    bool high_is_copper = true;
    bool settled = false;  ///< which of both is copper is known
    bool leads = false;    ///< the rarer tone leads from place to place, as tracks do
    double vote = 0;       ///< how clearly: above 0 the lower tone is; or vote_of_person
    std::string doubt;     ///< why nothing can be told; empty when it can
    std::vector<Shade> shades;
};

/// The board's rim.
struct Rim {
    std::vector<cv::Point> outline;
    cv::Mat1b inside;
    bool seen = false;  ///< false: the picture ends within the board
};
[[nodiscard]] Rim find_rim(const cv::Mat3b& smooth, double px_per_mm);

/// `like`: only tones that may be of the same mask as these.
[[nodiscard]] Tones find_tones(const cv::Mat3b& smooth, const cv::Mat1b& inside, double px_per_mm,
                               const Tones* like = nullptr);
/// Whether two tones may be those of laminate and copper below the same mask, in another light.
[[nodiscard]] bool same_mask(const cv::Vec3f& low, const cv::Vec3f& step, const Tones& other);

/// Pixels held against the tones: what each is, and how far it is from the board's tone to the copper's
/// (64: board, 192: copper; other shades are 0).
struct Told {
    cv::Mat1b matter, along;
};
[[nodiscard]] Told tell(const cv::Mat3b& smooth, const cv::Mat1b& inside, const Tones& tones);
/// What a person says of a colour, where the tones are these: tells which tone is copper, or what a shade is;
/// a colour of its own becomes a shade.
void take_click(const cv::Vec3f& colour, const cv::Vec3f& low, const cv::Vec3f& step, ClickKind kind,
                Tones& tones);
/// Sorts what is neither, says which tone is copper; clicks count before all else.
void name_shades(const cv::Mat3b& smooth, const cv::Mat1b& inside, bool rim_seen, double px_per_mm,
                 const std::vector<Touch>& touches, Tones& tones);

/// Round places within copper where something goes through, as they look from this side.
struct Round {
    double x = 0, y = 0, across = 0;
    bool certain = false;  ///< a hole by its tone; else a round place of another tone
};

struct Side {
    Rim rim;
    Tones tones;
    Told told;
    std::vector<Round> spots;
};
[[nodiscard]] Side tell_apart(const cv::Mat3b& rgb, double px_per_mm, const std::vector<Touch>& touches,
                              const Progress& progress);
/// Front and back of one board wear the same mask: where both show the same two tones, and only one side
/// tells for certain which is copper, it tells for both. Returns the side that has to be told apart anew, or
/// -1.
[[nodiscard]] int agree(Side& front, Side& back);
/// Where both sides have the lower tone in common but not the step, one of them took ink for copper, since
/// both wear one mask: the side with the wider step, to be told apart by the tones of the other; or -1.
[[nodiscard]] int odd_one(const Side& front, const Side& back);
/// Tells a side apart by tones like these, if it has such; false: it is as it was.
bool tell_like(const cv::Mat3b& rgb, double px_per_mm, const std::vector<Touch>& touches, const Tones& like,
               Side& side);
void tell_again(const cv::Mat3b& rgb, double px_per_mm, Side& side);
/// Round places with metal all around are holes, whatever they look like: light that shines through may have
/// the tone of copper, or of board.
void open_metal(cv::Mat1b& matter, double px_per_mm);
[[nodiscard]] std::vector<Round> find_spots(const cv::Mat1b& matter, double px_per_mm);

/// Labels of pieces over a picture: above 0 a piece, -1 board, 0 neither.
struct Pieces {
    cv::Mat1i label;
    cv::Mat1b reached;  ///< by how many steps a pixel took its label from its neighbours; 0: it is sure
    int many = 1;       ///< labels are below
};
/// Pixels by what they mean for pieces: 255 or 0.
struct Sorted {
    cv::Mat1b copper, board;  ///< where that is sure
    cv::Mat1b metal, hole;
    cv::Mat1b cover;         ///< ink, dirt and the like, and one pixel around
    cv::Mat1b soft;          ///< rims of metal, out of focus
    cv::Mat1b no_hole;       ///< of a hole's tone, but not round
    cv::Mat1b said_unknown;  ///< by hand
};
[[nodiscard]] Sorted sort_pixels(const Side& side, const cv::Mat1b& drawn, double px_per_mm);
[[nodiscard]] Pieces grow_pieces(const Sorted& sorted, const cv::Mat1b& matter);

/// Where two pieces come so near that only something narrow, pale or covered lies between.
struct Meeting {
    int a = 0, b = 0;     ///< pieces
    cv::Point2d at, way;  ///< middle, and direction along the line between both
    double length = 0;    ///< px, along that line
    double half = 0;      ///< px, from the line to what is sure
    enum class Cause : std::uint8_t { covered, narrow, pale } cause = Cause::covered;
    std::vector<cv::Point> pixels;
    double joined = 0;  ///< how surely both are one; 1: no doubt, 0: nobody can tell
};
[[nodiscard]] std::vector<Meeting> find_meetings(const Pieces& pieces, const cv::Mat1b& matter,
                                                 const cv::Mat1b& cover);
/// How surely the copper goes on below what covers it, as a track does that a stroke crosses: 0 to 1.
[[nodiscard]] double goes_on(const Meeting& m, const Pieces& pieces, const cv::Mat1b& metal,
                             double px_per_mm);

/// Two pieces that a track joins which bends, or lies for a while, below a cover.
struct Below {
    int a = 0, b = 0;
    cv::Point2d at;
    double confidence = 0;
};
/// `united`: by label, what is known to be one.
[[nodiscard]] std::vector<Below> follow_below(const Sorted& sorted, const Pieces& pieces, double px_per_mm,
                                              const std::vector<int>& united);

/// The copper's pieces, what lies hidden, and why. `drawn`: a Ground and one for each pixel said by hand,
/// else 0. Where two pieces are one only by inference, that stands in `joins`, of the front.
void find_pieces(const Side& side, const cv::Mat1b& drawn, double px_per_mm, ScanLayer& layer,
                 std::vector<ScanJoin>& joins);

}  // namespace grayrelic::scan_ground

namespace grayrelic {

/// What a side was told apart by, and how its picture lies (from mm to its pixels).
struct ScanTones {
    scan_ground::Tones tones;
    std::array<double, 6> map{};
};

}  // namespace grayrelic
