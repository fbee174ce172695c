// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli <noun> <verb> … [--json]. Exit status: 0 fine, 1 the answer is bad, 2 wrong usage, 3
// unreadable input.
#include <fmt/format.h>
#include <unistd.h>

#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <iostream>
#include <new>
#include <system_error>

#include "cli/command.hpp"
#include "cli/output.hpp"

namespace {

/// On a descriptor, for the stream may be what failed.
void complain(const char* text, const char* more = "") {
    for (const char* part : {"gray-relic-cli: ", text, more, "\n"})
        if (::write(STDERR_FILENO, part, std::strlen(part)) < 0) return;
}

int answer(int argc, char** argv) {
    using namespace grayrelic::cli;
    CLI::App app{"Gray Relic's computations for scripts."};
    app.set_version_flag("--version", "gray-relic-cli " GRAY_RELIC_VERSION);
    app.require_subcommand(1);
    app.fallthrough();
    Session session;
    app.add_flag("--json", session.json, "print one JSON object");
    add_capture_commands(app, session);
    add_timing_commands(app, session);
    add_clock_commands(app, session);
    add_logic_commands(app, session);
    add_trace_commands(app, session);
    add_port_commands(app, session);
    add_plan_commands(app, session);
    add_wire_commands(app, session);
    add_map_commands(app, session);
    add_board_commands(app, session);
    add_build_commands(app, session);
    add_log_commands(app, session);
    add_dossier_commands(app, session);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        const int status = app.exit(e) == 0 ? fine : wrong_usage;
        std::cout.flush();
        return std::cout && std::cerr ? status : unreadable;
    }
    return session.run ? session.run() : wrong_usage;
}

}  // namespace

int main(int argc, char** argv) {
    // A reader that went away and a limit of file size are errors to be said, not the end of the program.
    std::signal(SIGPIPE, SIG_IGN);
    std::signal(SIGXFSZ, SIG_IGN);
    // What the picture decoders say of a broken picture is in our message.
    ::setenv("QT_LOGGING_RULES", "qt.gui.imageio*=false", 0);
    try {
        const int status = answer(argc, argv);
        if (std::fflush(stdout) == 0 && std::ferror(stdout) == 0) return status;
        complain(
            "the output can't be written: found no room or a closed pipe, expected a place for the answer");
    } catch (const std::bad_alloc&) {
        complain("not enough memory for this: found more than the machine has, expected a smaller file");
    } catch (const std::system_error& e) {
        complain("the output can't be written: ", e.what());
    } catch (const std::exception& e) {
        complain("this went wrong inside the program: ", e.what());
    }
    // What is left in the buffer has nowhere to go.
    std::_Exit(grayrelic::cli::unreadable);
}
