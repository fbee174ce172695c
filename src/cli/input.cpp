// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/input.hpp"

#include "core/checks/analyse.hpp"
#include "core/dossier/store.hpp"
#include "render/picture.hpp"

namespace grayrelic::cli {

Result<Capture> read_capture(const std::string& path, const CaptureOptions& options) {
    Progress progress;
    return read_capture_file(path, progress, options);
}

Result<std::shared_ptr<const Analysis>> analyse_dossier(const std::string& path) {
    const auto folder = dossier_folder(path);
    const auto dossier = load_dossier(folder);
    if (!dossier) return fail(dossier.error());
    CaptureStore store;
    store.read_picture = render::read_picture;
    Progress progress;
    return analyse(*dossier, folder, store, progress, nullptr, DataLibrary::load_installed());
}

}  // namespace grayrelic::cli
