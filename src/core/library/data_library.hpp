// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that ships as data and that people extend: connectors, logic families, parts, cautions.
#pragma once

#include <filesystem>
#include <memory>
#include <vector>

#include "core/board/process.hpp"
#include "core/electrical/family.hpp"
#include "core/input/layout.hpp"
#include "core/library/cautions.hpp"
#include "core/library/job_kinds.hpp"
#include "core/logic/part_logic.hpp"
#include "core/parts/package.hpp"
#include "core/parts/part.hpp"
#include "core/port/analysers.hpp"
#include "core/port/connector_library.hpp"
#include "core/port/supplies.hpp"
#include "core/timing/clock_sources.hpp"

namespace grayrelic {

struct DataLibrary {
    ConnectorLibrary connectors;
    FamilyLibrary families;
    PartLibrary parts;
    PackageLibrary packages;
    LogicLibrary logic;  ///< of those parts that have it
    ClockLibrary clocks;
    CautionLibrary cautions;
    JobKindLibrary jobs;
    SupplyLibrary supplies;
    AnalyserLibrary analysers;
    LayoutLibrary layouts;
    BoardProcessLibrary processes;
    /// What was skipped in all of them.
    [[nodiscard]] std::vector<Error> problems() const;
    /// Later folders override earlier ones by id.
    [[nodiscard]] static std::shared_ptr<const DataLibrary> load(
        FileSystem& files, const std::vector<std::filesystem::path>& folders);
    /// The shipped data and the person's own.
    [[nodiscard]] static std::shared_ptr<const DataLibrary> load_installed();
};

}  // namespace grayrelic
