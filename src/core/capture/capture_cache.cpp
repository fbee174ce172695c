// SPDX-License-Identifier: GPL-3.0-or-later
// A copy: lines with what it is a copy of, filled up to a multiple of eight bytes, then the packed capture
// and a sum over it (XXH3, 64 bits). Numbers are in groups of seven bits, low ones first, the eighth says
// that another follows; signed ones have their sign in bit 0. Edges stand as they are in memory, at a
// multiple of eight bytes, so that the file is mapped and not read.
#include "core/capture/capture_cache.hpp"

#include <fmt/format.h>
#include <xxhash.h>

#include <algorithm>
#include <cstring>
#include <functional>
#include <map>

#include "core/base/file_system.hpp"
#include "core/base/mapped_file.hpp"
#include "core/capture/capture_pack.hpp"

namespace grayrelic {
namespace {

constexpr std::string_view magic = "gray-relic capture copy 3\n";

std::string identity(const std::filesystem::path& path, const ReadAs& read_as) {
    std::error_code code;
    const auto whole = std::filesystem::canonical(path, code);
    if (code) return {};
    const auto size = std::filesystem::file_size(whole, code);
    if (code || size < least_cached) return {};
    const auto changed = std::filesystem::last_write_time(whole, code);
    if (code) return {};
    auto out = fmt::format("{}\n{}\n{}\n", whole.string(), size, changed.time_since_epoch().count());
    for (const auto& [key, value] : read_as) out += fmt::format("{}={}\n", key, value);
    return out;
}

std::filesystem::path copy_path(const std::filesystem::path& folder, const std::string& of) {
    std::uint64_t hash = 1469598103934665603ULL;  // FNV-1a; the copy itself holds what it is a copy of
    for (const char c : of) hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
    return folder / fmt::format("{:016x}.capture", hash);
}

std::string head_of(const std::string& of) {
    auto head = std::string(magic) + of;
    head.append(7 - head.size() % 8, ' ');
    return head + "\n";
}

std::optional<Capture> read_copy(const std::filesystem::path& path, const std::string& of) {
    const auto file = MappedFile::open(path);
    if (!file || file->bytes().size() > most_cached) return std::nullopt;
    auto rest = file->bytes();
    const auto head = head_of(of);
    std::uint64_t sum = 0;
    if (!rest.starts_with(head) || rest.size() < head.size() + sizeof sum) return std::nullopt;
    rest.remove_prefix(head.size());
    std::memcpy(&sum, rest.data() + rest.size() - sizeof sum, sizeof sum);
    rest.remove_suffix(sizeof sum);
    if (sum != XXH3_64bits(rest.data(), rest.size())) return std::nullopt;
    return unpack_capture(rest, file);
}

void write_copy(const std::filesystem::path& folder, const std::filesystem::path& file, const std::string& of,
                const Capture& capture) {
    if (8 * capture.edge_count() > most_cached / 2) return;
    if (!disk().exists(folder) && !disk().make_folder(folder)) return;
    auto out = AtomicFile::open(disk(), file, PartName::ours);
    if (!out || !out->write(head_of(of))) return;
    const std::unique_ptr<XXH3_state_t, decltype(&XXH3_freeState)> state(XXH3_createState(), &XXH3_freeState);
    XXH3_64bits_reset(state.get());
    bool written = true;
    pack_capture(capture, [&](std::string_view bytes) {
        XXH3_64bits_update(state.get(), bytes.data(), bytes.size());
        written = written && out->write(bytes);
    });
    const std::uint64_t sum = XXH3_64bits_digest(state.get());
    if (!written || !out->write({reinterpret_cast<const char*>(&sum), sizeof sum})) return;
    (void)out->commit();
}

void make_room(const std::filesystem::path& folder) {
    struct Copy {
        std::filesystem::file_time_type used;
        std::uint64_t size;
        std::filesystem::path path;
    };
    std::vector<Copy> copies;
    std::error_code code;
    std::uint64_t all = 0;
    for (const auto& e : std::filesystem::directory_iterator(folder, code))
        if (e.path().extension() == ".capture" && e.is_regular_file(code))
            copies.push_back({e.last_write_time(code), e.file_size(code), e.path()}),
                all += copies.back().size;
    std::sort(copies.begin(), copies.end(), [](const Copy& a, const Copy& b) { return a.used < b.used; });
    for (const auto& c : copies) {
        if (all <= most_cached) return;
        std::filesystem::remove(c.path, code);
        all -= c.size;
    }
}

}  // namespace

std::optional<Capture> read_kept_capture(const std::filesystem::path& path, const ReadAs& read_as,
                                         const std::filesystem::path& folder) {
    const auto of = folder.empty() ? std::string() : identity(path, read_as);
    if (of.empty()) return std::nullopt;
    const auto file = copy_path(folder, of);
    auto kept = read_copy(file, of);
    std::error_code code;
    if (kept)  // used just now
        std::filesystem::last_write_time(file, std::filesystem::file_time_type::clock::now(), code);
    return kept;
}

CaptureKeeper::CaptureKeeper(const std::filesystem::path& path, const ReadAs& read_as,
                             std::filesystem::path folder)
    : path_(path),
      read_as_(read_as),
      folder_(std::move(folder)),
      of_(folder_.empty() ? std::string() : identity(path, read_as)) {}

void CaptureKeeper::keep(const Capture& capture) const {
    if (of_.empty() || identity(path_, read_as_) != of_) return;  // not while it is being written
    write_copy(folder_, copy_path(folder_, of_), of_, capture);
    make_room(folder_);
}

Result<Capture> read_capture_cached(const std::filesystem::path& path, const ReadAs& read_as,
                                    const CaptureOptions& options, const std::filesystem::path& folder,
                                    Progress& progress) {
    if (auto kept = read_kept_capture(path, read_as, folder)) {
        progress.report(1.0);
        return std::move(*kept);
    }
    const CaptureKeeper keeper(path, read_as, folder);
    auto capture = read_capture_file(path, progress, options);
    if (capture) keeper.keep(*capture);
    return capture;
}

}  // namespace grayrelic
