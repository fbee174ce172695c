// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli <noun> <verb> … [--json]. Exit status: 0 fine, 1 the answer is bad, 2 wrong usage, 3
// unreadable input.
#include <fmt/format.h>

#include "cli/command.hpp"
#include "cli/output.hpp"

int main(int argc, char** argv) {
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
    add_dossier_commands(app, session);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& e) {
        return app.exit(e) == 0 ? fine : wrong_usage;
    }
    return session.run ? session.run() : wrong_usage;
}
