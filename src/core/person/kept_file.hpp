// SPDX-License-Identifier: GPL-3.0-or-later
// A person's own JSON file that several programs may change. For drawer.cpp and bench.cpp.
#pragma once

#include <chrono>
#include <filesystem>
#include <functional>
#include <memory>
#include <thread>

#include "core/base/file_system.hpp"
#include "core/base/folder_lock.hpp"
#include "core/base/text.hpp"
#include "core/json/json.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {

template <class T>
struct KeptFormat {
    Result<T> (*read)(std::string_view text, const std::string& file);
    std::string (*write)(const T&);
    std::size_t most_bytes;
};

/// A default value where there is no file yet.
template <class T>
[[nodiscard]] Result<T> read_kept(FileSystem& files, const std::filesystem::path& file,
                                  const KeptFormat<T>& format) {
    if (!files.exists(file)) return T{};
    const auto text = files.read(file, format.most_bytes);
    if (!text) return fail(text.error());
    return format.read(*text, file.string());
}

/// Reads, changes and writes under a lock beside the file.
template <class T>
[[nodiscard]] Result<T> change_kept(FileSystem& files, const std::filesystem::path& file,
                                    const KeptFormat<T>& format, const std::function<void(T&)>& change) {
    constexpr int tries = 50;
    constexpr auto pause = std::chrono::milliseconds(20);
    if (auto made = files.make_folder(file.parent_path()); !made) return fail(made.error());
    std::unique_ptr<FolderLock> lock;
    for (int i = 0; i < tries; ++i) {
        lock = std::make_unique<FolderLock>(file.string() + ".lock");
        if (lock->state() != FolderLock::State::busy) break;
        std::this_thread::sleep_for(pause);
    }
    if (lock->state() == FolderLock::State::busy)
        return fail_at(file.string(), 0, "another program that is writing it",
                       "to be the only one for a moment");
    auto value = read_kept(files, file, format);
    if (!value) return value;
    const auto before = *value;
    change(*value);
    if (*value == before) return value;
    const auto text = format.write(*value);
    // What could not be read again must not stand there.
    if (auto back = format.read(text, file.string()); !back) return fail(back.error());
    if (auto written = write_atomically(files, file, text, PartName::ours); !written)
        return fail(written.error());
    return value;
}

/// Members of newer versions, written back as they came.
inline void add_kept_extra(Json& object, const std::string& extra) {
    const auto parsed = extra.empty() ? Json() : Json::parse(extra, nullptr, false);
    if (!parsed.is_object()) return;
    for (const auto& [key, value] : parsed.items())
        if (!object.contains(key)) object[key] = value;
}

inline void add_kept_text(Json& object, const char* key, const std::string& text) {
    if (!text.empty()) object[key] = text;
}

/// Format and version, as each such file begins.
inline void check_kept_head(JsonNode& root, const char* format) {
    root.require_object();
    const auto name = root.required("format");
    if (name.text() != format) name.fault(name.shown(), in_quotes(format));
    const auto version = root.required("version");
    if (version.is_number() && version.number() > 1)
        version.fault(version.shown(), "version 1; this file was written by a newer Gray Relic");
    (void)version.whole(1, 1);
}

template <Vocabulary E>
E read_kept_word(JsonNode& parent, const char* key, E otherwise) {
    const auto child = parent.member(key);
    if (!child) return otherwise;
    const auto text = child->text(64);
    const auto value = named<E>(text);
    if (!value) child->fault(in_quotes(text), one_of<E>());
    return *value;
}

}  // namespace grayrelic
