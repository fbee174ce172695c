// SPDX-License-Identifier: GPL-3.0-or-later
// What the analysis of a board reads beside its files: drawings of cases and panels; and the limits above
// which extras are charged.
#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "core/base/memory.hpp"
#include "core/board/board_analysis.hpp"
#include "core/dossier/fabrication.hpp"

namespace grayrelic {

/// Reading and joining: its share of the whole work.
inline constexpr double read_weight = 3;

/// Of a file as it is now, so that it is read again when it changes.
struct FileStamp {
    std::filesystem::file_time_type changed{};
    std::uintmax_t size = 0;
    bool operator==(const FileStamp&) const = default;
};
[[nodiscard]] FileStamp stamp_of(const std::filesystem::path& path);

/// False when interrupted.
[[nodiscard]] bool judge_cases(const Fabrication& board, const ReadBoard& read,
                               const std::filesystem::path& folder, Memory& memory, MemoryRun& run,
                               std::vector<BoardCase>& into);
/// What was read of them, to be compared.
[[nodiscard]] std::vector<std::pair<std::shared_ptr<const OutlineDrawing>, std::string>> cases_known(
    const std::vector<BoardCase>& cases);

/// As a way of making that can do what is above every extra's limit; nothing is asked without extras.
[[nodiscard]] BoardProcess extra_limits(const OrderAsk& ask);

}  // namespace grayrelic
