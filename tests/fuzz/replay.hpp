// SPDX-License-Identifier: GPL-3.0-or-later
// The fuzz targets by name; the list is written by CMake.
#pragma once

#include <cstddef>
#include <cstdint>

struct ReplayTarget {
    const char* name;  ///< null behind the last
    int (*run)(const std::uint8_t* data, std::size_t size);
};
extern const ReplayTarget replay_targets[];
