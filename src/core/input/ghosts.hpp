// SPDX-License-Identifier: GPL-3.0-or-later
// Ghosts: closed keys that make another position look closed.
//
// Row r is strobed, column c is read. Current reaches c over a path r – c₁ – r₁ – … – c of closed keys; every
// second key is passed backward, which a diode stops. Three keys at the corners of a rectangle fake the
// fourth, unless the one opposite to it has a diode; five keys fake a sixth over two rows more, and so on.
// Counted are positions that hold a key: a ghost at a vacancy is no key, and firmware passes it over.
#pragma once

#include <array>
#include <cstddef>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"
#include "core/input/matrix_model.hpp"

namespace grayrelic {

struct GhostSet {
    std::vector<std::size_t> held;  ///< keys along the path, first the one in the faked row
    std::size_t faked = 0;          ///< the key that seems closed
    double likelihood = 0;          ///< 0…1, to rank by; see rank_ghosts
    std::string why;
};

struct GhostCount {
    std::size_t sets = 0;                                      ///< of three keys
    std::size_t longer = 0;                                    ///< of five keys and more, as far as counted
    std::vector<std::pair<std::size_t, std::size_t>> by_keys;  ///< keys in the set, sets; from 5 on
    std::size_t counted_to = 0;  ///< keys: longer sets were not counted; 0: all were
};
/// Longer sets are counted size by size until `effort` steps were taken. A size that can't be counted whole
/// is left out.
[[nodiscard]] Result<GhostCount> count_ghosts(const MatrixModel& model, Progress& progress,
                                              std::size_t effort = 30'000'000);

struct GhostOptions {
    /// Keys held together in usual work, as places in MatrixModel::keys.
    std::vector<std::vector<std::size_t>> chords;
    std::size_t most = 20;
};
/// The likeliest sets of three. A set inside a chord that is named comes first, then one that a named chord
/// and one key more make; then, by the keys' places: keys that one hand or two spans reach and that are near
/// each other, modifiers among them. Where no places are known only chords rank. Of more than
/// 2,000,000 sets the first so many are looked at.
[[nodiscard]] std::vector<GhostSet> rank_ghosts(const MatrixModel& model, const GhostOptions& options);

/// What is read as closed while these are held: without guard, and with firmware that blocks whatever could
/// be a ghost.
struct ScanView {
    std::vector<std::size_t> seen;     ///< keys that read closed, held ones and ghosts
    std::vector<std::size_t> ghosts;   ///< of those, the ones not held
    std::vector<std::size_t> blocked;  ///< held keys that blocking firmware leaves out with them
};
[[nodiscard]] ScanView scan_view(const MatrixModel& model, const std::vector<std::size_t>& held);

/// Three ways to live with ghosts, for the chords that are named and for pairs and triples of all keys.
struct GuardCosts {
    std::size_t chords = 0;                      ///< named
    std::size_t chords_wrong = 0;                ///< doing nothing: chords in which a ghost appears
    std::size_t chords_blocked = 0;              ///< blocking firmware: chords of which keys are left out
    std::size_t triples = 0, triples_wrong = 0;  ///< of all sets of three keys
    std::size_t diodes = 0;                      ///< for a diode a key
    std::vector<std::size_t> needed;  ///< fewest keys found that need a diode so that no named chord ghosts
};
[[nodiscard]] GuardCosts guard_costs(const MatrixModel& model,
                                     const std::vector<std::vector<std::size_t>>& chords,
                                     const GhostCount& count);

}  // namespace grayrelic
