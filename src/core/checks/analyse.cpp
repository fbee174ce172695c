// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/checks/analyse.hpp"

#include <new>

#include "core/base/machine.hpp"

#include "core/checks/registry.hpp"

namespace grayrelic {

Result<std::shared_ptr<const Analysis>> analyse(const Dossier& dossier, const std::filesystem::path& folder,
                                                CaptureStore& store, Progress& progress,
                                                const Analysis* before,
                                                std::shared_ptr<const DataLibrary> data, const ShowPart& show,
                                                std::shared_ptr<const Person> person) {
    try {
        auto analysis = work_out(dossier, folder, store, progress, before, std::move(data), std::move(person),
                                 run_checks, show);
        if (analysis) progress.report(1.0);
        return analysis;
    } catch (const std::bad_alloc&) {
        return fail_memory("the analysis");
    }
}

}  // namespace grayrelic
