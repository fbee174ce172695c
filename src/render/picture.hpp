// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures from files, as the core takes them. The size is checked before the pixels are decoded.
#pragma once

#include <array>
#include <filesystem>

#include "core/trace/scan.hpp"

namespace grayrelic::render {

/// The endings of pictures that can be read.
inline constexpr std::array picture_endings{"png", "jpg", "jpeg", "bmp", "ppm"};

[[nodiscard]] Result<Raster> read_picture(const std::filesystem::path& path);
[[nodiscard]] Status write_png(const Raster& picture, const std::filesystem::path& path);

}  // namespace grayrelic::render
