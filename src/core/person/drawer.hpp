// SPDX-License-Identifier: GPL-3.0-or-later
// The drawer: what parts a person has, over all dossiers. One file in the XDG data folder, drawer.json
// (docs/formats/drawer.md), which a person may also edit by hand; the same as CSV.
//
// Two programs may write at once: an edit is made on what stands in the file at that moment, under a lock, so
// that neither loses what the other wrote. A file that can't be read is never written over.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/base/part_kind.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

struct DrawerPart {
    std::string part;  ///< "74x165 hct", "resistor 4k7"
    PartKind kind = PartKind::other;
    int count = 0;
    std::string place;  ///< "box 3"
    std::string note;
    std::string extra{};  ///< members of newer versions, as JSON text
    bool operator==(const DrawerPart&) const = default;
};

/// The name by which parts are the same: lower case, spaces in a row as one.
[[nodiscard]] std::string part_key(std::string_view part);

struct Drawer {
    std::vector<DrawerPart> parts;
    std::string extra;
    bool operator==(const Drawer&) const = default;
    /// Of all entries of that part.
    [[nodiscard]] int count_of(std::string_view part) const;
    /// By part_key(); null when it is not there.
    [[nodiscard]] DrawerPart* find(std::string_view part);
    [[nodiscard]] const DrawerPart* find(std::string_view part) const;
    /// So many in all: the first entry gets them, further ones of the same part get none.
    void set_count(std::string_view part, PartKind kind, int count);
    /// The entry of that part, made with a count of 0 where there is none.
    DrawerPart& entry(std::string_view part, PartKind kind);
};

inline constexpr std::size_t most_drawer_parts = 100'000;
inline constexpr int most_in_drawer = 10'000'000;
inline constexpr std::size_t most_person_bytes = 64U << 20U;

[[nodiscard]] Result<Drawer> drawer_from_json(std::string_view text, const std::string& file);
[[nodiscard]] std::string drawer_to_json(const Drawer& drawer);
/// Columns part and count; also kind, place and note. The first fault refuses the whole file, with its line.
[[nodiscard]] Result<Drawer> drawer_from_csv(std::string_view text, const std::string& name);
[[nodiscard]] std::string drawer_to_csv(const Drawer& drawer);

/// An empty drawer where there is no file yet.
[[nodiscard]] Result<Drawer> read_drawer(FileSystem& files, const std::filesystem::path& file);
/// Reads, changes and writes under the lock; gives what stands there now. Fails when another program holds
/// the lock for more than a second.
[[nodiscard]] Result<Drawer> change_drawer(FileSystem& files, const std::filesystem::path& file,
                                           const std::function<void(Drawer&)>& change);

}  // namespace grayrelic
