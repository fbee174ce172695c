// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/connector_library.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdlib>

#include "core/base/data_files.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

std::optional<double> number_in(std::string_view text) {
    double v = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), v);
    if (code != std::errc() || end != text.data() + text.size() || !std::isfinite(v)) return std::nullopt;
    return v;
}

/// "2x10": rows and columns.
bool read_size(std::string_view text, ConnectorSize& size) {
    const auto x = text.find('x');
    if (x == std::string_view::npos) return false;
    const auto rows = number_in(text.substr(0, x));
    const auto columns = number_in(text.substr(x + 1));
    const auto whole = [](std::optional<double> v) {
        return v && *v >= 1 && *v <= 100 && *v == std::floor(*v);
    };
    if (!whole(rows) || !whole(columns)) return false;
    size.rows = static_cast<int>(*rows);
    size.columns = static_cast<int>(*columns);
    return true;
}

}  // namespace

void ConnectorLibrary::add(ConnectorFile file) {
    std::erase_if(files_, [&](const ConnectorFile& f) { return f.id == file.id; });
    files_.push_back(std::move(file));
}

ConnectorLibrary ConnectorLibrary::load(FileSystem& files,
                                        const std::vector<std::filesystem::path>& folders) {
    ConnectorLibrary out;
    out.problems_ = read_data_files(
        files, folders, "connectors", [&](std::string text, const std::string& path) -> Status {
            return connector_file_from_json(std::move(text), path).map([&](ConnectorFile file) {
                out.add(std::move(file));
            });
        });
    // Within a group, numbers in the ids count as numbers.
    const auto order = [](const ConnectorFile& f) {
        const auto digit = f.id.find_first_of("0123456789");
        const long n = digit == std::string::npos ? 0 : std::strtol(f.id.c_str() + digit, nullptr, 10);
        return std::tuple(f.group, f.id.substr(0, digit), f.family ? 0 : n, f.id);
    };
    std::sort(out.files_.begin(), out.files_.end(),
              [&](const ConnectorFile& a, const ConnectorFile& b) { return order(a) < order(b); });
    return out;
}

std::optional<ConnectorLibrary::Member> ConnectorLibrary::member(std::string_view id) const {
    ConnectorSize size;
    std::string base;
    bool sized = false;
    for (const auto part : split(id, '-')) {
        if (!sized && read_size(part, size)) {
            sized = true;
        } else if (!sized) {
            base += (base.empty() ? "" : "-") + std::string(part);
        } else if (part.size() > 1 && part[0] == 'p') {
            const auto pitch = number_in(part.substr(1));
            if (!pitch || *pitch < 0.1 || *pitch > 100.0) return std::nullopt;
            size.pitch_mm = *pitch;
        } else if (part.size() > 1 && part[0] == 'k') {
            const auto key = number_in(part.substr(1));
            if (!key || *key < 1 || *key >= size.columns || *key != std::floor(*key)) return std::nullopt;
            size.key_column = static_cast<int>(*key);
        } else {
            return std::nullopt;
        }
    }
    if (!sized) return std::nullopt;
    for (const auto& file : files_) {
        if (!file.family) continue;
        const bool fixed = file.rows > 0;
        const auto wanted = fixed ? fmt::format("{}-{}xn", base, size.rows) : base + "-mxn";
        if (file.id != wanted || (fixed && file.rows != size.rows)) continue;
        if (size.columns > file.most || (!fixed && size.rows > file.most)) return std::nullopt;
        if (size.key_column > 0 && !file.may_have_key) return std::nullopt;
        return Member{&file, size};
    }
    return std::nullopt;
}

std::string ConnectorLibrary::id_of(const ConnectorFile& file, const ConnectorSize& size) {
    if (!file.family) return file.id;
    const auto base = file.id.substr(0, file.id.rfind('-'));
    auto id = fmt::format("{}-{}x{}", base, file.rows > 0 ? file.rows : size.rows, size.columns);
    if (size.pitch_mm > 0) id += fmt::format("-p{}", size.pitch_mm);
    if (size.key_column > 0) id += fmt::format("-k{}", size.key_column);
    return id;
}

Result<Connector> ConnectorLibrary::find(const std::string& id) const {
    for (const auto& file : files_)
        if (!file.family && file.id == id) return connector_from_json(file.text, file.file);
    if (const auto m = member(id)) {
        auto connector = connector_from_json(m->file->text, m->file->file, m->size);
        if (!connector) return connector;
        connector->id = id;
        const auto n = connector->name.find("{n}");
        if (n != std::string::npos) connector->name.replace(n, 3, fmt::format("{}", m->size.columns));
        const auto rows = connector->name.find("{m}");
        if (rows != std::string::npos) connector->name.replace(rows, 3, fmt::format("{}", m->size.rows));
        if (connector->shape == m->file->id) connector->shape = id;
        return connector;
    }
    std::string known;
    for (const auto& file : files_)
        if (file.id.substr(0, file.id.find('-')) == id.substr(0, id.find('-')))
            known += (known.empty() ? "" : ", ") + file.id;
    return fail_usage("connector " + in_quotes(id),
                      known.empty() ? "the id of a file in data/connectors" : "one of " + known);
}

std::filesystem::path data_folder() {
    namespace fs = std::filesystem;
    if (const char* set = std::getenv("GRAY_RELIC_DATA"); set != nullptr && *set != '\0') return set;
    std::error_code code;
    const auto program = fs::read_symlink("/proc/self/exe", code);
    if (!code) {
        const auto installed = program.parent_path().parent_path() / "share" / "gray-relic" / "data";
        if (fs::exists(installed, code)) return installed;
    }
    return GRAY_RELIC_SOURCE_DATA;
}

std::filesystem::path user_data_folder() {
    namespace fs = std::filesystem;
    if (const char* set = std::getenv("XDG_DATA_HOME"); set != nullptr && *set == '/')
        return fs::path(set) / "gray-relic";
    if (const char* home = std::getenv("HOME"); home != nullptr && *home == '/')
        return fs::path(home) / ".local" / "share" / "gray-relic";
    return {};
}

}  // namespace grayrelic
