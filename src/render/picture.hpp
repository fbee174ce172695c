// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures from files, as the core takes them. The size is checked before the pixels are decoded.
#pragma once

#include <filesystem>

#include "core/trace/scan.hpp"

namespace grayrelic::render {

[[nodiscard]] Result<Raster> read_picture(const std::filesystem::path& path);
[[nodiscard]] Status write_png(const Raster& picture, const std::filesystem::path& path);

}  // namespace grayrelic::render
