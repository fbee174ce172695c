// SPDX-License-Identifier: GPL-3.0-or-later
// The parts that the program ships with, for targets whose inputs name them.
#pragma once

#include "core/base/file_system.hpp"
#include "core/logic/part_logic.hpp"

namespace grayrelic::fuzz {

inline const LogicLibrary& shipped_logic() {
    static const PartLibrary parts = PartLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    static const LogicLibrary logic = LogicLibrary::from(parts);
    return logic;
}

}  // namespace grayrelic::fuzz
