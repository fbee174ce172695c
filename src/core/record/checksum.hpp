// SPDX-License-Identifier: GPL-3.0-or-later
// SHA-256 (FIPS 180-4), by OpenSSL.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

/// 64 hexadecimal digits in small letters, as sha256sum prints them.
[[nodiscard]] std::string sha256_of(std::string_view bytes);
/// Of a file, read in pieces. Fails where it can't be read, is no file, or the work is stopped.
[[nodiscard]] Result<std::string> sha256_of_file(const std::filesystem::path& path, Progress& progress);

}  // namespace grayrelic
