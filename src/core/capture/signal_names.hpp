// SPDX-License-Identifier: GPL-3.0-or-later
// What the lines of a recording are called, from the beginning of its file alone.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace grayrelic {

/// Names in the order of the file, as its reader will call them. Empty where the beginning does not tell:
/// packed samples, sound files, a heading of more than 256 kB, or a file that can't be read.
[[nodiscard]] std::vector<std::string> signal_names(const std::filesystem::path& path);

/// Is there a signal of this name among them: the whole path, or the only one that ends with it at a dot?
[[nodiscard]] bool has_signal(const std::vector<std::string>& names, std::string_view name);

}  // namespace grayrelic
