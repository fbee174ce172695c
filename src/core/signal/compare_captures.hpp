// SPDX-License-Identifier: GPL-3.0-or-later
// An original against a replica: edges matched signal by signal, what is missing, what is extra, how much
// later each edge comes, and where the two part for the first time.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/statistics.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

struct CompareRequest {
    std::vector<std::pair<std::string, std::string>> signals;  ///< name in the original, name in the replica
    std::optional<EdgeName>
        align;  ///< the first such edge is one moment; names in the original. Nothing: the times as they are
    std::optional<Time> tolerance;  ///< edges further apart are not the same one; nothing: see below
};

struct SignalDifference {
    std::string name;  ///< in the original
    std::string other;
    long edges_a = 0, edges_b = 0, missing = 0, extra = 0;
    Time tolerance;    ///< as stated, else half the median distance of the original's edges
    Statistics delay;  ///< replica less original, of matched edges, in seconds
    std::vector<Time> missing_at, extra_at;  ///< in the original's time, the first most_listed of each
    std::optional<Time> first;
};
inline constexpr std::size_t most_listed = 10'000;

struct CaptureComparison {
    bool same = false;
    std::optional<Time> first_difference;  ///< in the original's time
    Time shift;                            ///< added to the replica's times to lay it over the original
    std::vector<SignalDifference> signals;
};

/// Edges are matched in order, each with the first of its direction within the tolerance.
[[nodiscard]] Result<CaptureComparison> compare_captures(const Capture& original, const Capture& replica,
                                                         const CompareRequest& request, Progress& progress);

/// Digital signals of the same short name, at most that many.
[[nodiscard]] std::vector<std::pair<std::string, std::string>> same_names(const Capture& original,
                                                                          const Capture& replica,
                                                                          std::size_t most = 24);
/// The first edge among the original's paired signals: where the two are laid over each other when nobody
/// says.
[[nodiscard]] std::optional<EdgeName> first_edge_of(
    const Capture& original, const std::vector<std::pair<std::string, std::string>>& pairs);

}  // namespace grayrelic
