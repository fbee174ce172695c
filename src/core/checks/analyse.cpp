// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/checks/analyse.hpp"

#include "core/checks/registry.hpp"

namespace grayrelic {

Result<std::shared_ptr<const Analysis>> analyse(const Dossier& dossier, const std::filesystem::path& folder,
                                                CaptureStore& store, Progress& progress,
                                                const Analysis* before,
                                                std::shared_ptr<const DataLibrary> data) {
    auto worked_out = work_out(dossier, folder, store, progress, before, std::move(data));
    if (!worked_out) return fail(worked_out.error());
    (*worked_out)->findings = run_checks(**worked_out);
    progress.report(1.0);
    return *worked_out;
}

}  // namespace grayrelic
