// SPDX-License-Identifier: GPL-3.0-or-later
// Inputs for the benchmarks: made from a seed, written once into the system's folder for temporary files.
#pragma once

#include <filesystem>

namespace grayrelic::bench {

/// A dump of twelve wires with about 27 million edges in 300 MB: stamps of nine digits in ns, 1.36 changes a
/// stamp.
[[nodiscard]] std::filesystem::path large_dump();

}  // namespace grayrelic::bench
