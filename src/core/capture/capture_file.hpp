// SPDX-License-Identifier: GPL-3.0-or-later
// Captures from and to files of any format we know.
#pragma once

#include <array>
#include <filesystem>

#include "core/base/file_system.hpp"
#include "core/base/progress.hpp"
#include "core/capture/csv_dialect.hpp"
#include "core/capture/raw_reader.hpp"

namespace grayrelic {

/// What the person knows better than the file.
struct CaptureOptions {
    CsvOptions table;               ///< its threshold serves WAV files too
    std::optional<RawOptions> raw;  ///< packed samples: nothing in such a file tells
};

/// The format is found from the content, whatever the file is called: a value change dump begins with "$",
/// WAV with "RIFF"; everything else is read as a table (CSV). Compressed files (gzip, Zstandard) are expanded
/// first.
[[nodiscard]] Result<Capture> read_capture_file(const std::filesystem::path& path, Progress& progress,
                                                const CaptureOptions& options = {});

/// The endings that such files usually have, for dialogs; compressed ones keep that of the packing. Nothing
/// is refused for its ending.
inline constexpr std::array capture_endings{"vcd", "csv", "tsv", "txt", "wav", "bin", "raw", "gz", "zst"};

struct WrittenCapture {
    std::vector<Remark> remarks;  ///< what could not be written as it was
};
/// The format follows the ending: .vcd, .csv or .wav. The file is replaced as a whole or not at all.
[[nodiscard]] Result<WrittenCapture> write_capture_file(const Capture& capture,
                                                        const std::filesystem::path& path, Progress& progress,
                                                        FileSystem& files = disk());

}  // namespace grayrelic
