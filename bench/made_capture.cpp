// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/made_capture.hpp"

#include <fstream>
#include <string>

#include "core/base/random.hpp"

namespace grayrelic::bench {

std::filesystem::path large_dump() {
    constexpr long edges = 27'000'000;
    constexpr char ids[] = "!\"%&'()*+,-.";
    const auto path = std::filesystem::temp_directory_path() / "gray-relic-bench-27M-2.vcd";
    const auto done = path.string() + ".done";
    if (std::filesystem::exists(done)) return path;
    std::ofstream out(path, std::ios::binary);
    out << "$timescale 1 ns $end\n$scope module bus $end\n";
    for (int i = 0; i < 12; ++i) out << "$var wire 1 " << ids[i] << " s" << i << " $end\n";
    out << "$upscope $end\n$enddefinitions $end\n#0\n$dumpvars\n";
    for (int i = 0; i < 12; ++i) out << '0' << ids[i] << '\n';
    out << "$end\n";
    Random random(7);
    bool level[12] = {};
    std::uint64_t t = 100'000'000;
    std::string text;
    for (long n = 0; n < edges;) {
        t += 5 + random.next() % 32;
        text += '#' + std::to_string(t) + '\n';
        const int changes = random.next() % 100 < 36 ? 2 : 1;
        auto wire = random.next() % 12;
        for (int k = 0; k < changes; ++k, ++n) {
            wire = (wire + 1 + random.next() % 11) % 12;  // two changes at one time are on different wires
            level[wire] = !level[wire];
            text += level[wire] ? '1' : '0';
            text += ids[wire];
            text += '\n';
        }
        if (text.size() > (1U << 20U)) {
            out << text;
            text.clear();
        }
    }
    out << text;
    out.close();
    std::ofstream(done) << "1";
    return path;
}

}  // namespace grayrelic::bench
