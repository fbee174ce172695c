// SPDX-License-Identifier: GPL-3.0-or-later
// A connector found by what can be measured of it, when nobody knows its name: the distance from contact to
// contact, the rows, the number of contacts.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/port/connector_library.hpp"

namespace grayrelic {

struct MeasuredFace {
    std::optional<double> pitch_mm;      ///< between neighbours of a row, or on a circle
    std::optional<double> row_pitch_mm;  ///< between rows
    std::optional<int> rows, contacts;
    double uncertainty_mm = 0.15;  ///< of the distances
};

/// "2.77 mm 2 rows 9 contacts", "2x10 2.54mm", "9 pins 2.84mm": the first length is the pitch, a second one
/// the distance of the rows. Nothing when it is not about measures.
[[nodiscard]] std::optional<MeasuredFace> measured_from_text(std::string_view text);

/// From the contacts' places in a picture, in any order: rows are what lies within a third of the least
/// distance of one line, whichever way the picture is turned. Nothing for fewer than two.
[[nodiscard]] std::optional<MeasuredFace> measure_face(std::vector<Place> places_px, double px_per_mm);

struct MeasureMatch {
    std::string id, name;
    double off_mm = 0;  ///< the largest difference of a length
    std::string says;   ///< "pitch 2.77 mm, rows 2.84 mm apart"
};
/// Those that agree with everything that is given, the closest first. Several may: the shell decides then.
[[nodiscard]] std::vector<MeasureMatch> connectors_by_measure(const ConnectorLibrary& library,
                                                              const MeasuredFace& face);

}  // namespace grayrelic
