// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/store.hpp"

#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t most_dossier_bytes = 64U << 20U;
constexpr std::size_t most_capture_bytes = 4ULL << 30U;

bool is_inside(const fs::path& path, const fs::path& folder) {
    std::error_code code;
    const auto real = fs::weakly_canonical(path, code);
    const auto root = fs::weakly_canonical(folder, code);
    if (code) return false;
    const auto relative = real.lexically_relative(root);
    return !relative.empty() && *relative.begin() != "..";
}

/// A name in captures/ that is free, like the wish.
std::string free_file(const fs::path& folder, const fs::path& wish) {
    auto stem = wish.stem().string();
    if (stem.empty() || stem.front() == '.') stem = "capture";
    const auto ending = wish.extension().string();
    auto name = "captures/" + stem + ending;
    std::error_code ignored;
    for (int n = 2; fs::exists(folder / name, ignored); ++n)
        name = fmt::format("captures/{}-{}{}", stem, n, ending);
    return name;
}

}  // namespace

fs::path dossier_folder(const fs::path& named) {
    if (named.filename() == dossier_file)
        return named.parent_path().empty() ? fs::path(".") : named.parent_path();
    if (named.filename().empty()) return named.parent_path();  // a trailing slash
    return named;
}

Result<Dossier> load_dossier(const fs::path& folder, FileSystem& files) {
    const auto path = folder / dossier_file;
    const auto text = files.read(path, most_dossier_bytes);
    if (!text) return fail(text.error());
    return dossier_from_json(*text, path.string());
}

Result<fs::path> capture_path(const CaptureRef& capture, const fs::path& folder) {
    if (!capture.outside.empty()) return fs::path(capture.outside);
    const auto path = folder / capture.file;
    std::error_code code;
    if (!fs::exists(path, code))
        return fail_system(path.string(), "no such file", "the capture " + in_quotes(capture.title));
    if (!is_inside(path, folder))
        return fail_system(path.string(), "a link that leads out of the dossier", "a file inside it");
    return path;
}

Result<Dossier> save_dossier(const Dossier& dossier, const fs::path& folder, const fs::path& old_folder,
                             FileSystem& files) {
    if (auto made = files.make_folder(folder); !made) return fail(made.error());
    std::error_code ignored;
    const bool moved = !old_folder.empty() && !fs::equivalent(folder, old_folder, ignored);
    Dossier saved = dossier;
    for (const auto& capture : *dossier.captures) {
        const bool outside = !capture.outside.empty();
        if (!outside && !moved) continue;
        const auto from = capture_path(capture, old_folder);
        if (!from) return fail(from.error());
        const auto bytes = files.read(*from, most_capture_bytes);
        if (!bytes) return fail(bytes.error());
        auto inside = capture;
        inside.outside.clear();
        if (outside) inside.file = free_file(folder, from->filename());
        const auto target = folder / inside.file;
        if (auto made = files.make_folder(target.parent_path()); !made) return fail(made.error());
        if (!is_inside(target, folder))
            return fail_system(target.string(), "a link that leads out", "a folder of its own");
        if (auto written = write_atomically(files, target, *bytes); !written) return fail(written.error());
        saved = with_capture(saved, std::move(inside));
    }
    if (auto written = write_atomically(files, folder / dossier_file, dossier_to_json(saved)); !written)
        return fail(written.error());
    return saved;
}

Result<Dossier> new_dossier(const fs::path& folder, const std::string& name, FileSystem& files) {
    std::error_code ignored;
    if (fs::exists(folder, ignored) && !fs::is_empty(folder, ignored))
        return fail_system(folder.string(), "a folder with something in it", "a new or empty folder");
    if (trim(name).empty() || !is_utf8(name))
        return fail_usage("name " + in_quotes(name), "a name for the dossier");
    About about;
    about.name = name;
    return save_dossier(with_about({}, std::move(about)), folder, {}, files);
}

}  // namespace grayrelic
