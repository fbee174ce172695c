// SPDX-License-Identifier: GPL-3.0-or-later
// All single faults of a board with what each would show, predicted once.
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "core/base/progress.hpp"
#include "core/diagnose/bench_reading.hpp"

namespace grayrelic {

/// A board's faults with all that they would show. Made once; may be shared between threads.
struct FaultBook {
    std::shared_ptr<const BenchBoard> board;
    std::shared_ptr<const Exercise> exercise;
    std::vector<BenchReading> readings;
    std::vector<BenchFault> faults;
    Prediction healthy;
    std::vector<Prediction> predicted;  ///< of each fault
    /// Of each reading: what it shows of each fault, and last of a healthy board, as a number; equal ones
    /// can't be told apart by it.
    std::vector<std::vector<std::uint16_t>> shows;
    /// Faults that no reading and no symptom tells apart have the same number.
    std::vector<std::size_t> look_alike;
};
/// `looks`: is looking at parts among the readings, or only what an instrument shows?
[[nodiscard]] Result<std::shared_ptr<const FaultBook>> make_fault_book(
    std::shared_ptr<const BenchBoard> board, Progress& progress, bool looks = true);

/// How well what was read (numbers of readings) and seen (numbers of symptoms) fits a prediction: the
/// logarithm of a likelihood.
[[nodiscard]] double log_fit(const FaultBook& book, const Prediction& predicted,
                             const std::vector<std::pair<std::size_t, double>>& readings,
                             const std::vector<std::pair<std::size_t, std::string>>& symptoms);

/// How often each kind was the cause, on all units of a dossier.
[[nodiscard]] FaultCounts found_before(const Dossier& dossier);
/// Parts of which nobody knows what they do to a level (transistors, switches, memories): their joints are
/// among the faults, what they do is not.
[[nodiscard]] std::vector<std::string> not_simulated(const BenchBoard& board);

/// "You see … likeliest …": faults that show themselves alike, the commonest first.
struct SymptomRow {
    std::vector<Symptom> seen;        ///< what is not ok
    std::vector<std::size_t> faults;  ///< the likeliest first
};
[[nodiscard]] std::vector<SymptomRow> symptom_table(const FaultBook& book, const FaultCounts& closed = {});

}  // namespace grayrelic
