// SPDX-License-Identifier: GPL-3.0-or-later
// What belongs to the person and not to a dossier: the drawer and the bench.
#pragma once

#include <filesystem>
#include <memory>
#include <vector>

#include "core/person/bench.hpp"
#include "core/person/drawer.hpp"

namespace grayrelic {

struct Person {
    Drawer drawer;
    Bench bench;
    std::vector<Error> problems;  ///< what could not be read; it counts as not there, and is left as it is
};

/// `folder`: the person's data folder; empty for none.
[[nodiscard]] std::shared_ptr<const Person> read_person(FileSystem& files,
                                                        const std::filesystem::path& folder);
[[nodiscard]] std::filesystem::path drawer_file(const std::filesystem::path& folder);
[[nodiscard]] std::filesystem::path bench_file(const std::filesystem::path& folder);

}  // namespace grayrelic
