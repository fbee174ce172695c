// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-standin: plays old machines and instruments for the demo, the tests and for practice.
#include <fmt/format.h>

#include <CLI/CLI.hpp>

#include "core/base/file_system.hpp"
#include "core/dossier/store.hpp"
#include "core/port/connector_library.hpp"
#include "render/picture.hpp"
#include "standin/dial_pad.hpp"
#include "standin/page_card.hpp"

namespace {

int report(const grayrelic::Error& error) {
    fmt::print(stderr, "{}\n", error.message());
    return 3;
}

int write_page_card(const std::string& folder) {
    using namespace grayrelic;
    const auto before = load_dossier(folder);
    if (!before) return report(before.error());
    if (before->find_port("J1") == nullptr) {
        fmt::print(stderr, "{}: found no port J1, expected the page card's dossier\n", folder);
        return 3;
    }
    const auto card = standin::page_card_dossier(*before, PartLibrary::load(disk(), {data_folder()}));
    const auto scans = std::filesystem::path(folder) / "scans";
    if (auto made = disk().make_folder(scans); !made) return report(made.error());
    for (const auto* side : {&card.front, &card.back})
        if (auto done = render::write_png(side->pixels, scans / (side == &card.front ? "front.png" : "back.png")); !done) return report(done.error());
    if (auto done = write_dossier(card.dossier, folder); !done) return report(done.error());
    return 0;
}

}  // namespace

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
    std::string dossier;
    auto* card = app.add_subcommand("page-card", "the charred page card; writes the scans, ledger and netlist of the demo into its dossier");
    card->add_option("DOSSIER", dossier, "with the card's port J1")->required();
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        return app.exit(e) == 0 ? 0 : 2;
    }
    if (card->parsed()) return write_page_card(dossier);
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
