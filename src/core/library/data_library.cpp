// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/library/data_library.hpp"

namespace grayrelic {

std::vector<Error> DataLibrary::problems() const {
    auto out = connectors.problems();
    out.insert(out.end(), families.problems.begin(), families.problems.end());
    out.insert(out.end(), parts.problems.begin(), parts.problems.end());
    out.insert(out.end(), packages.problems.begin(), packages.problems.end());
    out.insert(out.end(), logic.problems.begin(), logic.problems.end());
    out.insert(out.end(), clocks.problems.begin(), clocks.problems.end());
    out.insert(out.end(), cautions.problems.begin(), cautions.problems.end());
    out.insert(out.end(), jobs.problems.begin(), jobs.problems.end());
    out.insert(out.end(), supplies.problems.begin(), supplies.problems.end());
    out.insert(out.end(), analysers.problems.begin(), analysers.problems.end());
    out.insert(out.end(), layouts.problems.begin(), layouts.problems.end());
    out.insert(out.end(), processes.problems.begin(), processes.problems.end());
    return out;
}

std::shared_ptr<const DataLibrary> DataLibrary::load(FileSystem& files,
                                                     const std::vector<std::filesystem::path>& folders) {
    auto out = std::make_shared<DataLibrary>();
    out->connectors = ConnectorLibrary::load(files, folders);
    out->families = FamilyLibrary::load(files, folders);
    out->parts = PartLibrary::load(files, folders);
    out->packages = PackageLibrary::load(files, folders);
    out->logic = LogicLibrary::from(out->parts);
    out->clocks = ClockLibrary::load(files, folders);
    out->cautions = CautionLibrary::load(files, folders);
    out->jobs = JobKindLibrary::load(files, folders);
    out->supplies = SupplyLibrary::load(files, folders);
    out->analysers = AnalyserLibrary::load(files, folders);
    out->layouts = LayoutLibrary::load(files, folders);
    out->processes = BoardProcessLibrary::load(files, folders);
    return out;
}

std::shared_ptr<const DataLibrary> DataLibrary::load_installed() {
    return load(disk(), {data_folder(), user_data_folder()});
}

}  // namespace grayrelic
