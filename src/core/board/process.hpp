// SPDX-License-Identifier: GPL-3.0-or-later
// What a way of making boards can do. One JSON file each in data/processes, the person's own beside them;
// format: docs/formats/processes.md. Millimetres. A limit that is missing is not asked for.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/base/result.hpp"
#include "core/base/words.hpp"

namespace grayrelic {

enum class MadeWhere { home, house };
template <>
inline constexpr std::array words_of<MadeWhere>{"home", "house"};

struct BoardProcess {
    std::string id, name, source;
    MadeWhere where = MadeWhere::house;
    double track_mm = 0, gap_mm = 0;
    double ring_mm =
        0;  ///< (pad − hole) / 2, least; how far holes and copper are off each other is within it
    double hole_mm = 0;                    ///< least diameter, finished
    std::optional<double> hole_most_mm{};  ///< of drills; wider ones are milled
    double hole_gap_mm = 0;                ///< from wall to wall
    double edge_mm = 0;                    ///< from copper, and from a hole's wall, to the board's edge
    std::optional<double> mask_sliver_mm{};
    bool silk_on_pad = false;                       ///< print on a pad's opening is a fault
    std::optional<double> width_mm{}, height_mm{};  ///< most, either way round
    int copper_layers = 2;
    bool plated = true;  ///< holes can be plated
    bool mask = true;    ///< a mask keeps solder off between pads
    bool operator==(const BoardProcess&) const = default;
};
[[nodiscard]] Result<BoardProcess> process_from_json(std::string_view text, const std::string& file);

struct BoardProcessLibrary {
    std::vector<BoardProcess> processes;
    std::vector<Error> problems;
    [[nodiscard]] const BoardProcess* find(std::string_view id) const;
    [[nodiscard]] static BoardProcessLibrary load(FileSystem& files,
                                                  const std::vector<std::filesystem::path>& folders);
};

}  // namespace grayrelic
