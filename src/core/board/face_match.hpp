// SPDX-License-Identifier: GPL-3.0-or-later
// Contacts as a board has them, held against contacts as the data have them: turned, mirrored, of another
// pitch, or something else. The turn is one of four; the least squares' shift and scale have closed forms
// (Procrustes with a fixed rotation).
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/base/words.hpp"
#include "core/board/board_pads.hpp"
#include "core/parts/package.hpp"
#include "core/port/connector.hpp"

namespace grayrelic {

enum class FaceIs { as_drawn, mirrored, other_pitch, no_match };
template <>
inline constexpr std::array words_of<FaceIs>{"as-drawn", "mirrored", "other-pitch", "no-match"};

/// A contact by its number with where it stands, millimetres.
struct NumberedPlace {
    std::string number;
    double x_mm = 0, y_mm = 0;
};

struct FaceMatch {
    Verdict verdict = Verdict::unknown;
    FaceIs is = FaceIs::no_match;
    int rotation_deg =
        0;  ///< counter-clockwise, from the data to the board as it is looked at; 0, 90, 180 or 270
    double residual_mm = 0;            ///< of the contact that lies farthest off, as the fit of `is` puts it
    double scale = 1;                  ///< of another pitch: the board's to the data's
    std::size_t matched = 0;           ///< contacts that both have
    std::vector<std::string> missing;  ///< of the data, that the board lacks
    std::vector<std::string> extra;    ///< of the board, that the data lack
    std::vector<NumberedPlace> seen{}, wanted{};  ///< what was compared: the board's, the data's
    std::string why;                              ///< a sentence with numbers
};

/// Holds `board` against `data`, both as seen from the same side. Contacts match by their numbers.
[[nodiscard]] FaceMatch match_places(const std::vector<NumberedPlace>& board,
                                     const std::vector<NumberedPlace>& data);

enum class FaceGender { socket, plug };
template <>
inline constexpr std::array words_of<FaceGender>{"socket", "plug"};

struct FaceQuestion {
    std::string ref;
    std::optional<PadSide>
        side{};  ///< the side it stands on; else that of its pads, the top where they are on both
    FaceGender gender = FaceGender::socket;
    std::string numbering{};  ///< Numbering::id; else the first
    /// The board's, from its outline: tells which way a card's edge points. Empty: not known.
    Extent board{};
};
/// A connector's contacts as they are seen when looking at the side of the board that it stands on; a contact
/// that runs all around the middle is left out. An unknown numbering is the first.
[[nodiscard]] std::vector<NumberedPlace> face_places(const Connector& connector, FaceGender gender,
                                                     std::string_view numbering = {});
/// The connector's pads against its data: the face as it is seen when looking at the side of the board with
/// the connector standing on it. Fails where the board has no such part.
[[nodiscard]] Result<FaceMatch> match_face(const BoardPads& pads, const Connector& connector,
                                           const FaceQuestion& question);
/// A part's pads against its package's, seen from the side it stands on.
[[nodiscard]] Result<FaceMatch> match_footprint(const BoardPads& pads, const Package& package,
                                                const FaceQuestion& question);
/// Two boards that are pushed together through these connectors: the one's contacts, seen from its side, must
/// be the mirror image of the other's, number by number.
[[nodiscard]] Result<FaceMatch> match_mates(const BoardPads& one, const FaceQuestion& of_one,
                                            const BoardPads& other, const FaceQuestion& of_other);

}  // namespace grayrelic
