// SPDX-License-Identifier: GPL-3.0-or-later
// Logic families as data: what an output gives, what an input needs, and what an input endures. One JSON file
// each in data/families, the person's own override by id; the format is docs/formats/families.md.
//
// All voltages are against the part's own ground. Guaranteed limits, not typical values.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

struct Family {
    std::string id;  ///< "hct"
    std::string name;
    std::string source;  ///< where the limits come from and under which conditions they hold
    double supply_min_v = 0, supply_typ_v = 0, supply_max_v = 0;
    std::optional<double> output_high_min_v;  ///< nothing: pulled up only
    double output_low_max_v = 0;
    double output_high_max_v = 0;
    double output_low_min_v = 0;  ///< below 0 for lines that swing below ground
    double output_high_a = 0, output_low_a = 0;
    bool open_collector = false;
    double input_high_min_v = 0, input_low_max_v = 0;
    std::optional<double> limit_high_v;          ///< absolute, whatever the supply
    std::optional<double> limit_above_supply_v;  ///< or this much above the part's supply
    double limit_low_v = 0;
    bool clamps = false;  ///< diodes from input to supply: an unpowered part is fed through its input
    bool static_sensitive = false;

    /// The highest voltage an input endures with the part at this supply (0 for unpowered).
    [[nodiscard]] double input_limit_v(double supply_v) const;
};

[[nodiscard]] Result<Family> family_from_json(std::string_view text, const std::string& file);

struct FamilyLibrary {
    std::vector<Family> families;
    std::vector<Error> problems;  ///< files that were skipped
    [[nodiscard]] static FamilyLibrary load(FileSystem& files,
                                            const std::vector<std::filesystem::path>& folders);
    [[nodiscard]] const Family* find(std::string_view id) const;
};

}  // namespace grayrelic
