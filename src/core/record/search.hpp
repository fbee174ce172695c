// SPDX-License-Identifier: GPL-3.0-or-later
// Search over everything a dossier holds, and its time line.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/stage.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

struct SearchHit {
    std::string section;
    std::optional<Stage> stage;  ///< where it is worked on
    std::string what;            ///< the way to it: "J1 / pins / 3 / name"
    std::string value;
    std::string day;
};

inline constexpr std::size_t most_search_hits = 500;

/// Lines that hold all words of the text, in their way or their value, whatever the case (of ASCII letters);
/// those whose value holds the whole text first. Nothing for an empty text.
[[nodiscard]] std::vector<SearchHit> search(const Dossier& dossier, std::string_view text);

struct DatedEvent {
    std::string day;
    std::string section;
    std::optional<Stage> stage;
    std::string what;  ///< "adapter-1", "J1 / pins / 3"
    std::string says;  ///< "arrived", "measured: 5V (…)"
};

/// All that has a day, the oldest first; of one day in the order of the dossier.
[[nodiscard]] std::vector<DatedEvent> time_line(const Dossier& dossier);

}  // namespace grayrelic
