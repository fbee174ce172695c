// SPDX-License-Identifier: GPL-3.0-or-later
// Zip archives are read by libzip (Debian's libzip-dev).
#include "core/board/zip_folder.hpp"

#include <fmt/format.h>
#include <zip.h>

#include <algorithm>
#include <memory>

#include "core/base/file_system.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

struct CloseArchive {
    void operator()(zip_t* z) const { zip_discard(z); }
};
struct CloseEntry {
    void operator()(zip_file_t* f) const { zip_fclose(f); }
};

Error problem(const std::string& archive, std::string_view entry, std::string found, std::string expected) {
    Error e;
    e.file = archive + "/" + printable(entry);
    e.found = std::move(found);
    e.expected = std::move(expected);
    return e;
}

std::string message_of(zip_error_t* error) {
    std::string out = zip_error_strerror(error);
    zip_error_fini(error);
    return out;
}

/// One entry, as far as the limits let it grow.
Result<std::string> expanded(zip_t* archive, zip_uint64_t index, std::size_t most, Progress& progress) {
    const std::unique_ptr<zip_file_t, CloseEntry> file(zip_fopen_index(archive, index, 0));
    Error e;
    if (!file) {
        e.found = zip_strerror(archive);
        e.expected = "an entry that can be expanded without a password";
        return fail(e);
    }
    std::string out;
    std::string piece(1U << 16U, '\0');
    for (;;) {
        const auto n = zip_fread(file.get(), piece.data(), piece.size());
        if (n < 0) {
            e.found = "a damaged entry";
            e.expected = "one whose check sum is right";
            return fail(e);
        }
        if (n == 0) return out;
        if (out.size() + static_cast<std::size_t>(n) > most) {
            e.found = fmt::format("an entry that grows beyond {} bytes", most);
            e.expected = "a file of a board";
            return fail(e);
        }
        out.append(piece, 0, static_cast<std::size_t>(n));
        if (progress.cancelled()) return fail_cancelled();
    }
}

}  // namespace

std::string outside_problem(std::string_view name) {
    if (name.empty()) return "an entry without a name";
    if (name.front() == '/' || name.front() == '\\') return "an absolute path";
    if (name.size() > 1 && name[1] == ':') return "a path with a drive";
    if (std::any_of(name.begin(), name.end(),
                    [](char c) { return static_cast<unsigned char>(c) < 32 || c == 127; }))
        return "a path with control characters";
    for (const char separator : {'/', '\\'})
        for (const auto part : split(name, separator))
            if (part == "..") return "a path that leads outside";
    return {};
}

Result<PackedFolder> read_zip(std::string_view bytes, const std::string& name, Progress& progress,
                              const PackedLimits& limits) {
    zip_error_t error;
    zip_error_init(&error);
    auto* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    if (source == nullptr) return fail_at(name, 0, message_of(&error), "a zip archive");
    zip_t* opened = zip_open_from_source(source, ZIP_RDONLY, &error);
    if (opened == nullptr) {
        zip_source_free(source);
        return fail_at(name, 0, message_of(&error), "a zip archive");
    }
    zip_error_fini(&error);
    const std::unique_ptr<zip_t, CloseArchive> archive(opened);
    PackedFolder out;
    const auto count = zip_get_num_entries(archive.get(), 0);
    std::size_t total = 0;
    for (zip_int64_t i = 0; i < count; ++i) {
        const auto index = static_cast<zip_uint64_t>(i);
        const char* raw = zip_get_name(archive.get(), index, ZIP_FL_ENC_GUESS);
        const std::string entry = raw != nullptr ? raw : "";
        if (!entry.empty() && entry.back() == '/') continue;
        if (const auto why = outside_problem(entry); !why.empty()) {
            out.problems.push_back(problem(name, entry, why, "a name below the archive"));
            if (out.problems.size() > limits.files) break;
            continue;
        }
        if (out.files.size() >= limits.files) {
            out.problems.push_back(problem(name, entry, fmt::format("more than {} entries", limits.files),
                                           "the files of one board"));
            break;
        }
        zip_stat_t stat;
        zip_stat_init(&stat);
        const bool known = zip_stat_index(archive.get(), index, 0, &stat) == 0 &&
                           (stat.valid & ZIP_STAT_SIZE) != 0 && (stat.valid & ZIP_STAT_COMP_SIZE) != 0;
        if (known && stat.size > (1U << 20U) &&
            stat.size / std::max<zip_uint64_t>(1, stat.comp_size) > limits.ratio) {
            out.problems.push_back(problem(name, entry,
                                           fmt::format("an entry that grows to {} times its size",
                                                       stat.size / std::max<zip_uint64_t>(1, stat.comp_size)),
                                           fmt::format("at most {} times", limits.ratio)));
            continue;
        }
        const auto most = std::min(limits.bytes, limits.total - std::min(limits.total, total));
        auto text = expanded(archive.get(), index, most, progress);
        if (!text) {
            if (text.error().kind == Error::Kind::cancelled) return fail(text.error());
            out.problems.push_back(problem(name, entry, text.error().found, text.error().expected));
            continue;
        }
        total += text->size();
        out.files.push_back({entry, std::move(*text)});
        progress.report(static_cast<double>(i + 1) / static_cast<double>(count));
    }
    std::sort(out.files.begin(), out.files.end(),
              [](const auto& a, const auto& b) { return a.name < b.name; });
    return out;
}

