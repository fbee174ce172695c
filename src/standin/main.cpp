// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-standin: plays old machines and instruments for the demo, the tests and for practice.
#include <fmt/format.h>

#include <CLI/CLI.hpp>

#include "core/base/file_system.hpp"
#include "standin/dial_pad.hpp"

int main(int argc, char** argv) {
    using namespace grayrelic;
    CLI::App app{"Simulated old machines for Gray Relic: demo data, tests and practice."};
    app.require_subcommand(1);
    std::uint64_t seed = 1;
    std::string out = ".";
    auto* pad =
        app.add_subcommand("dial-pad", "the computer polling its dial pad; writes the captures of the demo");
    pad->add_option("--seed", seed, "same seed, same bytes")
        ->check(CLI::Range(std::uint64_t{0}, std::uint64_t{1} << 48U));
    pad->add_option("--out", out, "folder for the captures");
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        return app.exit(e) == 0 ? 0 : 2;
    }
    auto& files = disk();
    if (auto made = files.make_folder(out); !made) {
        fmt::print(stderr, "{}\n", made.error().message());
        return 3;
    }
    for (const auto& capture : standin::dial_pad_captures(seed)) {
        const auto path = std::filesystem::path(out) / capture.file;
        if (auto written = write_atomically(files, path, standin::record_dial_pad(capture.session));
            !written) {
            fmt::print(stderr, "{}\n", written.error().message());
            return 3;
        }
        fmt::print("{}\n", path.string());
    }
    return 0;
}
