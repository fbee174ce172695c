// SPDX-License-Identifier: GPL-3.0-or-later
// A capture cut into transactions by its pauses, and transactions grouped by shape: the order of all edges in
// them, whatever their exact times. "The host reads it differently at different moments" becomes a list.
//
// Lines that carry data would make a shape of every value. Unless the caller names the lines, those are left
// out, one after another, whose leaving makes the shapes many times fewer; the result names them.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/statistics.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

struct ShapeOptions {
    std::optional<Time> gap;           ///< a longer pause parts transactions; nothing: found from the edges
    std::vector<std::string> signals;  ///< empty: all digital ones, less those that carry data
};

struct Transaction {
    Time start, end;          ///< first and last edge
    std::uint32_t shape = 0;  ///< index in ShapeList::shapes
};

struct Shape {
    int id = 0;  ///< from 1, the most frequent first
    long count = 0;
    std::string text;  ///< "HOLD↑ HOLD↓ (STEP↓ STEP↑)×20"
    Statistics duration;
    std::size_t example = 0;  ///< index of its first transaction
};

struct ShapeList {
    Time gap;
    bool gap_found = false;  ///< from the edges, not stated
    std::vector<std::string> signals, left_out;
    std::vector<Transaction> transactions;  ///< in order of time
    std::vector<Shape> shapes;
    /// How long one must record to see, with this probability, a shape that comes once in so many
    /// transactions as this list has: nobody can exclude what comes seldom. Zero without transactions.
    [[nodiscard]] Time to_see_once_in(long transactions, double probability = 0.95) const;
};

/// The widest step, in ratio, among the pauses between edges above their median; nothing under three edges.
[[nodiscard]] std::optional<Time> find_gap(const std::vector<const DigitalWaveform*>& lines);

/// Fails for names that are not there, when more than 64 lines change and none are named, and when cancelled.
/// Of several names of one line the first counts.
[[nodiscard]] Result<ShapeList> find_shapes(const Capture& capture, const ShapeOptions& options,
                                            Progress& progress);

}  // namespace grayrelic
