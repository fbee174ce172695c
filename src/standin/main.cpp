// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-standin: plays old machines and instruments for the demo, the tests and for practice.
#include <fmt/format.h>

#include <unistd.h>

#include <CLI/CLI.hpp>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <exception>
#include <fstream>
#include <iostream>

#include "core/base/file_system.hpp"
#include "core/board/zip_folder.hpp"
#include "core/capture/vcd_reader.hpp"
#include "core/dossier/store.hpp"
#include "core/input/descriptor.hpp"
#include "core/input/hex_text.hpp"
#include "core/port/connector_library.hpp"
#include "core/trace/netlist.hpp"
#include "render/picture.hpp"
#include "standin/chart_slate.hpp"
#include "standin/counter_keypad.hpp"
#include "standin/dial_pad.hpp"
#include "standin/fab_dossier.hpp"
#include "standin/logic_stream.hpp"
#include "standin/meter_server.hpp"
#include "standin/page_card.hpp"
#include "standin/sound_tile.hpp"
#include "standin/spoken.hpp"
#include "standin/usb_host.hpp"

namespace {

int report(const grayrelic::Error& error) {
    fmt::print(stderr, "{}\n", error.message());
    return 3;
}

int run_meter(const std::string& board, int port, double slips, std::uint64_t seed) {
    using namespace grayrelic;
    std::vector<Net> nets;
    if (!board.empty() && board.find_first_not_of("0123456789") == std::string::npos) {
        nets = standin::random_board(std::strtoull(board.c_str(), nullptr, 10),
                                     PartLibrary::load(disk(), {data_folder()}))
                   .nets;
    } else {
        const auto text = disk().read(board, 64U << 20U);
        if (!text) return report(text.error());
        auto list = read_netlist(*text, board);
        if (!list) return report(list.error());
        nets = std::move(list->nets);
    }
    standin::Meter meter(nets, slips, seed);
    const auto done = standin::serve_meter(meter, port, [](int bound) {
        fmt::print("{}\n", bound);
        std::fflush(stdout);
    });
    return done ? 0 : report(done.error());
}

struct LogicArguments {
    std::string kind = "dial-pad", file;
    grayrelic::standin::StreamPace pace;
};

int run_logic(const LogicArguments& a, int port, std::uint64_t seed) {
    using namespace grayrelic;
    Capture capture;
    if (a.kind == "dial-pad") {
        Progress progress;
        auto read =
            read_vcd(standin::record_dial_pad(
                         {.seed = seed, .seconds = 12, .pressed = {}, .lively = true, .sample_hz = 100e6}),
                     "dial-pad", progress);
        if (!read) return report(read.error());
        capture = std::move(*read);
    } else {
        capture = standin::speak(a.kind, {.seed = seed, .words = 2000, .jitter = 0.01}).capture;
        if (capture.signals.empty()) {
            fmt::print(stderr, "found {}, expected dial-pad or a kind of decoder such as latch-shift\n",
                       a.kind);
            return 2;
        }
    }
    if (!a.file.empty()) {
        const auto done = standin::write_logic(standin::LogicStream(capture), a.file, a.pace);
        return done ? 0 : report(done.error());
    }
    const auto done = standin::serve_logic([&] { return standin::LogicStream(capture); }, port, a.pace,
                                           [](int bound) {
                                               fmt::print("{}\n", bound);
                                               std::fflush(stdout);
                                           });
    return done ? 0 : report(done.error());
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
        if (auto done =
                render::write_png(side->pixels, scans / (side == &card.front ? "front.png" : "back.png"));
            !done)
            return report(done.error());
    if (auto done = write_dossier(card.dossier, folder); !done) return report(done.error());
    return 0;
}

/// The keypad's capture and its whole dossier, into a folder that may be there already.
int write_counter_keypad(const std::string& folder) {
    using namespace grayrelic;
    const auto captures = std::filesystem::path(folder) / "captures";
    if (auto made = disk().make_folder(folder); !made) return report(made.error());
    if (auto made = disk().make_folder(captures); !made) return report(made.error());
    if (auto done = write_atomically(disk(), captures / "walk.vcd", standin::record_keypad_walk({})); !done)
        return report(done.error());
    if (auto done = write_dossier(standin::counter_keypad_dossier(), folder); !done)
        return report(done.error());
    return 0;
}

/// The dossier with both of its boards.
int write_sound_tile(const std::string& folder) {
    using namespace grayrelic;
    const auto tile = standin::make_sound_tile(*DataLibrary::load_installed());
    if (!tile) return report(tile.error());
    const auto boards = std::filesystem::path(folder) / "boards";
    for (const auto& made : {std::filesystem::path(folder), boards})
        if (auto done = disk().make_folder(made); !done) return report(done.error());
    for (const auto& [id, texts] : tile->boards) {
        PackedFolder files;
        for (const auto& [name, text] : texts) files.files.push_back({name, text});
        const auto packed = pack(files);
        if (!packed) return report(packed.error());
        if (auto done = write_atomically(disk(), boards / (id + ".zip"), *packed); !done)
            return report(done.error());
    }
    if (auto done = write_dossier(tile->dossier, folder); !done) return report(done.error());
    return 0;
}

struct FabArguments {
    std::string dossier, out;
    bool faults = false;
};

CLI::App* add_board_files(CLI::App& app, FabArguments& a) {
    auto* fab = app.add_subcommand(
        "board-files",
        "plays a layout program: fabrication files of a dossier's circuit, or of its traced parts");
    fab->add_option("DOSSIER", a.dossier, "whose board it is")->required();
    fab->add_option("OUT", a.out, "the zip to write")->required();
    fab->add_flag("--faults", a.faults, "a connector mirrored, a net open, a track too thin");
    return fab;
}

int write_board_files(const FabArguments& a) {
    using namespace grayrelic;
    const auto dossier = load_dossier(a.dossier);
    if (!dossier) return report(dossier.error());
    const auto data = DataLibrary::load_installed();
    const auto plan = standin::fab_plan_of(*dossier, *data, a.faults);
    if (!plan) return report(plan.error());
    PackedFolder files;
    for (const auto& [name, text] : standin::make_fabrication(*plan)) files.files.push_back({name, text});
    if (files.files.empty()) {
        fmt::print(stderr, "{}: found no way to route the board, expected a simpler one\n", a.dossier);
        return 3;
    }
    const auto packed = pack(files);
    if (!packed) return report(packed.error());
    if (auto done = write_atomically(disk(), a.out, *packed); !done) return report(done.error());
    return 0;
}

struct HostArguments {
    std::string file, profile = "keyboard", descriptor, layout = "us", poll = "8ms";
    bool caps = false;
};

/// Reports from a file or from standard input, line by line as they come; what a host makes of each.
int run_usb_host(const HostArguments& a) {
    using namespace grayrelic;
    std::vector<std::uint8_t> bytes;
    if (a.descriptor.empty()) {
        const auto profile = parse_profile(a.profile);
        if (!profile) return report(profile.error());
        bytes = descriptor_of(*profile);
    } else {
        const auto content = disk().read(a.descriptor, 1U << 20U);
        if (!content) return report(content.error());
        auto read = read_bytes(*content, a.descriptor);
        if (!read) return report(read.error());
        bytes = std::move(*read);
    }
    const auto layouts = LayoutLibrary::load(disk(), {data_folder()});
    const auto* layout = layouts.find(a.layout);
    const auto poll = parse_time(a.poll);
    if (layout == nullptr || !poll || *poll <= Time{}) {
        fmt::print(stderr, "found {}, expected a layout ({}) and a poll such as 8ms\n",
                   layout == nullptr ? a.layout : a.poll, layouts.ids());
        return 2;
    }
    std::ifstream file;
    if (!a.file.empty() && a.file != "-") {
        file.open(a.file);
        if (!file) return report(fail_system(a.file, "no file to read", "a dump of reports").value());
    }
    std::istream& in = file.is_open() ? file : std::cin;
    return standin::listen_as_host(bytes, *layout, a.caps, *poll, in, a.file.empty() ? "-" : a.file);
}

CLI::App* add_usb_host(CLI::App& app, HostArguments& host_arguments) {
    auto* host = app.add_subcommand(
        "usb-host", "a host that says what it understands of the reports that it is sent, line by line");
    host->add_option("FILE", host_arguments.file,
                     "a report a line in hexadecimal; standard input without it");
    host->add_option("--profile", host_arguments.profile, "that the reports belong to; keyboard unless said");
    host->add_option("--descriptor", host_arguments.descriptor, "a descriptor that they belong to instead");
    host->add_option("--layout", host_arguments.layout, "that the host is set to; us unless said");
    host->add_option("--poll", host_arguments.poll, "between reports without a time; 8ms unless said");
    host->add_flag("--caps", host_arguments.caps, "caps lock is on at the beginning");
    return host;
}

CLI::App* add_logic(CLI::App& app, LogicArguments& stream, int& port, std::uint64_t& seed) {
    auto* logic = app.add_subcommand(
        "logic",
        "a capture device that never stops: a value change dump over TCP, or into a file that grows");
    logic->add_option("--port", port, "TCP port on the loopback; 0 takes a free one and prints it")
        ->check(CLI::Range(0, 65535));
    logic->add_option("--file", stream.file, "write into this file instead");
    logic->add_option("--kind", stream.kind,
                      "what is spoken: dial-pad, or a kind of decoder such as latch-shift");
    logic->add_option("--speed", stream.pace.speed, "recorded seconds a second")
        ->check(CLI::Range(1e-6, 1e6));
    logic->add_option("--seconds", stream.pace.seconds, "recorded seconds until it ends; 0 for never")
        ->check(CLI::Range(0.0, 1e6));
    logic->add_option("--seed", seed, "same seed, same conversation");
    return logic;
}

struct MeterArguments {
    std::string board;
    double slips = 0;
};

CLI::App* add_meter(CLI::App& app, MeterArguments& a, int& port, std::uint64_t& seed) {
    auto* meter = app.add_subcommand("meter", "a bench meter over SCPI on a board whose nets only it knows");
    meter->add_option("--board", a.board, "a netlist (CSV or IPC-D-356A), or a number for a made-up board")
        ->required();
    meter->add_option("--port", port, "TCP port on the loopback; 0 takes a free one and prints it")
        ->check(CLI::Range(0, 65535));
    meter->add_option("--slips", a.slips, "share of readings that come out wrong")
        ->check(CLI::Range(0.0, 0.5));
    meter->add_option("--seed", seed, "of the wrong readings");
    return meter;
}

int answer(int argc, char** argv) {
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
    auto* slate = app.add_subcommand("chart-slate",
                                     "the computer asking its chart slate; writes the capture of the demo");
    slate->add_option("--seed", seed, "same seed, same bytes")
        ->check(CLI::Range(std::uint64_t{0}, std::uint64_t{1} << 48U));
    slate->add_option("--out", out, "folder for the capture");
    std::string dossier;
    auto* card = app.add_subcommand(
        "page-card",
        "the charred page card; writes the scans, ledger and netlist of the demo into its dossier");
    card->add_option("DOSSIER", dossier, "with the card's port J1")->required();
    std::string keypad_folder;
    FabArguments fab_arguments;
    auto* fab = add_board_files(app, fab_arguments);
    std::string tile_folder;
    auto* tile = app.add_subcommand(
        "sound-tile", "the sound tile's dossier with both of its boards, laid out from their circuits");
    tile->add_option("FOLDER", tile_folder, "the dossier's folder")->required();
    auto* keypad = app.add_subcommand(
        "counter-keypad", "a hand walking over the counter keypad; writes its capture and its dossier");
    keypad->add_option("DOSSIER", keypad_folder, "folder of the dossier, made where it is not there")
        ->required();
    HostArguments host_arguments;
    auto* host = add_usb_host(app, host_arguments);
    MeterArguments meter_arguments;
    int port = 0;
    auto* meter = add_meter(app, meter_arguments, port, seed);
    LogicArguments stream;
    auto* logic = add_logic(app, stream, port, seed);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        return app.exit(e) == 0 ? 0 : 2;
    }
    if (card->parsed()) return write_page_card(dossier);
    if (fab->parsed()) return write_board_files(fab_arguments);
    if (tile->parsed()) return write_sound_tile(tile_folder);
    if (keypad->parsed()) return write_counter_keypad(keypad_folder);
    if (host->parsed()) return run_usb_host(host_arguments);
    if (logic->parsed()) return run_logic(stream, port, seed);
    if (meter->parsed()) return run_meter(meter_arguments.board, port, meter_arguments.slips, seed);
    auto& files = disk();
    if (auto made = files.make_folder(out); !made) {
        fmt::print(stderr, "{}\n", made.error().message());
        return 3;
    }
    if (slate->parsed()) {
        const auto path = std::filesystem::path(out) / "spiral.vcd";
        if (auto written = write_atomically(files, path, standin::record_chart_slate({.seed = seed}));
            !written)
            return report(written.error());
        fmt::print("{}\n", path.string());
        return 0;
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

}  // namespace

int main(int argc, char** argv) {
    std::signal(SIGPIPE, SIG_IGN);
    std::signal(SIGXFSZ, SIG_IGN);
    try {
        return answer(argc, argv);
    } catch (const std::exception& e) {  // an output that is full or closed
        const std::string says = std::string("gray-relic-standin: ") + e.what() + "\n";
        (void)!::write(STDERR_FILENO, says.data(), says.size());
        std::_Exit(3);
    }
}
