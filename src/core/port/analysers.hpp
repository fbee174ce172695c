// SPDX-License-Identifier: GPL-3.0-or-later
// What lines are recorded with: its inputs' limits and thresholds, its channels, its rates and its store. One
// JSON file each in data/analysers, the person's own beside them; docs/formats/analysers.md.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

struct AnalyserModel {
    std::string id;
    std::string name;
    std::string source;
    int channels = 8;
    std::vector<double> rates_hz;              ///< rising
    std::optional<double> samples;             ///< that it stores; nothing: it sends them on as they come
    double limit_low_v = 0, limit_high_v = 0;  ///< that an input endures
    double low_max_v = 0, high_min_v = 0;      ///< up to here surely low, from here surely high
    double input_ohm = 0, input_farad = 0;     ///< of an input with its lead
};
[[nodiscard]] Result<AnalyserModel> analyser_from_json(std::string_view text, const std::string& file);

struct AnalyserLibrary {
    std::vector<AnalyserModel> analysers;
    std::vector<Error> problems;
    [[nodiscard]] static AnalyserLibrary load(FileSystem& files,
                                              const std::vector<std::filesystem::path>& folders);
    /// The first for an id that is not known; null when there is none at all.
    [[nodiscard]] const AnalyserModel* find(std::string_view id) const;
};

}  // namespace grayrelic
