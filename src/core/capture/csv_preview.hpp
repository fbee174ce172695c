// SPDX-License-Identifier: GPL-3.0-or-later
// The beginning of a table as it stands in the file and as it was understood, for a person to look at and
// correct.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/capture/csv_dialect.hpp"

namespace grayrelic {

enum class ColumnUse { time, sample_number, levels, analogue };

struct CsvPreview {
    struct Column {
        std::string name;
        ColumnUse use = ColumnUse::levels;
    };
    std::vector<std::string> above;              ///< the last lines above the first row, as they stand
    std::vector<std::vector<std::string>> rows;  ///< the first rows, field by field
    CsvDialect dialect;
    std::vector<Column> columns;
    std::string problem;  ///< why it can't be read so; then only `above` is filled
};

/// Looks at the first 64 kB. Fails only when the file can't be opened; compressed files are expanded so far.
[[nodiscard]] Result<CsvPreview> preview_csv(const std::filesystem::path& path, const CsvOptions& options);

/// Is the file a table? What begins like a dump or a WAV file is none.
[[nodiscard]] bool looks_like_table(const std::filesystem::path& path);

}  // namespace grayrelic
