// SPDX-License-Identifier: GPL-3.0-or-later
// A dossier as lines: each value with the way to it in words. What is compared, searched and put in the order
// of time.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/stage.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

struct DossierLine {
    std::string section;  ///< "ports", "wire": as in dossier.json; "about" for what stands in the root
    std::vector<std::string> path;  ///< "J1", "pins", "3", "name": things by their ids
    std::string value;              ///< as it is written; a fact with its evidence: "5V (measured: meter)"
    std::string day;                ///< where the line holds a day, or its fact's evidence has one
    bool is_day = false;            ///< the value is a day
    std::string evidence{};         ///< of a fact: "measured"; empty for what is none
    std::string source{};           ///< and where from
    std::string entry{};            ///< the things it is part of: "J1 / pins / 3"; empty in the root
};

/// In the order of the file. A text of several lines (a circuit, rails) is one value for each line of it,
/// named by its first word, so that R4 is R4 in whatever line it stands.
[[nodiscard]] std::vector<DossierLine> dossier_lines(const Dossier& dossier);
/// "J1 / pins / 3 / name"
[[nodiscard]] std::string print(const std::vector<std::string>& path);
/// Where a section is worked on; nothing for what has no page.
[[nodiscard]] std::optional<Stage> stage_of_section(const std::string& section);

}  // namespace grayrelic
