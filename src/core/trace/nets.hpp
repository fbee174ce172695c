// SPDX-License-Identifier: GPL-3.0-or-later
// Nets from readings: what is joined, what must differ, where readings contradict each other, and how much of
// the board is proven.
//
// Joining readings are united (union-find, with path halving; Tarjan 1975). A separating reading between two
// points of one net is a contradiction, explained by a shortest chain of joining readings between them.
// `proven` is the share of all pairs of points that are joined or separated by readings, where a separating
// reading separates all points of its two nets.
#pragma once

#include <cstdint>
#include <utility>
#include <vector>

#include "core/trace/ledger.hpp"
#include "core/trace/points.hpp"

namespace grayrelic {

/// A reading between numbered points.
struct Link {
    int a = 0, b = 0;
    Says says = Says::joined;
    int row = 0;  ///< index of the reading in the ledger, from 0
};

struct Contradiction {
    int a = 0, b = 0;        ///< the points of the separating reading
    int apart = 0;           ///< its row, from 0
    std::vector<int> chain;  ///< rows of a shortest chain of joining readings from a to b
};

inline constexpr std::size_t most_contradictions = 500;

struct NetState {
    std::vector<int> net_of;             ///< by point; nets are numbered from 0
    std::vector<std::vector<int>> nets;  ///< their points, as they first appear
    /// By net: the nets that readings separate it from, sorted, each with the number of such readings.
    std::vector<std::vector<std::pair<int, int>>> apart;
    std::vector<Contradiction> contradictions;  ///< at most most_contradictions
    std::size_t contradictions_in_all = 0;
    std::uint64_t joined_pairs = 0, separated_pairs = 0, all_pairs = 0;  ///< of points
    std::vector<Link> links;                                             ///< what it was derived from

    [[nodiscard]] int net_count() const { return static_cast<int>(nets.size()); }
    [[nodiscard]] bool separated(int net_a, int net_b) const;
    /// 0 to 1; 1 for fewer than two points.
    [[nodiscard]] double proven() const;
    /// Probes that are still needed at least: one for each pair of nets that no reading separates.
    [[nodiscard]] std::uint64_t pairs_open() const;
};

/// Points are numbered 0 to points − 1.
[[nodiscard]] NetState derive_nets(int points, std::vector<Link> links);

/// The readings that count, as links; points that are new to the table are added to it. `unit`: only those
/// taken on that one count, and those that name none; empty: all.
[[nodiscard]] std::vector<Link> links_of(const std::vector<MeterReading>& readings, PointTable& points,
                                         double beep_below_ohm, std::string_view unit = {});

/// What rests on one reading alone: a joining reading without which its net falls in two, or the only reading
/// that separates two nets.
struct Lonely {
    int row = 0;
    int a = 0, b = 0;
    Says says = Says::joined;
};
[[nodiscard]] std::vector<Lonely> resting_on_one(const NetState& state);

/// Probes left if these pairs of nets turn out to be joined: one for each join that is needed, one for each
/// pair of nets after that which nothing separates yet.
[[nodiscard]] std::uint64_t probes_left(const NetState& state, const std::vector<std::pair<int, int>>& joins);

}  // namespace grayrelic
