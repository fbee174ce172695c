// SPDX-License-Identifier: GPL-3.0-or-later
// Inputs for the benchmarks: made from a seed, written once into the system's folder for temporary files.
#pragma once

#include <filesystem>

namespace grayrelic::bench {

/// A dump of twelve wires with about 27 million edges in 300 MB: stamps of nine digits in ns, 1.36 changes a
/// stamp.
[[nodiscard]] std::filesystem::path large_dump();

/// A copy of the dial pad's dossier whose long recording has about 27 million edges on its own four lines.
/// Polls: the host's, jittered, with buttons that wander; noise: edges on any line at any time.
enum class Recording { polls, noise };
[[nodiscard]] std::filesystem::path large_dossier(Recording kind);

}  // namespace grayrelic::bench
