// SPDX-License-Identifier: GPL-3.0-or-later
// What happened to a unit, and what an image is: which file, which unit runs it, which trials used it.
#pragma once

#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

struct UnitEvent {
    std::string day;   ///< empty: nobody wrote it down; those stand first
    std::string kind;  ///< "reading", "hold", "part", "work", "trial", "fault", "tie", "bodge", "image",
                       ///< "place", "capture"
    std::string says;
};

struct UnitHistory {
    const JobUnit* unit = nullptr;
    std::vector<UnitEvent> events;  ///< the oldest first
    std::string where;              ///< the last place; empty: not known
    std::string image;              ///< ImageFile::id that runs; empty: not known
    int reflows = 0;                ///< times it went through an oven, hot air, or a plate
    double minutes = 0;             ///< of work
    int trials = 0, failed = 0;
    /// Readings of joints taken before its last reflow, which proves them no more.
    int joints_before_reflow = 0;
};
[[nodiscard]] std::vector<UnitHistory> unit_histories(const Dossier& dossier);

struct ImageState {
    const ImageFile* image = nullptr;
    std::vector<std::string> units;   ///< that run it now
    std::vector<std::string> trials;  ///< that used it
    /// Holds: the file has the sum that was written down. Stop: another. Doubt: no file, or no sum to hold it
    /// against. Unknown: nobody looked yet.
    Verdict verdict = Verdict::unknown;
    std::string says;
};
/// `sums`: the SHA-256 of each image's file now, by ImageFile::id; images that are not in it were not read.
[[nodiscard]] std::vector<ImageState> image_states(const Dossier& dossier,
                                                   const std::map<std::string, std::string>& sums);

}  // namespace grayrelic
