// SPDX-License-Identifier: GPL-3.0-or-later
// Captures from and to files of any format we know.
#pragma once

#include <filesystem>

#include "core/base/file_system.hpp"
#include "core/base/progress.hpp"
#include "core/signal/csv_dialect.hpp"

namespace grayrelic {

/// The format is found from the content, whatever the file is called: a value change dump begins with "$",
/// everything else is read as a table (CSV).
[[nodiscard]] Result<Capture> read_capture_file(const std::filesystem::path& path, Progress& progress,
                                                const CsvOptions& options = {});

struct WrittenCapture {
    std::vector<Remark> remarks;  ///< what could not be written as it was
};
/// The format follows the ending: .vcd or .csv. The file is replaced as a whole or not at all.
[[nodiscard]] Result<WrittenCapture> write_capture_file(const Capture& capture,
                                                        const std::filesystem::path& path, Progress& progress,
                                                        FileSystem& files = disk());

}  // namespace grayrelic
