// SPDX-License-Identifier: GPL-3.0-or-later
// The parts that the program ships with, for targets whose inputs name them.
#pragma once

#include "core/base/file_system.hpp"
#include "core/logic/part_logic.hpp"

namespace grayrelic::fuzz {

inline const PartLibrary& shipped_parts() {
    static const PartLibrary parts = PartLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    return parts;
}

inline const LogicLibrary& shipped_logic() {
    static const LogicLibrary logic = LogicLibrary::from(shipped_parts());
    return logic;
}

}  // namespace grayrelic::fuzz
