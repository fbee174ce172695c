// SPDX-License-Identifier: GPL-3.0-or-later
// The supplies that are commonly found with a plug: plugging the wrong one is the commonest way to destroy an
// old machine. One JSON file each in data/supplies, the person's own beside them; docs/formats/supplies.md.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

/// A supply with a plug: what stands between two contacts of it.
struct SupplyBrick {
    std::string id;
    std::string name;
    std::vector<std::string> connectors;  ///< ids of the connectors that its plug goes into
    double volts = 0;  ///< of its middle contact against its sleeve: below 0 where the sleeve is positive
    bool alternating = false;  ///< RMS then, its sign means nothing
    bool regulated = true;
    double no_load_v = 0;  ///< with nothing drawn, the sign of `volts`; of an alternating one its peak
    double amperes = 0;    ///< that it gives
    std::string source;
};
[[nodiscard]] Result<SupplyBrick> supply_from_json(std::string_view text, const std::string& file);

struct SupplyLibrary {
    std::vector<SupplyBrick> supplies;
    std::vector<Error> problems;
    [[nodiscard]] static SupplyLibrary load(FileSystem& files,
                                            const std::vector<std::filesystem::path>& folders);
};

}  // namespace grayrelic
