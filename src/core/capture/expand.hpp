// SPDX-License-Identifier: GPL-3.0-or-later
// Compressed files expanded into memory: gzip (RFC 1952, several members too) and Zstandard (RFC 8878). What
// would grow beyond the limit is refused while it grows, so that a file made to burst costs no more than
// that.
#pragma once

#include <string>

#include "core/base/byte_source.hpp"
#include "core/base/machine.hpp"
#include "core/base/progress.hpp"

namespace grayrelic {

enum class Compression { none, gzip, zstd };
[[nodiscard]] Compression compression_of(const ByteSource& source);  ///< by its first bytes

/// While it grows the text is held once and a half; that is what the bound on memory leaves.
[[nodiscard]] inline std::uint64_t most_expanded() {
    return memory_bound() / 2;
}

[[nodiscard]] Result<std::string> expand(const ByteSource& source, const std::string& name,
                                         Progress& progress, std::uint64_t most = most_expanded());
/// The first `wanted` bytes once expanded, fewer when there are no more: for a look at the beginning.
[[nodiscard]] Result<std::string> expand_head(const ByteSource& source, const std::string& name,
                                              std::size_t wanted);

/// The first bytes of a file, expanded where it is compressed; fewer where it ends before.
[[nodiscard]] Result<std::string> head_of_file(const std::filesystem::path& path, std::size_t bytes);

}  // namespace grayrelic
