// SPDX-License-Identifier: GPL-3.0-or-later
// The parts that ship with the program.
#pragma once

#include "core/parts/part.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic::test {

inline const PartLibrary& shipped_parts() {
    static const auto parts = PartLibrary::load(disk(), {test::source_folder() / "data"});
    return parts;
}

}  // namespace grayrelic::test