Result<std::string> pack(const PackedFolder& folder) {
    zip_error_t error;
    zip_error_init(&error);
    auto* source = zip_source_buffer_create(nullptr, 0, 0, &error);
    if (source == nullptr) return fail_system({}, message_of(&error), "room for an archive");
    zip_source_keep(source);
    const std::unique_ptr<zip_source_t, decltype(&zip_source_free)> kept(source, zip_source_free);
    zip_t* archive = zip_open_from_source(source, ZIP_TRUNCATE, &error);
    if (archive == nullptr) return fail_system({}, message_of(&error), "an archive");
    zip_error_fini(&error);
    for (const auto& file : folder.files) {
        auto* entry = zip_source_buffer(archive, file.text.data(), file.text.size(), 0);
        const auto index =
            entry == nullptr ? -1 : zip_file_add(archive, file.name.c_str(), entry, ZIP_FL_ENC_UTF_8);
        if (index < 0) {
            if (entry != nullptr) zip_source_free(entry);
            const std::string why = zip_strerror(archive);
            zip_discard(archive);
            return fail_system(file.name, why, "a file that can be packed");
        }
        // No time of day: the same files give the same bytes.
        zip_file_set_mtime(archive, static_cast<zip_uint64_t>(index), 315'619'200, 0);
    }
    if (zip_close(archive) != 0) {
        const std::string why = zip_strerror(archive);
        zip_discard(archive);
        return fail_system({}, why, "an archive");
    }
    zip_stat_t stat;
    zip_stat_init(&stat);
    if (zip_source_stat(source, &stat) != 0 || zip_source_open(source) != 0)
        return fail_system({}, "an archive that can't be read back", "one");
    std::string out(static_cast<std::size_t>(stat.size), '\0');
    const auto n = zip_source_read(source, out.data(), out.size());
    zip_source_close(source);
    if (n != static_cast<zip_int64_t>(out.size()))
        return fail_system({}, "an archive that was not written whole", "all of it");
    return out;
}

Result<PackedFolder> read_packed(const std::filesystem::path& path, Progress& progress,
                                 const PackedLimits& limits) {
    namespace fs = std::filesystem;
    std::error_code code;
    if (!fs::is_directory(path, code)) {
        const auto bytes = disk().read(path, limits.archive);
        if (!bytes) return fail(bytes.error());
        if (!bytes->starts_with("PK"))
            return fail_at(path.string(), 0, "a file that is no zip archive",
                           "a folder or a zip of fabrication files");
        return read_zip(*bytes, path.string(), progress, limits);
    }
    PackedFolder out;
    std::vector<fs::path> found;
    for (auto it =
             fs::recursive_directory_iterator(path, fs::directory_options::skip_permission_denied, code);
         !code && it != fs::recursive_directory_iterator(); it.increment(code)) {
        if (it->path().filename().string().starts_with('.')) {
            it.disable_recursion_pending();
            continue;
        }
        if (it.depth() >= 3) it.disable_recursion_pending();
        if (it->is_regular_file(code)) found.push_back(it->path());
        if (found.size() > limits.files * 20) break;
    }
    std::sort(found.begin(), found.end());
    std::size_t total = 0;
    for (const auto& file : found) {
        const auto name = file.lexically_relative(path).generic_string();
        if (out.files.size() >= limits.files) {
            out.problems.push_back(problem(path.string(), name,
                                           fmt::format("more than {} files", limits.files),
                                           "the files of one board"));
            break;
        }
        auto text = disk().read(file, std::min(limits.bytes, limits.total - std::min(limits.total, total)));
        if (!text) {
            out.problems.push_back(text.error());
            continue;
        }
        total += text->size();
        out.files.push_back({name, std::move(*text)});
        if (progress.cancelled()) return fail_cancelled();
    }
    return out;
}

}  // namespace grayrelic
