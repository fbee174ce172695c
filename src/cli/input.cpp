// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/input.hpp"

#include <fcntl.h>
#include <unistd.h>

#include <cstdio>

#include "cli/output.hpp"
#include "core/base/file_system.hpp"
#include "core/base/text.hpp"
#include "core/checks/analyse.hpp"
#include "core/dossier/dossier_files.hpp"
#include "core/dossier/store.hpp"
#include "core/port/connector_library.hpp"
#include "render/picture.hpp"

namespace grayrelic::cli {
namespace {

/// What the decoders of pictures print by themselves has no place beside our one message. Nothing else prints
/// while one is read.
Result<Raster> read_picture_quietly(const std::filesystem::path& path) {
    std::fflush(stderr);
    const int kept = ::dup(STDERR_FILENO);
    if (const int nowhere = ::open("/dev/null", O_WRONLY | O_CLOEXEC); nowhere >= 0) {
        if (kept >= 0) ::dup2(nowhere, STDERR_FILENO);
        ::close(nowhere);
    }
    auto picture = render::read_picture(path);
    if (kept >= 0) {
        std::fflush(stderr);
        ::dup2(kept, STDERR_FILENO);
        ::close(kept);
    }
    return picture;
}

}  // namespace

Result<Capture> read_capture(const std::string& path, const CaptureOptions& options) {
    Progress progress;
    return read_capture_file(path, progress, options);
}

Result<std::shared_ptr<const Analysis>> analyse_dossier(const std::string& path) {
    const auto folder = dossier_folder(path);
    const auto dossier = load_dossier(folder);
    if (!dossier) return fail(dossier.error());
    CaptureStore store;
    store.read_picture = read_picture_quietly;
    Progress progress;
    return analyse(*dossier, folder, store, progress, nullptr, DataLibrary::load_installed(), {},
                   read_person(disk(), user_data_folder()));
}

Status not_over(const std::string& out, const std::vector<std::string>& inputs) {
    for (const auto& in : inputs) {
        std::error_code ignored;
        if (std::filesystem::equivalent(out, in, ignored) ||
            std::filesystem::absolute(out, ignored).lexically_normal() ==
                std::filesystem::absolute(in, ignored).lexically_normal())
            return fail(usage_error(in_quotes(out) + ", which is also read", "another file to write to"));
    }
    return {};
}

Status write_apart(const std::string& out, std::string_view text, const std::vector<std::string>& inputs) {
    if (auto free = not_over(out, inputs); !free) return free;
    return write_atomically(disk(), out, text);
}

Status not_over(const std::string& out, const Dossier& dossier, const std::string& path) {
    const auto folder = dossier_folder(path);
    std::vector<std::string> files{(folder / dossier_file).string()};
    (void)visit_files(dossier, [&](const DossierFile& f) {
        files.push_back(f.outside.empty() ? (folder / f.file).string() : f.outside);
    });
    return not_over(out, files);
}

}  // namespace grayrelic::cli
