// SPDX-License-Identifier: GPL-3.0-or-later
// What the verbs of `map` share.
#pragma once

#include <string>

#include "cli/command.hpp"
#include "core/base/result.hpp"
#include "core/json/json.hpp"

namespace grayrelic::cli {

/// descriptor, descriptor-read, text, reports
void add_map_reports(CLI::App& noun, Session& session);
/// check, export, compare
void add_map_tables(CLI::App& noun, Session& session);

/// A file from outside, up to so many bytes.
[[nodiscard]] Result<std::string> read_input(const std::string& path, std::size_t most = 64U << 20U);

}  // namespace grayrelic::cli
