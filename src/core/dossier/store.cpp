// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/store.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include "core/base/byte_source.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/dossier_files.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/storable.hpp"
#include "core/json/json_place.hpp"

namespace grayrelic {
namespace {

namespace fs = std::filesystem;

bool is_inside(const fs::path& path, const fs::path& folder) {
    std::error_code code;
    const auto real = fs::weakly_canonical(path, code);
    const auto root = fs::weakly_canonical(folder, code);
    if (code) return false;
    const auto relative = real.lexically_relative(root);
    return !relative.empty() && *relative.begin() != "..";
}

/// In pieces, so that a recording of any size is copied in little memory.
Status copy_atomically(FileSystem& files, const fs::path& from, const fs::path& to, Progress& progress) {
    const auto source = FileSource::open(from);
    if (!source) return fail(source.error());
    auto copy = AtomicFile::open(files, to, PartName::ours);
    if (!copy) return fail(copy.error());
    std::vector<char> block(1U << 20U);
    for (std::uint64_t at = 0;;) {
        if (progress.cancelled()) return fail_cancelled();
        const auto n = (*source)->read_at(at, block);
        if (!n) return fail(n.error());
        if (*n == 0) break;
        if (auto done = copy->write({block.data(), *n}); !done) return done;
        at += *n;
        progress.report(static_cast<double>(at) /
                        static_cast<double>(std::max<std::uint64_t>(1, (*source)->size())));
    }
    return copy->commit();
}

/// A name in a folder of the dossier that is free, like the wish.
std::string free_file(const fs::path& folder, const std::string& within, const fs::path& wish) {
    auto stem = wish.stem().string();
    if (stem.empty() || stem.front() == '.') stem = "file";
    const auto ending = wish.extension().string();
    auto name = fmt::format("{}/{}{}", within, stem, ending);
    std::error_code ignored;
    for (int n = 2; fs::exists(folder / name, ignored); ++n)
        name = fmt::format("{}/{}-{}{}", within, stem, n, ending);
    return name;
}

/// A file of the dossier: where it is now, and where it belongs.
Result<fs::path> place_of_file(const std::string& outside, const std::string& file, const fs::path& folder,
                               const std::string& what) {
    if (!outside.empty()) return fs::path(outside);
    const auto path = folder / file;
    std::error_code code;
    if (!fs::exists(path, code)) return fail_system(path.string(), "no such file", what);
    if (!is_inside(path, folder))
        return fail_system(path.string(), "a link that leads out of the dossier", "a file inside it");
    return path;
}

/// Copies to FOLDER/file, or from outside to a free name in `within`; gives the name inside.
Result<std::string> copy_in(FileSystem& files, const fs::path& from, bool outside, std::string file,
                            const std::string& within, const fs::path& folder, Progress& progress) {
    if (outside) file = free_file(folder, within, from.filename());
    const auto target = folder / file;
    if (auto made = files.make_folder(target.parent_path()); !made) return fail(made.error());
    if (!is_inside(target, folder))
        return fail_system(target.string(), "a link that leads out", "a folder of its own");
    if (auto written = copy_atomically(files, from, target, progress); !written) return fail(written.error());
    return file;
}

}  // namespace

fs::path dossier_folder(const fs::path& named) {
    if (named.filename() == dossier_file)
        return named.parent_path().empty() ? fs::path(".") : named.parent_path();
    if (named.filename().empty()) return named.parent_path();  // a trailing slash
    return named;
}

Result<Dossier> load_dossier(const fs::path& folder, FileSystem& files) {
    long_work("load_dossier");
    const auto path = folder / dossier_file;
    const auto text = files.read(path, most_dossier_bytes);
    if (!text) return fail(text.error());
    return dossier_from_json(*text, path.string());
}

Result<fs::path> capture_path(const CaptureRef& capture, const fs::path& folder) {
    return place_of_file(capture.outside, capture.file, folder, "the capture " + in_quotes(capture.title));
}

Result<fs::path> photo_path(const Photo& photo, const fs::path& folder) {
    return place_of_file(photo.outside, photo.file, folder, "the photo " + in_quotes(photo.title));
}

Result<fs::path> scan_path(const Scan& scan, const fs::path& folder) {
    return place_of_file(scan.outside, scan.file, folder, "the scan " + in_quotes(scan.title));
}

Result<fs::path> board_path(const Fabrication& board, const fs::path& folder) {
    return place_of_file(board.outside, board.file, folder,
                         "the fabrication files " + in_quotes(board.title));
}

Result<fs::path> outline_path(const FitOutline& outline, const fs::path& folder) {
    return place_of_file(outline.outside, outline.file, folder, "the outline " + in_quotes(outline.title));
}

Result<fs::path> image_path(const ImageFile& image, const fs::path& folder) {
    return place_of_file(image.outside, image.file, folder, "the image " + in_quotes(image.name));
}

Result<Dossier> bring_files_in(const Dossier& dossier, const fs::path& folder, const fs::path& old_folder,
                               FileSystem& files, Progress& progress) {
    std::error_code ignored;
    const bool gone = !old_folder.empty() && !files.exists(old_folder);
    if (gone && folder.lexically_normal() == old_folder.lexically_normal())
        return fail_system(folder.string(), "no such folder any more",
                           "the folder that the dossier was opened from");
    if (auto made = files.make_folder(folder); !made) return fail(made.error());
    const bool moved = !old_folder.empty() && !fs::equivalent(folder, old_folder, ignored);
    Status done;
    auto saved = visit_files(dossier, [&](const DossierFile& f) {
        if (!done) return;
        const bool outside = !f.outside.empty();
        if (!outside && (!moved || gone)) return;  // its file is gone with the old folder; the rest is saved
        const auto from = place_of_file(f.outside, f.file, old_folder, f.title);
        auto file =
            from ? copy_in(files, *from, outside, f.file, f.folder, folder, progress) : fail(from.error());
        if (!file) {
            done = fail(file.error());
            return;
        }
        f.outside.clear();
        f.file = std::move(*file);
    });
    if (!done) return fail(done.error());
    return saved;
}

Status write_dossier(const Dossier& dossier, const fs::path& folder, FileSystem& files) {
    const auto text = dossier_to_json(dossier);
    // What can't be opened again is not written over what can.
    if (text.size() > most_dossier_bytes || json_trouble(text))
        return fail_usage("a dossier of " + print_count(static_cast<long long>(text.size())) + " bytes",
                          fmt::format("at most {} bytes and {} values, to be opened again",
                                      print_count(static_cast<long long>(most_dossier_bytes)),
                                      print_count(static_cast<long long>(most_json_values))));
    return write_atomically(files, folder / dossier_file, text, PartName::ours);
}

Result<Dossier> save_dossier(const Dossier& dossier, const fs::path& folder, const fs::path& old_folder,
                             FileSystem& files, Progress& progress) {
    if (auto kept = storable(dossier); !kept) return fail(kept.error());
    auto saved = bring_files_in(dossier, folder, old_folder, files, progress);
    if (!saved) return saved;
    if (auto written = write_dossier(*saved, folder, files); !written) return fail(written.error());
    return saved;
}

Result<Dossier> save_dossier(const Dossier& dossier, const fs::path& folder, const fs::path& old_folder,
                             FileSystem& files) {
    Progress progress;
    return save_dossier(dossier, folder, old_folder, files, progress);
}

Result<Dossier> new_dossier(const fs::path& folder, const std::string& name, FileSystem& files) {
    std::error_code ignored;
    const bool there = fs::exists(folder, ignored);
    if (there && !fs::is_directory(folder, ignored))
        return fail_system(folder.string(), "a file", "a new or empty folder");
    if (there && !fs::is_empty(folder, ignored))
        return fail_system(folder.string(), "a folder with something in it", "a new or empty folder");
    if (trim(name).empty() || !is_utf8(name))
        return fail_usage("name " + in_quotes(name), "a name for the dossier");
    About about;
    about.name = name;
    Progress progress;
    auto made = save_dossier(put({}, std::move(about)), folder, {}, files, progress);
    if (!made && !there) fs::remove(folder, ignored);  // only while it is empty
    return made;
}

}  // namespace grayrelic
