// SPDX-License-Identifier: GPL-3.0-or-later
// Scans of a board's copper: brought to scale, told apart into copper, bare board, holes and what nobody can
// see, and turned into nets.
//
// The picture is laid onto the board by its reference points (least squares: a similarity with two, an affine
// map with three or more, which takes up skew and the mirroring of the back). Both sides end on one grid in
// millimetres, so that a hole has the same place on both. All steps are bounded and can be cancelled.
#pragma once

#include <array>
#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"
#include "core/trace/board_model.hpp"
#include "core/trace/nets.hpp"

namespace grayrelic {

/// A picture as pixels, three bytes each: red, green, blue.
struct Raster {
    int width = 0, height = 0;
    std::vector<std::uint8_t> rgb;
};

inline constexpr long long most_pixels = 120'000'000;
inline constexpr int least_side_px = 16;
/// Refuses absurd sizes and pictures whose bytes do not fit their size.
[[nodiscard]] Status check_raster(const Raster& picture, const std::string& name);

/// From millimetres on the board to pixels: x_px = a·x + b·y + c, y_px = d·x + e·y + f.
struct ScanPlacement {
    std::array<double, 6> m{};
    double px_per_mm = 0;               ///< mean scale
    double turn_deg = 0;                ///< how far the picture is turned
    double skew_deg = 0;                ///< departure of its axes from a right angle
    std::optional<double> residual_mm;  ///< root mean square at the references; nothing when they fit exactly
    std::optional<double> worst_mm;     ///< at the worst one
    std::optional<std::size_t> worst_reference;
    bool mirrored = false;
    [[nodiscard]] std::pair<double, double> to_px(double x_mm, double y_mm) const;
    [[nodiscard]] std::pair<double, double> to_mm(double x_px, double y_px) const;
};
/// Fails with fewer than two references, or when they lie on one place or line.
[[nodiscard]] Result<ScanPlacement> place_scan(const std::vector<ScanReference>& references, BoardSide side);

enum class Ground : std::uint8_t { outside, board, copper, hole, unknown, silk };

/// A place where the picture does not hold what a decision needs: two pieces come near each other, and nobody
/// can see whether they are one.
struct UnknownPlace {
    double x_mm = 0, y_mm = 0;
    BoardSide side = BoardSide::front;
    int piece_a = 0, piece_b = 0;  ///< of that side; 0 for none
    std::string why;
};

struct ScanTones;

/// One side of the board on the common grid.
struct ScanLayer {
    int width = 0, height = 0;
    double px_per_mm = 0, x0_mm = 0, y0_mm = 0;  ///< of the grid: its first pixel's middle
    std::vector<Ground> ground;
    std::vector<int> piece;             ///< number of the copper piece at each pixel, 0 for none
    std::vector<float> confidence;      ///< by piece, 0 to 1; entry 0 is not used
    std::vector<char> touches_unknown;  ///< by piece
    double unknown_mm2 = 0;             ///< area that nobody can see
    std::vector<UnknownPlace> unknown;  ///< where pieces may meet
    std::string doubt;                ///< why copper can't be told from board on this side; empty when it can
    double grey_step = 0, noise = 0;  ///< levels between board and copper, and what a pixel strays
    std::shared_ptr<const ScanTones> tones;  ///< what it was told apart by, for `look_again`
    [[nodiscard]] Ground at(double x_mm, double y_mm) const;
    /// The copper piece within this distance of a place, 0 for none.
    [[nodiscard]] int piece_near(double x_mm, double y_mm, double within_mm) const;
};

struct ScanHole {
    double x_mm = 0, y_mm = 0, diameter_mm = 0;
    bool both_sides = false;
};
struct ScanPad {
    double x_mm = 0, y_mm = 0, width_mm = 0, height_mm = 0;
    BoardSide side = BoardSide::front;
};

/// What the two pictures show; the back may be missing.
struct ScanPicture {
    Raster pixels;
    ScanPlacement placement;
    std::vector<ScanStroke> strokes;
    std::vector<ScanClick> clicks{};
};

/// Two pieces of copper taken for one, though no copper can be seen all the way from one to the other.
struct ScanJoin {
    double x_mm = 0, y_mm = 0;
    BoardSide side_a = BoardSide::front, side_b = BoardSide::front;
    int piece_a = 0, piece_b = 0;  ///< each of its side
    float confidence = 0;          ///< 0 to 1
    const char* why = "";          ///< what makes it one, as "goes on below ink or dirt"; for ever
};

struct ScannedBoard {
    std::vector<ScanLayer> layers;                   ///< front first, then the back where there is one
    std::vector<ScanHole> holes;                     ///< seen on the front, or on the back only
    std::vector<ScanPad> pads;                       ///< copper around holes
    std::vector<ScanJoin> joins;                     ///< below what covers, and through holes
    std::vector<std::pair<double, double>> outline;  ///< corners in mm
    double width_mm = 0, height_mm = 0;              ///< of the outline, along its own edges
    std::optional<double> registration_mm;       ///< root mean square of holes front to back, after the fit
    std::vector<int> net_of_front, net_of_back;  ///< by piece: pieces that `joins` make one
    int nets = 0;
    /// The copper at a place: its side and piece; nothing when no copper is within this distance.
    [[nodiscard]] std::optional<std::pair<BoardSide, int>> piece_at(const BoardPlace& place,
                                                                    double within_mm = 0.9) const;
    [[nodiscard]] int net_of(const std::pair<BoardSide, int>& piece) const {
        return (piece.first == BoardSide::front ? net_of_front
                                                : net_of_back)[static_cast<std::size_t>(piece.second)];
    }
    [[nodiscard]] int net_at(const BoardPlace& place, double within_mm = 0.9) const;
};

[[nodiscard]] Result<ScannedBoard> read_scans(const ScanPicture& front, const ScanPicture* back,
                                              Progress& progress);

inline constexpr double sure_join = 0.8;  ///< from this confidence on a join needs no probe

/// How surely copper leads from one point to another: as surely as at the weakest place of the surest way.
struct ScanPath {
    double confidence = 0;
    std::optional<UnknownPlace> weakest;  ///< the join that makes it weak; nothing: the copper itself does
};
/// The nets that the pictures show between named points.
struct ScanNet {
    std::vector<int> points;       ///< numbers in the model
    std::vector<ScanPath> paths;   ///< by point, from the first; the first one's own is its piece's
    double confidence = 0;         ///< the least of them
    bool touches_unknown = false;  ///< more may belong to it than can be seen
};
/// A place of `ScannedBoard` where two nets of named points may meet, or where one net rests on a guess:
/// worth a probe.
struct ScanQuestion {
    UnknownPlace place;
    int a = -1, b = -1;     ///< numbers in the model, of one point of either net; -1 where it has none
    bool is_guess = false;  ///< the points are taken for one net; a probe would prove it
};
struct ScanNets {
    std::vector<ScanNet> nets;
    std::vector<int> unseen;  ///< points where no copper can be seen
    std::vector<ScanQuestion> questions;
};
[[nodiscard]] ScanNets nets_of_scan(const ScannedBoard& scan, const BoardModel& board);

/// Joins that the pictures show and the ledger does not say yet, as readings with their evidence; nothing
/// that the ledger contradicts, nor below this confidence.
[[nodiscard]] std::vector<MeterReading> merge_scan(const ScanNets& scan, const BoardModel& board,
                                                   const NetState& ledger, double least_confidence = 0.6);

/// Stretches of copper along a line, in mm from its start, to a fraction of a pixel.
struct CopperRun {
    double from_mm = 0, to_mm = 0;
};
[[nodiscard]] std::vector<CopperRun> copper_along(const ScanLayer& layer, double x1_mm, double y1_mm,
                                                  double x2_mm, double y2_mm);

/// Outline, pads and holes: SVG in mm, and CSV (kind,side,x_mm,y_mm,width_mm,height_mm,hole_mm).
[[nodiscard]] std::string scan_svg(const ScannedBoard& scan);
[[nodiscard]] std::string scan_csv(const ScannedBoard& scan);

}  // namespace grayrelic
