// SPDX-License-Identifier: GPL-3.0-or-later
// replay TARGET PATH…: feeds files, and all files of folders, to a fuzz target once each. Fails when there is
// not one.
#include <cstdint>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <vector>

#include "tests/fuzz/replay.hpp"

namespace {

namespace fs = std::filesystem;

int replayed = 0;

void replay(const ReplayTarget& target, const fs::path& path) {
    std::ifstream in(path, std::ios::binary);
    const std::vector<char> bytes{std::istreambuf_iterator<char>(in), {}};
    std::printf("%s, %zu bytes\n", path.c_str(), bytes.size());
    std::fflush(stdout);  // the last line names the input that ended the program
    target.run(reinterpret_cast<const std::uint8_t*>(bytes.data()), bytes.size());
    ++replayed;
}

}  // namespace

int main(int argc, char** argv) {
    const ReplayTarget* target = replay_targets;
    while (target->name != nullptr && (argc < 2 || std::strcmp(target->name, argv[1]) != 0)) ++target;
    if (target->name == nullptr) {
        std::fprintf(stderr, "replay TARGET PATH...\n");
        return 2;
    }
    for (int i = 2; i < argc; ++i) {
        if (!fs::is_directory(argv[i])) {
            replay(*target, argv[i]);
            continue;
        }
        for (const auto& entry : fs::recursive_directory_iterator(argv[i]))
            if (entry.is_regular_file()) replay(*target, entry.path());
    }
    std::printf("%d inputs replayed\n", replayed);
    return replayed > 0 ? 0 : 1;
}
