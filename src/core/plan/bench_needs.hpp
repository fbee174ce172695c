// SPDX-License-Identifier: GPL-3.0-or-later
// What a job asks of the bench.
#pragma once

#include "core/dossier/dossier.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/person/bench_text.hpp"

namespace grayrelic {

/// The highest voltage of all pins, and the shortest pulse of all captures that were read.
[[nodiscard]] BenchNeeds bench_needs(const Dossier& dossier, const ListenAnalysis& listen);

}  // namespace grayrelic
