// SPDX-License-Identifier: GPL-3.0-or-later
// Printing for the command line: JSON with keys in a fixed order, tables for people, errors with exit status.
#pragma once

#include <nlohmann/json_fwd.hpp>

#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"
#include "core/base/statistics.hpp"
#include "core/base/time.hpp"
#include "core/checks/analysis.hpp"
#include "core/decode/decoder.hpp"
#include "core/signal/capture.hpp"
#include "core/signal/capture_file.hpp"

namespace grayrelic::cli {

inline constexpr int fine = 0;
inline constexpr int bad_answer = 1;
inline constexpr int wrong_usage = 2;
inline constexpr int unreadable = 3;

/// Prints the one message and gives the exit status that belongs to it.
int report_error(const Error& error);
void print_json(const nlohmann::ordered_json& json);

[[nodiscard]] nlohmann::ordered_json to_json(const Statistics& s);
[[nodiscard]] nlohmann::ordered_json to_json(std::optional<Time> t);  ///< seconds or null
[[nodiscard]] nlohmann::ordered_json to_json(const FrameExtra& value);
/// "n 412  min 95.0 ns  median 158 ns  max 330 ns"
[[nodiscard]] std::string show(const Statistics& s);

/// Rows of cells, padded to columns; the first row is the heading.
void print_table(const std::vector<std::vector<std::string>>& rows);
[[nodiscard]] Result<Capture> read_capture(const std::string& path, const CaptureOptions& options = {});
[[nodiscard]] Result<std::shared_ptr<const Analysis>> analyse_dossier(const std::string& path);
/// Those of one stage, or of all when it is empty; the exit status is bad when one is a Stop.
int print_findings(const Findings& findings, const std::string& stage, bool json);
[[nodiscard]] Error usage_error(std::string found, std::string expected);

}  // namespace grayrelic::cli
