// SPDX-License-Identifier: GPL-3.0-or-later
// What the port commands share.
#pragma once

#include <string>

#include "cli/command.hpp"
#include "core/port/pin_table.hpp"

namespace grayrelic::cli {

/// A pin table from a file, documented by the file's name.
[[nodiscard]] Result<PinTable> read_pins(const std::string& path, const Connector* connector = nullptr);
/// port taps, bricks, find
void add_port_tools(CLI::App& noun, Session& session);

}  // namespace grayrelic::cli
