// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/person/person.hpp"

namespace grayrelic {

std::filesystem::path drawer_file(const std::filesystem::path& folder) {
    return folder / "drawer.json";
}
std::filesystem::path bench_file(const std::filesystem::path& folder) {
    return folder / "bench.json";
}

std::shared_ptr<const Person> read_person(FileSystem& files, const std::filesystem::path& folder) {
    auto out = std::make_shared<Person>();
    if (folder.empty()) return out;
    if (auto drawer = read_drawer(files, drawer_file(folder)))
        out->drawer = std::move(*drawer);
    else
        out->problems.push_back(drawer.error());
    if (auto bench = read_bench(files, bench_file(folder)))
        out->bench = std::move(*bench);
    else
        out->problems.push_back(bench.error());
    return out;
}

}  // namespace grayrelic
